import type { Moment } from '../quantities/moment.ts';
import type { Segment } from '../watch/timeline.ts';
import type { Look, Minute } from './problem.ts';
import type { ToldWork } from './told.ts';

const WORK: Look = { kind: 'hands', label: 'work' };

/**
 * What is to come of a battery by the day plan, as its ribbon draws it.
 *
 * @param from minute 0 of the plan
 * @param now what is before it is left out
 */
export function segmentsAhead(work: ToldWork, from: Moment, now: Moment): Segment[] {
  const segments: Segment[] = [];
  let at: Minute = 0;
  const add = (look: Look | null, begins: Minute, ends: Minute): void => {
    const [start, end] = [begins, ends].map((m) => from + m * 60_000) as [Moment, Moment];
    if (end <= now || ends <= begins) return;
    segments.push({
      kind: look?.kind ?? 'idle',
      label: look?.label ?? '',
      from: Math.max(start, now),
      to: end,
      phase: 'coming',
    });
  };
  for (const task of work.tasks) {
    const begins = Math.max(task.from, 0);
    const waited = Math.min(begins, at + task.waits);
    add(task.waitsAs, at, waited);
    add(null, waited, begins);
    at = begins;
    for (const span of task.run?.on ?? []) {
      add(null, at, span.from);
      add(task.as ?? WORK, span.from, span.to);
      at = span.to;
    }
    if (!task.run) add(task.as ?? WORK, at, task.to);
    else add(null, at, task.to);
    at = Math.max(at, task.to);
  }
  return segments;
}
