import { breathe, SLICE_MS } from './breathe.ts';
import { bestGuesses, type Comparison, TwinRun } from '../../core/rehearsal/compare.ts';
import type { Odds } from '../../core/rehearsal/outlook.ts';
import type { ShopCharger } from '../../core/chargers/charger.ts';
import { type ShopCourse, shopCourses } from '../../core/chargers/onTwin.ts';
import { type Rehearsal, thinTrace } from '../../core/rehearsal/rehearse.ts';

/** Points a line is drawn with: more than the eye tells apart at the width of a chart. */
const POINTS = 100;
let turn = 0;

/** What was drawn last, by plan: while a number of one plan is dragged the others are not rehearsed again. */
let drawn: { subject: string; byPlan: Map<string, Rehearsal> } = { subject: '', byPlan: new Map() };

function drawEach(comparison: Comparison): Rehearsal[] {
  const { plans, ...subject } = comparison;
  const known =
    JSON.stringify(subject) === drawn.subject ? drawn.byPlan : new Map<string, Rehearsal>();
  const byPlan = new Map<string, Rehearsal>();
  const rehearsed = plans.map((plan) => {
    const key = JSON.stringify(plan);
    const [fresh] = known.has(key) ? [] : bestGuesses({ ...comparison, plans: [plan] });
    const rehearsal = known.get(key) ?? {
      trace: thinTrace((fresh as Rehearsal).trace, POINTS),
      summary: (fresh as Rehearsal).summary,
    };
    byPlan.set(key, rehearsal);
    return rehearsal;
  });
  drawn = { subject: JSON.stringify(subject), byPlan };
  return rehearsed;
}

/** What the worker does for the page. */
export const rehearsalApi = {
  /** Each plan on the best guess, between two slices of whatever else is under way. */
  draw: (comparison: Comparison): Rehearsal[] => drawEach(comparison),

  /** What the shop's chargers do with the best guess by themselves. */
  chargers: (
    chargers: readonly ShopCharger[],
    { battery, condition, ambientC }: Omit<Comparison, 'plans'>,
  ): ShopCourse[] => shopCourses(chargers, battery, condition, ambientC),

  /** Many twins through every plan; null when given up for another such run or by {@link rehearsalApi.cancel}. `tell` hears now and then how far it is. */
  async odds(
    comparison: Comparison,
    count: number,
    tell: (done: number, odds: Odds[]) => void,
  ): Promise<Odds[] | null> {
    turn += 1;
    const mine = turn;
    const run = new TwinRun(comparison, count);
    let told = performance.now();
    for (;;) {
      const began = performance.now();
      while (performance.now() - began < SLICE_MS) if (!run.next()) return run.odds();
      if (performance.now() - told > 250) {
        told = performance.now();
        tell(run.done, run.odds());
      }
      await breathe();
      if (turn !== mine) return null;
    }
  },

  cancel(): void {
    turn += 1;
  },
};

export type RehearsalApi = typeof rehearsalApi;
