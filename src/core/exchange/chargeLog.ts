import { celsiusFromFahrenheit } from '../quantities/quantity.ts';
import { formatDuration, type WallStyle } from '../quantities/format.ts';
import { readNumber } from './table.ts';
import { type DateOrder, momentWritten, orderOfDates, readWritten } from './writtenDates.ts';

/** A charger's or meter's log, read: samples thinned for drawing, and what was made of it. */
export interface ChargeLog {
  /** Seconds from its first row. */
  seconds: number[];
  voltageV: number[];
  currentA: number[];
  /** Null where it has no temperature. */
  temperatureC: number[] | null;
  /** Rows used and rows left out, with the reason for the first of them. */
  rows: number;
  leftOut: { row: number; why: string }[];
  leftOutCount: number;
  /** Silences longer than ten times the usual interval; nothing is counted across them. */
  gaps: { atS: number; lengthS: number }[];
  /** When its first row was written, ms, where its times are dates or whoever keeps it knows; else null. */
  startedAt: number | null;
  ahIn: number;
  ahOut: number;
  /** What the reader should know, in sentences. */
  notices: string[];
}

export type TimeUnit = 's' | 'min' | 'h' | 'clock';
export interface LogColumns {
  time: { column: number; unit: TimeUnit };
  voltage: { column: number; unit: 'V' | 'mV' };
  current: {
    column: number;
    unit: 'A' | 'mA';
    /** true where discharge is written positive. */ reversed: boolean;
  };
  temperature: { column: number; unit: 'C' | 'F' } | null;
}

/** The log cannot be used, and why. */
export class LogRefused extends Error {
  override readonly name = 'LogRefused';
}

const MOST_V = 60;
const MOST_A = 2000;
const RANGE_C = [-40, 90] as const;
/** A log is kept in at most this many points; its sums are of every row. */
const MOST_POINTS = 1500;
/** More bad rows than this share, and the mapping is wrong rather than the rows. */
const MOST_BAD = 0.05;
const TOLD = 20;
const GAP_TIMES = 10;
const LEAST_GAP_S = 300;
const DAY_S = 86_400;
/** A clock that falls back by a day, less so much at most, has passed midnight. */
const MOST_OVER_MIDNIGHT_S = 3600;
/** Seconds since 1970 rather than since the first row. */
const LEAST_DATE_S = 1e8;

const CLOCK = /^(\d+):(\d\d)(?::(\d\d(?:[.,]\d+)?))?$/;

const name = (heading: string) => heading.toLowerCase();
const has = (heading: string, pattern: RegExp) => pattern.test(name(heading));

/**
 * Guesses the columns of a log by their headings: the Battery Data Format's, and plain ones with a unit.
 *
 * @returns null where time, volts or amps cannot be told
 */
export function guessLogColumns(headings: readonly string[]): LogColumns | null {
  const find = (pattern: RegExp) => headings.findIndex((h) => has(h, pattern));
  const time = find(/time|elapsed|date|^t\b/);
  const voltage = find(/volt|^u\b|^v\b/);
  const current = find(/current|\bamp|^i\b|^a\b/);
  const surface = find(/surface temperature|battery temp/);
  const temperature = surface >= 0 ? surface : find(/temp|°c|degc/);
  if (time < 0 || voltage < 0 || current < 0) return null;
  const unitOf = (at: number) =>
    /[/([]\s*([a-z°µ]+)\s*[)\]]?\s*$/.exec(name(headings[at] ?? ''))?.[1] ??
    /(?:\b|_)(ms|s|sec|min|h|mv|v|ma|a)$/.exec(name(headings[at] ?? ''))?.[1] ??
    '';
  const timeUnit = unitOf(time);
  return {
    time: {
      column: time,
      unit: has(headings[time] ?? '', /date|stamp|clock/)
        ? 'clock'
        : timeUnit === 'min'
          ? 'min'
          : timeUnit === 'h'
            ? 'h'
            : 's',
    },
    voltage: { column: voltage, unit: unitOf(voltage) === 'mv' ? 'mV' : 'V' },
    current: { column: current, unit: unitOf(current) === 'ma' ? 'mA' : 'A', reversed: false },
    temperature:
      temperature < 0
        ? null
        : { column: temperature, unit: /f$|fahrenheit/.test(unitOf(temperature)) ? 'F' : 'C' },
  };
}

