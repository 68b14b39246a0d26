import type { JobCommand } from '../job/commands.ts';
import { type Step, stepById } from '../plan/procedure.ts';
import type { DrillAct, Shown, TakeKind } from './acts.ts';
import type { DrillCase, LookKind } from './case.ts';
import { DrillBench } from './drillBench.ts';

/** The hands and eyes of somebody at a case: each act by its name, with what it showed. */
export class Hands {
  readonly bench: DrillBench;
  #ids = 0;

  constructor(drillCase: DrillCase) {
    this.bench = new DrillBench(drillCase);
  }

  get job() {
    return this.bench.job;
  }

  get current(): Step {
    return stepById(this.job.procedure, this.job.state.current?.stepId ?? '');
  }

  /** Does an act while the shop is open: in the night nobody is there. */
  #act(act: DrillAct): Shown | null {
    const { closedForS } = this.bench;
    if (closedForS > 0) this.wait(closedForS);
    return this.bench.do(act).shown;
  }

  send(command: JobCommand): void {
    this.#ids += 1;
    this.#act({ do: 'command', id: `act-${this.#ids}`, command });
  }

  look(what: LookKind): Extract<Shown, { of: 'look' }> {
    return this.#act({ do: 'look', what }) as Extract<Shown, { of: 'look' }>;
  }

  /** Reads; where the reading will not stand still, again. */
  take(take: TakeKind): Extract<Shown, { of: 'reading' }> {
    for (;;) {
      const shown = this.#act({ do: 'take', take }) as Extract<Shown, { of: 'reading' }>;
      if (take !== 'volts' || shown.says === undefined || this.bench.world.isDry) return shown;
    }
  }

  tap(tube: number): void {
    this.#act({ do: 'tap', tube });
  }

  wait(seconds: number, alert = false): void {
    this.bench.do({ do: 'wait', seconds: Math.max(1, seconds), alert });
  }
}
