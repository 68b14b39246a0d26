import {
  celsiusFromFahrenheit,
  GRAMS_PER_OUNCE,
  GRAMS_PER_POUND,
  ML_PER_GALLON,
  ML_PER_OUNCE,
  QUANTITIES,
  type QuantityKey,
} from './quantity.ts';

import { KEPT_UNITS, sayIn, type Units } from './shopUnits.ts';

export type ParsedReading = { ok: true; value: number } | { ok: false; message: string };

/** Suffixes people add, per quantity, and what each does to the number. Longest first. */
const SUFFIXES: Record<QuantityKey, readonly (readonly [string, (n: number) => number])[]> = {
  voltage: [
    ['mv', (n) => n / 1000],
    ['m', (n) => n / 1000],
    ['v', (n) => n],
  ],
  current: [
    ['ma', (n) => n / 1000],
    ['m', (n) => n / 1000],
    ['a', (n) => n],
  ],
  temperature: [
    ['f', celsiusFromFahrenheit],
    ['c', (n) => n],
  ],
  frequency: [
    ['khz', (n) => 1000 * n],
    ['hz', (n) => n],
  ],
  specificGravity: [],
  resistance: [
    ['milliohm', (n) => n],
    ['mohm', (n) => n],
    ['mω', (n) => n],
    ['ohms', (n) => n * 1000],
    ['ohm', (n) => n * 1000],
    ['ω', (n) => n * 1000],
    ['m', (n) => n],
  ],
  crankingCurrent: [['a', (n) => n]],
  volume: [
    ['ml', (n) => n],
    ['l', (n) => n * 1000],
    ['floz', (n) => n * ML_PER_OUNCE],
    ['oz', (n) => n * ML_PER_OUNCE],
    ['gal', (n) => n * ML_PER_GALLON],
  ],
  mass: [
    ['kg', (n) => n * 1000],
    ['g', (n) => n],
    ['lbs', (n) => n * GRAMS_PER_POUND],
    ['lb', (n) => n * GRAMS_PER_POUND],
    ['oz', (n) => n * GRAMS_PER_OUNCE],
  ],
};

/** Where nobody reads thousandths, a comma before exactly three digits groups thousands: “1,500” mL is a litre and a half. An SG of 1,265 stays one. */
const THOUSANDS: ReadonlySet<QuantityKey> = new Set([
  'current',
  'crankingCurrent',
  'volume',
  'mass',
  'resistance',
]);
const GROUPED = /^[+-]?[1-9]\d{0,2},\d{3}$/;
const PLAIN_NUMBER = /^[+-]?(?:\d+(?:\.\d*)?|\.\d+)$/;
/** Nobody reads a longer value off an instrument, characters. */
const LONGEST = 40;

/**
 * Reads a value the way it is said at the bench: `12.48`, `12,48`, `1265` (SG), `80f`, `850m`.
 *
 * @param text what was typed
 * @param quantity what it is a reading of
 * @param units what a bare temperature, volume or mass means in this shop
 * @returns the value in the stored unit (V, A, °C, SG, mL), or a sentence saying what is wrong
 * @example parseReading('80f', 'temperature') // { ok: true, value: 26.67 }
 */
export function parseReading(
  text: string,
  quantity: QuantityKey,
  units: Units = KEPT_UNITS,
): ParsedReading {
  const { temperatureUnit, volumeUnit } = units;
  const { label, unit, possible } = QUANTITIES[quantity];
  if (text.length > LONGEST) return { ok: false, message: 'That is too long for a reading.' };
  let body = text.trim().toLowerCase().replaceAll(/[\s°]/g, '').replaceAll('−', '-');
  if (body === '') return { ok: false, message: `Type the ${label.toLowerCase()}.` };

  let convert: ((n: number) => number) | undefined;
  for (const [suffix, apply] of SUFFIXES[quantity]) {
    if (body.endsWith(suffix)) {
      body = body.slice(0, -suffix.length);
      convert = apply;
      break;
    }
  }
  // One comma and no dot is a decimal comma; anything else with a comma is ambiguous.
  if (body.includes(',')) {
    if (body.includes('.') || body.indexOf(',') !== body.lastIndexOf(',')) {
      return { ok: false, message: `“${text.trim()}” has more than one decimal mark.` };
    }
    body = body.replace(',', THOUSANDS.has(quantity) && GROUPED.test(body) ? '' : '.');
  }
  if (!PLAIN_NUMBER.test(body)) return { ok: false, message: `“${text.trim()}” is not a number.` };

  let value = Number(body);
  if (quantity === 'specificGravity' && value >= 1000 && value <= 1500) value /= 1000;
  if (convert) value = convert(value);
  else if (quantity === 'temperature' && temperatureUnit === 'F')
    value = celsiusFromFahrenheit(value);
  else if (volumeUnit === 'oz' && quantity === 'volume') value *= ML_PER_OUNCE;
  else if (volumeUnit === 'oz' && quantity === 'mass') value *= GRAMS_PER_POUND;

  const [low, high] = possible;
  if (value < low || value > high) {
    return {
      ok: false,
      message: sayIn(
        `${label} must lie between ${low} and ${high}${unit ? ` ${unit}` : ''}.`,
        units,
      ),
    };
  }
  return { ok: true, value };
}
