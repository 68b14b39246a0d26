import { type ChemistryKey, forCells } from '../batteries/chemistry.ts';
import { capacityLaw, capacityOf, CUT_OFF_12V, usualTestA } from '../capacity/capacityTest.ts';
import { fitPlan, type FittedPlan } from '../charging/fitPlan.ts';
import { TEMPERATURE_LIMITS } from '../charging/limits.ts';
import { COARSE, hasten, hoursOnLoad, restFor } from '../rehearsal/hasten.ts';
import { copyBattery, mixLayers, type SimBattery, topUp } from '../simulation/battery.ts';
import { viewBattery } from '../simulation/view.ts';
import { Stepper } from '../simulation/step.ts';
import { type Grade, GRADE_LINES, gradeOf } from './grades.ts';
import { WAKE_BELOW_12V } from './wakeCurrents.ts';
import { type Route, routePlan } from './routes.ts';
import type { Subject } from './subject.ts';
import type { Suspect } from './suspect.ts';

/** What a route does to one battery. */
export interface RouteOutcome {
  grade: Grade;
  /** What the usual capacity test after a day's rest would say of it, share of C20. */
  capacity: number;
  /** Rest voltage a day after the charge, V. */
  restV: number;
  /** Share of its charge lost in a week. */
  weekLoss: number;
  /** On the charger, h. */
  hours: number;
  peakC: number;
  /** It took no charge, or had to be switched off hot. */
  failed: 'not-woken' | 'hot' | null;
}

const WAKE_C = 0.05;
const WAKE_S = 2 * 3600;
const DAY = 24 * 3600;

/** Bursts are this many times longer where hundreds of twins are compared; brings back about 2 % less. */
const STRETCH = 4;

/** The charge of a route in amps and volts of this battery, as twins are taken through it; null where no plan of it fits. */
export function routeFit(
  route: Route,
  { chemistry, cells, c20Ah }: Pick<Subject, 'chemistry' | 'cells' | 'c20Ah'>,
): FittedPlan | null {
  const { fitted } = fitPlan(routePlan(route, chemistry), { chemistry, cells, c20Ah });
  return (
    fitted && {
      ...fitted,
      stages: fitted.stages.map((s) =>
        s.do === 'pulse' ? { ...s, onS: STRETCH * s.onS, offS: STRETCH * s.offS } : s,
      ),
    }
  );
}

/** Where a battery stands after a route, and what that did to it. */
export interface Passage {
  outcome: RouteOutcome;
  battery: SimBattery;
}

/**
 * Takes one suspect through a route: wake, prepare, charge, a day's rest, the capacity test of this bench, a week's hold.
 *
 * @param suspect stays as it is
 * @param open its cells can be topped up
 * @param fit the route's charge, see {@link routeFit}
 * @param from as it stands before; as it came, where nothing was done to it yet
 */
export function follow(
  suspect: Suspect,
  route: Route,
  fit: FittedPlan,
  open: boolean,
  from: SimBattery = suspect.battery,
): RouteOutcome {
  return passage(suspect, route, fit, open, from).outcome;
}

/** The same, with the battery as the week's hold leaves it. */
export function passage(
  suspect: Suspect,
  route: Route,
  fit: FittedPlan,
  open: boolean,
  from: SimBattery,
): Passage {
  const battery = copyBattery(from);
  const nothing = (
    hours: number,
    failed: RouteOutcome['failed'],
    peakC = battery.ambientC,
  ): Passage => ({
    outcome: {
      grade: 'none',
      capacity: 0,
      restV: viewBattery(battery).openV,
      weekLoss: 1,
      hours,
      peakC,
      failed,
    },
    battery,
  });
  if (suspect.causes.has('damaged')) return nothing(0, 'not-woken');
  for (const what of route.before) prepare(battery, what, open);
  const woken = wake(battery);
  let { hours } = woken;
  if (!woken.isAwake) return nothing(hours, 'not-woken');
  let peakC = battery.ambientC;
  for (let i = 0; i < route.times; i++) {
    const done = hasten(battery, fit, TEMPERATURE_LIMITS.stopC);
    hours += done.hours;
    peakC = Math.max(peakC, done.peakC);
    if (done.hot) return nothing(hours, 'hot', peakC);
    // A full one takes next to nothing, and is none the worse for it.
    if (!done.took && from === suspect.battery) return nothing(hours, 'not-woken', peakC);
  }
  const restV = restFor(battery, DAY);
  const capacity = tested(copyBattery(battery), fit.battery.chemistry);
  const dayAfter = viewBattery(battery).poorest;
  restFor(battery, 6 * DAY);
  const weekLoss = Math.max(0, dayAfter - viewBattery(battery).poorest);
  return {
    outcome: {
      grade: gradeOf(capacity, weekLoss, GRADE_LINES),
      capacity,
      restV,
      weekLoss,
      hours,
      peakC,
      failed: null,
    },
    battery,
  };
}

/**
 * Wakes a battery that is too low to be charged: C/20 for two hours at most; one that is awake is left alone.
 *
 * @param battery moves on
 */
export function wake(battery: SimBattery): { hours: number; isAwake: boolean } {
  const wakeV = forCells(WAKE_BELOW_12V, battery.cells);
  if (viewBattery(battery).openV >= wakeV) return { hours: 0, isAwake: true };
  const stepper = new Stepper(battery, COARSE);
  while (stepper.elapsedS < WAKE_S && stepper.voltageV < wakeV)
    stepper.step({ currentA: WAKE_C * battery.c20Ah, limitV: 2.4 * battery.cells }, 600);
  return { hours: stepper.elapsedS / 3600, isAwake: stepper.voltageV >= wakeV };
}

/** Capacity as this bench would test it, share of C20. @param battery moves on */
function tested(battery: SimBattery, chemistry: ChemistryKey): number {
  const { cells, c20Ah, ambientC } = battery;
  const currentA = usualTestA(c20Ah);
  const cutoffV = forCells(CUT_OFF_12V, cells);
  const minutes = 60 * hoursOnLoad(battery, currentA, cutoffV);
  return minutes > 0
    ? capacityOf(
        { currentA, minutes, cutoffV, temperatureC: ambientC, method: 'instrument' },
        capacityLaw(chemistry),
        cells,
        c20Ah,
      ).health
    : 0;
}

function prepare(battery: SimBattery, what: Route['before'][number], open: boolean): void {
  switch (what) {
    case 'water':
      if (open) topUp(battery);
      break;
    case 'open-agm':
      topUp(battery);
      break;
    case 'mix':
      mixLayers(battery);
      break;
    case 'acid':
      // Model and literature know no effect of the solution of its own: what is left is the slow charge after it.
      if (open) topUp(battery);
      break;
  }
}

/** May this route be taken with this family? */
export function routeFits(route: Route, chemistry: ChemistryKey, open: boolean): boolean {
  return route.kinds.includes(chemistry) && (!route.ports || open);
}
