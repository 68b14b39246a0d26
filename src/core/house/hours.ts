import { daysLater, momentOnDay, onTheWall } from '../quantities/zonedTime.ts';
import type { HouseRules } from './rules.ts';

/** When, from a moment on, hands are at the bench: that moment, or the next opening. ms. */
export type HandsAt = (at: number) => number;

/**
 * The shop's hours as a function of time, by the clock on its wall: a day of 23 or 25 hours opens when that clock says so.
 * A shop open on no day is taken as open always: it has not said.
 */
export function handsAt({ hours, timeZone }: Pick<HouseRules, 'hours' | 'timeZone'>): HandsAt {
  const { from, to, days } = hours;
  if (!days.includes(true)) return (at) => at;
  return (at) => {
    const { date, weekday, minutes } = onTheWall(at, timeZone);
    if (days[weekday] && minutes >= from && minutes < to) return at;
    const first = days[weekday] && minutes < from ? 0 : 1;
    const ahead =
      Array.from({ length: 8 - first }, (_, i) => first + i).find((n) => days[(weekday + n) % 7]) ??
      0;
    return momentOnDay(daysLater(date, ahead), from, timeZone);
  };
}

/** Somebody is always there. */
export const ALWAYS: HandsAt = (at) => at;