/** Seconds of a time cell: of a date, of hours:minutes:seconds, or of a number in its unit. A date without a zone is read as UTC's. */
function readTime(text: string, unit: TimeUnit, order: DateOrder): number | null {
  const clock = CLOCK.exec(text);
  if (clock)
    return (
      Number(clock[1]) * 3600 + Number(clock[2]) * 60 + Number((clock[3] ?? '0').replace(',', '.'))
    );
  const written = readWritten(text, order);
  if (written) return written.at / 1000;
  const n = readNumber(text);
  return n === null ? null : n * (unit === 'min' ? 60 : unit === 'h' ? 3600 : 1);
}

/**
 * Reads a log. Rows that cannot be read, or whose time runs backwards, are left out and told; too many of
 * them, and the log is refused. Charge is positive; ampere-hours are summed by trapezia, not across gaps. A clock
 * without dates goes on past midnight.
 *
 * @param rows without the heading, cells as text
 * @param wall of the shop: its dates are of that, where they name no zone, and in that order, where they leave it open
 * @throws LogRefused with a sentence to act on
 */
export function readChargeLog(
  rows: readonly (readonly string[])[],
  columns: LogColumns,
  { timeZone, dateOrder = 'day-first' }: Pick<WallStyle, 'timeZone' | 'dateOrder'>,
): ChargeLog {
  const [t, v, a, c]: [number[], number[], number[], number[]] = [[], [], [], []];
  const leftOut: ChargeLog['leftOut'] = [];
  let leftOutCount = 0;
  let backwards = 0;
  const drop = (row: number, why: string) => {
    leftOutCount += 1;
    if (leftOut.length < TOLD) leftOut.push({ row, why });
  };
  let latest = -Infinity;
  let midnights = 0;
  const order = orderOfDates(timesIn(rows, columns), dateOrder);
  let first = '';
  rows.forEach((cells, i) => {
    const row = i + 2;
    if (cells.every((cell) => cell.trim() === '')) return;
    const cell = (at: number) => (cells[at] ?? '').trim();
    const when = cell(columns.time.column);
    const told = readTime(when, columns.time.unit, order);
    const volts = readNumber(cell(columns.voltage.column));
    const amps = readNumber(cell(columns.current.column));
    const degrees = columns.temperature ? readNumber(cell(columns.temperature.column)) : null;
    if (told === null) return drop(row, `“${when.slice(0, 20)}” is not a time.`);
    if (volts === null) return drop(row, 'No volts.');
    if (amps === null) return drop(row, 'No amps.');
    const voltageV = columns.voltage.unit === 'mV' ? volts / 1000 : volts;
    const currentA =
      (columns.current.unit === 'mA' ? amps / 1000 : amps) * (columns.current.reversed ? -1 : 1);
    if (Math.abs(voltageV) > MOST_V)
      return drop(row, `${voltageV} V is no battery: another unit in this row?`);
    if (Math.abs(currentA) > MOST_A)
      return drop(row, `${currentA} A is no battery: another unit in this row?`);
    let time = told;
    if (CLOCK.test(when)) {
      time += midnights * DAY_S;
      if (time < latest && time + DAY_S - latest <= MOST_OVER_MIDNIGHT_S) {
        midnights += 1;
        time += DAY_S;
      }
    }
    if (time <= latest) {
      backwards += 1;
      return drop(
        row,
        time === latest
          ? 'The same moment twice.'
          : `Time runs backwards by ${(latest - time).toFixed(0)} s.`,
      );
    }
    if (t.length === 0) first = when;
    latest = time;
    t.push(time);
    v.push(voltageV);
    a.push(currentA);
    const celsius =
      degrees === null
        ? NaN
        : columns.temperature?.unit === 'F'
          ? celsiusFromFahrenheit(degrees)
          : degrees;
    c.push(celsius >= RANGE_C[0] && celsius <= RANGE_C[1] ? celsius : NaN);
  });
  const all = t.length + leftOutCount;
  if (t.length < 2)
    throw new LogRefused(
      leftOut[0]
        ? `Fewer than two rows can be used. Row ${leftOut[0].row}: ${leftOut[0].why}`
        : 'The log has fewer than two rows.',
    );
  if (backwards > MOST_BAD * all)
    throw new LogRefused(
      `Time runs backwards or stands still in ${backwards} of ${all} rows. Two logs in one file, or the wrong column for time?`,
    );
  if (leftOutCount > MOST_BAD * all)
    throw new LogRefused(
      `${leftOutCount} of ${all} rows cannot be read (row ${leftOut[0]?.row}: ${leftOut[0]?.why}). Is each column what it was said to be?`,
    );
  const mixed = unitJump(v);
  if (mixed !== null)
    throw new LogRefused(
      `Volts jump by a factor of about a thousand near row ${mixed + 2}: V and mV are mixed. Mend the file first.`,
    );
  const start = t[0] as number;
  const written = readWritten(first, order);
  const counted = start > LEAST_DATE_S ? Math.round(start * 1000) : null;
  const startedAt = written ? momentWritten(written, timeZone) : counted;
  return summary(t, v, a, c, { leftOut, leftOutCount, startedAt });
}

