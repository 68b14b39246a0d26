import type { FittedPlan, FittedStage } from '../charging/fitPlan.ts';
import type { PlanRun } from '../charging/runPlan.ts';
import { REACTION_WATER_G } from '../electrolyte/faraday.ts';
import type { SimBattery } from '../simulation/battery.ts';
import { CASE, CELL, CELL_SIZE } from '../simulation/layout.ts';
import type { Stepper } from '../simulation/step.ts';

/** Most that a leap may change a state, by kind: share of C20, V, °C. */
const MOST_CHARGE = 0.003;
const MOST_VOLTS = 0.004;
const MOST_FILM = 0.02;
const MOST_C = 0.3;

/**
 * Days of pulses are thousands of bursts that differ little from each other. Two are simulated in
 * full; when the second did to the battery what the first did, the same again is added for as many
 * as the state allows. What is conserved stays conserved: a sum of periods is a period many times.
 */
export class PulseLeap {
  #starts: { state: Float64Array; run: PlanRun }[] = [];
  #periods = 0;
  #stage = -1;

  /** @param freely times the change of state that one leap may bring: 1 for what is drawn, more where hundreds are compared */
  constructor(
    private readonly battery: SimBattery,
    private readonly freely = 1,
  ) {}

  /**
   * Call after every step of a pulse stage.
   *
   * @param mostS longest leap, s
   * @returns the run after the leap, or as it was
   */
  after(
    plan: FittedPlan,
    stage: FittedStage,
    run: PlanRun,
    stepper: Stepper,
    mostS: number,
  ): PlanRun {
    const period = stage.onS + stage.offS;
    const periods = Math.floor((run.stageS + 1e-6) / period);
    if (run.stage !== this.#stage) this.#begin(run.stage, periods);
    if (periods === this.#periods) return run;
    this.#periods = periods;
    this.#starts.push({ state: this.battery.state.slice(), run });
    if (this.#starts.length < 3) return run;
    const [a, b, c] = this.#starts as [Start, Start, Start];
    const timeS = Math.min(
      ...stage.until.map((u) => (u.when === 'time' ? u.s : Infinity)),
      run.stageS + plan.mostS - run.totalS,
    );
    const most = Math.floor(Math.min(mostS, timeS - run.stageS - period) / period);
    const many = Math.min(
      most,
      periodsAllowed(this.battery, [a.state, b.state, c.state], this.freely),
    );
    if (many < 1 || c.run.flatS < b.run.flatS || c.run.flatV !== b.run.flatV) {
      this.#starts = [b, c];
      return run;
    }
    addPeriods(this.battery, b.state, c.state, many);
    stepper.elapsedS += many * period;
    this.#begin(run.stage, periods + many);
    const far = (key: 'stageS' | 'totalS' | 'stageAh' | 'ahIn' | 'whIn' | 'flatS'): number =>
      c.run[key] + many * (c.run[key] - b.run[key]);
    const leapt = {
      ...run,
      stageS: far('stageS'),
      totalS: far('totalS'),
      stageAh: far('stageAh'),
      ahIn: far('ahIn'),
      whIn: far('whIn'),
      flatS: far('flatS'),
    };
    this.#starts = [{ state: this.battery.state.slice(), run: leapt }];
    return leapt;
  }

  #begin(stage: number, periods: number): void {
    this.#stage = stage;
    this.#periods = periods;
    this.#starts = [];
  }
}

/**
 * Adds so many periods, each of which does to the battery what the last one did.
 *
 * @param before and after the last period; `battery` stands as after it
 */
export function addPeriods(
  battery: SimBattery,
  before: Float64Array,
  after: Float64Array,
  many: number,
): void {
  const { state } = battery;
  for (let i = 0; i < state.length; i++)
    state[i] = (after[i] as number) + many * ((after[i] as number) - (before[i] as number));
  settle(battery, after);
}

/**
 * Volts of plates and pores follow whatever else there is within a burst or two, so they stay as they were. The little charge
 * that plates would have taken goes the way of all other charge.
 */
function settle({ cells, state, design }: SimBattery, before: Float64Array): void {
  for (let k = 0; k < cells; k++) {
    const s = k * CELL_SIZE;
    const held =
      design.doubleLayer *
      ((state[s + CELL.plates] as number) - (before[s + CELL.plates] as number));
    state[s + CELL.plates] = before[s + CELL.plates] as number;
    state[s + CELL.transport] = before[s + CELL.transport] as number;
    const goes = Math.min(held, state[s + CELL.soft] as number);
    (state[s + CELL.soft] as number) -= goes;
    (state[s + CELL.pore] as number) += goes;
    (state[s + CELL.water] as number) -= REACTION_WATER_G * goes;
    (state[s + CELL.gassed] as number) += held - goes;
  }
}

/** How many more periods like the last one the state can take. */
export function periodsAllowed(
  { cells }: SimBattery,
  [a, b, c]: readonly [Float64Array, Float64Array, Float64Array],
  freely: number,
): number {
  let many = Infinity;
  const hold = (i: number, most: number): void => {
    const last = (c[i] as number) - (b[i] as number);
    const bend = last - ((b[i] as number) - (a[i] as number));
    const allowed = most * freely;
    many = Math.min(
      many,
      allowed / Math.max(Math.abs(last), 1e-12),
      Math.sqrt((2 * allowed) / Math.max(Math.abs(bend), 1e-12)) * 0.5,
    );
  };
  for (let k = 0; k < cells; k++) {
    const s = k * CELL_SIZE;
    for (const offset of [CELL.soft, CELL.hard, CELL.pore, CELL.lower, CELL.upper])
      hold(s + offset, MOST_CHARGE);
    hold(s + CELL.film, MOST_FILM);
    hold(s + CELL.surface, MOST_VOLTS);
  }
  hold(cells * CELL_SIZE + CASE.temperatureC, MOST_C);
  return Math.floor(many);
}

interface Start {
  state: Float64Array;
  run: PlanRun;
}
