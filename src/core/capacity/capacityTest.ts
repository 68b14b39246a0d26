import {
  CHEMISTRIES,
  type ChemistryKey,
  CUT_OFF_PER_CELL,
  forCells,
  TABLE_CELLS,
} from '../batteries/chemistry.ts';
import { leadAcidKind } from '../batteries/kinds.ts';
import { type BatteryModel, ratedExponent, RESERVE_A } from '../batteries/model.ts';
import { REFERENCE_TEMPERATURE_C } from '../electrolyte/concentration.ts';

/** How a discharge at any current and temperature becomes C20 at 25 °C, and how far each part may be off (one deviation). */
export interface CapacityLaw {
  /** Peukert's exponent from C/20 to a rate: [rate in C, exponent], slowest first. */
  exponents: readonly (readonly [number, number])[];
  exponentOff: number;
  /** Share of capacity per °C. */
  perDegree: number;
  perDegreeOff: number;
}

/** Today's law of a family. Temperature: C20–C10 rates, IEC 60896-21 style. */
export const capacityLaw = (chemistry: ChemistryKey): CapacityLaw => ({
  exponents: CHEMISTRIES[chemistry].exponents,
  exponentOff: 0.03,
  perDegree: 0.006,
  perDegreeOff: 0.002,
});

/** Two ratings on one label still differ from battery to battery. */
const PRINTED_EXPONENT_OFF = 0.015;

/** The law of a model: through the points its label prints beside C20, and as its family goes on from there. */
export function capacityLawOf(
  model: Pick<BatteryModel, 'kind' | 'c20Ah' | 'c10Ah' | 'reserveMin'>,
): CapacityLaw {
  const { c20Ah, c10Ah, reserveMin } = model;
  const usual = capacityLaw(leadAcidKind(model.kind).chemistry);
  const point = (ampere: number, hours: number) =>
    [ampere / c20Ah, ratedExponent(c20Ah, ampere, hours)] as const;
  const printed = [
    ...(typeof c10Ah === 'number' ? [point(c10Ah / 10, 10)] : []),
    ...(typeof reserveMin === 'number' ? [point(RESERVE_A, reserveMin / 60)] : []),
  ].sort(([a], [b]) => a - b);
  if (printed.length === 0) return usual;
  /** How far the label's exponent lies above the family's at the printed point nearest to a rate. */
  const above = (rate: number): number => {
    const [at, k] = printed.reduce((best, next) =>
      Math.abs(Math.log(next[0] / rate)) < Math.abs(Math.log(best[0] / rate)) ? next : best,
    );
    return k - exponentAt(usual, at);
  };
  const familys = usual.exponents
    .filter(([rate]) => !printed.some(([at]) => Math.abs(Math.log(at / rate)) < 0.2))
    .map(([rate, k]) => [rate, Math.max(1, k + above(rate))] as const);
  return {
    ...usual,
    exponents: [...familys, ...printed].sort(([a], [b]) => a - b),
    exponentOff: PRINTED_EXPONENT_OFF,
  };
}

const RATED_HOURS = 20;
/** End of a capacity test where nothing else is agreed, per 12 V. */
export const CUT_OFF_12V = CUT_OFF_PER_CELL * TABLE_CELLS;
/** The 25 A of a reserve capacity, or this share of C20 where that is less. */
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
 * Charge a discharge at any current shows, turned into C20 at 25 °C by Peukert's law (I^k·t constant, with a k
 * that grows with the rate) and the temperature rule. The band holds what the exponent, the temperature rule
 * and the method may be off.
 *
 * @param law of the family, as it stood when the battery was taken in
 * @throws RangeError for a current or a time that is not above zero
 */
export function capacityOf(
  { currentA, minutes, cutoffV, temperatureC, method }: Discharge,
  law: CapacityLaw,
  cells: number,
  c20Ah: number,
): Capacity {
  if (!(currentA > 0) || !(minutes > 0))
    throw new RangeError('A discharge has a current and a time above zero.');
  const hours = minutes / 60;
  const ah = currentA * hours;
  const warm = temperatureC - REFERENCE_TEMPERATURE_C;
  const c20By = (k: number, perDegree: number): number =>
    (RATED_HOURS ** (1 - 1 / k) * currentA * hours ** (1 / k)) /
    Math.max(0.3, 1 + perDegree * warm);
  const k = exponentAt(law, currentA / c20Ah);
  const { perDegree, exponentOff, perDegreeOff } = law;
  const middle = c20By(k, perDegree);
  // Three errors that have nothing to do with each other; 1.28 deviations are 8 of 10.
  const off = Math.hypot(
    (c20By(k + exponentOff, perDegree) - c20By(k - exponentOff, perDegree)) / 2,
    middle - c20By(k, perDegree + perDegreeOff),
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

/** Peukert's exponent from C/20 to a rate (C), linear in the logarithm of the rate and level beyond the ends. */
function exponentAt({ exponents }: CapacityLaw, rateC: number): number {
  const [slowest, fastest] = [exponents[0] ?? [0.1, 1], exponents.at(-1) ?? [1, 1]];
  if (rateC <= slowest[0]) return slowest[1];
  for (let i = 1; i < exponents.length; i++) {
    const [[slow, low], [fast, high]] = [
      exponents[i - 1] as readonly [number, number],
      exponents[i] as readonly [number, number],
    ];
    if (rateC <= fast) return low + ((high - low) * Math.log(rateC / slow)) / Math.log(fast / slow);
  }
  return fastest[1];
}

/** Minutes a sound battery would last at this current, for the alarm of a test by hand. */
export function expectedMinutes(currentA: number, law: CapacityLaw, c20Ah: number): number {
  const k = exponentAt(law, currentA / c20Ah);
  return 60 * RATED_HOURS * (c20Ah / RATED_HOURS / currentA) ** k;
}

/** Inner resistance from a step of current, Ω: volts before and under load. */
export function resistanceOfStep(beforeV: number, underV: number, currentA: number): number {
  return (beforeV - underV) / currentA;
}

/** Charge lost in a week at 20 °C, share; from the charge before and after a hold of so many days at that temperature (rate doubles each 10 °C). */
export function weekLossAt20(
  before: number,
  after: number,
  days: number,
  temperatureC: number,
): number {
  const perDay = (before - after) / days;
  return 7 * perDay * 2 ** ((20 - temperatureC) / 10);
}
