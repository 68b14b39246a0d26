import { forCells } from '../batteries/chemistry.ts';
import { leadAcidKind } from '../batteries/kinds.ts';
import type { BatteryModel } from '../batteries/model.ts';
import { type Capacity, type CapacityMethod, capacityOf, type Discharge, weekLossAt20 } from '../capacity/capacityTest.ts';
import { stateOfChargePercent } from '../capacity/stateOfCharge.ts';
import { fitPlan } from '../charging/fitPlan.ts';
import { chargeSettings, planBattery } from '../charging/jobChargePlan.ts';
import type { CauseKey } from '../diagnosis/causes.ts';
import type { DiagnosisQuestion } from '../diagnosis/diagnose.ts';
import type { Evidence, EyeColour } from '../diagnosis/evidence.ts';
import { GRADE_LINES, WAKE_BELOW_12V } from '../diagnosis/outcome.ts';
import { type AfterCharge, plainRules, type RuleFinding } from '../diagnosis/plainRules.ts';
import { ROUTES, type Route, type RouteKey } from '../diagnosis/routes.ts';
import type { Stakes } from '../diagnosis/stakes.ts';
import type { StoryKey } from '../diagnosis/stories.ts';
import type { Subject } from '../diagnosis/suspect.ts';
import { correctSg } from '../electrolyte/concentration.ts';
import { neutraliser } from '../electrolyte/neutralising.ts';
import { type SchoolChoices, schoolOf } from '../house/schools.ts';
import { type Job, type JobState, type Moment, type Reading, standingReadings } from './job.ts';
import { jobChemistry } from './verdict.ts';

/** What its owner tells, and what a look shows. Null where nobody knows. */
export interface ToldStory {
  story: StoryKey;
  standingDays: number | null;
  ageYears: number | null;
  /** The coldest it has been while it stood, °C. */
  coldestC: number | null;
  whitePost: boolean;
  /** What it weighs wet and new, by its label, g. */
  wetMassG: number | null;
  /** Its charge eye, where it has one, and the least volts while its machine was cranked. */
  eye?: EyeColour | null;
  crankV?: number | null;
}

/** Ways to wake what a charger refuses. */
export const WAKE_KEYS = ['none', 'parallel', 'low-start', 'dumb', 'bursts'] as const;
export type WakeKey = (typeof WAKE_KEYS)[number];

export const WAKES: Readonly<Record<WakeKey, { name: string; plain: string; flooded: boolean }>> = {
  none: { name: 'Needs no waking', plain: 'A charger takes it as it is.', flooded: false },
  parallel: {
    name: 'Beside a donor',
    plain: 'A full battery of the same voltage, plus to plus, and a charger of about 10 A. An hour, twice at most.',
    flooded: false,
  },
  'low-start': { name: 'Low-start charger', plain: 'A charger that starts from next to nothing.', flooded: false },
  dumb: { name: 'Dumb supply', plain: 'A small constant current from a supply that asks nothing, watched all the while.', flooded: false },
  bursts: { name: 'Bursts', plain: 'Caps off, high setting for 15 min at a time, until every cell bubbles.', flooded: true },
};

export type CellFeel = 'cool' | 'warm' | 'hot';

/** What was believed when a route was chosen: kept, and held against what came. */
export interface RouteForecast {
  cause: CauseKey;
  causeOdds: number;
  returns: number;
  light: number;
  /** Share of C20. */
  capacity: { low: number; middle: number; high: number };
  hours: { low: number; middle: number; high: number };
  /** The route that was proposed. */
  proposed: RouteKey | null;
}

export interface ChosenRoute {
  route: RouteKey;
  wake: WakeKey;
  attempt: number;
  at: Moment;
  by: string;
  forecast: RouteForecast | null;
  reason: string | null;
}

export interface CapacityRecord extends Discharge {
  id: string;
  at: Moment;
  by: string;
  attempt: number;
  /** Begun from a full charge that had rested; otherwise it is marked. */
  rested: boolean;
}

export type RecoveryOutcome = 'return' | 'light' | 'another' | 'recycle';
export const OUTCOMES: Readonly<Record<RecoveryOutcome, { name: string; plain: string }>> = {
  return: { name: 'Return to service', plain: 'It does again what its label says.' },
  light: { name: 'Light duty or loan', plain: 'Used daily, or lent out. Never where a failure strands someone.' },
  another: { name: 'Another cycle', plain: 'The last one gained.' },
  recycle: { name: 'Recycle', plain: 'To a licensed recycler, with its acid in it.' },
};
/** Best first. */
const RANK: readonly RecoveryOutcome[] = ['return', 'light', 'another', 'recycle'];

