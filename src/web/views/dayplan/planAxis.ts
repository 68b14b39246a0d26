import { onTheWall } from '../../../core/quantities/zonedTime.ts';
import {
  formatClock,
  formatMoment,
  formatWeekday,
  type WallStyle,
} from '../../../core/quantities/format.ts';
import { joined, type Minute, type Span } from '../../../core/dayplan/problem.ts';
import type { ToldPlan } from '../../../core/dayplan/told.ts';

/** How far ahead is shown. */
export const VIEWS = [
  { key: 'day', name: 'Day', hours: 24 },
  { key: 'days', name: '3 days', hours: 72 },
  { key: 'week', name: 'Week', hours: 168 },
] as const;
export type ViewKey = (typeof VIEWS)[number]['key'];

/** Minutes of a plan on a line of pixels. */
export interface Axis {
  from: Minute;
  to: Minute;
  width: number;
  x: (at: Minute) => number;
  perMinute: number;
  ticks: { at: Minute; label: string; day: boolean }[];
  /** When nobody is there. */
  closed: Span[];
}

/** What lies behind now is shown for so long, min: enough for what is under way. */
const BEHIND_MIN = 180;
const MINUTE_MS = 60_000;
const STEPS_H = [1, 2, 3, 4, 6, 12, 24];
const LEAST_STEP_PX = 54;

export function axisOf(plan: ToldPlan, hours: number, width: number, wall: WallStyle): Axis {
  const from = -BEHIND_MIN;
  const to = Math.min(plan.horizon, hours * 60 - BEHIND_MIN);
  const x = (at: Minute): number =>
    ((Math.min(to, Math.max(from, at)) - from) / (to - from)) * width;
  const perHour = (60 / (to - from)) * width;
  const step = STEPS_H.find((h) => h * perHour >= LEAST_STEP_PX) ?? 24;
  const ticks: Axis['ticks'] = [];
  const begins = onTheWall(plan.from + from * MINUTE_MS, wall.timeZone).minutes;
  for (let at = from - (begins % 60) + 60; at < to; at += 60) {
    const moment = plan.from + at * MINUTE_MS;
    const hour = onTheWall(moment, wall.timeZone).minutes / 60;
    if (hour % step !== 0) continue;
    const day = hour === 0;
    ticks.push({ at, day, label: day ? formatWeekday(moment, wall) : formatClock(moment, wall) });
  }
  const manned = joined(plan.people.flatMap((p) => p.there));
  return {
    from,
    to,
    width,
    x,
    perMinute: width / (to - from),
    ticks,
    closed: between(manned, 0, to),
  };
}

/** What lies between spans, from a minute to another. */
export function between(spans: readonly Span[], from: Minute, to: Minute): Span[] {
  const out: Span[] = [];
  let at = from;
  for (const span of spans) {
    if (span.from > at) out.push({ from: at, to: Math.min(span.from, to) });
    at = Math.max(at, span.to);
  }
  if (at < to) out.push({ from: at, to });
  return out.filter((s) => s.to > s.from);
}

/** A minute of a plan, as it is read out. */
export const spokenAt = (plan: Pick<ToldPlan, 'from'>, at: Minute, wall: WallStyle): string =>
  formatMoment(plan.from + at * MINUTE_MS, plan.from, wall);
