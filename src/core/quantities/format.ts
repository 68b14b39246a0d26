import type { Figure, FigureUnit } from './figure.ts';
import { wallParts } from './zonedTime.ts';
import {
  fahrenheitFromCelsius,
  ML_PER_OUNCE,
  type TemperatureUnit,
  type VolumeUnit,
} from './quantity.ts';

/** Seconds as people say them: `45 s`, `30 min`, `2 h`, `3 h 20 min`, `2 d 4 h`. */
export function formatDuration(seconds: number): string {
  const total = Math.max(0, Math.round(seconds));
  if (total < 60) return `${total} s`;
  const minutes = Math.round(total / 60);
  if (minutes < 60) return `${minutes} min`;
  if (minutes < 48 * 60) {
    const rest = minutes % 60;
    return rest === 0 ? `${minutes / 60} h` : `${Math.floor(minutes / 60)} h ${rest} min`;
  }
  const hours = Math.round(minutes / 60);
  return hours % 24 === 0 ? `${hours / 24} d` : `${Math.floor(hours / 24)} d ${hours % 24} h`;
}

/** °C in the shop's unit, with the symbol. */
export function formatTemperature(celsius: number, unit: TemperatureUnit, decimals = 0): string {
  return unit === 'F'
    ? `${fahrenheitFromCelsius(celsius).toFixed(decimals)} °F`
    : `${celsius.toFixed(decimals)} °C`;
}

/** A difference of temperature in the shop's unit, with the symbol. */
export function formatRise(celsius: number, unit: TemperatureUnit, decimals = 0): string {
  return unit === 'F'
    ? `${((celsius * 9) / 5).toFixed(decimals)}\u00a0°F`
    : `${celsius.toFixed(decimals)}\u00a0°C`;
}

/** mL in the shop's unit, with the symbol. */
export function formatVolume(ml: number, unit: VolumeUnit): string {
  return unit === 'oz'
    ? `${(ml / ML_PER_OUNCE).toFixed(1)} fl oz`
    : ml >= 10_000
      ? `${(ml / 1000).toFixed(1)} L`
      : `${ml.toFixed(0)} mL`;
}

/** A figure's number and unit apart, so a screen can set the number large. */
export function figureParts(figure: Pick<Figure, 'value' | 'unit'>): {
  number: string;
  unit: string;
} {
  const { value, unit } = figure;
  if (unit === 's') return { number: formatDuration(value), unit: '' };
  const decimals = unit === 'A' && Number.isInteger(value) && value >= 10 ? 0 : DECIMALS[unit];
  return { number: value.toFixed(decimals), unit };
}

const DECIMALS: Record<FigureUnit, number> = {
  V: 2,
  A: 1,
  Ah: 1,
  s: 0,
  mL: 0,
  kg: 2,
  '°C': 0,
  SG: 3,
  '%': 0,
  '': 0,
};

/** A figure as one string, `12.60 V`. */
export function formatFigure(figure: Pick<Figure, 'value' | 'unit'>): string {
  const { number, unit } = figureParts(figure);
  return unit ? `${number} ${unit}` : number;
}

/** Short names of the months, in every paper and on every page. */
export const MONTHS = [
  'Jan',
  'Feb',
  'Mar',
  'Apr',
  'May',
  'Jun',
  'Jul',
  'Aug',
  'Sep',
  'Oct',
  'Nov',
  'Dec',
];

export const CLOCKS = ['24h', '12h'] as const;
export const DATE_ORDERS = ['day-first', 'month-first'] as const;

/** How a shop says moments: on the wall of which zone, by which clock, and what comes first in a date. */
export interface WallStyle {
  /** IANA name. */
  timeZone: string;
  clock?: (typeof CLOCKS)[number];
  dateOrder?: (typeof DATE_ORDERS)[number];
}

/** Day and month in the shop's order: the day without a nought, the month by its short name. */
const dayAndMonth = (
  day: string,
  month: string,
  { dateOrder }: Pick<WallStyle, 'dateOrder'>,
): string => {
  const [date, name] = [Number(day), MONTHS[Number(month) - 1] ?? ''];
  return dateOrder === 'month-first' ? `${name} ${date}` : `${date} ${name}`;
};

