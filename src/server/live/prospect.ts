import type { FittedPlan } from '../../core/charging/fitPlan.ts';
import { type Band, type Course, timeLeft } from '../../core/rehearsal/outlook.ts';
import { rehearse, thinTrace } from '../../core/rehearsal/rehearse.ts';
import type { SimBattery } from '../../core/simulation/battery.ts';
import { DESIGNS } from '../../core/simulation/design.ts';
import { makeTwins } from '../../core/simulation/twins.ts';
import type { Expectation } from '../../contract/chargeWire.ts';
import type { ChargeRow } from '../store/rows.ts';

const TWINS = 32;
const ENOUGH = 12;
/** How far a technician's guess of the charge may be off; and when there was none. Share of C20, one deviation. */
const GUESS_OFF = 0.07;
const UNKNOWN = { charge: 0.6, off: 0.25 };
/** Measured points that are compared with the twins lie this far apart, h. */
const POINT_H = 0.1;
const POINTS_KEPT = 120;

function twinsOf({ battery }: FittedPlan, guess: ChargeRow['guess'], count: number): SimBattery[] {
  const condition = {
    charge: guess.charge ?? UNKNOWN.charge,
    temperatureC: guess.temperatureC,
    spread: { charge: guess.charge === null ? UNKNOWN.off : GUESS_OFF, hard: 0.02 },
  };
  return makeTwins(DESIGNS[battery.chemistry], battery, condition, guess.roomC, count, 11);
}

/** What the best guess expects of a charge before it begins: the course that is drawn beside the measured one. */
export function expectationOf(plan: FittedPlan, guess: ChargeRow['guess']): Expectation {
  const [twin] = twinsOf(plan, guess, 1);
  const { trace, summary } = rehearse(twin as SimBattery, plan);
  const { hours, voltageV, currentA } = thinTrace(trace, POINTS_KEPT);
  const round = (values: number[], parts: number): number[] =>
    values.map((v) => Math.round(v * parts) / parts);
  return {
    totalH: summary.hours,
    hours: round(hours, 1000),
    voltageV: round(voltageV, 1000),
    currentA: round(currentA, 1000),
  };
}

/** What the twins expect of a live charge. They are rehearsed one at a time, so that nothing else waits. */
export class Prospect {
  readonly #waiting: SimBattery[];
  readonly #courses: Course[] = [];
  readonly #seen: { hours: number; voltageV: number }[] = [];

  constructor(
    private readonly plan: FittedPlan,
    guess: ChargeRow['guess'],
  ) {
    this.#waiting = twinsOf(plan, guess, TWINS);
  }

  /** Rehearses one more twin; false when all are done. */
  think(): boolean {
    const twin = this.#waiting.shift();
    if (!twin) return false;
    const { trace, summary } = rehearse(twin, this.plan);
    this.#courses.push({ trace, hours: summary.hours });
    return true;
  }

  see(hours: number, voltageV: number): void {
    const last = this.#seen.at(-1);
    if (!last || hours - last.hours >= POINT_H) this.#seen.push({ hours, voltageV });
  }

  /** Null until enough twins have been rehearsed to speak of a band. */
  left(hours: number): Band | null {
    if (this.#courses.length < ENOUGH) return null;
    const now = this.#seen.at(-1);
    return timeLeft(
      this.#courses,
      now ? [...this.#seen.slice(0, -1), { ...now, hours }] : [],
      this.plan.battery.cells,
    );
  }
}
