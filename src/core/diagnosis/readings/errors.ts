import type { Random } from '../../simulation/random.ts';
import type { Compared } from './reading.ts';

/** Errors are Gaussian, some of them shared by all cells. One deviation each. */
export const OFF = {
  /** Rest voltage: shared by the cells (acid of this maker, temperature), V per cell. */
  restPerCellV: 0.011,
  /** Volts of plates past empty wander from minute to minute, V per cell. */
  emptyPerCellV: 0.12,
  sgEach: 0.006,
  sgShared: 0.009,
  cellV: 0.012,
  cellSharedV: 0.012,
  /** Under load: V per cell, and share of the drop. */
  loadPerCellV: 0.02,
  loadShare: 0.1,
  reboundPerCellV: 0.03,
  /** Cranking current is known to this share of it. */
  crankShare: 0.3,
  /** CCA and resistance by an analyser: its own method against the model's, logarithm. */
  ccaLog: 0.12,
  resistanceLog: 0.16,
  /** Mass when new varies: share of it, and g. */
  massShare: 0.012,
  massG: 15,
  capacityShare: 0.08,
  chargingPerCellV: 0.025,
  /** After a cycle: what the test says of this twin, and SG that the model mixes more evenly than a charge does. */
  cycledShare: 0.07,
  cycledSg: 0.012,
  weekShare: 0.04,
} as const;

export const SQRT_TWO_PI = Math.sqrt(2 * Math.PI);

/** Log density of an error. */
export const normal = (off: number, sigma: number): number =>
  -0.5 * (off / sigma) ** 2 - Math.log(sigma * SQRT_TWO_PI);

/** Log density of residuals that share one error and have one each (covariance e²I + s²11ᵀ). */
export function together(residuals: readonly number[], each: number, shared: number): number {
  const n = residuals.length;
  const sum = residuals.reduce((a, b) => a + b, 0);
  const squares = residuals.reduce((a, b) => a + b * b, 0);
  const e2 = each * each;
  const variance = e2 + n * shared * shared;
  const quad = (squares - (sum * sum * shared * shared) / variance) / e2;
  return (
    -0.5 * quad - n * Math.log(SQRT_TWO_PI) - (n - 1) * Math.log(each) - 0.5 * Math.log(variance)
  );
}

/** A value a cell, each compared with what it would be. */
export function eachCell(
  values: readonly (number | null)[],
  off: (k: number, value: number) => number,
  each: number,
  shared: number,
  range: number,
): Compared {
  const residuals = values.flatMap((value, k) => (value === null ? [] : [off(k, value)]));
  if (residuals.length === 0) return { fits: 0, flat: 0 };
  return { fits: together(residuals, each, shared), flat: -residuals.length * Math.log(range) };
}

/** A value for every cell, from plus to minus. */
export const everyCell = <T>(cells: number, make: (k: number) => T): T[] =>
  Array.from({ length: cells }, (_, k) => make(k));

/** One of several, by their chances. */
export function pick<K extends string>(chances: Record<K, number>, random: Random): K {
  let left = random.even();
  const entries = Object.entries(chances) as [K, number][];
  for (const [key, chance] of entries) {
    left -= chance;
    if (left <= 0) return key;
  }
  return (entries.at(-1) as [K, number])[0];
}
