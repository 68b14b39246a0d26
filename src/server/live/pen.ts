import { Mutex } from 'async-mutex';
import type { Logger } from 'pino';
import { steadyMs } from '../clock.ts';
import type { Store } from '../store/store.ts';
import type { Journal } from './journal.ts';
import type { LiveCharge } from './liveCharge.ts';
import { keepSamples, type StoredSample } from './samples.ts';

/** When nothing could be written down for so many tries, or so long (real ms), current goes off: what is not recorded is not charged. */
const MOST_FAILED = 30;
const MOST_UNWRITTEN_MS = 30_000;

/** Writes down what the looks brought. What cannot be written now is kept and tried again; nobody who looks waits for it. */
export class Pen {
  #samples: StoredSample[] = [];
  #failed = 0;
  #writtenAt = steadyMs();
  readonly #turn = new Mutex();

  constructor(
    private readonly store: Store,
    private readonly journal: Journal,
    private readonly log: Logger,
  ) {}

  keep(sample: StoredSample): void {
    this.#samples.push(sample);
  }

  /**
   * Samples, the standing of the charges, and what happened in their jobs.
   *
   * @returns `not for long`: it has failed for so long that nothing may be charged; said once
   */
  write(charges: readonly LiveCharge[]): Promise<'written' | 'not now' | 'not for long'> {
    return this.#turn.runExclusive(async () => {
      const batch = this.#samples.splice(0);
      const began = steadyMs();
      if (this.#failed === 0) this.#writtenAt = began;
      try {
        await this.store.write(async (transaction) => {
          await keepSamples(this.store, batch, transaction);
          for (const { id, run, mode, trip, lastAt, startedAt, stretches } of charges)
            await this.store.tables.charges.update(
              { run, mode, trip, lastAt, startedAt, stretches },
              { where: { id }, transaction },
            );
        });
        batch.length = 0;
        await this.journal.settle();
        this.#failed = 0;
        return 'written';
      } catch (err) {
        this.#samples.unshift(...batch);
        this.log.error({ err }, 'live charges could not be written down');
        const wasLong = this.#isLong(began);
        this.#failed += 1;
        return this.#isLong(steadyMs()) && !wasLong ? 'not for long' : 'not now';
      }
    });
  }

  #isLong(now: number): boolean {
    return (
      this.#failed >= MOST_FAILED ||
      (this.#failed > 0 && now - this.#writtenAt >= MOST_UNWRITTEN_MS)
    );
  }
}
