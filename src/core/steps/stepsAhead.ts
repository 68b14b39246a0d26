import type { Job } from '../job/job.ts';
import { stillComes } from '../job/comes.ts';
import { type Step, stepById } from '../plan/procedure.ts';
import { moduleOf } from './registry.ts';

/** What to do with a battery that comes to nothing after the step in hand; null where it goes on. */
export function leadsNowhere(job: Job): string | null {
  const { current } = job.state;
  const step = current && stepById(job.procedure, current.stepId);
  return (step && moduleOf(step).leadsNowhere?.(job)) ?? null;
}

/** Steps after the one in hand that come as a job stands, in their order; none of one that has ended, or that leads nowhere. */
export function stepsAhead(job: Job): Step[] {
  const { procedure, state } = job;
  const here = procedure.steps.findIndex((s) => s.id === state.current?.stepId);
  if (here < 0 || leadsNowhere(job)) return [];
  return procedure.steps.slice(here + 1).filter((step) => stillComes(state, step));
}
