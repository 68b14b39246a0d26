import type { SkipStage } from '../../contract/asks.ts';
import { stageEndWords } from '../../core/charging/stageEnd.ts';
import { type Context, once } from '../context.ts';
import { conflict } from '../http/problem.ts';
import type { LiveCharge } from './liveCharge.ts';

/** Stages that a person is ending just now: two people who end the same one end it once. */
export class StageSkips {
  readonly #underWay = new Set<string>();

  constructor(private readonly context: Context) {}

  /**
   * May this person end this stage?
   *
   * @returns who signs for it; null where the same command was answered before
   * @throws HttpProblem where the stage is over, or somebody else is ending it
   */
  async ask(charge: LiveCharge, body: SkipStage): Promise<string | null> {
    const { stage } = body;
    const skip = `${charge.id} ${stage}`;
    const signer: { id: string | null } = { id: null };
    try {
      await once(this.context, body, (signed) => {
        const over = charge.run.ended[stage];
        if (charge.run.stage !== stage || this.#underWay.has(skip))
          throw conflict(
            `Stage ${stage + 1} is over already${over ? `: ${stageEndWords(over)}` : ''}. Look again.`,
            { stage: 'Over already.' },
          );
        this.#underWay.add(skip);
        signer.id = signed.by.id;
        return Promise.resolve({ chargeId: charge.id });
      });
    } finally {
      if (signer.id !== null) this.#underWay.delete(skip);
    }
    return signer.id;
  }
}
