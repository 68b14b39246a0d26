import type { Comparison } from '../../../core/rehearsal/compare.ts';
import type { Odds } from '../../../core/rehearsal/outlook.ts';
import type { Rehearsal } from '../../../core/rehearsal/rehearse.ts';

/** Where the work is done: a worker, in the page. */
export interface RehearsalWork {
  draw(comparison: Comparison): Promise<Rehearsal[]>;
  /** Null when it was given up. */
  odds(
    comparison: Comparison,
    twins: number,
    tell: (done: number, soFar: Odds[]) => void,
  ): Promise<Odds[] | null>;
  /** Gives up the odds that are being worked out. */
  cancel(): Promise<void>;
}

export interface RehearsalShown {
  /** What was asked and what came of it, together: they never belong to different plans. */
  drawn: { comparison: Comparison; rehearsals: Rehearsal[] } | null;
  odds: Odds[] | null;
  /** Twins done while the odds are being worked out; null when nothing runs. */
  done: number | null;
  failed: string | null;
}

/** After a change, the odds wait for the hand to rest. ms */
const QUIET_MS = 200;

/**
 * Asks for rehearsals as a page changes its mind: the drawing at once, one at a time, the newest wish next; the odds
 * when nothing has changed for a moment and the drawing stands. What belongs to an older wish is dropped.
 */
export class Rehearser {
  #shown: RehearsalShown = { drawn: null, odds: null, done: null, failed: null };
  readonly #watchers = new Set<() => void>();
  /** Counts the wishes; an answer to any but the last is dropped. */
  #wish = 0;
  #wanted: Comparison | null = null;
  #drawing: Promise<void> | null = null;

  /** @param quiet resolves when a hand has rested for so many ms */
  constructor(
    private readonly work: RehearsalWork,
    private readonly quiet = (ms: number): Promise<void> =>
      new Promise((resolve) => setTimeout(resolve, ms)),
  ) {}

  get shown(): RehearsalShown {
    return this.#shown;
  }

  subscribe = (watcher: () => void): (() => void) => {
    this.#watchers.add(watcher);
    return () => this.#watchers.delete(watcher);
  };

  #show(change: Partial<RehearsalShown>): void {
    this.#shown = { ...this.#shown, ...change };
    for (const watcher of this.#watchers) watcher();
  }

  /** A new wish; null where there is nothing to rehearse. */
  async ask(comparison: Comparison | null, twins: number): Promise<void> {
    this.#wish += 1;
    const mine = this.#wish;
    this.#wanted = comparison;
    this.#show({ odds: null, done: null });
    void this.work.cancel();
    if (!comparison) return;
    // The odds are asked for after the drawing of the same wish, so that neither is given up for the other.
    await Promise.all([this.#draw(), this.quiet(QUIET_MS)]);
    if (mine === this.#wish) await this.#workOut(comparison, twins, mine);
  }

  /** Draws the newest wish; those that were overtaken meanwhile are never drawn. */
  #draw(): Promise<void> {
    this.#drawing ??= this.#drawAll().finally(() => (this.#drawing = null));
    return this.#drawing;
  }

  async #drawAll(): Promise<void> {
    for (let next = this.#wanted; next; next = this.#wanted) {
      this.#wanted = null;
      try {
        const rehearsals = await this.work.draw(next);
        this.#show({ drawn: { comparison: next, rehearsals }, failed: null });
      } catch (error) {
        this.#show({ failed: (error as Error).message });
      }
    }
  }

  async #workOut(comparison: Comparison, twins: number, mine: number): Promise<void> {
    this.#show({ done: 0 });
    try {
      const odds = await this.work.odds(
        comparison,
        twins,
        (done, soFar) => mine === this.#wish && this.#show({ done, odds: soFar }),
      );
      if (mine === this.#wish) this.#show({ done: null, ...(odds ? { odds } : {}) });
    } catch (error) {
      if (mine === this.#wish) this.#show({ done: null, failed: (error as Error).message });
    }
  }

  /** Enough: what is known of the odds stays, and no more is worked out. */
  cancel(): void {
    this.#wish += 1;
    void this.work.cancel();
    this.#show({ done: null });
  }
}
