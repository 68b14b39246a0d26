import { seeded } from '../simulation/random.ts';
import { CAUSE_KEYS, type CauseKey } from './causes.ts';
import { EVIDENCE, type Evidence, type EvidenceKind } from './evidence.ts';
import type { RouteTrial, Tried } from './findings.ts';
import type { Ratings } from './readings/reading.ts';
import { likelihood, observe } from './readings/readings.ts';
import { ROUTES, type RouteKey } from './routes.ts';
import { type Stakes, worthOf } from './stakes.ts';

/** A reading that could be taken next, and what it would be worth. */
export interface NextReading {
  kind: EvidenceKind;
  minutes: number;
  /** Money that a better decision would save on average, before the minutes are paid. */
  gain: number;
  /** Money a minute of it earns, the minute paid. */
  perMinute: number;
  /** By how much the chance of naming the gravest cause rightly would grow. */
  clears: number;
}

/** Twins that stand for the truth, and for the rest of the crowd. */
const TRUTHS = 40;
/** Naming the cause has a worth of its own, to the customer and to the next one that comes in: share of the price of a battery. Assumed. */
const KNOWING = 0.12;

/**
 * What each reading that is still open would be worth: each tried twin in turn is taken for the truth, shows its
 * reading with the usual errors, and the others decide by it (expected value of sample information).
 *
 * @param has kinds that were read already
 * @param price of a new battery
 */
export function nextReadings(
  trial: RouteTrial,
  has: ReadonlySet<EvidenceKind>,
  ratings: Ratings,
  open: boolean,
  stakes: Stakes,
  price: number,
): NextReading[] {
  const { tried } = trial;
  const { c20Ah } = trial.subject;
  if (tried.length < 4) return [];
  const keys = trial.routes.map((r) => r.route.key);
  const worth = tried.map((t) =>
    keys.map((key) => worthOf(outcomeOf(t, key), ROUTES[key], c20Ah, stakes)),
  );
  const now = decide(
    tried.map((t) => t.weight),
    tried,
    worth,
    keys.length,
  );
  const random = seeded(77);
  const truths = tried.slice(0, TRUTHS);
  return (Object.keys(EVIDENCE) as EvidenceKind[])
    .filter((kind) => !has.has(kind) && canBeTaken(kind, ratings, open))
    .flatMap((kind): NextReading[] => {
      let gain = 0;
      let clears = 0;
      let total = 0;
      for (const [i, truth] of truths.entries()) {
        const seen: Evidence | null = observe(truth.member.showing, kind, ratings, random);
        if (!seen) return [];
        const said = tried.map((t, j) =>
          j === i ? -Infinity : likelihood(t.member.showing, seen),
        );
        const best = Math.max(...said);
        const weights = tried.map((t, j) => t.weight * Math.exp((said[j] as number) - best));
        const then = decide(weights, tried, worth, keys.length);
        const own = worth[i] as number[];
        gain += truth.weight * ((own[then.route] ?? 0) - (own[now.route] ?? 0));
        const { primary } = truth.member.showing.suspect;
        clears += truth.weight * (Number(then.cause === primary) - Number(now.cause === primary));
        total += truth.weight;
      }
      if (total === 0) return [];
      const { minutes } = EVIDENCE[kind];
      const saved = Math.max(0, gain / total);
      const clearer = Math.max(0, clears / total);
      return [
        {
          kind,
          minutes,
          gain: saved,
          clears: clearer,
          perMinute: paidPerMinute(saved, clearer, minutes, price, stakes),
        },
      ];
    })
    .sort((a, b) => b.perMinute - a.perMinute);
}

/** Money a minute of a reading earns: what it saves and what knowing is worth, the minutes paid. */
export const paidPerMinute = (
  gain: number,
  clears: number,
  minutes: number,
  price: number,
  stakes: Stakes,
): number => (gain + KNOWING * price * clears - (minutes / 60) * stakes.handsPerHour) / minutes;

/** Can it be taken of this battery, with what is known of it? */
export const canBeTaken = (kind: EvidenceKind, ratings: Ratings, open: boolean): boolean =>
  EVIDENCE[kind].ask !== '' &&
  (open || !EVIDENCE[kind].ports) &&
  (kind !== 'cca' || ratings.ratedCca !== null) &&
  (kind !== 'mass' || ratings.wetMassG !== null);

const outcomeOf = (tried: Tried, key: RouteKey) =>
  tried.outcomes.get(key) as NonNullable<ReturnType<Tried['outcomes']['get']>>;

/** The best route by these weights (-1: recycle), and the likeliest gravest cause. */
function decide(
  weights: readonly number[],
  tried: readonly Tried[],
  worth: readonly (readonly number[])[],
  routes: number,
): { route: number; cause: CauseKey } {
  let route = -1;
  let most = 0;
  for (let r = 0; r < routes; r++) {
    let sum = 0;
    for (let j = 0; j < weights.length; j++)
      sum += (weights[j] as number) * ((worth[j] as number[])[r] as number);
    if (sum > most) [route, most] = [r, sum];
  }
  const byCause = new Map<CauseKey, number>();
  tried.forEach((t, j) => {
    const { primary } = t.member.showing.suspect;
    byCause.set(primary, (byCause.get(primary) ?? 0) + (weights[j] as number));
  });
  const cause = CAUSE_KEYS.reduce((a, b) =>
    (byCause.get(b) ?? 0) > (byCause.get(a) ?? 0) ? b : a,
  );
  return { route, cause };
}
