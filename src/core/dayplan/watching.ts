import {
  CONNECT_MIN,
  type Minute,
  OFF_MIN,
  READ_EARLY_MIN,
  READ_EVERY_MIN,
  READ_LATE_MIN,
  READ_MIN,
  type Span,
  type Task,
  type Way,
} from './problem.ts';
import type { Taken, Timetable } from './timetable.ts';

/** When a charge or a test may have its current, and who is there to read it and take it off. */

/** A charge that is read by the hour is not begun for less than this before closing, min. */
const WORTH_BEGINNING_MIN = 45;

/** When current flows in a run of so many minutes that begins at `from`; or before when it cannot begin. */
export function flows(
  manned: readonly Span[],
  { watch: kind }: Pick<Way, 'watch'>,
  from: Minute,
  minutes: Minute,
): { spans: Span[] } | { notBefore: Minute | null } {
  if (kind === 'off' || kind === 'none') return { spans: [{ from, to: from + minutes }] };
  const ahead = manned.filter((s) => s.to - OFF_MIN > from);
  const [first, ...others] = ahead;
  if (!first) return { notBefore: null };
  if (from < first.from) return { notBefore: first.from };
  const room = first.to - OFF_MIN - from;
  if (room >= minutes) return { spans: [{ from, to: from + minutes }] };
  if (kind === 'near' || room < WORTH_BEGINNING_MIN) {
    const next = others.find(
      (s) => kind === 'hourly' || s.to - s.from >= minutes + CONNECT_MIN + OFF_MIN,
    );
    return { notBefore: next?.from ?? null };
  }
  const spans = [{ from, to: from + room }];
  let left = minutes - room;
  for (const { from: opens, to } of others) {
    // Connected again when the shop opens.
    const begins = opens + CONNECT_MIN;
    const goes = Math.min(left, to - OFF_MIN - begins);
    if (goes <= 0) continue;
    spans.push({ from: begins, to: begins + goes });
    left -= goes;
    if (left <= 0) return { spans };
  }
  return { notBefore: null };
}

/** Who reads it when, and takes it off; null where nobody can. What it takes stands in `taken`. */
export function watch(
  table: Timetable,
  { watch: kind }: Pick<Way, 'watch'>,
  spans: readonly Span[],
  taken: Taken[],
): { readings: Task[]; off: Task } | null {
  const end = (spans.at(-1) as Span).to;
  const read = kind === 'hourly' || kind === 'near';
  const readings: Task[] = [];
  if (read)
    for (const due of readingsDue(spans)) {
      const task = takeReader(table, due, taken);
      if (!task) return null;
      readings.push(task);
    }
  const off = takeWhoIsFree(table, end, OFF_MIN, taken);
  if (!off || (read && off.from - end > READ_LATE_MIN)) return null;
  return { readings, off };
}

/** Who reads it: somebody who is at the bench then anyway, else whoever is free. Null where nobody is in time. */
function takeReader(table: Timetable, due: Minute, taken: Taken[]): Task | null {
  const [early, late] = [due - READ_EARLY_MIN, due + READ_LATE_MIN];
  const beside = table.whoIsThere(early, late, READ_MIN);
  if (beside) return takeTask(table, beside, READ_MIN, taken);
  for (const from of [due, early]) {
    const who = table.whoIsFree(from, READ_MIN, false);
    if (who && who.at <= late) return takeTask(table, who, READ_MIN, taken);
  }
  return null;
}

/** A reading each hour that current flows, and none right before it is taken off. */
function readingsDue(spans: readonly Span[]): Minute[] {
  const due: Minute[] = [];
  for (const { from, to } of spans)
    for (let at = from + READ_EVERY_MIN; at < to - READ_EARLY_MIN; at += READ_EVERY_MIN)
      due.push(at);
  return due;
}

function takeWhoIsFree(
  table: Timetable,
  from: Minute,
  minutes: Minute,
  taken: Taken[],
): Task | null {
  const who = table.whoIsFree(from, minutes, false);
  return who && takeTask(table, who, minutes, taken);
}

function takeTask(
  table: Timetable,
  { personId, at }: { personId: string; at: Minute },
  minutes: Minute,
  taken: Taken[],
): Task {
  const task = { personId, from: at, to: at + minutes };
  taken.push(table.takePerson(personId, task));
  return task;
}
