import type { FittedPlan } from '../../src/core/charging/fitPlan.ts';
import {
  EMPTY_WINDOW,
  type GuardWindow,
  type LiveTrip,
  mayResume,
  remember,
  watch,
} from '../../src/core/charging/liveGuards.ts';
import {
  advancePlan,
  demandOf,
  PLAN_START,
  type PlanRun,
  stageOf,
} from '../../src/core/charging/runPlan.ts';
import type { Random } from '../../src/core/simulation/random.ts';
import type { SimBattery } from '../../src/core/simulation/battery.ts';
import { CASE, CELL_SIZE } from '../../src/core/simulation/layout.ts';
import { Stepper, type Tolerance } from '../../src/core/simulation/step.ts';

/** What an instrument or a hand does wrong, from a moment on. */
export type Mischief = 'lead-off' | 'over-volts' | 'silent' | 'frozen' | 'heated' | 'reversed';

export interface Supervised {
  trip: LiveTrip | null;
  /** Hours until it, or until the end. */
  hours: number;
  finished: boolean;
  run: PlanRun;
}

const COARSE: Readonly<Tolerance> = {
  voltsPerCell: 0.004,
  charge: 0.004,
  longestS: 1800,
  longestRestS: 3600,
  transient: 1,
};
/** A meter's noise, V and A and °C, as the stand-ins' converters have it. */
const NOISE = { voltageV: 0.0006, currentA: 0.0008, temperatureC: 0.03 };
/** A case that heats from somewhere, °C a second. */
const HEATED_C_PER_S = 0.02;

/**
 * A charge as the bench supervises it: a sample every so many seconds, the plan's next step and every guard with each.
 *
 * @param wrong what goes wrong, and after how many seconds
 */
export function supervise(
  battery: SimBattery,
  plan: FittedPlan,
  random: Random,
  {
    missingAh = null as number | null,
    everyS = 10,
    wrong = null as { what: Mischief; afterS: number } | null,
  } = {},
): Supervised {
  const stepper = new Stepper(battery, COARSE);
  let run: PlanRun = PLAN_START;
  let window: GuardWindow = EMPTY_WINDOW;
  let warm = false;
  let atS = 0;
  let frozen: { voltageV: number; currentA: number; temperatureC: number } | null = null;
  while (!run.finished && atS < 1.6 * plan.mostS) {
    const stage = stageOf(plan, run);
    if (!stage) break;
    const on = wrong && atS >= wrong.afterS ? wrong.what : null;
    const demand = warm
      ? { currentA: 0, limitV: 0, holdsS: everyS }
      : demandOf(plan, run, stepper.temperatureC);
    const dtS = Math.max(0.5, Math.min(everyS, demand.holdsS));
    const before = run.stage;
    const currentA = on === 'lead-off' ? 0 : demand.currentA;
    const limitV = on === 'over-volts' ? demand.limitV + 0.09 * battery.cells : demand.limitV;
    for (
      let left = dtS;
      left > 1e-6;
      left -= stepper.step({ currentA, limitV: currentA < 0 ? Infinity : limitV }, left)
    );
    atS += dtS;
    if (on === 'heated')
      (battery.state[battery.cells * CELL_SIZE + CASE.temperatureC] as number) +=
        HEATED_C_PER_S * dtS;
    let sample = {
      voltageV:
        (on === 'lead-off' && demand.currentA > 0
          ? demand.limitV
          : on === 'reversed'
            ? -stepper.voltageV
            : stepper.voltageV) +
        NOISE.voltageV * random.normal(),
      currentA: (on === 'lead-off' ? 0 : stepper.currentA) + NOISE.currentA * random.normal(),
      temperatureC: stepper.temperatureC + NOISE.temperatureC * random.normal(),
    };
    if (on === 'frozen') sample = frozen ??= sample;
    if (warm) warm = !mayResume(stepper.temperatureC, battery.ambientC, plan);
    else
      run = advancePlan(plan, run, {
        dtS,
        ...sample,
        currentA: on === 'lead-off' ? 0 : stepper.currentA,
      });
    if (run.stage !== before) window = EMPTY_WINDOW;
    if (on !== 'silent') window = remember(window, { atS, ...sample, askedA: demand.currentA });
    const now = stageOf(plan, run);
    if (!now) break;
    const trip = watch(window, {
      plan,
      stage: now,
      run,
      ambientC: battery.ambientC,
      missingAh,
      nowS: atS,
      everyS,
    });
    if (trip?.action === 'pause') warm = true;
    else if (trip) return { trip, hours: atS / 3600, finished: false, run };
  }
  return { trip: null, hours: atS / 3600, finished: run.finished, run };
}
