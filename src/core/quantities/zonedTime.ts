/** A moment as the clock and the calendar on the wall of a time zone show it: digits, and the weekday's short name. */
export interface WallParts {
  weekday: string;
  year: string;
  month: string;
  day: string;
  hour: string;
  minute: string;
}

const DAY_MS = 86_400_000;
const WEEKDAYS = ['Sun', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat'] as const;
const two = (n: number): string => String(n).padStart(2, '0');

/** A moment's parts on the wall of a time zone. */
export function wallParts(at: number, timeZone: string): WallParts {
  const wall = new Date(at + offsetAt(at, timeZone));
  return {
    weekday: WEEKDAYS[wall.getUTCDay()] as string,
    year: String(wall.getUTCFullYear()),
    month: two(wall.getUTCMonth() + 1),
    day: two(wall.getUTCDate()),
    hour: two(wall.getUTCHours()),
    minute: two(wall.getUTCMinutes()),
  };
}

/** One format a zone serves all: making one takes longer than using it a hundred times. */
const formats = new Map<string, Intl.DateTimeFormat>();
/** How far a zone is ahead of UTC in a span of time, by the number of the span; null in one in which that changes. */
const offsets = new Map<string, Map<number, number | null>>();
/** Spans that are remembered of a zone. */
const MOST_SPANS = 10_000;
/** A week in which clocks do not change is asked about once; of one in which they do, each day. */
const SPANS_MS = [7 * DAY_MS, DAY_MS] as const;

/** How far the clocks of a zone are ahead of UTC: from each moment on by so much, ms; up to `until`. */
export interface ZoneClocks {
  ahead: readonly (readonly [from: number, aheadMs: number])[];
  until: number;
}
export const UTC_CLOCKS: ZoneClocks = { ahead: [[0, 0]], until: 8.64e15 };

/**
 * When the clocks of a zone change, by the platform.
 *
 * @param from ms since the epoch, a whole second
 * @param until likewise; two changes within one week that take each other back are not seen
 */
export function zoneClocks(timeZone: string, from: number, until: number): ZoneClocks {
  const ahead: [number, number][] = [[from, askOffset(from, timeZone)]];
  for (let week = from; week < until; week += 7 * DAY_MS) {
    const end = Math.min(until, week + 7 * DAY_MS);
    let [begins, offset] = [week, askOffset(week, timeZone)];
    while (askOffset(end, timeZone) !== offset) {
      begins = firstOther(begins, end, timeZone);
      offset = askOffset(begins, timeZone);
      ahead.push([begins, offset]);
    }
  }
  return { ahead, until };
}

/** The second in which a zone's clocks first show another offset than at `same`, halving the time to one that does. */
function firstOther(same: number, other: number, timeZone: string): number {
  const offset = askOffset(same, timeZone);
  while (other - same > 1000) {
    const between = same + Math.floor((other - same) / 2000) * 1000;
    if (askOffset(between, timeZone) === offset) same = between;
    else other = between;
  }
  return other;
}

/** Clocks that somebody has told: the platform need not be asked about them. */
const toldClocks = new Map([['UTC', UTC_CLOCKS]]);
export const knowClocks = (timeZone: string, clocks: ZoneClocks): void =>
  void toldClocks.set(timeZone, clocks);

/** Ahead of UTC by what was told, ms; null at a moment that was not told of. */
function toldOffset(at: number, timeZone: string): number | null {
  const clocks = toldClocks.get(timeZone);
  if (!clocks || at >= clocks.until) return null;
  return clocks.ahead.findLast(([from]) => from <= at)?.[1] ?? null;
}

/**
 * How far the wall of a time zone is ahead of UTC at a moment, ms. Asking the platform takes a hundred times as long as adding, and a
 * page shows hundreds of times: it is asked at both ends of a week, of a day where those differ, and each time only on such a day.
 */
function offsetAt(at: number, timeZone: string): number {
  const told = toldOffset(at, timeZone);
  if (told !== null) return told;
  for (const spanMs of SPANS_MS) {
    const known = offsetIn(spanMs, Math.floor(at / spanMs), timeZone);
    if (known !== null) return known;
  }
  return askOffset(at, timeZone);
}

function offsetIn(spanMs: number, span: number, timeZone: string): number | null {
  const zone = `${timeZone} ${spanMs}`;
  let spans = offsets.get(zone);
  if (!spans) offsets.set(zone, (spans = new Map<number, number | null>()));
  let known = spans.get(span);
  if (known === undefined) {
    const begins = askOffset(span * spanMs, timeZone);
    known = askOffset((span + 1) * spanMs - 1, timeZone) === begins ? begins : null;
    if (spans.size >= MOST_SPANS) spans.clear();
    spans.set(span, known);
  }
  return known;
}

function askOffset(at: number, timeZone: string): number {
  let format = formats.get(timeZone);
  if (!format) {
    format = new Intl.DateTimeFormat('en-GB', {
      timeZone,
      year: 'numeric',
      month: 'numeric',
      day: 'numeric',
      hour: 'numeric',
      minute: 'numeric',
      second: 'numeric',
      hourCycle: 'h23',
    });
    formats.set(timeZone, format);
  }
  const shown = Object.fromEntries(
    format.formatToParts(at).map(({ type, value }) => [type, Number(value)]),
  ) as Record<'year' | 'month' | 'day' | 'hour' | 'minute' | 'second', number>;
  const { year, month, day, hour, minute, second } = shown;
  return Date.UTC(year, month - 1, day, hour, minute, second) - Math.floor(at / 1000) * 1000;
}

/** `2026-03-10T14:05` as the clock on the wall of a time zone shows it. For date-time fields. */
export function wallTimeOf(at: number, timeZone: string): string {
  const { year, month, day, hour, minute } = wallParts(at, timeZone);
  return `${year}-${month}-${day}T${hour}:${minute}`;
}

/**
 * The moment at which the wall clock of a time zone shows this. A time the zone skips in spring is
 * read as the one an hour later; of a time it has twice in autumn, the first.
 *
 * @returns ms since the epoch, or null when the text is no date and time
 */
export function momentOfWallTime(text: string, timeZone: string): number | null {
  const wanted = Date.parse(`${text}:00Z`);
  if (!/^\d{4}-\d\d-\d\dT\d\d:\d\d$/.test(text) || Number.isNaN(wanted)) return null;
  const early = wanted - offsetAt(wanted - DAY_MS, timeZone);
  const late = wanted - offsetAt(wanted + DAY_MS, timeZone);
  if (wallTimeOf(early, timeZone) === text) return early;
  return wallTimeOf(late, timeZone) === text ? late : early;
}

/**
 * The moment that a day (`2026-03-10`, its midnight) or a date and time in ISO 8601 names.
 *
 * @param timeZone whose wall it is of, where the text names no zone
 * @returns ms since the epoch, or null when the text is neither, or there is no such day
 */
export function momentOfIso(text: string, timeZone = 'UTC'): number | null {
  const match =
    /^(\d{4}-\d\d-\d\d)(?:[T ](\d\d:\d\d(?::\d\d(?:\.\d+)?)?)([Zz]|[+-]\d\d:?\d\d)?)?$/.exec(text);
  if (!match) return null;
  const [, day, time = '00:00', zone] = match;
  const moment = Date.parse(`${day}T${time}${zone?.toUpperCase() ?? 'Z'}`);
  // The platform takes the 31st of a shorter month for a day of the next.
  if (Number.isNaN(moment) || wallTimeOf(Date.parse(`${day}T00:00Z`), 'UTC').slice(0, 10) !== day)
    return null;
  return zone === undefined ? momentOnWall(moment, timeZone) : moment;
}

/**
 * The moment at which the clock of a time zone shows what UTC's shows at another.
 *
 * @param utc ms since the epoch, of the date and time that are meant, read as UTC's
 */
export function momentOnWall(utc: number, timeZone: string): number {
  const minute = Math.floor(utc / 60_000) * 60_000;
  return (momentOfWallTime(wallTimeOf(minute, 'UTC'), timeZone) as number) + utc - minute;
}

/** A day on the wall, and the minutes after its midnight that the clock shows. */
export interface WallTime {
  /** `2026-03-10` */
  date: string;
  /** Monday is 0. */
  weekday: number;
  minutes: number;
}

/** Day and minutes on the wall of a time zone. */
export function onTheWall(at: number, timeZone: string): WallTime {
  const text = wallTimeOf(at, timeZone);
  const date = text.slice(0, 10);
  return {
    date,
    weekday: weekdayOf(date),
    minutes: Number(text.slice(11, 13)) * 60 + Number(text.slice(14, 16)),
  };
}

const dayNumber = (date: string): number => Date.parse(`${date}T00:00Z`) / DAY_MS;

/** The day so many days later by the calendar, however many hours those have. */
export const daysLater = (date: string, days: number): string =>
  wallTimeOf((dayNumber(date) + days) * DAY_MS, 'UTC').slice(0, 10);

/** Monday is 0; the first day of 1970 was a Thursday. */
const weekdayOf = (date: string): number => (dayNumber(date) + 3) % 7;

/** The moment at which a day's clock shows so many minutes after midnight. 1440 is the next midnight. */
export function momentOnDay(date: string, minutes: number, timeZone: string): number {
  const day = daysLater(date, Math.floor(minutes / 1440));
  const [hour, minute] = [Math.floor((minutes % 1440) / 60), minutes % 60].map((n) =>
    String(n).padStart(2, '0'),
  );
  return momentOfWallTime(`${day}T${hour}:${minute}`, timeZone) as number;
}
