import { CHEMISTRIES } from '../batteries/chemistry.ts';
import type { PlanBattery } from '../charging/fitPlan.ts';
import { FINISH_RULES } from '../charging/progress.ts';
import { emptyTrace, type Trace } from '../rehearsal/rehearse.ts';
import { type Condition, makeBattery, type SimBattery } from '../simulation/battery.ts';
import { DESIGNS } from '../simulation/design.ts';
import { Stepper, type Tolerance } from '../simulation/step.ts';
import { viewBattery } from '../simulation/view.ts';
import type { Behaviour } from './behaviour.ts';
import { ChargerRun, SETTLE_S } from './chargerRun.ts';

/** How a charger and a person bring a charge to its end. */
export interface ChargerCourse {
  /** Hours with current on. */
  hours: number;
  /** It called the battery full · a person switched it off, at the ceiling or when the voltage no longer rose · its timer gave up · nothing had ended it when we looked no further. */
  end: 'says-full' | 'switched-off' | 'timer' | 'endless';
  /** Of C20, in the poorest cell, 0–1. */
  chargeAtEnd: number;
  ahIn: number;
  highestV: number;
  peakC: number;
  hydrogenL: number;
  waterG: number;
  trace: Trace;
}

/** A person at a charger that nothing limits: switches a sealed battery off at this voltage, a flooded one when it no longer rises. */
export interface SwitchOff {
  atV: number | null;
}

const COURSE: Readonly<Tolerance> = {
  voltsPerCell: 0.006,
  charge: 0.005,
  longestS: 1800,
  longestRestS: 3600,
  transient: 1,
  patience: 140,
};
/** We look no further than this. h */
const MOST_H = 96;
const MOST_STEPS = 60_000;
const POINTS = 240;
/** Voltage that does not rise by more than this over two hours, V per cell: three hourly readings. */
const FLAT_S = (FINISH_RULES.readings - 1) * FINISH_RULES.apartS;

/**
 * What a charger does with a battery by itself: which current flows, when it says that it is full, and how full the battery is
 * then. Nothing but a person watches it.
 *
 * @param battery moves on; pass a copy to keep it
 */
export function chargerCourse(
  behaviour: Behaviour,
  battery: SimBattery,
  off: SwitchOff,
): ChargerCourse {
  const { endsItself } = behaviour;
  const stepper = new Stepper(battery, COURSE);
  const run = new ChargerRun(behaviour, stepper, battery);
  const before = viewBattery(battery);
  const drawn = new Drawing(stepper, battery);
  let highestV = stepper.voltageV;
  let peakC = stepper.temperatureC;
  let end: ChargerCourse['end'] | null = null;
  const seen = (): void => {
    if (run.peakV > highestV) highestV = run.peakV;
    if (stepper.temperatureC > peakC) peakC = stepper.temperatureC;
    drawn.point();
  };
  const goesOn = (): boolean =>
    end === null &&
    run.believes === 'charging' &&
    stepper.elapsedS < MOST_H * 3600 &&
    stepper.steps < MOST_STEPS;

  let flat = { v: -Infinity, sinceS: 0 };
  while (goesOn()) {
    run.step(Infinity);
    seen();
    if (run.phase?.does !== 'line') continue;
    const { voltageV } = stepper;
    if (voltageV - flat.v > FINISH_RULES.flatVPerCell * battery.cells)
      flat = { v: voltageV, sinceS: stepper.elapsedS };
    const atV = off.atV !== null && run.inPhaseS > SETTLE_S && voltageV >= off.atV - 1e-3;
    // A sulfated battery stands still long before it is full: below this no full cell stands with current in it.
    const noRise =
      off.atV === null &&
      voltageV >= FINISH_RULES.fullVPerCell * battery.cells &&
      stepper.elapsedS - flat.sinceS >= FLAT_S;
    if (atV || noRise) end = 'switched-off';
  }
  if (run.believes === 'timer') end = 'timer';
  if (run.believes === 'full' && endsItself) end = 'says-full';
  drawn.point(true);
  const after = viewBattery(battery);
  return {
    hours: stepper.elapsedS / 3600,
    end: end ?? 'endless',
    chargeAtEnd: Math.max(0, after.poorest),
    ahIn: after.chargeInAh - before.chargeInAh,
    highestV,
    peakC,
    hydrogenL: after.hydrogenL - before.hydrogenL,
    waterG: after.waterLostG - before.waterLostG,
    trace: drawn.trace,
  };
}

