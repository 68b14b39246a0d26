import type { CauseOdds } from '../findings.ts';
import { FAMILY_KEYS, FAMILY_OF_CAUSE, type FamilyKey, type FamilyOdds } from './families.ts';
import type { PracticeOdds } from './judge.ts';

/**
 * How much each says: practice, the signs of simulated batteries (`signs.ts`), and those that were simulated for this very one;
 * weights of a logarithmic pool (Genest and Zidek 1986), so that what none thinks possible stays out. After a charge the last have
 * not been asked again, and what they said before still tells a little. What batteries of the field lose by more of the signs is
 * what simulated ones gain: each weight is where both are named as often as is asked of a diagnosis (docs/model.md).
 */
const WEIGHTS = {
  arrived: { practice: 0.5, signs: 0.25, simulated: 0.25 },
  charged: { practice: 0.4, signs: 0.5, simulated: 0.1 },
} as const;
/** None is ever as sure as that. */
const LEAST = 0.003;

/** Odds of the families by the simulated batteries alone. */
export function familiesOf(causes: readonly CauseOdds[]): Record<FamilyKey, number> {
  const out = Object.fromEntries(FAMILY_KEYS.map((f) => [f, 0])) as Record<FamilyKey, number>;
  for (const { cause, gravest } of causes) out[FAMILY_OF_CAUSE[cause]] += gravest;
  return out;
}

/** What the families' odds stand on. */
export interface Opinions {
  practice: PracticeOdds;
  /** None of a family that was never simulated. */
  signs: Partial<Record<FamilyKey, number>>;
  /** Null before any were simulated for this one. */
  causes: readonly CauseOdds[] | null;
}

/**
 * Odds of the families by all that is known, likeliest first.
 *
 * @param times how many times as likely the shop has found each family as practice has it
 */
export function pooledFamilies(
  { practice, signs, causes }: Opinions,
  charged: boolean,
  times: Partial<Record<FamilyKey, number>> = {},
): FamilyOdds[] {
  const weights = WEIGHTS[charged ? 'charged' : 'arrived'];
  const simulated = causes && familiesOf(causes);
  const raw = FAMILY_KEYS.map((family) => {
    const said: { chance: number; weight: number }[] = [
      { chance: practice.families[family], weight: weights.practice },
    ];
    // Simulated ones know nothing of this shop: what it has found counts for them too.
    const here = times[family] ?? 1;
    const sign = signs[family];
    if (sign !== undefined) said.push({ chance: sign * here, weight: weights.signs });
    if (simulated) said.push({ chance: simulated[family] * here, weight: weights.simulated });
    const weighed = said.reduce((sum, { weight }) => sum + weight, 0);
    const log = said.reduce(
      (sum, { chance, weight }) => sum + (weight / weighed) * Math.log(Math.max(LEAST, chance)),
      0,
    );
    return { family, chance: Math.exp(log) };
  });
  const total = raw.reduce((sum, r) => sum + r.chance, 0);
  return raw
    .map(({ family, chance }) => ({ family, chance: chance / total }))
    .sort((a, b) => b.chance - a.chance);
}

/** How likely one family is to each of them alone; null where it cannot say. */
export interface Said {
  practice: number;
  signs: number | null;
  simulated: number | null;
}

export const saidOf = (family: FamilyKey, { practice, signs, causes }: Opinions): Said => ({
  practice: practice.families[family],
  signs: signs[family] ?? null,
  simulated: causes && familiesOf(causes)[family],
});
