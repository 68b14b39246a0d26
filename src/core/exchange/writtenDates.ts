import type { WallStyle } from '../quantities/format.ts';
import { momentOfIso, momentOnWall } from '../quantities/zonedTime.ts';

/** Dates as chargers, meters and spreadsheets write them. */

export type DateOrder = NonNullable<WallStyle['dateOrder']>;

export interface WrittenMoment {
  /** ms since the epoch, as UTC's where no zone is named. */
  at: number;
  zoned: boolean;
}

const TIME = String.raw`(?<hour>\d{1,2}):(?<minute>\d\d)(?::(?<second>\d\d(?:[.,]\d+)?))?(?:\s?(?<half>[ap])\.?m\.?)?`;
const ZONE = String.raw`(?<zone>z|[+-]\d\d:?\d\d)`;
const DATED = new RegExp(
  String.raw`^(?<first>\d{1,4})(?<mark>[-./])(?<middle>\d{1,2})\k<mark>(?<third>\d{1,4})(?:(?:t|,?\s+)${TIME}\s?${ZONE}?)?$`,
  'i',
);
const MINUTE_MS = 60_000;

/**
 * A date, with a time or its midnight: `2026-03-10T14:05`, `10.03.2026 14:05:00`, `3/10/2026, 2:05 PM`. The year has four digits.
 *
 * @param order what comes first where the text leaves it open; behind dots the day always does
 * @returns null when the text is no such date, or there is no such day
 */
export function readWritten(text: string, order: DateOrder): WrittenMoment | null {
  const parts = DATED.exec(text.trim())?.groups;
  if (!parts) return null;
  const [date, ms] = [dateOf(parts, order), timeMs(parts)];
  if (date === null || ms === null) return null;
  const at = date + ms;
  const { zone } = parts;
  return zone === undefined ? { at, zoned: false } : { at: at - aheadMs(zone), zoned: true };
}

/** The moment that was written, ms; on the wall of a time zone where it names none. */
export const momentWritten = ({ at, zoned }: WrittenMoment, timeZone: string): number =>
  zoned ? at : momentOnWall(at, timeZone);

/** What comes first in the dates of a column: a number over twelve tells it, else it is as usual. */
export function orderOfDates(cells: Iterable<string>, usual: DateOrder): DateOrder {
  for (const cell of cells) {
    const [, first = '', second = ''] = /^\s*(\d{1,2})[-/](\d{1,2})[-/]\d{4}\b/.exec(cell) ?? [];
    if (Number(first) > 12) return 'day-first';
    if (Number(second) > 12) return 'month-first';
  }
  return usual;
}

type Parts = Readonly<Record<string, string | undefined>>;

/** Midnight of the date, ms as UTC's; null where there is no such day. */
function dateOf(
  { first = '', mark, middle = '', third = '' }: Parts,
  order: DateOrder,
): number | null {
  const yearFirst = first.length === 4;
  const year = yearFirst ? first : third;
  if (year.length !== 4 || (yearFirst ? third : first).length > 2) return null;
  const dayFirst = mark === '.' || order === 'day-first';
  const [month, day] = yearFirst ? [middle, third] : dayFirst ? [middle, first] : [first, middle];
  return momentOfIso(`${year}-${month.padStart(2, '0')}-${day.padStart(2, '0')}`);
}

/** Time of day, ms; null where the clock has no such time. */
function timeMs({ hour = '0', minute = '0', second = '0', half }: Parts): number | null {
  let hours = Number(hour);
  if (half !== undefined) {
    if (hours < 1 || hours > 12) return null;
    hours = (hours % 12) + (half.toLowerCase() === 'p' ? 12 : 0);
  }
  const [minutes, seconds] = [Number(minute), Number(second.replace(',', '.'))];
  if (hours > 23 || minutes > 59 || seconds >= 60) return null;
  return (hours * 60 + minutes) * MINUTE_MS + Math.round(seconds * 1000);
}

/** How far a zone that is named as `+05:30` is ahead of UTC, ms. */
function aheadMs(zone: string): number {
  const [, sign, hours, minutes] = /^([+-])(\d\d):?(\d\d)$/.exec(zone) ?? [];
  if (sign === undefined) return 0;
  return (sign === '-' ? -1 : 1) * (Number(hours) * 60 + Number(minutes)) * MINUTE_MS;
}
