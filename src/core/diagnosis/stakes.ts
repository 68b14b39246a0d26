import type { RouteOutcome } from './outcome.ts';
import type { Route } from './routes.ts';

/** What time and batteries are worth in this shop; money in the shop's own currency. */
export interface Stakes {
  currency: string;
  /** A new battery, per Ah of C20. */
  pricePerAh: number;
  handsPerHour: number;
  /** A charging place, a day. */
  placePerDay: number;
}

export const DEFAULT_STAKES: Stakes = {
  currency: '€',
  pricePerAh: 2.2,
  handsPerHour: 32,
  placePerDay: 2,
};

/** A recovered battery is not a new one: its worth as a share of the price. Assumed. */
export const WORTH = { return: 0.65, light: 0.25, none: 0 } as const;
/** A route that fails early is not paid in full: hands up to the point where it showed. */
const EARLY_SHARE = 0.4;

export const priceOf = (c20Ah: number, stakes: Stakes): number => c20Ah * stakes.pricePerAh;

/** What a route cost on one battery: hands and the charging place. */
export function costOf(
  outcome: Pick<RouteOutcome, 'hours' | 'failed'>,
  route: Pick<Route, 'handsMin'>,
  stakes: Stakes,
): number {
  const share = outcome.failed ? EARLY_SHARE : 1;
  return (
    ((share * route.handsMin) / 60) * stakes.handsPerHour +
    (outcome.hours / 24) * stakes.placePerDay
  );
}

/** What a route was worth on one battery, cost taken off; recycling at once is worth 0. */
export function worthOf(
  outcome: RouteOutcome,
  route: Route,
  c20Ah: number,
  stakes: Stakes,
): number {
  return WORTH[outcome.grade] * priceOf(c20Ah, stakes) - costOf(outcome, route, stakes);
}
