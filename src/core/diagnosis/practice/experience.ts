import type { ChemistryKey } from '../../batteries/chemistry.ts';
import type { Moment } from '../../quantities/moment.ts';
import type { RouteKey } from '../routes.ts';
import { familiesOfPictures, FAMILY_KEYS, type FamilyKey } from './families.ts';
import type { Told } from './judge.ts';
import { priorOf } from './stories.ts';

/** A battery of this shop, and what it was found to be in the end. */
export interface FoundHere extends Told {
  found: FamilyKey;
  at: Moment;
}

/** What a route left of a battery of this shop, beside what was said before; shares of C20. */
export interface YieldHere {
  route: RouteKey;
  chemistry: ChemistryKey;
  said: number;
  came: number;
  at: Moment;
}

/** What this shop's own batteries say of a family, beside what practice would have had among them. */
export interface FamilyHere {
  family: FamilyKey;
  found: number;
  expected: number;
  /** So many times as likely it is taken here as practice alone would take it. */
  times: number;
}

/** What a route leaves here more than the simulated batteries say, share of C20, by so many. */
export interface RouteHere {
  route: RouteKey;
  chemistry: ChemistryKey;
  of: number;
  gain: number;
}

/** What a shop has learnt from its own batteries up to a moment. */
export interface Experience {
  asOf: Moment;
  /** Earlier batteries do not count; null where all do. */
  since: Moment | null;
  of: number;
  families: FamilyHere[];
  routes: RouteHere[];
}

/** Practice is worth so many batteries beside those of the shop; a simulated route so many that were tested. Chosen, and said on the page. */
export const PRACTICE_WORTH = 40;
const SIMULATION_WORTH = 10;
/** One verdict in so many names another family than it was: a few wrong ones do not move much. */
const WRONG = 0.05;
/** Nothing that a shop has seen makes a family more or less likely than so many times. */
const MOST_TIMES = 4;
/** A result that is off by more than this counts as this: somebody tested it on the wrong load. */
const MOST_OFF = 0.25;

/**
 * What a shop's own batteries add to practice. Families: how often each is met is a rate with a gamma prior worth
 * {@link PRACTICE_WORTH} batteries, counted against what practice would have expected of just these stories (Gamma and Poisson,
 * conjugate). Routes: the mean of what came less what was said, with a normal prior worth {@link SIMULATION_WORTH} tests.
 */
export function experienceOf(
  found: readonly FoundHere[],
  yields: readonly YieldHere[],
  { asOf, since }: { asOf: Moment; since: Moment | null },
): Experience {
  const counts = ({ at }: { at: Moment }): boolean => at <= asOf && (since === null || at >= since);
  const counted = found.filter(counts);
  const priors = counted.map(({ chemistry, story, standingDays, ageYears }) =>
    familiesOfPictures(priorOf(chemistry, story, standingDays, ageYears)),
  );
  return {
    asOf,
    since,
    of: counted.length,
    families: FAMILY_KEYS.map((family) => {
      const expected = priors.reduce((sum, p) => sum + p[family], 0);
      const seen = counted.filter((f) => f.found === family).length;
      // A wrong verdict may name any family, as often as it is met.
      const believed = (1 - WRONG) * seen + WRONG * expected;
      const weight = counted.length === 0 ? 0 : (PRACTICE_WORTH * expected) / counted.length;
      const times = weight + expected > 0 ? (weight + believed) / (weight + expected) : 1;
      return {
        family,
        found: seen,
        expected,
        times: Math.min(MOST_TIMES, Math.max(1 / MOST_TIMES, times)),
      };
    }),
    routes: routesHere(yields.filter(counts)),
  };
}

function routesHere(yields: readonly YieldHere[]): RouteHere[] {
  const groups = new Map<string, YieldHere[]>();
  for (const y of yields) {
    const key = `${y.route} ${y.chemistry}`;
    groups.set(key, [...(groups.get(key) ?? []), y]);
  }
  return [...groups.values()].flatMap((tests): RouteHere[] => {
    const [first] = tests;
    if (!first) return [];
    const { route, chemistry } = first;
    const off = tests.reduce(
      (sum, y) => sum + Math.min(MOST_OFF, Math.max(-MOST_OFF, y.came - y.said)),
      0,
    );
    return [{ route, chemistry, of: tests.length, gain: off / (SIMULATION_WORTH + tests.length) }];
  });
}

/** What a diagnosis takes from a shop's experience. */
export interface Learnt {
  /** Batteries that it stands on. */
  of: number;
  times: Partial<Record<FamilyKey, number>>;
  gains: Partial<Record<RouteKey, number>>;
}

export const learntFor = (
  { of, families, routes }: Experience,
  chemistry: ChemistryKey,
): Learnt | null =>
  of === 0 && routes.length === 0
    ? null
    : {
        of,
        times: Object.fromEntries(families.map((f) => [f.family, f.times])),
        gains: Object.fromEntries(
          routes.filter((r) => r.chemistry === chemistry).map((r) => [r.route, r.gain]),
        ),
      };
