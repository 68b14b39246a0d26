import { STORY_KEYS } from '../stories.ts';
import { FAMILY_KEYS, type FamilyKey } from './families.ts';
import { type Feature, isCharged } from './features.ts';
import type { Told } from './judge.ts';
import { SIGN_KEYS, type SignKey, type Signs, TOLD_BY_CHARGE } from './signForm.ts';
import type { FeatureKey } from './table.ts';
import { SIGNS } from './signWeights.ts';

/** From this rest voltage up, per 12 V, it came with charge in it. */
const HOLDS_CHARGE_V = 12.2;
const isToldByCharge = (key: FeatureKey): key is (typeof TOLD_BY_CHARGE)[number] =>
  (TOLD_BY_CHARGE as readonly FeatureKey[]).includes(key);

/** How far each sign of a battery is there, 0–1: any, flooded, each story, and each knot of each reading. */
export function signsOf(
  { knots }: Pick<Signs, 'knots'>,
  told: Told,
  features: readonly Feature[],
): number[] {
  const { chemistry, story } = told;
  const read = valuesOf(told, features);
  return [
    1,
    Number(chemistry === 'flooded'),
    ...STORY_KEYS.map((key) => Number(key === story)),
    ...SIGN_KEYS.flatMap((key) => between(knots[key] ?? [], read.get(key))),
  ];
}

/** What is known of a battery, by its sign. */
export function valuesOf(
  { standingDays, ageYears }: Told,
  features: readonly Feature[],
): ReadonlyMap<SignKey, number> {
  const volts = features.find((f) => f.key === 'volts')?.value;
  const holdsCharge = volts !== undefined && volts >= HOLDS_CHARGE_V;
  const values = new Map<SignKey, number>();
  for (const { key, value } of features)
    values.set(holdsCharge && isToldByCharge(key) ? `${key} holding charge` : key, value);
  if (standingDays !== null) values.set('standing', standingDays);
  if (ageYears !== null) values.set('age', ageYears);
  return values;
}

/** The share of each knot in a value; all of it at the outermost, beyond them. */
function between(knots: readonly number[], value: number | undefined): number[] {
  const shares = knots.map(() => 0);
  if (value === undefined || knots.length === 0) return shares;
  const above = knots.findIndex((knot) => value < knot);
  if (above === 0) shares[0] = 1;
  else if (above < 0) shares[knots.length - 1] = 1;
  else {
    const [low, high] = [knots[above - 1] as number, knots[above] as number];
    shares[above] = (value - low) / (high - low);
    shares[above - 1] = 1 - (shares[above] as number);
  }
  return shares;
}

/** Odds of the families by the signs of simulated batteries; none of one that was never simulated. */
export function signOdds(
  told: Told,
  features: readonly Feature[],
): Partial<Record<FamilyKey, number>> {
  const signs = SIGNS[isCharged(features) ? 'charged' : 'arrived'];
  const row = signsOf(signs, told, features);
  const logs = FAMILY_KEYS.flatMap((family) => {
    const weights = signs.weights[family];
    return weights
      ? [{ family, log: row.reduce((sum, v, i) => sum + v * (weights[i] as number), 0) }]
      : [];
  });
  const best = Math.max(...logs.map(({ log }) => log));
  const total = logs.reduce((sum, { log }) => sum + Math.exp(log - best), 0);
  return Object.fromEntries(logs.map(({ family, log }) => [family, Math.exp(log - best) / total]));
}
