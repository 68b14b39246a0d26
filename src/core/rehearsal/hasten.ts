import type { FittedPlan } from '../charging/fitPlan.ts';
import { advancePlan, demandOf, PLAN_START, type PlanRun, stageOf } from '../charging/runPlan.ts';
import type { SimBattery } from '../simulation/battery.ts';
import { Stepper, type Tolerance } from '../simulation/step.ts';
import { PulseLeap } from './leap.ts';

/** What a plan did to a battery, in so many words. */
export interface Hastened {
  hours: number;
  finished: boolean;
  peakC: number;
  ahIn: number;
  /** Charge went in at all: the current never stayed near nothing throughout. */
  took: boolean;
  /** Switched off for good because it was hotter than this plan allows. */
  hot: boolean;
}

/** Coarse: a few hundredths of a volt, and charge within about 1 %, for comparing hundreds of twins. */
export const COARSE: Readonly<Tolerance> = {
  voltsPerCell: 0.01,
  charge: 0.008,
  longestS: 3600,
  longestRestS: 12 * 3600,
  transient: 1,
  patience: 140,
};
const MOST_STEPS = 20_000;
const FREELY = 8;
const LONGEST_LEAP_S = 5 * 3600;
/** Below this share of C20 nothing has gone in. */
const NOTHING_C = 0.01;

/**
 * Runs a plan on a simulated battery as fast as it goes: no trace, no guards but heat. For the odds of
 * many twins; what is drawn or supervised is rehearsed in full.
 *
 * @param battery moves on; pass a copy to keep it
 * @param stopC hotter than this it is switched off for good
 */
export function hasten(battery: SimBattery, plan: FittedPlan, stopC: number): Hastened {
  const stepper = new Stepper(battery, COARSE);
  const leap = new PulseLeap(battery, FREELY);
  let run: PlanRun = PLAN_START;
  let peakC = stepper.temperatureC;
  let ahIn = 0;
  while (!run.finished && peakC <= stopC && stepper.steps < MOST_STEPS && run.totalS < plan.mostS) {
    const stage = stageOf(plan, run);
    if (!stage) break;
    const demand = demandOf(plan, run, stepper.temperatureC);
    const dtS = stepper.step(
      demand.currentA < 0
        ? { currentA: demand.currentA, limitV: Infinity, floorV: 0 }
        : { currentA: demand.currentA, limitV: demand.limitV },
      Math.max(0.01, Math.min(demand.holdsS, plan.mostS - run.totalS, 3600)),
    );
    if (stepper.temperatureC > peakC) peakC = stepper.temperatureC;
    const before = run.stage;
    const ah = (stepper.currentA * dtS) / 3600;
    if (ah > 0) ahIn += ah;
    run = advancePlan(plan, run, {
      dtS,
      voltageV: stepper.voltageV,
      currentA: stepper.currentA,
      temperatureC: stepper.temperatureC,
    });
    if (run.stage !== before) stepper.nextS = Math.min(stepper.nextS, 20);
    else if (stage.do === 'pulse' && !run.finished)
      run = leap.after(plan, stage, run, stepper, LONGEST_LEAP_S);
  }
  const hours = stepper.elapsedS / 3600;
  return {
    hours,
    finished: run.finished,
    peakC,
    ahIn: Math.max(ahIn, run.ahIn),
    took: Math.max(ahIn, run.ahIn) > NOTHING_C * battery.c20Ah,
    hot: peakC > stopC,
  };
}

/** Rests it for so long. */
export function restFor(battery: SimBattery, seconds: number): number {
  const stepper = new Stepper(battery, COARSE);
  stepper.run({ currentA: 0, limitV: Infinity }, seconds);
  return stepper.voltageV;
}

/**
 * Hours a battery carries a constant current down to a cut-off.
 *
 * @param battery moves on; pass a copy to keep it
 * @param currentA taken out of it, above zero
 * @param cutV volts of the battery it is stopped at
 */
export function hoursOnLoad(battery: SimBattery, currentA: number, cutV: number): number {
  const stepper = new Stepper(battery, COARSE);
  const mostS = (MOST_TIMES * 3600 * battery.c20Ah) / currentA;
  let before = { s: 0, v: stepper.voltageV };
  while (stepper.elapsedS < mostS) {
    stepper.step({ currentA: -currentA, limitV: Infinity, floorV: 0 }, 1800);
    if (stepper.voltageV <= cutV) {
      const share =
        before.v > stepper.voltageV
          ? Math.max(0, Math.min(1, (before.v - cutV) / (before.v - stepper.voltageV)))
          : 1;
      return (before.s + share * (stepper.elapsedS - before.s)) / 3600;
    }
    before = { s: stepper.elapsedS, v: stepper.voltageV };
  }
  return mostS / 3600;
}
/** No battery holds this many times its rating. */
const MOST_TIMES = 1.5;
