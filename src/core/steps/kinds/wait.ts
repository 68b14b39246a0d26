import { formatDuration } from '../../quantities/format.ts';
import { Refused } from '../../job/commands.ts';
import { stillComes } from '../../job/comes.ts';
import type { JobEvent } from '../../job/events.ts';
import { type Job, standingReadings } from '../../job/job.ts';
import type { Moment } from '../../quantities/moment.ts';
import { figureOf } from '../../plan/jobPlan.ts';
import { fillText } from '../../plan/words.ts';
import { type Asked, defineStep, type Takes } from '../step.ts';

/** A soak, a rest, a hold: over at its moment, without a tap. */
export const wait = defineStep({
  kind: 'wait',
  byItself: true,
  // Current flows under somebody's eye.
  near: (step) => step.segment === 'charge',
  lasts: ({ plan }, step) => figureOf(plan, step.figure).value,
  countsFrom: (step) => step.since,
  // One that counts from an earlier step may be over when its turn comes, but never ends before it.
  due: (step, plan, at, runs) => {
    const counted = step.since
      ? runs.findLast((r) => r.stepId === step.since && r.endedAt !== null)?.endedAt
      : null;
    return Math.max(at, (counted ?? at) + figureOf(plan, step.figure).value * 1000);
  },
  hand: (job, step, run) => {
    const { procedure, plan, state } = job;
    const readAt = step.readEveryS === undefined ? null : nextReadingOf(job, step.readEveryS);
    if (readAt !== null)
      return {
        stepId: step.id,
        title: 'Holding: read its volts',
        act: 'Read',
        dueAt: readAt,
        kind: 'read',
      };
    const following =
      procedure.steps.slice(procedure.steps.indexOf(step) + 1).find((s) => stillComes(state, s)) ??
      step;
    return {
      stepId: step.id,
      title: fillText(following.title, plan),
      act: following.act,
      dueAt: run.dueAt,
      kind: 'wait',
    };
  },
  // It may count from an earlier step, so it is told by what was asked less what was cut.
  remark: ({ plan }, step, run) => [
    formatDuration(figureOf(plan, step.figure).value - (run.result?.remainingS ?? 0)),
  ],
});

export const waitTakes: Takes<'wait'> = { cutWait };

function cutWait({
  job,
  step,
  command: { reason },
  context: { now },
}: Asked<'wait', 'cutWait'>): JobEvent[] {
  if (!step.skippable) throw new Refused(`${step.early} This wait cannot be cut.`, 'forbidden');
  const remainingS = Math.ceil(((job.state.current?.dueAt ?? now) - now) / 1000);
  return [{ type: 'wait.cut', stepId: step.id, reason, remainingS }];
}

/** When a battery that stands is read next; null once its end is nearer than half of that. */
function nextReadingOf({ state }: Job, everyS: number): Moment | null {
  const { current } = state;
  if (!current) return null;
  const last = standingReadings(state, 'spot').findLast(
    (r) => r.at >= current.startedAt && r.values.voltageV !== undefined,
  );
  const next = (last?.at ?? current.startedAt) + everyS * 1000;
  return next + (everyS * 1000) / 2 < (current.dueAt ?? Infinity) ? next : null;
}
