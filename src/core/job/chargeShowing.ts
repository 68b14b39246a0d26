import { forCells } from '../batteries/chemistry.ts';
import { type ShowingFinding, findingOf } from '../chargers/showing.ts';
import type { ChargerCourse } from '../chargers/course.ts';
import { hoursOn } from '../charging/progress.ts';
import type { Band } from '../rehearsal/outlook.ts';
import type { Moment } from '../quantities/moment.ts';
import { expectedChargeS, ownCourses, shareAtFirst } from './chargeExpected.ts';
import { chargeStartedAt, type ChargeState } from './chargeState.ts';
import { type Job, standingReadings } from './job.ts';
import type { Reading } from './reading.ts';

/** A charge on a charger that shows lights and no current: what its lights say, and what has probably gone in. */

/** A transformer gives this much more or less than is printed on it. Bench experience. */
const SPREAD = 0.2;

/** Does this charge run on a charger that shows no current? */
export const showsNoAmps = (charge: ChargeState | null): boolean =>
  charge?.charger?.own !== undefined && !charge.charger.showsAmps;

/** What its charger showed in this charge, oldest first. */
export function showingsOfCharge(job: Job): Reading[] {
  const { charge, attempt } = job.state;
  if (!charge) return [];
  const from = chargeStartedAt(charge);
  return standingReadings(job.state)
    .filter((r) => r.showing && r.attempt === attempt && r.at >= from)
    .toSorted((a, b) => a.at - b.at);
}

/** What a showing means that was seen at a moment; null where it only charges on. */
export function findingAt(
  job: Job,
  showing: NonNullable<Reading['showing']>,
  at: Moment,
): ShowingFinding | null {
  const { charge } = job.state;
  if (!charge) return null;
  const connectedAt = charge.on.findLast((s) => s.from <= at)?.from ?? chargeStartedAt(charge);
  const before = hoursOn(charge.on, connectedAt);
  const expectedH = expectedChargeS(job) / 3600;
  const volts = standingReadings(job.state).findLast(
    (r) => r.at <= at && r.values.voltageV !== undefined && r.role !== 'load',
  );
  const startsV = charge.charger?.own?.startsV;
  return findingOf(showing, {
    onH: (at - connectedAt) / 3_600_000,
    // What went in before it was connected again is no longer missing.
    expectedH: Math.max(0.5, expectedH - before),
    lacksShare: before >= expectedH / 2 ? 0 : 1 - shareAtFirst(job),
    readsV: volts?.values.voltageV ?? null,
    startsV: startsV === undefined ? null : forCells(startsV, job.plan.model.cells),
  });
}

/** What its charger showed last since it was connected, and what that means. */
export function lastShowing(job: Job): { reading: Reading; finding: ShowingFinding | null } | null {
  const { charge } = job.state;
  const since = charge?.on.at(-1)?.from ?? 0;
  const reading = showingsOfCharge(job).findLast((r) => r.at >= since);
  return reading?.showing
    ? { reading, finding: findingAt(job, reading.showing, reading.at) }
    : null;
}

/**
 * What has probably gone in where nothing shows a current: the charger's own course over the hours with current on, as wide as its
 * print is true; in a recovery from a sulfated battery's to a sound one's. Nothing goes in any more once it says that it is full.
 *
 * @returns Ah
 */
export function ampereHoursEstimated(job: Job, now: Moment): Band | null {
  const { charge } = job.state;
  const courses = ownCourses(job);
  if (!charge || !courses || !showsNoAmps(charge)) return null;
  const full = showingsOfCharge(job).find((r) => r.showing?.means === 'full');
  const hours = hoursOn(
    charge.on.map((s) => ({ ...s, to: s.to === null ? null : Math.min(s.to, full?.at ?? s.to) })),
    Math.min(now, full?.at ?? now),
  );
  const middle = ahAfter(courses.sound, hours);
  const other = courses.sulfated ? ahAfter(courses.sulfated, hours) : middle;
  return {
    low: Math.min(middle, other) * (1 - SPREAD),
    middle,
    high: Math.max(middle, other) * (1 + SPREAD),
  };
}

/** Ah that a course has put in after so many hours of it. */
function ahAfter({ trace }: ChargerCourse, hours: number): number {
  let ah = 0;
  for (let i = 1; i < trace.hours.length; i++) {
    const [from, to] = [trace.hours[i - 1] as number, trace.hours[i] as number];
    ah += (trace.currentA[i] as number) * Math.max(0, Math.min(to, hours) - from);
    if (to >= hours) break;
  }
  return ah;
}

/** Looks at a charger that ends by itself, h after it was connected: does it take, and is it half way? Then when it should be done, and hourly. */
const FIRST_LOOK_H = 0.5;

/** When a charger that ends by itself is next looked at. */
export function nextLookAt(
  connectedAt: Moment,
  lastLookAt: Moment | null,
  expectedH: number,
): Moment {
  const seenH = lastLookAt === null ? -1 : (lastLookAt - connectedAt) / 3_600_000;
  const due = [FIRST_LOOK_H, expectedH / 2, expectedH].find((h) => h > seenH + 0.1);
  return connectedAt + (due ?? seenH + 1) * 3_600_000;
}