/** The year behind a day; a day that ends in a number is kept apart from it. */
const withYear = (
  dayMonth: string,
  year: string,
  { dateOrder }: Pick<WallStyle, 'dateOrder'>,
): string => (dateOrder === 'month-first' ? `${dayMonth}, ${year}` : `${dayMonth} ${year}`);

/** A time of day, minutes after midnight, by the shop's clock: `14:05` or `2:05 pm`. */
export function formatTimeOfDay(minutes: number, { clock }: Pick<WallStyle, 'clock'>): string {
  const [hour, minute] = [Math.floor(minutes / 60) % 24, String(minutes % 60).padStart(2, '0')];
  return clock === '12h'
    ? `${hour % 12 || 12}:${minute} ${hour < 12 ? 'am' : 'pm'}`
    : `${String(hour).padStart(2, '0')}:${minute}`;
}

/** `14:05` or `2:05 pm` in the shop's time zone. `at` in ms since the epoch. */
export function formatClock(at: number, wall: WallStyle): string {
  const { hour, minute } = wallParts(at, wall.timeZone);
  return formatTimeOfDay(Number(hour) * 60 + Number(minute), wall);
}

/** `Tue 10 Mar` or `Tue Mar 10` in the shop's time zone. */
export function formatDay(at: number, wall: WallStyle): string {
  const { weekday, day, month } = wallParts(at, wall.timeZone);
  return `${weekday} ${dayAndMonth(day ?? '', month ?? '', wall)}`;
}

/** `Tue 10`, where the month is plain from what stands around it. */
export function formatWeekday(at: number, { timeZone }: WallStyle): string {
  const { weekday, day } = wallParts(at, timeZone);
  return `${weekday} ${Number(day)}`;
}

/** `10 Mar` or `Mar 10`: for an axis. */
export function formatDayMonth(at: number, wall: WallStyle): string {
  const { day, month } = wallParts(at, wall.timeZone);
  return dayAndMonth(day ?? '', month ?? '', wall);
}

/** A moment in little room: the clock today, with the day of the week within a week, the date beyond. */
export function formatMomentShort(at: number, now: number, wall: WallStyle): string {
  if (formatDay(at, wall) === formatDay(now, wall)) return formatClock(at, wall);
  return Math.abs(at - now) < 6 * 86_400_000
    ? `${wallParts(at, wall.timeZone).weekday} ${formatClock(at, wall)}`
    : formatDayMonth(at, wall);
}

/** `10 Mar 2026` or `Mar 10, 2026` in the shop's time zone. */
export function formatDateOf(at: number, wall: WallStyle): string {
  const { day, month, year } = wallParts(at, wall.timeZone);
  return withYear(dayAndMonth(day ?? '', month ?? '', wall), year ?? '', wall);
}

/** `10 Mar 2026, 14:05` in the shop's time zone: for paper, where the year matters. */
export const formatStamp = (at: number, wall: WallStyle): string =>
  `${formatDateOf(at, wall)}, ${formatClock(at, wall)}`;

/** `10 Mar 2026` of a day as a calendar keeps it, `2026-03-10`. */
export function formatDate(day: string, wall: Pick<WallStyle, 'dateOrder'>): string {
  const [year = '', month = '', date = ''] = day.split('-');
  return withYear(dayAndMonth(date, month, wall), year, wall);
}

/** A moment said short: the clock today, the day as well on any other day. */
export function formatMoment(at: number, now: number, wall: WallStyle): string {
  const day = formatDay(at, wall);
  return day === formatDay(now, wall) ? formatClock(at, wall) : `${day} ${formatClock(at, wall)}`;
}

/** Both ways: `14:20, in 35 min` or `13:40, 25 min ago`. */
export function formatMomentBothWays(at: number, now: number, wall: WallStyle): string {
  const apart = (at - now) / 1000;
  const said = formatMoment(at, now, wall);
  if (Math.abs(apart) < 45) return `${said}, now`;
  return apart > 0
    ? `${said}, in ${formatDuration(apart)}`
    : `${said}, ${formatDuration(-apart)} ago`;
}
