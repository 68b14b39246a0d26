import { leadAcidKind } from '../batteries/kinds.ts';
import type { BatteryModel } from '../batteries/model.ts';
import { follow, routeFit, routeFits, type RouteOutcome } from '../diagnosis/outcome.ts';
import { GRADE_LINES } from '../diagnosis/grades.ts';
import { type FamilyKey, type PictureKey, PICTURES } from '../diagnosis/practice/families.ts';
import { type RouteKey, ROUTES } from '../diagnosis/routes.ts';
import { type Condition, makeBattery } from '../simulation/battery.ts';
import { DESIGNS } from '../simulation/design.ts';
import { labelledSize } from '../simulation/labelled.ts';
import type { Random } from '../simulation/random.ts';
import { REST, Stepper } from '../simulation/step.ts';
import { alike, oneOf } from './cases/shop.ts';
import type { Decision, Truth } from './case.ts';

/** What a battery of a picture truly is, for the simulation, and which ends are right for it. */

/**
 * What a battery of a picture truly is.
 *
 * @param random says how bad it is: evenly drawn, or the same number for all of it, 0 mild to 1 bad
 */
export function truthOf(
  picture: PictureKey,
  { cells, c20Ah }: BatteryModel,
  random: Random,
): Truth {
  const between = (low: number, high: number): number => low + (high - low) * random.even();
  const odd = Math.floor(random.even() * cells);
  const family: FamilyKey = PICTURES[picture];
  const truth = (condition: Omit<Condition, 'temperatureC'>, more: Partial<Truth> = {}): Truth => ({
    condition: { ...condition, temperatureC: 20 },
    family,
    ...more,
  });
  const ohm = (at60: number): number => (at60 * 60) / c20Ah;
  switch (picture) {
    case 'damaged':
      return truth({ charge: between(0.2, 0.7) }, { never: true });
    case 'reversed':
      return truth({ charge: 0.5, cells: alike(cells, { reversed: true }) }, { never: true });
    case 'shorted':
      return truth(
        {
          charge: between(0.6, 0.9),
          cells: oneOf(cells, odd, { shortOhm: ohm(between(0.03, 0.12)), behind: 0.6 }, {}),
        },
        { stoodH: between(4, 30) },
      );
    case 'open':
      return truth({
        charge: between(0.6, 0.95),
        cells: oneOf(cells, odd, { jointOhm: ohm(between(0.2, 3)) }, {}),
      });
    case 'leaking':
      return truth(
        {
          charge: between(0.6, 0.85),
          cells: oneOf(cells, odd, { shortOhm: ohm(between(2, 5)), behind: 0.05 }, {}),
        },
        { stoodH: 12 },
      );
    case 'weak':
      return truth({
        charge: between(0.8, 0.95),
        cells: oneOf(
          cells,
          odd,
          { active: between(0.25, 0.45), behind: between(0.15, 0.28) },
          { active: 0.93 },
        ),
      });
    case 'worn':
      return truth({
        charge: between(0.8, 0.95),
        resistance: between(1.2, 1.6),
        cells: alike(cells, { active: between(0.35, 0.6) }),
      });
    case 'dry':
      return truth({
        charge: between(0.75, 0.95),
        cells: alike(cells, { dry: between(0.18, 0.38), active: between(0.8, 0.95) }),
      });
    case 'uncovered':
      return truth({
        charge: between(0.5, 0.8),
        cells: alike(cells, { dry: between(0.28, 0.4), active: between(0.7, 0.9) }),
      });
    case 'hard':
      return truth({
        charge: between(0.08, 0.3),
        cells: alike(cells, { hard: between(0.45, 0.65), film: between(1.5, 2.3) }),
      });
    case 'light':
      return truth({
        charge: between(0.3, 0.6),
        cells: alike(cells, { hard: between(0.12, 0.26), film: between(0.4, 1) }),
      });
    case 'layered':
      return truth({ charge: between(0.7, 0.85), layeredSg: between(0.06, 0.1) });
    case 'flat': {
      const deep = random.even() < 0.2;
      return truth(
        deep
          ? { charge: -0.1, cells: alike(cells, { platesV: between(0.3, 1.2) }) }
          : { charge: between(0.08, 0.5) },
      );
    }
    case 'nothing':
      return truth({ charge: between(0.9, 0.98) });
  }
}

const TRIED: readonly RouteKey[] = ['recharge', 'slow-restore', 'mix'];
/** So near to a line of the verdict either side is right, share of C20. */
const NEAR_LINE = 0.06;

/** What the best of the usual routes would make of a battery, and which it is; null where none fits it. */
export function bestWay(
  truth: Truth,
  model: BatteryModel,
  open: boolean,
): { route: RouteKey; outcome: RouteOutcome } | null {
  const { chemistry } = leadAcidKind(model.kind);
  const battery = makeBattery(DESIGNS[chemistry], labelledSize(model), truth.condition, 20);
  new Stepper(battery).run(REST, (truth.stoodH ?? 0) * 3600);
  const suspect = {
    chances: new Float64Array(0),
    battery,
    causes: new Set<never>(),
    primary: 'flat' as const,
    active: 1,
    hard: 0,
  };
  const ways = TRIED.filter((key) => routeFits(ROUTES[key], chemistry, open)).flatMap((route) => {
    const fit = routeFit(ROUTES[route], { chemistry, cells: model.cells, c20Ah: model.c20Ah });
    return fit ? [{ route, outcome: follow(suspect, ROUTES[route], fit, open) }] : [];
  });
  return ways.toSorted((x, y) => rank(y.outcome) - rank(x.outcome))[0] ?? null;
}

/** Which ends are right: by what the best of the usual routes would make of it, which only the simulation can know. */
export function endsOf(truth: Truth, model: BatteryModel, open: boolean): Decision[] {
  if (truth.never) return ['recycle'];
  const best = bestWay(truth, model, open)?.outcome;
  if (!best || best.grade === 'none') {
    const near = (best?.weekLoss ?? 1) <= GRADE_LINES.weekLoss;
    return near && (best?.capacity ?? 0) > GRADE_LINES.light - NEAR_LINE
      ? ['recycle', 'light']
      : ['recycle'];
  }
  if (best.grade === 'return')
    return best.capacity < GRADE_LINES.return + NEAR_LINE ? ['passed', 'light'] : ['passed'];
  if (best.capacity > GRADE_LINES.return - NEAR_LINE) return ['light', 'passed'];
  return best.capacity < GRADE_LINES.light + NEAR_LINE ? ['light', 'recycle'] : ['light'];
}

const rank = ({ grade, capacity }: { grade: string; capacity: number }): number =>
  (grade === 'return' ? 2 : grade === 'light' ? 1 : 0) + capacity / 10;

/** Ends beside the right one that can be defended. */
export const DEFENSIBLE: Readonly<Partial<Record<Decision, readonly Decision[]>>> = {
  passed: ['light'],
  light: ['recycle'],
};
