import type { FittedPlan, FittedStage } from './fitPlan.ts';
import { compensatedCeilingV } from './limits.ts';
import { FINISH_RULES } from './progress.ts';
import type { StageEnd } from './stageEnd.ts';

/** One sample of a running plan, from an instrument or from the simulation. */
export interface PlanSample {
  /** Seconds since the sample before, with this stage's current on (or resting). */
  dtS: number;
  voltageV: number;
  /** Charging positive. */
  currentA: number;
  temperatureC: number;
  /** Charge and energy put in since the sample before, where they are known better than by the product: Ah, Wh. */
  ah?: number;
  wh?: number;
}

/** How far a plan has come. Plain data: it is stored with every change of stage and read back after a crash. */
export interface PlanRun {
  stage: number;
  /** Seconds in this stage and in all, with the plan running; Ah and Wh put in (taken out counts negative). */
  stageS: number;
  totalS: number;
  stageAh: number;
  ahIn: number;
  whIn: number;
  /** Volts that have stood still in this stage, and for how long. */
  flatV: number;
  flatS: number;
  /** Current that has stood still at the ceiling, A, and for how long, s; absent in runs older than the keeping of them. */
  steadyA?: number;
  steadyS?: number;
  /** SG readings of this stage, given by hand, oldest first. */
  sg: readonly { atS: number; sg: number }[];
  /** Samples that agreed with the end of the stage in a row: one outlier ends nothing. */
  agreeing: number;
  /** Why each stage ended, in order. */
  ended: readonly StageEnd[];
  finished: boolean;
}

export const PLAN_START: Readonly<PlanRun> = {
  stage: 0,
  stageS: 0,
  totalS: 0,
  stageAh: 0,
  ahIn: 0,
  whIn: 0,
  flatV: 0,
  flatS: 0,
  sg: [],
  agreeing: 0,
  ended: [],
  finished: false,
};

/** Within this, per cell, volts stand still. V. */
const FLAT_V_PER_CELL = 0.005;
const FLAT_SG = 0.003;
const SG_APART_S = 55 * 60;
/** This many samples in a row must say that a stage is over … */
const AGREE = 3;
/** … unless they lie this far apart. s */
const AGREE_S = 10;
/** Next to no current, share of C20 per hour. */
export const LEAST_FLOW_C = 0.0006;
/** Volts are reached only while this share of the current flows. */
const REACHED_SHARE = 0.1;
/** A converter's last digit is no change of the current. A */
const NOISE_A = 0.003;
/** The first moments of a stage settle; its volts and amps end nothing. s */
const SETTLE_S = 20;

/** What the stage wants of the charger now. */
export interface Demand {
  currentA: number;
  limitV: number;
  /** Seconds for which this stays so by itself; a pulse turns, a time runs out. */
  holdsS: number;
}

const OFF: Demand = { currentA: 0, limitV: 0, holdsS: Infinity };

/** The stage that is running, or null when the plan is over. */
export function stageOf(plan: FittedPlan, run: PlanRun): FittedStage | null {
  return run.finished ? null : (plan.stages[run.stage] ?? null);
}

/** Is a pulse stage in its burst at this moment? */
export function inBurst(stage: FittedStage, stageS: number): boolean {
  return stage.do !== 'pulse' || stageS % (stage.onS + stage.offS) < stage.onS - 1e-6;
}

export function demandOf(plan: FittedPlan, run: PlanRun, temperatureC: number): Demand {
  const stage = stageOf(plan, run);
  if (!stage) return OFF;
  let holdsS = Infinity;
  for (const u of stage.until)
    if (u.when === 'time') holdsS = Math.min(holdsS, Math.max(0, u.s - run.stageS));
  if (stage.do === 'rest') return { ...OFF, holdsS };
  if (stage.do === 'discharge') return { currentA: stage.currentA, limitV: stage.limitV, holdsS };
  const limitV = compensatedCeilingV(stage.limitV, plan.battery.cells, temperatureC);
  if (stage.do !== 'pulse') return { currentA: stage.currentA, limitV, holdsS };
  const period = stage.onS + stage.offS;
  const phase = run.stageS % period;
  const burst = inBurst(stage, run.stageS);
  const turnsS = Math.max(0.001, (burst ? stage.onS : period) - phase);
  return {
    currentA: burst ? stage.currentA : 0,
    limitV: burst ? limitV : 0,
    holdsS: Math.min(holdsS, turnsS),
  };
}

/**
 * Takes a plan one sample on. Pure: the rehearsal and the live charge call it with the same plan.
 *
 * @returns the run after it; `stage` has moved or `finished` is true when the sample ended a stage
 */
