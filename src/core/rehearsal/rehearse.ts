import type { FittedPlan } from '../charging/fitPlan.ts';
import {
  EMPTY_WINDOW,
  type GuardWindow,
  type LiveTrip,
  mayResume,
  remember,
  watch,
} from '../charging/liveGuards.ts';
import {
  advancePlan,
  demandOf,
  inBurst,
  PLAN_START,
  type PlanRun,
  stageOf,
} from '../charging/runPlan.ts';
import type { SimBattery } from '../simulation/battery.ts';
import { viewBattery, viewCell } from '../simulation/view.ts';
import { CASE, CELL_SIZE } from '../simulation/layout.ts';
import { PulseLeap } from './leap.ts';
import { Stepper, type Tolerance } from '../simulation/step.ts';
import type { StageEnd } from '../charging/stageEnd.ts';

/** What a rehearsal draws: one number per moment in each row. */
export interface Trace {
  /** h, V, A, °C, share of C20 (poorest cell), hydrogen L/h, water lost g. */
  hours: number[];
  voltageV: number[];
  currentA: number[];
  temperatureC: number[];
  charge: number[];
  hydrogenLh: number[];
  waterG: number[];
}

/** A trace before its first point. */
export const emptyTrace = (): Trace => ({
  hours: [],
  voltageV: [],
  currentA: [],
  temperatureC: [],
  charge: [],
  hydrogenLh: [],
  waterG: [],
});

export interface RehearsalSummary {
  hours: number;
  finished: boolean;
  /** When each stage ended (h) and why. */
  stages: { untilH: number; why: StageEnd }[];
  ahIn: number;
  energyWh: number;
  peakC: number;
  peakHydrogenLh: number;
  hydrogenL: number;
  waterG: number;
  /** Charge of the poorest cell at the end, hard sulfate before and after (mean of cells): share of C20. */
  chargeAtEnd: number;
  hardBefore: number;
  hardAfter: number;
  /** Hours it stood switched off because it was warm. */
  pausedH: number;
  /** The guard that would have switched it off. */
  trip: LiveTrip | null;
}

export interface Rehearsal {
  trace: Trace;
  summary: RehearsalSummary;
}

/** How finely a rehearsal is told. */
export interface Grain {
  tolerance: Readonly<Tolerance>;
  /** Longest step, s: where readings may end the stage, and where only its time does. The guards look no more often. */
  longestS: number;
  longestTimedS: number;
  /** Points the whole plan is drawn in; a leap over pulses is no longer than the way between two. */
  points: number;
  /** Times the change of state that one leap may bring; null simulates every single pulse. */
  leaps: number | null;
}

/** Good for drawing: a few hundredths of a volt where it rises steeply, well under 1 % of the charge. */
export const DRAWN: Readonly<Grain> = {
  tolerance: {
    voltsPerCell: 0.003,
    charge: 0.002,
    longestS: 600,
    longestRestS: 1800,
    transient: 1,
  },
  longestS: 600,
  longestTimedS: 600,
  points: 360,
  leaps: 1,
};
/** Good for counting how many of many twins end how: hours within a few percent of what is drawn. */
export const COUNTED: Readonly<Grain> = {
  tolerance: {
    voltsPerCell: 0.008,
    charge: 0.006,
    longestS: 1800,
    longestRestS: 3600,
    transient: 1,
  },
  longestS: 600,
  longestTimedS: 1800,
  points: 40,
  leaps: 6,
};
const MOST_STEPS = 60_000;

/**
 * Runs a plan on a simulated battery, watched by the guards of the live charge.
 *
 * @param battery moves on; pass a copy to keep it
 * @param missingAh what the technician thinks is missing, for the guards; null when unknown
 */