/** Cells of the column for time. */
function* timesIn(
  rows: readonly (readonly string[])[],
  { time: { column } }: LogColumns,
): Generator<string> {
  for (const cells of rows) yield cells[column] ?? '';
}

/** Why a log cannot have begun at a moment, ms, as a sentence; null where it can. */
export function beginningFault({ seconds }: ChargeLog, at: number, now: number): string | null {
  const lastsS = seconds.at(-1) ?? 0;
  return at + 1000 * lastsS > now
    ? `It lasts ${formatDuration(lastsS)}: begun then, it would not have ended yet.`
    : null;
}

/** Where neighbouring volts differ a hundredfold: two units in one column. */
function unitJump(volts: readonly number[]): number | null {
  for (let i = 1; i < volts.length; i++) {
    const [before, here] = [Math.abs(volts[i - 1] as number), Math.abs(volts[i] as number)];
    if (
      Math.min(before, here) > 0 &&
      Math.max(before, here) > 100 * Math.min(before, here) &&
      Math.min(before, here) < 0.06
    )
      return i;
  }
  return null;
}

/** Where there is no value the one before stands, before the first the first. */
function withoutHoles(values: readonly number[]): number[] {
  let last = values.find((value) => !Number.isNaN(value)) ?? 0;
  return values.map((value) => (last = Number.isNaN(value) ? last : value));
}

function summary(
  t: number[],
  v: number[],
  a: number[],
  c: number[],
  about: Pick<ChargeLog, 'leftOut' | 'leftOutCount' | 'startedAt'>,
): ChargeLog {
  const start = t[0] as number;
  const intervals = t.slice(1).map((at, i) => at - (t[i] as number));
  const usual = [...intervals].sort((x, y) => x - y)[Math.floor(intervals.length / 2)] as number;
  const isGap = (seconds: number) => seconds > Math.max(LEAST_GAP_S, GAP_TIMES * usual);
  const gaps: ChargeLog['gaps'] = [];
  let [ahIn, ahOut] = [0, 0];
  intervals.forEach((seconds, i) => {
    if (isGap(seconds)) return void gaps.push({ atS: (t[i] as number) - start, lengthS: seconds });
    const ah = ((((a[i] as number) + (a[i + 1] as number)) / 2) * seconds) / 3600;
    if (ah > 0) ahIn += ah;
    else ahOut -= ah;
  });
  const warm = c.filter((x) => !Number.isNaN(x)).length;
  const every = Math.max(1, Math.ceil(t.length / MOST_POINTS));
  const thin = (values: readonly number[]) =>
    values.filter((_, i) => i % every === 0 || i === values.length - 1);
  const notices: string[] = [];
  if (about.leftOutCount > 0) notices.push(`${about.leftOutCount} rows were left out.`);
  if (gaps.length > 0)
    notices.push(
      `${gaps.length} ${gaps.length === 1 ? 'gap' : 'gaps'} without rows; nothing is counted across them.`,
    );
  if (every > 1) notices.push(`Drawn from every ${every}. row; the sums are of all ${t.length}.`);
  if (warm > 0 && warm < c.length) notices.push('Some rows have no temperature.');
  return {
    seconds: thin(t).map((at) => Math.round((at - start) * 1000) / 1000),
    voltageV: thin(v),
    currentA: thin(a),
    temperatureC: warm === 0 ? null : thin(withoutHoles(c)),
    rows: t.length,
    leftOut: about.leftOut,
    leftOutCount: about.leftOutCount,
    gaps: gaps.slice(0, TOLD),
    startedAt: about.startedAt,
    ahIn,
    ahOut,
    notices,
  };
}
