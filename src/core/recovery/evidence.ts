import { forCells } from '../batteries/chemistry.ts';
import { leadAcidKind } from '../batteries/kinds.ts';
import type { CyclesDone, Evidence } from '../diagnosis/evidence.ts';
import type { RouteKey } from '../diagnosis/routes.ts';
import { WAKE_BELOW_12V, type WakePair, type WakeSetUp } from '../diagnosis/wakeCurrents.ts';
import { type AfterCharge, plainRules, type RuleFinding } from '../diagnosis/plainRules.ts';
import { correctSg } from '../electrolyte/concentration.ts';
import { schoolOf } from '../house/schools.ts';
import { type Job, standingReadings, recoveryOf, runsWith } from '../job/job.ts';
import type { Reading } from '../job/reading.ts';
import { type CycleRow, cyclesOf } from './cycles.ts';
import { hasRole } from '../plan/procedure.ts';

/** Readings taken before current first flowed describe it as it came; a diagnosis stands on them. */
export function evidenceOf(job: Job): Evidence[] {
  const { model } = job.plan;
  const { story } = recoveryOf(job);
  const firstCharge = runsWith(job.state, 'charge')[0]?.result.chargeStartedAt;
  const until =
    typeof firstCharge === 'number' ? firstCharge : (job.state.charge?.on[0]?.from ?? Infinity);
  const asCame = (r: Reading): boolean => r.at <= until;
  const readings = standingReadings(job.state).filter(asCame);
  const out: Evidence[] = [];
  if (story) out.push({ of: 'terminals', white: story.whitePost });
  const { earlier } = job.plan;
  if (earlier)
    out.push({
      of: 'earlier-capacity',
      share: Math.min(1.2, earlier.share),
      yearsAgo: Math.max(0, (job.state.openedAt - earlier.at) / YEAR_MS),
    });
  if (story?.eye) out.push({ of: 'eye', shows: story.eye });
  if (typeof story?.crankV === 'number') out.push({ of: 'cranking', dipV: story.crankV });
  const rest = readings.findLast(
    (r) =>
      (r.role === 'arrival' && !r.marks.includes('fresh')) ||
      (r.role === 'spot' && r.values.voltageV !== undefined && r.values.currentA === undefined),
  );
  if (rest?.values.voltageV !== undefined)
    out.push({ of: 'rest-volts', voltageV: rest.values.voltageV });
  const cells = readings.findLast((r) => r.role === 'cells');
  if (cells?.cells) {
    const { temperatureC } = cells.values;
    const sg = cells.cells.map((c) =>
      c.specificGravity === undefined
        ? null
        : correctSg(c.specificGravity, temperatureC ?? job.plan.roomC),
    );
    const volts = cells.cells.map((c) => c.voltageV ?? null);
    const levels = cells.cells.map((c) => c.level ?? null);
    if (levels.some((v) => v !== null)) out.push({ of: 'levels', levels });
    if (sg.some((v) => v !== null)) out.push({ of: 'cell-sg', sg });
    if (volts.some((v) => v !== null)) out.push({ of: 'cell-volts', volts });
  }
  const load = readings.findLast((r) => r.role === 'load');
  if (load?.values.voltageV !== undefined) {
    const { voltageV: underV, beforeV, afterV } = load.values;
    out.push({
      of: 'load',
      underV,
      currentA: job.plan.figures.loadA.value,
      seconds: job.plan.figures.loadS.value,
      ...(beforeV === undefined ? {} : { beforeV }),
      ...(afterV === undefined ? {} : { afterV }),
    });
  }
  const last = (of: 'ccaA' | 'resistanceMilliohm' | 'massG'): number | undefined =>
    readings.findLast((r) => r.values[of] !== undefined)?.values[of];
  const analyser = readings.findLast((r) => r.values.ccaA !== undefined);
  if (
    analyser?.values.ccaA !== undefined &&
    model.cca !== null &&
    (analyser.standard ?? model.ccaStandard) === model.ccaStandard
  )
    out.push({ of: 'cca', ccaA: analyser.values.ccaA, ratedA: model.cca });
  const milliohm = last('resistanceMilliohm');
  if (milliohm !== undefined) out.push({ of: 'resistance', milliohm });
  const massG = last('massG');
  if (massG !== undefined && story?.wetMassG)
    out.push({ of: 'mass', massG, wetMassG: story.wetMassG });
  out.push(...cycledEvidence(job));
  const trace = chargingEvidence(job);
  if (trace) out.push(trace);
  return out;
}

