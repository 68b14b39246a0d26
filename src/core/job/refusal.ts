import { cellWords, fillText } from '../plan/words.ts';
import { stepById } from '../plan/procedure.ts';
import type { Moment } from '../quantities/moment.ts';
import type { Job } from './job.ts';

/** Why a battery was refused for good. */
export type RefusedWhy =
  /** A check of the step was answered with its no. */
  | { by: 'check'; check: string }
  /** Cells that were hot while it was woken, from 1 at the plus end. */
  | { by: 'hot-cells'; cells: number[] }
  /** As an earlier version said it. */
  | { by: 'said'; text: string };

export interface Refusal {
  at: Moment;
  by: string;
  stepId: string;
  why: RefusedWhy;
}

/** The sentence that tells why a battery was refused. */
export function refusalWords({ procedure, plan }: Pick<Job, 'procedure' | 'plan'>, { stepId, why }: Pick<Refusal, 'stepId' | 'why'>): string {
  switch (why.by) {
    case 'check': {
      const step = stepById(procedure, stepId);
      const check = step.kind === 'checks' ? step.checks.find((c) => c.id === why.check) : undefined;
      return fillText(check?.refusal ?? '', plan);
    }
    case 'hot-cells':
      return `Hot while it was woken: ${cellWords(why.cells)}. Hot means a short. Everything off; to the recycler once it is cold.`;
    case 'said':
      return why.text;
  }
}