export interface OutcomeRecord {
  outcome: RecoveryOutcome;
  suggested: RecoveryOutcome;
  reasons: string[];
  reason: string | null;
  attempt: number;
  at: Moment;
  by: string;
  disposal: Disposal | null;
}

/** What goes to the recycler. */
export interface Disposal {
  core: string;
  acidL: number;
  bicarbonateKg: number;
}

export interface RecoveryState {
  story: ToldStory | null;
  routes: ChosenRoute[];
  /** A capacity test that is running. */
  discharge: { startedAt: Moment; currentA: number; cutoffV: number; temperatureC: number; expectedEndAt: Moment } | null;
  tests: CapacityRecord[];
  outcomes: OutcomeRecord[];
}

const NO_RECOVERY: RecoveryState = { story: null, routes: [], discharge: null, tests: [], outcomes: [] };

export const recoveryOf = (job: Job): RecoveryState => job.state.recovery ?? NO_RECOVERY;

/** A cycle that gained less than this share of C20 is not followed by another. */
const WORTH_ANOTHER = 0.05;
const MOST_CYCLES = 4;
/** The acid of a battery whose maker prints no volume, L per cell and Ah. */
const ACID_L = 0.012;

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

/** Routes that this shop offers for this battery. */
export function offeredRoutes(kind: string, schools: SchoolChoices): RouteKey[] {
  const { chemistry, ports } = leadAcidKind(kind);
  const open = ports === 'serviceable';
  const additive = schoolOf('additive', schools).school.id;
  const openAgm = schoolOf('openAgm', schools).school.id === 'experiment';
  return (Object.values(ROUTES) as Route[])
    .filter((r) => r.kinds.includes(chemistry) && (!r.ports || open))
    .filter((r) =>
      r.key === 'sulfate' ? additive === 'sulfate' : r.key === 'conditioner' ? additive === 'conditioner' : r.key === 'water-agm' ? openAgm && !open : true,
    )
    .map((r) => r.key);
}