const YEAR_MS = 365.25 * 86_400_000;

/** Moments a trace is thinned to: a dozen say what a thousand do. */
const TRACE_POINTS = 10;

/** The charge by the route so far, as read: moments with the mean current since the one before. */
function chargingEvidence(job: Job): ChargingEvidence | null {
  const { attempt } = job.state;
  const readings = standingReadings(job.state, 'charge').filter(
    (r) =>
      r.attempt === attempt &&
      r.values.currentA !== undefined &&
      hasRole(job.procedure, r.stepId, 'main-charge'),
  );
  const [first] = readings;
  const on = hasRole(job.procedure, job.state.current?.stepId, 'main-charge')
    ? job.state.charge?.on[0]?.from
    : undefined;
  if (!first || readings.length < 2) return null;
  const start = on ?? first.at;
  return traceEvidence(
    readings.map((r) => Math.max(0.01, (r.at - start) / HOUR_MS)),
    readings.map((r) => r.values.voltageV as number),
    readings.map((r) => r.values.currentA ?? 0),
    cyclesDone(job),
  );
}

/** Cycles that have ended, as evidence: what each brought. */
function cycledEvidence(job: Job): Evidence[] {
  const ended = endedCycles(job);
  const { open } = cyclesDone(job) ?? { open: false };
  return ended.map((c, i) => ({
    of: 'cycled',
    done: { routes: ended.slice(0, i + 1).map((e) => e.route as RouteKey), open },
    capacity: c.capacity?.health ?? null,
    restV: c.voltageV,
    sg: c.sg,
    weekLoss: c.weekLoss,
  }));
}

const endedCycles = (job: Job): CycleRow[] =>
  cyclesOf(job).filter((c) => c.cycle > 0 && c.cycle < job.state.attempt && c.route !== null);

export function cyclesDone(job: Job): CyclesDone | undefined {
  const routes = endedCycles(job).map((c) => c.route as RouteKey);
  return routes.length > 0
    ? { routes, open: leadAcidKind(job.plan.model.kind).ports === 'serviceable' }
    : undefined;
}

type ChargingEvidence = Extract<Evidence, { of: 'charging' }>;
const HOUR_MS = 3_600_000;

/** Hours between the moments that a trace is weighed by; the least that leaves no more than ten of them. */
const GRID_H = [0.25, 0.5, 1, 2, 4, 8, 16] as const;

/**
 * A charge so far, as evidence: moments on a grid, so that it changes when there is something new to say and not with every
 * second, each with the mean current since the one before. A moment whose own current is another (a pulse, a pause, the
 * turn from discharge to charge) says nothing by its volts and is left out; its charge is not.
 *
 * @param hours since the start, ascending; @param amps into the battery, negative out of it
 * @returns null before the first moment
 */
export function traceEvidence(
  hours: readonly number[],
  volts: readonly number[],
  amps: readonly number[],
  done?: CyclesDone,
): ChargingEvidence | null {
  const gone = hours.at(-1) ?? 0;
  const grid = GRID_H.find((h) => gone / h <= TRACE_POINTS) ?? 16;
  const at: { hour: number; volts: number; amps: number }[] = [];
  let due = grid;
  let charge = 0;
  let keptAt = 0;
  for (let i = 0; i < hours.length; i++) {
    const hour = hours[i] as number;
    const amp = amps[i] as number;
    const before = hours[i - 1] ?? 0;
    charge += (hour - before) * (i === 0 ? amp : (amp + (amps[i - 1] as number)) / 2);
    if (hour < due - 1e-9) continue;
    const mean = charge / Math.max(1e-6, hour - keptAt);
    if (amp === 0 || Math.abs(amp - mean) > STEADY * Math.abs(mean)) continue;
    at.push({ hour, volts: volts[i] as number, amps: mean });
    keptAt = hour;
    charge = 0;
    due = grid * (Math.floor(hour / grid + 1e-9) + 1);
  }
  if (at.length === 0) return null;
  const column = (key: 'hour' | 'volts' | 'amps'): number[] =>
    at.map((m) => Number(m[key].toFixed(2)));
  return {
    of: 'charging',
    hours: column('hour'),
    volts: column('volts'),
    amps: column('amps'),
    ...(done ? { done } : {}),
  };
}
/** A moment's current may be this much off the mean since the last one. */
const STEADY = 0.5;

