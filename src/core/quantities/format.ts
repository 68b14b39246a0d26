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
    ? `${(ml / ML_PER_OUNCE).toFixed(1)} oz`
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

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/** A moment's parts as they are said: the day without a nought, the month by its short name. */
function partsAt(at: number, timeZone: string): Record<string, string> {
  const parts = wallParts(at, timeZone);
  return {
    ...parts,
    day: String(Number(parts['day'])),
    month: MONTHS[Number(parts['month']) - 1] ?? '',
  };
}

/** `14:05` in the shop's time zone. `at` in ms since the epoch. */
export function formatClock(at: number, timeZone: string): string {
  const { hour, minute } = partsAt(at, timeZone);
  return `${hour}:${minute}`;
}

/** `Tue 10 Mar` in the shop's time zone. */
export function formatDay(at: number, timeZone: string): string {
  const { weekday, day, month } = partsAt(at, timeZone);
  return `${weekday} ${day} ${month}`;
}

/** `10 Mar 2026, 14:05` in the shop's time zone: for paper, where the year matters. */
export function formatStamp(at: number, timeZone: string): string {
  const { day, month, year, hour, minute } = partsAt(at, timeZone);
  return `${day} ${month} ${year}, ${hour}:${minute}`;
}

/** `10 Mar 2026` of a day as a calendar keeps it, `2026-03-10`. */
export function formatDate(day: string): string {
  const [year, month, date] = day.split('-');
  return `${Number(date)} ${MONTHS[Number(month) - 1] ?? ''} ${year}`;
}

/** A moment said short: the clock today, the day as well on any other day. */
export function formatMoment(at: number, now: number, timeZone: string): string {
  const day = formatDay(at, timeZone);
  return day === formatDay(now, timeZone)
    ? formatClock(at, timeZone)
    : `${day} ${formatClock(at, timeZone)}`;
}

/** Both ways: `14:20, in 35 min` or `13:40, 25 min ago`. */
export function formatMomentBothWays(at: number, now: number, timeZone: string): string {
  const apart = (at - now) / 1000;
  const said = formatMoment(at, now, timeZone);
  if (Math.abs(apart) < 45) return `${said}, now`;
  return apart > 0
    ? `${said}, in ${formatDuration(apart)}`
    : `${said}, ${formatDuration(-apart)} ago`;
}
