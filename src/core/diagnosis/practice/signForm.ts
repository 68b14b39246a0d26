import type { FamilyKey } from './families.ts';
import { FEATURE_KEYS } from './table.ts';

/** Read of a battery that came with charge in it, these tell another thing than of an empty one. */
export const TOLD_BY_CHARGE = ['sgSpread', 'ohms', 'cca', 'load'] as const;

/** Readings, those of a battery that came with charge in it, and what is told: days it stood, years in service. */
export const SIGN_KEYS = [
  ...FEATURE_KEYS,
  ...TOLD_BY_CHARGE.map((key) => `${key} holding charge` as const),
  'standing',
  'age',
] as const;
export type SignKey = (typeof SIGN_KEYS)[number];

/**
 * What each reading of simulated batteries says of their family: an additive logistic regression (Hastie and Tibshirani 1986). A
 * reading lies between two knots and speaks with the weights of both; one that was not taken says nothing. So each reading's share
 * in the odds can be told.
 */
export interface Signs {
  /** Values at which a reading, or what is told of it, has weights of its own, ascending. */
  knots: Readonly<Partial<Record<SignKey, readonly number[]>>>;
  /** Of each family, one for each sign of `signsOf`, in its order; a family that was never simulated has none. */
  weights: Readonly<Partial<Record<FamilyKey, readonly number[]>>>;
}
