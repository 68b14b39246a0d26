import { hoursOn } from '../charging/progress.ts';
import type { RouteKey } from '../diagnosis/routes.ts';
import type { Diagnosis } from '../diagnosis/diagnose.ts';
import type { Band } from '../rehearsal/outlook.ts';
import { type Job, recoveryOf } from '../job/job.ts';
import type { Moment } from '../quantities/moment.ts';
import type { ChargeForecast } from '../job/recoveryState.ts';
import { type CycleRow, cyclesOf } from './cycles.ts';
import { hasRole } from '../plan/procedure.ts';

/** A charge of a recovery is forecast by its own trace after so many hours with current on. */
const FORECAST_AT_H = [3, 10, 24] as const;

/** The mark (h) whose forecast is still to be made at `now`; null where none is. */
export function forecastDue(job: Job, now: Moment): number | null {
  const { state, procedure } = job;
  const { charge, current, attempt } = state;
  if (
    procedure.purpose !== 'recover' ||
    !hasRole(procedure, current?.stepId, 'main-charge') ||
    charge?.mode !== 'running' ||
    state.paused
  )
    return null;
  const gone = hoursOn(charge.on, now);
  const mark = FORECAST_AT_H.findLast((h) => h <= gone);
  if (mark === undefined) return null;
  return forecastsOf(job).some((f) => f.attempt === attempt && f.mark >= mark) ? null : mark;
}

const forecastsOf = (job: Job): readonly ChargeForecast[] => recoveryOf(job).forecasts ?? [];

/** The route that was chosen for this cycle; null before one was. */
export const routeUnderWay = (job: Job): RouteKey | null =>
  recoveryOf(job).routes.findLast((r) => r.attempt === job.state.attempt)?.route ?? null;

/** What a diagnosis says of the route that is under way, to be kept. */
export function forecastBy(
  job: Job,
  { routes }: Diagnosis,
  mark: number,
  now: Moment,
): ChargeForecast | null {
  const { attempt, charge } = job.state;
  const odds = routes.find((r) => r.route === routeUnderWay(job));
  if (!odds || !charge) return null;
  const { hours, restV, capacity, returns, light } = odds;
  return {
    attempt,
    mark,
    at: now,
    afterHours: hoursOn(charge.on, now),
    hours,
    restV,
    capacity,
    returns,
    light,
  };
}

/** One thing that was forecast, and what came of it. */
export interface HeldForecast {
  cycle: number;
  /** Hours on charge when it was said; null when the route was chosen. */
  afterHours: number | null;
  what: 'capacity' | 'restV' | 'hours';
  said: Band;
  came: number;
  within: boolean;
}

/** Every forecast of this recovery whose outcome is known by now, in the order they were made. */
export function heldForecasts(job: Job): HeldForecast[] {
  const { routes } = recoveryOf(job);
  const rows = new Map(cyclesOf(job).map((c) => [c.cycle, c]));
  const held = (
    cycle: number,
    afterHours: number | null,
    what: HeldForecast['what'],
    said: Band,
  ): HeldForecast[] => {
    const row = rows.get(cycle);
    const came = row && cameOf(row, what);
    return typeof came === 'number'
      ? [{ cycle, afterHours, what, said, came, within: came >= said.low && came <= said.high }]
      : [];
  };
  const all = [
    ...routes.flatMap((r) =>
      r.forecast
        ? [
            ...held(r.attempt, null, 'capacity', r.forecast.capacity),
            ...held(r.attempt, null, 'hours', r.forecast.hours),
          ]
        : [],
    ),
    ...forecastsOf(job).flatMap((f) => [
      ...held(f.attempt, f.afterHours, 'capacity', f.capacity),
      ...held(f.attempt, f.afterHours, 'restV', f.restV),
      ...held(f.attempt, f.afterHours, 'hours', f.hours),
    ]),
  ];
  return all.sort((a, b) => a.cycle - b.cycle || (a.afterHours ?? -1) - (b.afterHours ?? -1));
}

function cameOf(row: CycleRow, what: HeldForecast['what']): number | null {
  return what === 'capacity'
    ? (row.capacity?.health ?? null)
    : what === 'restV'
      ? row.voltageV
      : row.routeHours;
}
