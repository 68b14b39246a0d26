import { forCells } from '../batteries/chemistry.ts';
import { leadAcidKind } from '../batteries/kinds.ts';
import type { DiagnosisQuestion } from '../diagnosis/diagnose.ts';
import type { Evidence } from '../diagnosis/evidence.ts';
import { WAKE_BELOW_12V } from '../diagnosis/outcome.ts';
import { type AfterCharge, plainRules, type RuleFinding } from '../diagnosis/plainRules.ts';
import type { Stakes } from '../diagnosis/stakes.ts';
import type { Subject } from '../diagnosis/suspect.ts';
import { correctSg } from '../electrolyte/concentration.ts';
import { schoolOf } from '../house/schools.ts';
import { type Job, type Reading, standingReadings } from './job.ts';
import { offeredRoutes, recoveryOf } from './recovery.ts';

/** The battery as a diagnosis sees it before anything is measured. */
export function subjectOf(job: Job): Subject {
  const { model } = job.plan;
  const { story } = recoveryOf(job);
  const temperature = standingReadings(job.state, 'arrival').at(-1)?.values.temperatureC;
  return {
    chemistry: leadAcidKind(model.kind).chemistry,
    cells: model.cells,
    c20Ah: model.c20Ah,
    story: story?.story ?? 'unknown',
    standingDays: story?.standingDays ?? null,
    ageYears: story?.ageYears ?? null,
    temperatureC: temperature ?? job.plan.roomC,
    coldestC: story?.coldestC ?? null,
  };
}

