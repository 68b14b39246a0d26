import type { RouteKey } from '../diagnosis/routes.ts';
import { type HeldForecast, heldForecasts } from './forecasts.ts';
import { type Job, recoveryOf } from '../job/job.ts';
import type { RecoveryOutcome, RouteForecast } from '../job/recoveryState.ts';
import { cyclesOf } from './cycles.ts';

/** One cycle of a recovery that has ended, as the shop's own experience. */
export interface CycleResult {
  model: string;
  cycle: number;
  route: RouteKey;
  /** Outcome of the whole recovery, signed at its end. */
  outcome: RecoveryOutcome;
  last: boolean;
  /** Share of C20 after this cycle; null where it was not tested. */
  health: number | null;
  hours: number | null;
  forecast: RouteForecast | null;
  /** What was said of this cycle, when, and what came. */
  held: HeldForecast[];
}

/** The same, with the battery it was. */
export interface RecoveryResult extends CycleResult {
  tag: string;
}

/** The cycles of an ended recovery; none where it ended without a verdict. */
export function resultsOf(job: Job): CycleResult[] {
  const recovery = recoveryOf(job);
  const outcome = recovery.outcomes.at(-1)?.outcome;
  if (!outcome || outcome === 'another') return [];
  const held = heldForecasts(job);
  const cycles = cyclesOf(job).filter((c) => c.cycle > 0);
  return cycles.flatMap((c, i) =>
    c.route === null
      ? []
      : [
          {
            model: job.plan.model.code,
            cycle: c.cycle,
            route: c.route,
            outcome,
            last: i === cycles.length - 1,
            health: c.capacity?.health ?? null,
            hours: c.chargedHours,
            forecast: recovery.routes.findLast((r) => r.attempt === c.cycle)?.forecast ?? null,
            held: held.filter((h) => h.cycle === c.cycle),
          },
        ],
  );
}

/** A share with what so few cases leave open: 8 of 10 (Wilson 1927). */
export interface ShareOfFew {
  hits: number;
  of: number;
  low: number;
  high: number;
}

const Z80 = 1.2816;

export function shareOfFew(hits: number, of: number): ShareOfFew {
  if (of === 0) return { hits, of, low: 0, high: 1 };
  const p = hits / of;
  const z2 = Z80 * Z80;
  const middle = (p + z2 / (2 * of)) / (1 + z2 / of);
  const half = (Z80 / (1 + z2 / of)) * Math.sqrt((p * (1 - p)) / of + z2 / (4 * of * of));
  return { hits, of, low: Math.max(0, middle - half), high: Math.min(1, middle + half) };
}

/** `3 of 12 (12–42 %)`: a share, and between what it lies by so few cases, 8 in 10. */
export function shareWords({ hits, of, low, high }: ShareOfFew): string {
  const percent = (share: number): string => (100 * share).toFixed(0);
  return of === 0 ? 'none yet' : `${hits} of ${of} (${percent(low)}–${percent(high)} %)`;
}

export interface RouteRecord {
  route: RouteKey;
  /** Recoveries that ended with this route: given back in full, and at all. */
  returned: ShareOfFew;
  kept: ShareOfFew;
  /** Capacity after it, middle of those tested, share of C20. */
  health: number | null;
  tested: number;
  hours: number | null;
}

export interface ForecastRecord {
  /** How often the capacity fell within the band of 8 in 10. */
  within: ShareOfFew;
  /** Returns that were expected, summed up, and those that came. */
  expected: number;
  came: number;
  of: number;
  /** Mean of capacity less forecast, share of C20; above 0: better than said. */
  bias: number | null;
  /** How often what was said while it charged came within its band: the last of each charge. */
  during: Record<HeldForecast['what'], ShareOfFew>;
}

/** The middle of those that were measured; null where none was. */
export function median(values: readonly (number | null)[]): number | null {
  const sorted = values.filter((v) => v !== null).sort((a, b) => a - b);
  const middle = (sorted.length - 1) / 2;
  const [low, high] = [sorted[Math.floor(middle)], sorted[Math.ceil(middle)]];
  return low === undefined || high === undefined ? null : (low + high) / 2;
}

/** What each route has really achieved here. */
export function routeRecords(results: readonly CycleResult[]): RouteRecord[] {
  return [...new Set(results.map((r) => r.route))]
    .map((route): RouteRecord => {
      const ofRoute = results.filter((r) => r.route === route);
      const ended = ofRoute.filter((r) => r.last);
      const tested = ofRoute.flatMap((r) => (r.health === null ? [] : [r.health]));
      return {
        route,
        returned: shareOfFew(ended.filter((r) => r.outcome === 'return').length, ended.length),
        kept: shareOfFew(ended.filter((r) => r.outcome !== 'recycle').length, ended.length),
        health: median(tested),
        tested: tested.length,
        hours: median(ofRoute.flatMap((r) => (r.hours === null ? [] : [r.hours]))),
      };
    })
    .sort((a, b) => b.kept.of - a.kept.of);
}

/** How the forecasts have held. */
export function forecastRecord(results: readonly CycleResult[]): ForecastRecord {
  const tested = results.flatMap((r) =>
    r.forecast && r.health !== null ? [{ forecast: r.forecast, health: r.health }] : [],
  );
  const ended = results.flatMap((r) =>
    r.forecast && r.last ? [{ forecast: r.forecast, returned: r.outcome === 'return' }] : [],
  );
  const during = (what: HeldForecast['what']): ShareOfFew => {
    const last = results.flatMap(
      (r) => r.held.findLast((h) => h.what === what && h.afterHours !== null) ?? [],
    );
    return shareOfFew(last.filter((h) => h.within).length, last.length);
  };
  return {
    within: shareOfFew(
      tested.filter(
        (t) => t.health >= t.forecast.capacity.low && t.health <= t.forecast.capacity.high,
      ).length,
      tested.length,
    ),
    expected: ended.reduce((sum, e) => sum + e.forecast.returns, 0),
    came: ended.filter((e) => e.returned).length,
    of: ended.length,
    during: { capacity: during('capacity'), restV: during('restV'), hours: during('hours') },
    bias:
      tested.length === 0
        ? null
        : tested.reduce((sum, t) => sum + t.health - t.forecast.capacity.middle, 0) / tested.length,
  };
}
