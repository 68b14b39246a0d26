import { stepById } from '../plan/procedure.ts';
import { cellWords, fillText } from '../plan/words.ts';
import type { Job } from './job.ts';
import type { Refusal } from './refusal.ts';

/** The sentence that tells why a battery was refused. */
export function refusalWords(
  { procedure, plan }: Pick<Job, 'procedure' | 'plan'>,
  { stepId, why }: Pick<Refusal, 'stepId' | 'why'>,
): string {
  switch (why.by) {
    case 'check': {
      const step = stepById(procedure, stepId);
      const check =
        step.kind === 'checks' ? step.checks.find((c) => c.id === why.check) : undefined;
      return fillText(check?.refusal ?? '', plan);
    }
    case 'hot-cells':
      return `Hot while it was woken: ${cellWords(why.cells)}. Hot means a short. Everything off; to the recycler once it is cold.`;
    case 'said':
      return why.text;
  }
}
