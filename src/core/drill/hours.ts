import type { WorkingHours } from '../house/rules.ts';
import type { Moment } from '../quantities/moment.ts';
import type { DrillCase } from './case.ts';

/** When somebody is at the bench of a case. Cases know days of 24 hours and no weekend. */

/** The shop of the cases opens at this hour of its clock. */
export const OPENS_H = 8;
/** Midnight before every case: a Monday, by the clock of its own shop; ms since the epoch. */
const MIDNIGHT: Moment = 1_772_409_600_000;
const HOUR_S = 3600;
const DAY_S = 24 * HOUR_S;

type Hours = Pick<DrillCase, 'beginsH' | 'closesH'>;

/** When a case begins. */
export const beginOf = ({ beginsH = OPENS_H }: Hours): Moment => MIDNIGHT + 1000 * HOUR_S * beginsH;

/** The same as a shop says it in its house rules: every day is alike. */
export const workingHoursOf = ({ closesH }: Hours): WorkingHours => ({
  from: closesH === undefined ? 0 : 60 * OPENS_H,
  to: 60 * (closesH ?? 24),
  days: Array.from({ length: 7 }, () => true),
});

/** How long until somebody is there again, s; 0 while the shop is open, and where it never closes. */
export function closedForS({ closesH }: Hours, now: Moment): number {
  if (closesH === undefined) return 0;
  const s = ofDayS(now);
  if (s >= OPENS_H * HOUR_S && s < closesH * HOUR_S) return 0;
  return (OPENS_H * HOUR_S - s + DAY_S) % DAY_S;
}

/** How long until the shop closes, s; 0 while it is closed, and `Infinity` where it never is. */
export function closesInS(hours: Hours, now: Moment): number {
  if (hours.closesH === undefined) return Infinity;
  return closedForS(hours, now) > 0 ? 0 : hours.closesH * HOUR_S - ofDayS(now);
}

const ofDayS = (now: Moment): number => ((now - MIDNIGHT) / 1000) % DAY_S;