/** Readings taken before current first flowed describe it as it came; a diagnosis stands on them. */
export function evidenceOf(job: Job): Evidence[] {
  const { model } = job.plan;
  const { story } = recoveryOf(job);
  const firstCharge = job.state.runs.find((r) => typeof r.result?.['chargeStartedAt'] === 'number')?.result?.['chargeStartedAt'];
  const until = typeof firstCharge === 'number' ? firstCharge : (job.state.charge?.on[0]?.from ?? Infinity);
  const asCame = (r: Reading): boolean => r.at <= until;
  const readings = standingReadings(job.state).filter(asCame);
  const out: Evidence[] = [];
  if (story) out.push({ of: 'terminals', white: story.whitePost });
  const { earlier } = job.plan;
  if (earlier) out.push({ of: 'earlier-capacity', share: Math.min(1.2, earlier.share), yearsAgo: Math.max(0, (job.state.openedAt - earlier.at) / YEAR_MS) });
  if (story?.eye) out.push({ of: 'eye', shows: story.eye });
  if (typeof story?.crankV === 'number') out.push({ of: 'cranking', dipV: story.crankV });
  const rest = readings.findLast((r) => r.role === 'arrival' || (r.role === 'spot' && r.values.voltageV !== undefined && r.values.currentA === undefined));
  if (rest?.values.voltageV !== undefined) out.push({ of: 'rest-volts', voltageV: rest.values.voltageV });
  const cells = readings.findLast((r) => r.role === 'cells');
  if (cells?.cells) {
    const { temperatureC } = cells.values;
    const sg = cells.cells.map((c) => (c.specificGravity === undefined ? null : correctSg(c.specificGravity, temperatureC ?? job.plan.roomC)));
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
  const last = (of: 'ccaA' | 'resistanceMilliohm' | 'massG'): number | undefined => readings.findLast((r) => r.values[of] !== undefined)?.values[of];
  const analyser = readings.findLast((r) => r.values.ccaA !== undefined);
  if (analyser?.values.ccaA !== undefined && model.cca !== null && (analyser.standard ?? model.ccaStandard) === model.ccaStandard)
    out.push({ of: 'cca', ccaA: analyser.values.ccaA, ratedA: model.cca });
  const milliohm = last('resistanceMilliohm');
  if (milliohm !== undefined) out.push({ of: 'resistance', milliohm });
  const massG = last('massG');
  if (massG !== undefined && story?.wetMassG) out.push({ of: 'mass', massG, wetMassG: story.wetMassG });
  const trace = chargingEvidence(job);
  if (trace) out.push(trace);
  return out;
}

const YEAR_MS = 365.25 * 86_400_000;

/** Points a trace is thinned to: a dozen moments say what a thousand do. */
const TRACE_POINTS = 10;

/** The first charge so far, as read: moments with current on. */
function chargingEvidence(job: Job): Extract<Evidence, { of: 'charging' }> | null {
  const readings = standingReadings(job.state, 'charge').filter((r) => r.attempt === 1 && (r.values.currentA ?? 0) > 0);
  const [first] = readings;
  const began = job.state.attempt === 1 ? job.state.charge?.on[0]?.from : undefined;
  if (!first || readings.length < 2) return null;
  const start = began ?? first.at;
  const step = Math.max(1, readings.length / TRACE_POINTS);
  const picked = Array.from(
    { length: Math.min(readings.length, TRACE_POINTS) },
    (_, i) => readings[Math.min(readings.length - 1, Math.floor((i + 1) * step) - 1)] as Reading,
  );
  return {
    of: 'charging',
    hours: picked.map((r) => Math.max(0.01, (r.at - start) / 3_600_000)),
    volts: picked.map((r) => r.values.voltageV as number),
    amps: picked.map((r) => r.values.currentA as number),
  };
}

/** Hours between the moments that a trace is weighed by; the least that leaves no more than ten of them. */
const GRID_H = [0.25, 0.5, 1, 2, 4, 8, 16] as const;

/**
 * What an instrument has seen so far, as evidence: moments on a fixed grid, so that it changes when there is something
 * new to say and not with every second. Pauses and gaps stay as they are: the nearest sample stands for its moment.
 *
 * @param hours since the start, ascending; @param amps into the battery
 * @returns null before the first moment
 */
export function traceEvidence(hours: readonly number[], volts: readonly number[], amps: readonly number[]): Extract<Evidence, { of: 'charging' }> | null {
  const gone = hours.at(-1) ?? 0;
  const step = GRID_H.find((h) => gone / h <= TRACE_POINTS) ?? 16;
  const at: number[] = [];
  let from = 0;
  for (let h = step; h <= gone + 1e-9; h += step) {
    while (from + 1 < hours.length && Math.abs((hours[from + 1] as number) - h) <= Math.abs((hours[from] as number) - h)) from++;
    if (Math.abs((hours[from] as number) - h) <= step / 2 && (amps[from] ?? 0) > 0 && at.at(-1) !== from) at.push(from);
  }
  if (at.length === 0) return null;
  const of = (values: readonly number[], digits: number): number[] => at.map((i) => Number((values[i] as number).toFixed(digits)));
  return { of: 'charging', hours: of(hours, 2), volts: of(volts, 2), amps: of(amps, 2) };
}

/** The judged rest voltage after the last charge that was ended. */
function afterChargeOf(job: Job): AfterCharge | null {
  const rest = standingReadings(job.state, 'rest').findLast((r) => !r.marks.includes('early') && !r.marks.includes('surface'));
  return rest?.values.voltageV === undefined ? null : { voltageV: rest.values.voltageV, restedH: job.plan.figures.restS.value / 3600 };
}

export function rulesFor(job: Job): RuleFinding[] {
  return plainRules(subjectOf(job), evidenceOf(job), afterChargeOf(job));
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
  return rest.voltageV < least ? `${rest.voltageV.toFixed(2)} V is under the ${least.toFixed(2)} V below which this shop does not try.` : null;
}

/** What a job asks of a diagnosis. */
export function diagnosisQuestion(job: Job, stakes: Stakes, trace: Evidence | null = null): DiagnosisQuestion {
  const { model, schools } = job.plan;
  return {
    subject: subjectOf(job),
    evidence: trace ? [...evidenceOf(job).filter((e) => e.of !== 'charging'), trace] : evidenceOf(job),
    after: afterChargeOf(job),
    open: leadAcidKind(model.kind).ports === 'serviceable',
    routes: offeredRoutes(model.kind, schools),
    stakes,
    ratings: { ratedCca: model.cca, wetMassG: recoveryOf(job).story?.wetMassG ?? null },
  };
}