/** A trace in about so many points. */
class Drawing {
  readonly trace = emptyTrace();
  #last = { s: -Infinity, ah: 0, hydrogenL: 0 };
  readonly #waterG: number;

  constructor(
    private readonly stepper: Stepper,
    private readonly battery: SimBattery,
  ) {
    this.#waterG = viewBattery(battery).waterLostG;
    this.point();
  }

  point(last = false): void {
    const { stepper, trace } = this;
    const pastS = stepper.elapsedS - this.#last.s;
    // The longer it lasts the further apart they lie.
    if (pastS < Math.max(60, stepper.elapsedS / POINTS) && !(last && pastS > 0)) return;
    const view = viewBattery(this.battery);
    const perHour = Number.isFinite(pastS) ? 3600 / pastS : 0;
    trace.hours.push(stepper.elapsedS / 3600);
    trace.voltageV.push(stepper.voltageV);
    trace.currentA.push(
      perHour > 0 ? (view.chargeInAh - this.#last.ah) * perHour : stepper.currentA,
    );
    trace.temperatureC.push(view.temperatureC);
    trace.charge.push(Math.max(0, view.poorest));
    trace.hydrogenLh.push((view.hydrogenL - this.#last.hydrogenL) * perHour);
    trace.waterG.push(view.waterLostG - this.#waterG);
    this.#last = { s: stepper.elapsedS, ah: view.chargeInAh, hydrogenL: view.hydrogenL };
  }
}

const known = new Map<string, ChargerCourse>();
const MOST_KNOWN = 300;
/** Shares are told apart by a fiftieth. */
const SHARES = 50;

/** How a battery is taken to be when it comes to the charger. */
export interface ChargedFrom {
  /** Of C20, 0–1. */
  share: number;
  /** Held back by hard sulfate, share of C20, and how closed its film is: 0 open, 1 after half a year empty. */
  hard: number;
  film: number;
  roomC: number;
}

/**
 * A battery that has stood may hold a quarter of its charge in hard sulfate, under a film as after half a year empty: a middle case.
 *
 * @param share of C20 believed to be in it
 */
export const perhapsSulfated = (share: number): Omit<ChargedFrom, 'roomC'> => ({
  share: Math.min(share, 1 - STOOD.hard),
  ...STOOD,
});
const STOOD = { hard: 0.25, film: 1 };

/** The same, on a battery of a size as it came; worked out once for each. */
export function courseOn(
  behaviour: Behaviour,
  battery: PlanBattery,
  from: ChargedFrom,
  off: SwitchOff,
): ChargerCourse {
  const condition: Condition = {
    charge: Math.round(from.share * SHARES) / SHARES,
    temperatureC: Math.round(from.roomC),
    cells: Array.from({ length: battery.cells }, () => ({ hard: from.hard, film: from.film })),
  };
  const key = JSON.stringify([behaviour, battery, condition, off]);
  const before = known.get(key);
  if (before) return before;
  const course = chargerCourse(
    behaviour,
    makeBattery(DESIGNS[battery.chemistry], battery, condition),
    off,
  );
  if (known.size >= MOST_KNOWN) known.clear();
  known.set(key, course);
  return course;
}

/** Where a person switches off a charger that nothing limits: a flooded battery gases until its voltage no longer rises; a sealed one must not. */
export const switchOff = (battery: PlanBattery, ceilingV: number): SwitchOff => ({
  atV: CHEMISTRIES[battery.chemistry].key === 'flooded' ? null : ceilingV,
});