export function advancePlan(plan: FittedPlan, run: PlanRun, sample: PlanSample): PlanRun {
  const stage = stageOf(plan, run);
  if (!stage) return run;
  const hours = sample.dtS / 3600;
  // An instrument may time its bursts by itself: what flows says whether this is one.
  const burst = stage.do !== 'pulse' || sample.currentA > 0.02 * stage.currentA;
  const stageS = run.stageS + sample.dtS;
  const { ah = sample.currentA * hours, wh = ah * sample.voltageV } = sample;
  const tells = burst && stage.do !== 'rest';
  const moved =
    tells && Math.abs(sample.voltageV - run.flatV) > FLAT_V_PER_CELL * plan.battery.cells;
  const held = sample.currentA > flowingA(plan) && atCeiling(plan, stage, sample);
  const { steadyA = 0, steadyS = 0 } = run;
  const stands =
    held && Math.abs(sample.currentA - steadyA) <= FINISH_RULES.tailFall * steadyA + NOISE_A;
  // Written out: thousands of twins go through here, and a spread is slow.
  const next: PlanRun = {
    stage: run.stage,
    stageS,
    totalS: run.totalS + sample.dtS,
    stageAh: run.stageAh + ah,
    ahIn: run.ahIn + ah,
    whIn: run.whIn + wh,
    flatV: moved ? sample.voltageV : run.flatV,
    flatS: moved ? 0 : tells ? run.flatS + sample.dtS : run.flatS,
    steadyA: stands ? steadyA : held ? sample.currentA : 0,
    steadyS: stands ? steadyS + sample.dtS : 0,
    sg: run.sg,
    agreeing: 0,
    ended: run.ended,
    finished: run.finished,
  };
  const reason =
    stage.do === 'rest' || burst || stage.until.some((u) => u.when === 'time' && stageS >= u.s)
      ? endOf(plan, stage, next, sample)
      : null;
  if (!reason) return next;
  const agreeing = run.agreeing + 1;
  if (!reason.atOnce && agreeing < AGREE && sample.dtS < AGREE_S) return { ...next, agreeing };
  return nextStage(plan, next, reason.end);
}

/** Goes on to the next stage, or ends the plan. */
export function nextStage(plan: FittedPlan, run: PlanRun, why: StageEnd): PlanRun {
  const stage = run.stage + 1;
  const ended = [...run.ended, why];
  if (stage >= plan.stages.length) return { ...run, ended, finished: true };
  return {
    ...run,
    stage,
    stageS: 0,
    stageAh: 0,
    flatV: 0,
    flatS: 0,
    steadyA: 0,
    steadyS: 0,
    sg: [],
    agreeing: 0,
    ended,
  };
}

/** An SG reading given by hand; counts towards a stage that ends when SG no longer rises. */
export function noteSg(run: PlanRun, sg: number): PlanRun {
  return { ...run, sg: [...run.sg, { atS: run.stageS, sg }] };
}

function endOf(
  plan: FittedPlan,
  stage: FittedStage,
  run: PlanRun,
  sample: PlanSample,
): { end: StageEnd; atOnce: boolean } | null {
  const { cells } = plan.battery;
  const settled = run.stageS >= SETTLE_S;
  for (const u of stage.until) {
    if (u.when === 'time' && run.stageS >= u.s - 1e-6)
      return { end: { by: 'time', s: u.s }, atOnce: true };
    if (u.when === 'ah' && Math.abs(run.stageAh) >= u.ah)
      return { end: { by: 'ah', ah: u.ah }, atOnce: true };
    if (
      u.when === 'volts' &&
      settled &&
      sample.currentA > REACHED_SHARE * stage.currentA &&
      sample.voltageV >= compensatedCeilingV(u.v, cells, sample.temperatureC) - 1e-3
    )
      return { end: { by: 'volts', voltageV: sample.voltageV }, atOnce: false };
    if (
      u.when === 'amps' &&
      settled &&
      (run.steadyA ?? 0) <= u.a &&
      (run.steadyS ?? 0) >= FINISH_RULES.apartS
    )
      return {
        end: { by: 'tail', currentA: sample.currentA, forS: FINISH_RULES.apartS },
        atOnce: false,
      };
    if (
      u.when === 'volts-flat' &&
      run.flatS >= u.overS &&
      (stage.do !== 'voltage' || atCeiling(plan, stage, sample))
    )
      return { end: { by: 'volts-flat', overS: u.overS }, atOnce: true };
    if (u.when === 'sg-flat' && sgIsFlat(run, u.readings))
      return { end: { by: 'sg-flat', readings: u.readings }, atOnce: true };
  }
  if (
    stage.do === 'discharge' &&
    settled &&
    sample.voltageV <= stage.limitV &&
    -sample.currentA > flowingA(plan)
  )
    return { end: { by: 'cut-off', limitV: stage.limitV }, atOnce: false };
  return null;
}

/**
 * Below this nothing flows. With a lead off a supply shows its own ceiling and no current, which is
 * neither a tail nor a voltage reached.
 */
const flowingA = (plan: FittedPlan): number => LEAST_FLOW_C * plan.battery.c20Ah;

/** A tail counts only at the ceiling. */
function atCeiling(plan: FittedPlan, stage: FittedStage, sample: PlanSample): boolean {
  const ceiling = compensatedCeilingV(stage.limitV, plan.battery.cells, sample.temperatureC);
  return Math.abs(sample.voltageV - ceiling) <= 0.02 * plan.battery.cells;
}

function sgIsFlat(run: PlanRun, readings: number): boolean {
  const spaced: { atS: number; sg: number }[] = [];
  for (const reading of run.sg.toReversed()) {
    const later = spaced[0];
    if (!later || later.atS - reading.atS >= SG_APART_S) spaced.unshift(reading);
    if (spaced.length === readings) break;
  }
  return spaced.length >= readings && (spaced.at(-1)?.sg ?? 0) - (spaced[0]?.sg ?? 0) <= FLAT_SG;
}

export function sayHours(seconds: number): string {
  if (seconds < 3600) return `${Math.round(seconds / 60)} min`;
  const hours = seconds / 3600;
  return `${Number.isInteger(hours) ? hours : hours.toFixed(1)} h`;
}
