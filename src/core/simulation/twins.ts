import {
  type BatterySize,
  type CellCondition,
  type Condition,
  type Factors,
  makeBattery,
  type SimBattery,
} from './battery.ts';
import { type CellDesign, DESIGN_KEYS, type DesignKey } from './design.ts';
import { type Random, seeded } from './random.ts';

/** What is known of a battery's condition, and how far each guess may be off (one standard deviation). */
export interface UncertainCondition extends Condition {
  spread?: {
    /** State of charge and hard sulfate, share of C20; charge between its cells. */
    charge?: number;
    hard?: number;
    between?: number;
    temperatureC?: number;
  };
}

/** How far cells of one sound battery usually lie apart, share of C20. Assumed. */
const USUAL_BETWEEN = 0.01;

const clamp = (value: number, low: number, high: number): number =>
  value < low ? low : value > high ? high : value;

/**
 * Simulated batteries that could all be the one on the bench: its design's parameters drawn within
 * their spread, and its condition within what is known of it. The first twin is the best guess.
 *
 * @param size what its label says
 * @param count how many, at least 1
 * @param seed same seed, same twins
 */
export function makeTwins(
  design: CellDesign,
  size: BatterySize,
  condition: UncertainCondition,
  ambientC: number,
  count: number,
  seed = 1,
): SimBattery[] {
  const random = seeded(seed);
  return Array.from({ length: count }, (_, i) =>
    i === 0
      ? makeBattery(design, size, condition, ambientC)
      : makeBattery(
          design,
          size,
          drawCondition(size.cells, condition, random),
          ambientC,
          drawFactors(design, random),
        ),
  );
}

/**
 * Factors on a design's parameters: the logarithm of each is normal, at most two and a half deviations out.
 *
 * @param width of the parameters' spread: 1 is all that is not known of them, less where batteries are known to be alike
 */
export function drawFactors(design: CellDesign, random: Random, width = 1): Factors {
  const factors: Partial<Record<DesignKey, number>> = {};
  for (const key of DESIGN_KEYS) {
    const { spread } = design.parameters[key];
    // A share near 1 is not a matter of factors.
    if (spread === 1 || key === 'recombination') continue;
    // Acid and water move together: what a maker fills in is a strength, and that is known.
    if (key === 'water') factors.water = factors.acid ?? 1;
    else factors[key] = spread ** (width * clamp(random.normal(), -2.5, 2.5));
  }
  return factors;
}

function drawCondition(cells: number, condition: UncertainCondition, random: Random): Condition {
  const { spread = {} } = condition;
  const off = (deviation = 0): number => deviation * clamp(random.normal(), -2.5, 2.5);
  const charge = clamp(condition.charge + off(spread.charge), 0, 1);
  const hard = off(spread.hard);
  return {
    ...condition,
    charge,
    temperatureC: condition.temperatureC + off(spread.temperatureC),
    cells: Array.from({ length: cells }, (_, k): CellCondition => {
      const cell = condition.cells?.[k] ?? {};
      return {
        ...cell,
        hard: clamp((cell.hard ?? 0) + hard, 0, Math.max(0, (cell.active ?? 1) - 0.05)),
        behind: Math.max(0, (cell.behind ?? 0) + Math.abs(off(spread.between ?? USUAL_BETWEEN))),
      };
    }),
  };
}
