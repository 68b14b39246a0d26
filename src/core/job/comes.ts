import type { JobState } from './job.ts';
import type { Step } from '../plan/procedure.ts';

/** Does a step ahead belong to this job as it stands: not done for good already, and of the route that was chosen? */
export function stillComes(state: JobState, step: Step): boolean {
  if (step.once && doneBefore(state, step.id)) return false;
  if (!step.only) return true;
  const chosen = state.recovery?.routes.findLast((r) => r.attempt === state.attempt);
  if (!chosen) return false;
  return (
    (step.only.route?.includes(chosen.route) ?? true) &&
    (step.only.wake?.includes(chosen.wake) ?? true)
  );
}

function doneBefore(state: JobState, stepId: string): boolean {
  return state.runs.some((r) => r.stepId === stepId && r.end === 'done');
}
