import type { JobEvent, Signed } from '../job/events.ts';
import { evolve } from './evolve.ts';
import type { Job } from '../job/job.ts';
import type { Moment } from '../quantities/moment.ts';
import { CLOCK } from '../job/signers.ts';

/**
 * What the clock alone has brought about by `now`: a wait that is over ends at its due moment.
 * Screens settle before they draw, the server before it decides; nobody has to tap a wait away.
 *
 * @returns events to append, oldest first; empty when nothing is due
 */
export function clockEvents(job: Job, now: Moment): Signed<JobEvent>[] {
  const events: Signed<JobEvent>[] = [];
  let current = job;
  for (;;) {
    const run = current.state.status === 'running' ? current.state.current : null;
    if (!run || run.dueAt === null || run.dueAt > now) return events;
    const signed: Signed<JobEvent> = {
      at: run.dueAt,
      by: CLOCK,
      event: { type: 'step.done', stepId: run.stepId, result: null },
    };
    events.push(signed);
    current = evolve(current, signed);
  }
}

/** The job as it stands at `now`. */
export function settle(job: Job, now: Moment): Job {
  return clockEvents(job, now).reduce(evolve, job);
}
