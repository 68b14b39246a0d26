import type { SetScales } from '../house/setScales.ts';

/**
 * Recovered batteries put together into sets that share load and charge evenly. A set is as good as its members
 * are alike; the partition that is looked for is the best one, not the first.
 */

/** A battery that may go into a set. */
export interface Candidate {
  tag: string;
  modelCode: string;
  ageYears: number;
  capacityAh: number;
  /** By an analyser. Null where it was not measured: then it neither speaks for nor against. */
  resistanceMilliohm: number | null;
  /** By the step of a load test, which sees more than an analyser: compared only with its like. */
  stepMilliohm?: number | null;
  restV: number;
}

export const SET_SIZES = [2, 3, 4, 6] as const;

/** Resistances of two batteries by the same way of measuring, mΩ; null where there is none in common. */
export function resistances(a: Candidate, b: Candidate): readonly [number, number] | null {
  if (a.resistanceMilliohm !== null && b.resistanceMilliohm !== null)
    return [a.resistanceMilliohm, b.resistanceMilliohm];
  return typeof a.stepMilliohm === 'number' && typeof b.stepMilliohm === 'number'
    ? [a.stepMilliohm, b.stepMilliohm]
    : null;
}

/** A candidate's resistance as it is shown. */
export function resistanceWords(
  { resistanceMilliohm, stepMilliohm }: Candidate,
  unit = 'mΩ',
): string | null {
  if (resistanceMilliohm !== null) return `${resistanceMilliohm.toFixed(1)} ${unit}`;
  return typeof stepMilliohm === 'number' ? `${stepMilliohm.toFixed(1)} ${unit} by load` : null;
}

/** How far two batteries are apart: 0 for equals, about 1 for as far as any one measure should be. */
export function apart(a: Candidate, b: Candidate, scales: SetScales): number {
  if (a.modelCode !== b.modelCode) return Infinity;
  const share = (x: number, y: number): number => Math.abs(x - y) / ((x + y) / 2);
  const both = resistances(a, b);
  const resistance = both ? share(...both) / scales.resistance : 0;
  return Math.hypot(
    (a.ageYears - b.ageYears) / scales.ageYears,
    share(a.capacityAh, b.capacityAh) / scales.capacity,
    resistance,
    (a.restV - b.restV) / scales.restV,
  );
}

export interface MatchedSet {
  members: Candidate[];
  /** Mean distance of its pairs. */
  apart: number;
  /** Its two members that are furthest apart. */
  worst: number;
}

export interface Partition {
  sets: MatchedSet[];
  leftOver: { candidate: Candidate; because: string }[];
  /** What the sets are worth together, and the most that any partition could be worth. */
  worth: number;
  bound: number;
  /** No partition is better. */
  proven: boolean;
}
