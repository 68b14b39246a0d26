import { type ChemistryKey, forCells } from '../batteries/chemistry.ts';
import { REFERENCE_TEMPERATURE_C } from '../electrolyte/concentration.ts';

/** Usual exponents where a model has no two rated points, and how far they may be off. */
const PEUKERT: Readonly<Record<ChemistryKey, number>> = { flooded: 1.2, agm: 1.15, gel: 1.12 };
const PEUKERT_OFF = 0.06;
/** Share of capacity per °C at C20–C10 rates, IEC 60896-21 style, and how far it may be off. */
const PER_DEGREE = 0.006;
const PER_DEGREE_OFF = 0.002;
const RATED_HOURS = 20;
/** End of a capacity test where nothing else is agreed, per 12 V. */
export const CUT_OFF_12V = 10.5;
/** The 25 A of a reserve capacity, or this share of C20 where that is less. */
export const RESERVE_A = 25;
export const TEST_C = 0.2;
/** Current of the usual capacity test, A. */
export const usualTestA = (c20Ah: number): number => Math.min(RESERVE_A, TEST_C * c20Ah);
/** By hand: the meter and the moment of reading; by an instrument. Share of what was measured. */
const METHOD_OFF = { hand: 0.03, instrument: 0.01 } as const;

export type CapacityMethod = keyof typeof METHOD_OFF;

/** A discharge as it was made. */
export interface Discharge {
  currentA: number;
  minutes: number;
  /** Volts it was stopped at, V per battery. */
  cutoffV: number;
  /** Of the battery at the start, °C. */
  temperatureC: number;
  method: CapacityMethod;
}

/** What a discharge says of a battery. */
export interface Capacity {
  /** Given at that current, Ah. */
  ah: number;
  /** At C20 and 25 °C, Ah: best guess and 8 of 10. */
  c20: { low: number; middle: number; high: number };
  /** Share of the rating, by the middle. */
  health: number;
  /** Stopped above the usual end: it holds at least this. */
  atLeast: boolean;
  words: string;
}

/**
 * Charge a discharge at any current shows, turned into C20 at 25 °C by Peukert's law (I^k·t constant) and the
 * temperature rule. The band holds what the exponent, the temperature rule and the method may be off.
 *
 * @throws RangeError for a current or a time that is not above zero
 */
export function capacityOf({ currentA, minutes, cutoffV, temperatureC, method }: Discharge, chemistry: ChemistryKey, cells: number, c20Ah: number): Capacity {
  if (!(currentA > 0) || !(minutes > 0)) throw new RangeError('A discharge has a current and a time above zero.');
  const hours = minutes / 60;
  const ah = currentA * hours;
  const warm = temperatureC - REFERENCE_TEMPERATURE_C;
  const at = (k: number, perDegree: number): number => (RATED_HOURS ** (1 - 1 / k) * currentA * hours ** (1 / k)) / Math.max(0.3, 1 + perDegree * warm);
  const k = PEUKERT[chemistry];
  const middle = at(k, PER_DEGREE);
  // Three errors that have nothing to do with each other; 1.28 deviations are 8 of 10.
  const off = Math.hypot(
    (at(k + PEUKERT_OFF, PER_DEGREE) - at(k - PEUKERT_OFF, PER_DEGREE)) / 2,
    middle - at(k, PER_DEGREE + PER_DEGREE_OFF),
    METHOD_OFF[method] * middle,
  );
  const atLeast = cutoffV > forCells(CUT_OFF_12V, cells) + 0.05;
  return {
    ah,
    c20: { low: middle - 1.28 * off, middle, high: middle + (atLeast ? 3 : 1.28) * off },
    health: middle / c20Ah,
    atLeast,
    words: `${currentA.toFixed(1)} A for ${minutes.toFixed(0)} min to ${cutoffV.toFixed(2)} V at ${temperatureC.toFixed(0)} °C, ${method === 'hand' ? 'by hand' : 'by instrument'}`,
  };
}

/** Minutes a sound battery would last at this current, for the alarm of a test by hand. */
export function expectedMinutes(currentA: number, chemistry: ChemistryKey, c20Ah: number): number {
  const k = PEUKERT[chemistry];
  return 60 * RATED_HOURS * (c20Ah / RATED_HOURS / currentA) ** k;
}

/** Inner resistance from a step of current, Ω: volts before and under load. */
export function resistanceOfStep(beforeV: number, underV: number, currentA: number): number {
  return (beforeV - underV) / currentA;
}

/** Charge lost in a week at 20 °C, share; from the charge before and after a hold of so many days at that temperature (rate doubles each 10 °C). */
export function weekLossAt20(before: number, after: number, days: number, temperatureC: number): number {
  const perDay = (before - after) / days;
  return 7 * perDay * 2 ** ((20 - temperatureC) / 10);
}