export function rehearse(
  battery: SimBattery,
  plan: FittedPlan,
  missingAh: number | null = null,
  grain: Readonly<Grain> = DRAWN,
): Rehearsal {
  const stepper = new Stepper(battery, grain.tolerance);
  const trace = emptyTrace();
  const before = viewBattery(battery);
  const hardBefore = meanHard(battery);
  const ah = battery.cells * CELL_SIZE + CASE.chargeIn;
  const wh = battery.cells * CELL_SIZE + CASE.energyIn;
  const gapS = plan.mostS / grain.points;
  let run: PlanRun = PLAN_START;
  let window: GuardWindow = EMPTY_WINDOW;
  let trip: LiveTrip | null = null;
  let warm = false;
  let pausedS = 0;
  let peakC = stepper.temperatureC;
  let peakHydrogen = 0;
  let lastPoint = { atS: -Infinity, hydrogenL: 0, ah: 0 };
  let lastWatch = -Infinity;
  const ended: { untilH: number; why: StageEnd }[] = [];

  const point = (): void => {
    const view = viewBattery(battery);
    const pastS = stepper.elapsedS - lastPoint.atS;
    const perHour = Number.isFinite(pastS) && pastS > 0 ? 3600 / pastS : 0;
    const hydrogenLh = perHour * (view.hydrogenL - lastPoint.hydrogenL);
    if (hydrogenLh > peakHydrogen) peakHydrogen = hydrogenLh;
    trace.hours.push(stepper.elapsedS / 3600);
    trace.voltageV.push(stepper.voltageV);
    // The mean since the point before: a burst and its pause lie within it.
    trace.currentA.push(
      perHour > 0 ? (view.chargeInAh - lastPoint.ah) * perHour : stepper.currentA,
    );
    trace.temperatureC.push(view.temperatureC);
    trace.charge.push(Math.max(0, view.poorest));
    trace.hydrogenLh.push(hydrogenLh);
    trace.waterG.push(view.waterLostG - before.waterLostG);
    lastPoint = { atS: stepper.elapsedS, hydrogenL: view.hydrogenL, ah: view.chargeInAh };
  };

  const leap = grain.leaps === null ? null : new PulseLeap(battery, grain.leaps);
  point();
  while (
    !run.finished &&
    !trip &&
    stepper.steps < MOST_STEPS &&
    stepper.elapsedS < plan.mostS * 1.5
  ) {
    const stage = stageOf(plan, run);
    if (!stage) break;
    const demand = warm
      ? { currentA: 0, limitV: 0, holdsS: grain.longestS }
      : demandOf(plan, run, stepper.temperatureC);
    const books = { ah: battery.state[ah] as number, wh: battery.state[wh] as number };
    const dtS = stepper.step(
      { currentA: demand.currentA, limitV: demand.currentA < 0 ? Infinity : demand.limitV },
      Math.max(
        0.01,
        Math.min(
          demand.holdsS,
          stage.until.every((u) => u.when === 'time') ? grain.longestTimedS : grain.longestS,
        ),
      ),
    );
    if (stepper.temperatureC > peakC) peakC = stepper.temperatureC;
    const burst = inBurst(stage, run.stageS);
    if (warm) {
      pausedS += dtS;
      warm = !mayResume(stepper.temperatureC, battery.ambientC, plan);
    } else {
      const after = advancePlan(plan, run, {
        dtS,
        voltageV: stepper.voltageV,
        currentA: stepper.currentA,
        temperatureC: stepper.temperatureC,
        ah: (battery.state[ah] as number) - books.ah,
        wh: (battery.state[wh] as number) - books.wh,
      });
      if (after.stage !== run.stage || after.finished) {
        ended.push({ untilH: stepper.elapsedS / 3600, why: after.ended.at(-1) as StageEnd });
        window = EMPTY_WINDOW;
        stepper.nextS = Math.min(stepper.nextS, 5);
        point();
      }
      run = after;
    }
    if (burst && stepper.elapsedS - lastWatch >= 30) {
      lastWatch = stepper.elapsedS;
      window = remember(window, {
        atS: stepper.elapsedS,
        voltageV: stepper.voltageV,
        currentA: stepper.currentA,
        temperatureC: stepper.temperatureC,
        askedA: demand.currentA,
      });
      const found = watch(window, {
        plan,
        stage,
        run,
        ambientC: battery.ambientC,
        missingAh,
        nowS: stepper.elapsedS,
        everyS: 60,
      });
      if (found?.action === 'pause') warm = true;
      else trip = found;
    }
    if (burst && stepper.elapsedS - lastPoint.atS >= gapS) point();
    if (leap && stage.do === 'pulse' && !warm && !run.finished)
      run = leap.after(plan, stage, run, stepper, gapS);
  }
  if (stepper.elapsedS > lastPoint.atS) point();
  const after = viewBattery(battery);
  return {
    trace,
    summary: {
      hours: stepper.elapsedS / 3600,
      finished: run.finished,
      stages: ended,
      ahIn: run.ahIn,
      energyWh: run.whIn,
      peakC,
      peakHydrogenLh: peakHydrogen,
      hydrogenL: after.hydrogenL - before.hydrogenL,
      waterG: after.waterLostG - before.waterLostG,
      chargeAtEnd: Math.max(0, after.poorest),
      hardBefore,
      hardAfter: meanHard(battery),
      pausedH: pausedS / 3600,
      trip,
    },
  };
}

function meanHard(battery: SimBattery): number {
  let sum = 0;
  for (let k = 0; k < battery.cells; k++) sum += viewCell(battery, k).hard;
  return sum / battery.cells;
}

/** The same trace in about so many points: evenly spread, its first and last kept. */
export function thinTrace(trace: Trace, points: number): Trace {
  const every = Math.max(1, Math.ceil(trace.hours.length / points));
  const last = trace.hours.length - 1;
  const thin = (row: number[]): number[] => row.filter((_, i) => i % every === 0 || i === last);
  return {
    hours: thin(trace.hours),
    voltageV: thin(trace.voltageV),
    currentA: thin(trace.currentA),
    temperatureC: thin(trace.temperatureC),
    charge: thin(trace.charge),
    hydrogenLh: thin(trace.hydrogenLh),
    waterG: thin(trace.waterG),
  };
}
