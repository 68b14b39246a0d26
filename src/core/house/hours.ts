import type { HouseRules } from './rules.ts';

/** When, from a moment on, hands are at the bench: that moment, or the next opening. ms. */
export type HandsAt = (at: number) => number;

const MINUTE_MS = 60_000;
const DAY_MINUTES = 1440;
const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

const formats = new Map<string, Intl.DateTimeFormat>();

/** Day of the week (Monday 0) and minutes after midnight on the wall of a time zone. */
export function onTheWall(at: number, timeZone: string): { day: number; minutes: number } {
  let format = formats.get(timeZone);
  if (!format) {
    format = new Intl.DateTimeFormat('en-GB', { timeZone, weekday: 'short', hour: '2-digit', minute: '2-digit', hourCycle: 'h23' });
    formats.set(timeZone, format);
  }
  const parts = Object.fromEntries(format.formatToParts(at).map((p) => [p.type, p.value]));
  return { day: WEEKDAYS.indexOf(parts['weekday'] ?? ''), minutes: Number(parts['hour']) * 60 + Number(parts['minute']) };
}

/**
 * The shop's hours as a function of time. A shop open on no day is taken as open always: it has not said.
 * On the two days a year when the wall clock jumps, an opening may be off by that hour.
 */
export function handsAt({ hours, timeZone }: Pick<HouseRules, 'hours' | 'timeZone'>): HandsAt {
  const { from, to, days } = hours;
  if (!days.includes(true)) return (at) => at;
  return (at) => {
    const { day, minutes } = onTheWall(at, timeZone);
    if (days[day] && minutes >= from && minutes < to) return at;
    const midnight = Math.floor(at / MINUTE_MS) * MINUTE_MS - minutes * MINUTE_MS;
    for (let ahead = days[day] && minutes < from ? 0 : 1; ahead <= 7; ahead++)
      if (days[(day + ahead) % 7]) return midnight + (ahead * DAY_MINUTES + from) * MINUTE_MS;
    return at;
  };
}

/** Somebody is always there. */
export const ALWAYS: HandsAt = (at) => at;