/** Ways of waking this shop offers; the school's own first. */
export function offeredWakes(kind: string, schools: SchoolChoices): WakeKey[] {
  const open = leadAcidKind(kind).ports === 'serviceable';
  const own = schoolOf('wake', schools).school.id as WakeKey;
  const all = WAKE_KEYS.filter((w) => w !== 'none' && (open || !WAKES[w].flooded));
  return all.includes(own) ? [own, ...all.filter((w) => w !== own)] : all;
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

/** Capacity by the last test of earlier jobs of a battery, share of C20; null where none was made. */
export function earlierCapacity(states: readonly JobState[], model: BatteryModel): { share: number; at: number } | null {
  const test = states
    .flatMap((s) => s.recovery?.tests ?? [])
    .sort((a, b) => a.at - b.at)
    .at(-1);
  return test ? { share: capacityOf(test, leadAcidKind(model.kind).chemistry, model.cells, model.c20Ah).health, at: test.at } : null;
}

/** Capacity by a record of a test. */
export function capacityOfTest(job: Job, test: Discharge): Capacity {
  const { model } = job.plan;
  return capacityOf(test, leadAcidKind(model.kind).chemistry, model.cells, model.c20Ah);
}

/** Self-discharge by the hold: share a week at 20 °C, and how long it stood. */
function holdFinding(job: Job, attempt = job.state.attempt): { weekLoss: number; days: number } | null {
  const hold = standingReadings(job.state, 'hold').findLast((r) => r.attempt === attempt);
  const rest = standingReadings(job.state, 'rest').findLast((r) => r.attempt === attempt && !r.marks.includes('early'));
  const run = job.state.runs.findLast((r) => r.stepId === 'hold' && r.attempt === attempt);
  if (hold?.values.voltageV === undefined || rest?.values.voltageV === undefined || !run) return null;
  const chemistry = jobChemistry(job);
  const share = (volts: number): number => stateOfChargePercent(volts, job.plan.model.cells, chemistry) / 100;
  const days = (hold.at - run.startedAt) / 86_400_000;
  if (days < 0.5) return null;
  return { weekLoss: weekLossAt20(share(rest.values.voltageV), share(hold.values.voltageV), days, hold.values.temperatureC ?? job.plan.roomC), days };
}

/** One column of before and after: what was known at the end of a cycle, or as it came (cycle 0). */
export interface CycleRow {
  cycle: number;
  route: RouteKey | null;
  voltageV: number | null;
  sgSpread: number | null;
  resistanceMilliohm: number | null;
  ccaA: number | null;
  massG: number | null;
  capacity: Capacity | null;
  rested: boolean;
  weekLoss: number | null;
  chargedHours: number | null;
}

/** Before and after, and every cycle between. */
export function cyclesOf(job: Job): CycleRow[] {
  const { state } = job;
  const recovery = recoveryOf(job);
  const first = recovery.routes[0]?.at ?? Infinity;
  const of = (cycle: number): CycleRow => {
    const readings = standingReadings(state).filter((r) => (cycle === 0 ? r.at <= first : r.attempt === cycle && r.at > first));
    const latest = (key: 'resistanceMilliohm' | 'ccaA' | 'massG'): number | null => readings.findLast((r) => r.values[key] !== undefined)?.values[key] ?? null;
    const rest = readings.findLast((r) => (cycle === 0 ? r.role === 'arrival' : r.role === 'rest' && r.marks.every((m) => m === 'confirmed')));
    const sgs = readings.findLast((r) => r.cells?.every((c) => c.specificGravity !== undefined))?.cells?.map((c) => c.specificGravity as number);
    const test = recovery.tests.findLast((t) => t.attempt === cycle);
    const hours = state.runs
      .filter((r) => r.attempt === cycle && typeof r.result?.['hours'] === 'number')
      .reduce((sum, r) => sum + Number(r.result?.['hours']), 0);
    return {
      cycle,
      route: recovery.routes.findLast((r) => r.attempt === cycle)?.route ?? null,
      voltageV: rest?.values.voltageV ?? null,
      sgSpread: sgs ? Math.max(...sgs) - Math.min(...sgs) : null,
      resistanceMilliohm: latest('resistanceMilliohm'),
      ccaA: latest('ccaA'),
      massG: latest('massG'),
      capacity: test ? capacityOfTest(job, test) : null,
      rested: test?.rested ?? true,
      weekLoss: cycle === 0 ? null : (holdFinding(job, cycle)?.weekLoss ?? null),
      chargedHours: hours > 0 ? hours : null,
    };
  };
  return [0, ...new Set(recovery.routes.map((r) => r.attempt))].map(of);
}

export interface RecoveryVerdict {
  suggested: RecoveryOutcome;
  /** The best that may be signed. */
  best: RecoveryOutcome;
  reasons: string[];
  /** Things that improved while others did not, said outright. */
  warnings: string[];
}

/**
 * What the numbers say becomes of it. Capacity and the week decide; CCA and resistance never do alone.
 */
export function judgeRecovery(job: Job): RecoveryVerdict {
  const cycles = cyclesOf(job);
  const now = cycles.at(-1) as CycleRow;
  const before = cycles.at(-2);
  const reasons: string[] = [];
  const warnings: string[] = [];
  const never = rulesFor(job).filter((r) => r.weight === 'never');
  if (cycles.length === 1)
    return {
      suggested: never.length > 0 ? 'recycle' : 'another',
      best: never.length > 0 ? 'recycle' : 'another',
      reasons: never.map((r) => r.sentence),
      warnings: [],
    };
  const health = now.capacity?.health ?? null;
  const { weekLoss } = now;
  const percent = (share: number): string => `${(100 * share).toFixed(0)} %`;

  if (now.capacity)
    reasons.push(
      `Capacity ${now.capacity.c20.middle.toFixed(1)} Ah at C20 (${now.capacity.c20.low.toFixed(1)}–${now.capacity.c20.high.toFixed(1)}), ${percent(now.capacity.health)} of its rating.${now.rested ? '' : ' Not begun from a rested full charge.'}`,
    );
  else reasons.push('Its capacity was not tested.');
  if (weekLoss !== null) reasons.push(`The hold: ${percent(Math.max(0, weekLoss))} lost in a week at 20 °C; ${percent(GRADE_LINES.weekLoss)} is the line.`);
  else reasons.push('It was not held for a week.');
  for (const rule of never) reasons.push(rule.sentence);

  const gain = now.capacity && before?.capacity ? now.capacity.health - before.capacity.health : null;
  if (gain !== null && now.chargedHours !== null)
    reasons.push(`The last cycle gained ${percent(gain)} of the rating in ${now.chargedHours.toFixed(0)} h on the charger.`);
  const first = cycles[0] as CycleRow;
  if (
    now.ccaA !== null &&
    first.ccaA !== null &&
    now.ccaA > 1.15 * first.ccaA &&
    (health === null || (before?.capacity && gain !== null && gain < WORTH_ANOTHER))
  )
    warnings.push(
      `CCA rose from ${first.ccaA.toFixed(0)} to ${now.ccaA.toFixed(0)} A${health === null ? ', but no capacity was measured' : ', but the capacity did not move'}. CCA alone is no recovery.`,
    );

  const leaks = weekLoss !== null && weekLoss > GRADE_LINES.weekLoss;
  let best: RecoveryOutcome;
  if (never.length > 0 || leaks) best = 'recycle';
  else if (health === null) best = 'another';
  else if (health >= GRADE_LINES.return) best = weekLoss === null ? 'light' : 'return';
  else if (health >= GRADE_LINES.light) best = 'light';
  else best = 'another';
  const cyclesDone = cycles.length - 1;
  const gained = gain === null ? cyclesDone < 2 : gain >= WORTH_ANOTHER;
  const more = never.length === 0 && !leaks && health !== null && health < GRADE_LINES.return && gained && cyclesDone < MOST_CYCLES;
  let suggested: RecoveryOutcome = best;
  if (best === 'light' && more && (health ?? 1) < GRADE_LINES.return) suggested = 'another';
  if (best === 'another' && !more && health !== null) suggested = 'recycle';
  if (best === 'light' && health !== null && health >= GRADE_LINES.return) reasons.push('Without the week it is not returned to service.');
  return { suggested, best, reasons, warnings };
}

/** May this be signed, by what the numbers allow? */
export const outcomeAllowed = ({ best }: RecoveryVerdict, outcome: RecoveryOutcome): boolean =>
  outcome === 'another' ? best !== 'return' : RANK.indexOf(outcome) >= RANK.indexOf(best);

/** What goes to the recycler: the core with its acid in it, and the soda to have at hand. */
export function disposalOf(job: Job): Disposal {
  const { model, figures } = job.plan;
  const acidL = model.electrolyteMl === null ? ACID_L * model.cells * model.c20Ah : model.electrolyteMl / 1000;
  return { core: `${model.nominalV} V, ${model.c20Ah} Ah, lead-acid`, acidL, bicarbonateKg: neutraliser(acidL, figures.fillSg.value).bicarbonateKg };
}

/** The plan a chosen route's charge follows is fitted to this battery. */
export const batteryOfPlan = (job: Job) => planBattery(job.plan.model, leadAcidKind(job.plan.model.kind).chemistry);
export type { CapacityMethod };

const RESTORING: readonly RouteKey[] = ['slow-restore', 'pulse', 'held', 'cycle'];
/** The shop's own way is proposed when it is worth nearly as much as the best. */
const NEARLY = 0.8;

/** The route that is proposed; null where recycling at once is worth more, or a rule forbids every route. */
export function proposedRoute(routes: readonly { route: RouteKey; worth: number }[], never: boolean, schools: SchoolChoices): RouteKey | null {
  const [best] = [...routes].sort((a, b) => b.worth - a.worth);
  if (never || !best || best.worth <= 0) return null;
  const { prefer } = schoolOf('desulfate', schools).school.values;
  const own = routes.find((r) => r.route === prefer);
  return own && RESTORING.includes(best.route) && own.worth >= NEARLY * best.worth ? own.route : best.route;
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

/** What a charge by hand is set to: by the plan of the route where one was chosen, else by the figures of the job. A and V. */
export function handSettings(job: Job): { setA: number; setV: number } {
  const { chargeA, ceilingV } = job.plan.figures;
  const { chargePlan } = job.state;
  const { fitted } = chargePlan && job.procedure.purpose === 'recover' ? fitPlan(chargePlan, batteryOfPlan(job)) : { fitted: null };
  if (!fitted) return { setA: chargeA.value, setV: ceilingV.value };
  const { setA, setV } = chargeSettings(fitted);
  return { setA: Math.round(setA * 100) / 100, setV: Math.min(ceilingV.value, Math.round(setV * 100) / 100) };
}
