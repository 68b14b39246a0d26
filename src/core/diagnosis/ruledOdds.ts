import type { CauseOdds } from './findings.ts';
import type { RuleFinding } from './plainRules.ts';
import { FAMILY_OF_CAUSE, type FamilyKey, type FamilyOdds } from './practice/families.ts';

/** This much is left to the odds where a rule has named the cause: somebody may have swapped the leads of the meter. */
const AGAINST_A_RULE = 0.03;

/** A rule that names a failing cell after a charge leaves so little to the others. */
const AFTER_A_FAILING_CELL = 0.12;
/** What a rule denies may still be by so much: a clip may have sat badly. */
const DENIED = 0.02;

/** The rule that names a cause for sure, whatever the odds say; none where another denies something. */
const surest = (rules: readonly RuleFinding[]): RuleFinding | undefined =>
  rules.some((r) => r.denies)
    ? undefined
    : rules.find((r) => r.cause !== null && (r.weight === 'never' || r.binds));

/** The family that a rule names for sure; null where none does. */
export function familyNamed(rules: readonly RuleFinding[]): FamilyKey | null {
  const cause = surest(rules)?.cause;
  return cause ? FAMILY_OF_CAUSE[cause] : null;
}

/** Families under the plain rules: one that a rule names for sure stands first. */
export function ruledFamilies(
  families: readonly FamilyOdds[],
  rules: readonly RuleFinding[],
): FamilyOdds[] {
  const denied = rules.flatMap((r) => (r.denies ? [FAMILY_OF_CAUSE[r.denies]] : []));
  if (denied.length > 0) return withoutDenied(families, denied);
  const sure = surest(rules);
  const named = familyNamed(rules);
  if (!sure || !named) return [...families];
  const left = sure.weight === 'never' ? AGAINST_A_RULE : AFTER_A_FAILING_CELL;
  const others = families.filter((f) => f.family !== named).reduce((sum, f) => sum + f.chance, 0);
  return families
    .map(({ family, chance }) => ({
      family,
      chance: family === named ? Math.max(chance, 1 - left) : chance * Math.min(1, left / others),
    }))
    .sort((a, b) => b.chance - a.chance);
}

/** What a rule denies keeps next to nothing; the others share the rest as they did. */
function withoutDenied(
  families: readonly FamilyOdds[],
  denied: readonly FamilyKey[],
): FamilyOdds[] {
  const left = families.map(({ family, chance }) => ({
    family,
    chance: denied.includes(family) ? Math.min(chance, DENIED) : chance,
  }));
  const total = left.reduce((sum, f) => sum + f.chance, 0);
  return left
    .map(({ family, chance }) => ({ family, chance: chance / total }))
    .sort((a, b) => b.chance - a.chance);
}

/** Odds under the plain rules, which are never outvoted: a cause that one names as beyond help stands first. */
export function ruledCauses(odds: CauseOdds[], rules: readonly RuleFinding[]): CauseOdds[] {
  const named = rules.find((r) => r.weight === 'never')?.cause;
  if (!named) return odds;
  return odds
    .map(({ cause, holds, gravest }) =>
      cause === named
        ? {
            cause,
            holds: 1 - AGAINST_A_RULE * (1 - holds),
            gravest: 1 - AGAINST_A_RULE * (1 - gravest),
          }
        : { cause, holds, gravest: AGAINST_A_RULE * gravest },
    )
    .sort((a, b) => b.holds - a.holds || b.gravest - a.gravest);
}
