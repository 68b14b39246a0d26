import type { FittedPlan, PlanBattery } from '../charging/fitPlan.ts';
import { copyBattery, makeBattery, type SimBattery } from '../simulation/battery.ts';
import { DESIGNS } from '../simulation/design.ts';
import { makeTwins, type UncertainCondition } from '../simulation/twins.ts';
import { type Odds, oddsOf } from './outlook.ts';
import { COUNTED, rehearse, type Rehearsal, type RehearsalSummary } from './rehearse.ts';

/** Plans to be tried on one battery. Plain data: it crosses to a worker. */
export interface Comparison {
  battery: Pick<PlanBattery, 'chemistry' | 'cells' | 'c20Ah'>;
  condition: UncertainCondition;
  ambientC: number;
  /** Charge that is missing as far as known, Ah; the guards want it. */
  missingAh: number | null;
  plans: readonly FittedPlan[];
}

/** Each plan on the best guess: what is drawn at once. */
export function bestGuesses({
  battery,
  condition,
  ambientC,
  missingAh,
  plans,
}: Comparison): Rehearsal[] {
  const twin = makeBattery(DESIGNS[battery.chemistry], battery, condition, ambientC);
  return plans.map((plan) => rehearse(copyBattery(twin), plan, missingAh));
}

const SEED = 2_026;

/** Many twins through every plan, one rehearsal at a time so that whoever runs it can stop in between. */
export class TwinRun {
  readonly #twins: SimBattery[];
  readonly #summaries: RehearsalSummary[][];
  #done = 0;

  constructor(
    private readonly comparison: Comparison,
    readonly count: number,
  ) {
    const { battery, condition, ambientC, plans } = comparison;
    this.#twins = makeTwins(DESIGNS[battery.chemistry], battery, condition, ambientC, count, SEED);
    this.#summaries = plans.map(() => []);
  }

  /** Twins that have been through every plan. */
  get done(): number {
    return Math.floor(this.#done / this.comparison.plans.length);
  }

  /** Takes the next twin through its next plan; false when there is none left. */
  next(): boolean {
    const { plans, missingAh } = this.comparison;
    const i = this.#done % plans.length;
    const twin = this.#twins[this.done];
    const plan = plans[i];
    if (!twin || !plan) return false;
    this.#summaries[i]?.push(rehearse(copyBattery(twin), plan, missingAh, COUNTED).summary);
    this.#done += 1;
    return true;
  }

  /** What the twins so far say of each plan, in the plans' order. */
  odds(): Odds[] {
    return this.#summaries.map(oddsOf);
  }
}
