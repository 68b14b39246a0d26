import type { Job } from '../job/job.ts';
import { stillComes } from '../job/comes.ts';
import type { Step } from '../plan/procedure.ts';
import { moduleOf } from './registry.ts';

/** Steps after the one in hand that come as a job stands, in their order; none of one that has ended, or that leads nowhere. */
export function stepsAhead(job: Job): Step[] {
  const { procedure, state } = job;
  const here = procedure.steps.findIndex((s) => s.id === state.current?.stepId);
  const inHand = procedure.steps[here];
  if (!inHand || moduleOf(inHand).leadsNowhere?.(job)) return [];
  return procedure.steps.slice(here + 1).filter((step) => stillComes(state, step));
}