/** What was read after the last charge that was ended: the judged rest voltage, and what else was measured since. */
export function afterChargeOf(job: Job): AfterCharge | null {
  const { model } = job.plan;
  const rest = standingReadings(job.state, 'rest').findLast(
    (r) => !r.marks.includes('early') && !r.marks.includes('surface'),
  );
  if (rest?.values.voltageV === undefined) return null;
  const ended = job.state.runs.findLast(
    (r) =>
      r.end === 'done' && hasRole(job.procedure, r.stepId, 'main-charge') && r.startedAt < rest.at,
  );
  const since = standingReadings(job.state).filter((r) => r.at >= (ended?.endedAt ?? rest.at));
  const cells = since.findLast((r) => r.role === 'cells')?.cells;
  const load = since.findLast((r) => r.role === 'load')?.values.voltageV;
  const analyser = since.findLast((r) => r.values.ccaA !== undefined);
  const comparable =
    model.cca !== null && (analyser?.standard ?? model.ccaStandard) === model.ccaStandard;
  const milliohm = since.findLast((r) => r.values.resistanceMilliohm !== undefined)?.values
    .resistanceMilliohm;
  const capacity = cyclesOf(job).findLast((c) => c.capacity !== null)?.capacity?.health;
  return {
    voltageV: rest.values.voltageV,
    restedH: job.plan.figures.restS.value / 3600,
    ...(cells?.some((c) => c.specificGravity !== undefined)
      ? {
          sg: cells.map((c) =>
            c.specificGravity === undefined
              ? null
              : correctSg(c.specificGravity, rest.values.temperatureC ?? job.plan.roomC),
          ),
        }
      : {}),
    ...(analyser?.values.ccaA !== undefined && comparable && model.cca
      ? { ccaShare: analyser.values.ccaA / model.cca }
      : {}),
    ...(load === undefined
      ? {}
      : {
          load: {
            underV: load,
            currentA: job.plan.figures.loadA.value,
            seconds: job.plan.figures.loadS.value,
          },
        }),
    ...(milliohm === undefined ? {} : { milliohm }),
    ...(capacity === undefined ? {} : { capacity }),
  };
}

/** How it stands on the bench, °C. */
export const standsAtC = (job: Job): number =>
  standingReadings(job.state, 'arrival').at(-1)?.values.temperatureC ?? job.plan.roomC;

export function rulesFor(job: Job): RuleFinding[] {
  const { cells, c20Ah } = job.plan.model;
  return plainRules(
    { cells, c20Ah, temperatureC: standsAtC(job) },
    evidenceOf(job),
    afterChargeOf(job),
  );
}

export function needsWaking(job: Job): boolean {
  const rest = evidenceOf(job).find((e) => e.of === 'rest-volts');
  return rest !== undefined && rest.voltageV < forCells(WAKE_BELOW_12V, job.plan.model.cells);
}

/** Why the shop's own rule says this battery is not worth trying; null where it is. */
export function tooFlat(job: Job): string | null {
  const { leastPer12V } = schoolOf('tooFlat', job.plan.schools).school.values;
  const rest = evidenceOf(job).find((e) => e.of === 'rest-volts');
  if (leastPer12V === null || !rest) return null;
  const least = forCells(leastPer12V, job.plan.model.cells);
  return rest.voltageV < least
    ? `${rest.voltageV.toFixed(2)} V is under the ${least.toFixed(2)} V below which this shop does not try.`
    : null;
}

/** The battery of a job beside a donor, as both are about to be connected. */
export function wakePair(job: Job, setUp: WakeSetUp): WakePair {
  const { model } = job.plan;
  const sleeperV = evidenceOf(job).find((e) => e.of === 'rest-volts')?.voltageV ?? 0;
  return { ...setUp, sleeperV, sleeperAh: model.c20Ah, cells: model.cells };
}
