import { type Capacity, resistanceOfStep, weekLossAt20 } from '../capacity/capacityTest.ts';
import { stateOfChargePercent } from '../capacity/stateOfCharge.ts';
import { correctSg } from '../electrolyte/concentration.ts';
import type { RouteKey } from '../diagnosis/routes.ts';
import { type Job, standingReadings, recoveryOf, runsWith } from '../job/job.ts';
import type { Reading } from '../job/reading.ts';
import { capacityOfTest } from './recovery.ts';
import { jobChemistry } from '../job/verdict.ts';
import { hasRole } from '../plan/procedure.ts';

/** Share of charge by volts below which a hold says nothing. */
const LEAST_SHARE = 0.1;

interface HoldFinding {
  weekLoss: number;
  days: number;
}

/** Self-discharge by the hold: share a week at 20 °C, and how long it stood. */
function holdFinding(job: Job, attempt = job.state.attempt): HoldFinding | null {
  return lossBy(
    job,
    standingReadings(job.state, 'hold').findLast((r) => r.attempt === attempt),
    attempt,
  );
}

/** What the hold says while it lasts, by the newest reading in between; null before there is one. */
export function holdSoFar(job: Job): HoldFinding | null {
  const { current, attempt } = job.state;
  if (current?.stepId !== 'hold') return null;
  return lossBy(
    job,
    standingReadings(job.state, 'spot').findLast(
      (r) => r.at >= current.startedAt && r.values.voltageV !== undefined,
    ),
    attempt,
  );
}

function lossBy(job: Job, hold: Reading | undefined, attempt: number): HoldFinding | null {
  const rest = standingReadings(job.state, 'rest').findLast(
    (r) => r.attempt === attempt && !r.marks.includes('early'),
  );
  const run = [...job.state.runs, ...(job.state.current ? [job.state.current] : [])].findLast(
    (r) => r.attempt === attempt && hasRole(job.procedure, r.stepId, 'hold'),
  );
  if (hold?.values.voltageV === undefined || rest?.values.voltageV === undefined || !run)
    return null;
  const chemistry = jobChemistry(job);
  const share = (volts: number): number =>
    stateOfChargePercent(volts, job.plan.model.cells, chemistry) / 100;
  const days = (hold.at - run.startedAt) / 86_400_000;
  // One that reads empty after its charge has nothing to lose, and that is no merit.
  if (days < 0.5 || share(rest.values.voltageV) < LEAST_SHARE) return null;
  return {
    weekLoss: weekLossAt20(
      share(rest.values.voltageV),
      share(hold.values.voltageV),
      days,
      hold.values.temperatureC ?? job.plan.roomC,
    ),
    days,
  };
}

/** One column of before and after: what was known at the end of a cycle, or as it came (cycle 0). */
export interface CycleRow {
  cycle: number;
  route: RouteKey | null;
  voltageV: number | null;
  /** At 25 °C, cell by cell as last read; empty where it was not. */
  sg: number[];
  sgSpread: number | null;
  /** By an analyser, and by the step of a load test (15 s: the two are never compared). */
  resistanceMilliohm: number | null;
  stepMilliohm: number | null;
  ccaA: number | null;
  massG: number | null;
  capacity: Capacity | null;
  rested: boolean;
  weekLoss: number | null;
  /** On the charger in all, and by the route's own charge, h. */
  chargedHours: number | null;
  routeHours: number | null;
}

/** Inner resistance by the last load test: the volts before it, or at rest, less those under load, over its current, mΩ. */
function stepOf(job: Job, readings: readonly Reading[], restV: number | undefined): number | null {
  const load = readings.findLast((r) => r.role === 'load')?.values;
  const beforeV = load?.beforeV ?? restV;
  if (load?.voltageV === undefined || beforeV === undefined || beforeV <= load.voltageV)
    return null;
  return 1000 * resistanceOfStep(beforeV, load.voltageV, job.plan.figures.loadA.value);
}

/** Before and after, and every cycle between. */
export function cyclesOf(job: Job): CycleRow[] {
  const { state } = job;
  const recovery = recoveryOf(job);
  const first = recovery.routes[0]?.at ?? Infinity;
  const rowOf = (cycle: number): CycleRow => {
    const readings = standingReadings(state).filter((r) =>
      cycle === 0 ? r.at <= first : r.attempt === cycle && r.at > first,
    );
    const latest = (key: 'resistanceMilliohm' | 'ccaA' | 'massG'): number | null =>
      readings.findLast((r) => r.values[key] !== undefined)?.values[key] ?? null;
    const rest = readings.findLast((r) =>
      cycle === 0
        ? r.role === 'arrival'
        : r.role === 'rest' && r.marks.every((m) => m === 'confirmed'),
    );
    const cells = readings.findLast((r) => r.cells?.every((c) => c.specificGravity !== undefined));
    const sg =
      cells?.cells?.map((c) =>
        correctSg(c.specificGravity as number, cells.values.temperatureC ?? job.plan.roomC),
      ) ?? [];
    const test = recovery.tests.findLast((t) => t.attempt === cycle);
    const charges = runsWith(state, 'charge').filter((r) => r.attempt === cycle);
    const charge = charges.findLast((r) => hasRole(job.procedure, r.stepId, 'main-charge'));
    const hours = charges.reduce((sum, r) => sum + r.result.hours, 0);
    return {
      cycle,
      route: recovery.routes.findLast((r) => r.attempt === cycle)?.route ?? null,
      voltageV: rest?.values.voltageV ?? null,
      sg,
      sgSpread: sg.length > 0 ? Math.max(...sg) - Math.min(...sg) : null,
      resistanceMilliohm: latest('resistanceMilliohm'),
      stepMilliohm: stepOf(job, readings, rest?.values.voltageV),
      ccaA: latest('ccaA'),
      massG: latest('massG'),
      capacity: test ? capacityOfTest(job, test) : null,
      rested: test?.rested ?? true,
      weekLoss: cycle === 0 ? null : (holdFinding(job, cycle)?.weekLoss ?? null),
      chargedHours: hours > 0 ? hours : null,
      routeHours: charge?.result.hours ?? null,
    };
  };
  return [0, ...new Set(recovery.routes.map((r) => r.attempt))].map(rowOf);
}
