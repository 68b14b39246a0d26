import { type ChemistryKey, CUT_OFF_PER_CELL } from '../batteries/chemistry.ts';
import { leadAcidKind } from '../batteries/kinds.ts';
import { labelMilliohm } from '../batteries/labelResistance.ts';
import { type BatteryModel, RESERVE_A } from '../batteries/model.ts';
import { type BatterySize, type Factors, makeBattery } from './battery.ts';
import { DESIGNS } from './design.ts';
import { Stepper } from './step.ts';

/**
 * What antimony in the grids changes, against the calcium of the design: it gasses sooner. So it loses about 8 % a
 * month at 20 °C instead of 4, floats at 1.5–5 mA/Ah after three days instead of 0.3–1.5 (IEEE class figures), and ends its
 * charge at a larger current.
 */
const ANTIMONY: Factors = { gassing: 3 };

/** How much faster or slower acid may get about than in the design, to meet a printed curve. */
const DIFFUSION = [0.2, 6] as const;
const HALVINGS = 14;
const known = new Map<string, Factors>();
const MOST_KNOWN = 200;

/** A battery as its twin is made of it: its size, its resistance and what else its label says. */
export function labelledSize(model: BatteryModel): BatterySize {
  const { chemistry, alloy } = leadAcidKind(model.kind);
  const size = { c20Ah: model.c20Ah, cells: model.cells, milliohm: labelMilliohm(model) };
  const labelFactors = {
    ...(alloy === 'antimony' ? ANTIMONY : {}),
    ...curveFactors(chemistry, size, model),
  };
  return Object.keys(labelFactors).length === 0 ? size : { ...size, labelFactors };
}

/**
 * Factors with which a simulated battery gives what its label prints at C/10 and for its reserve minutes, and at C/20 what it
 * gave before: how fast acid gets into the plates decides the first two, how far a discharge reaches the last. A printed curve
 * that no battery of the family has is met as nearly as one can.
 */
function curveFactors(
  chemistry: ChemistryKey,
  size: BatterySize,
  { c10Ah, reserveMin }: Pick<BatteryModel, 'c10Ah' | 'reserveMin'>,
): Factors {
  const points = [
    ...(typeof c10Ah === 'number' ? [{ amps: c10Ah / 10, hours: 10 }] : []),
    ...(typeof reserveMin === 'number' ? [{ amps: RESERVE_A, hours: reserveMin / 60 }] : []),
  ];
  if (points.length === 0) return {};
  const key = JSON.stringify([chemistry, size, points]);
  const before = known.get(key);
  if (before) return before;
  const hours = (labelFactors: Factors, amps: number): number =>
    hoursDown(chemistry, { ...size, labelFactors }, amps);
  const c20Amps = size.c20Ah / 20;
  const wanted = hours({}, c20Amps);
  /** With acid so fast, the reach that keeps C20, and how far the curve then lies above the printed points. */
  const curveWith = (diffusion: number): { factors: Factors; above: number } => {
    let reach = 1;
    for (let i = 0; i < 2; i++) reach *= wanted / hours({ diffusion, reach }, c20Amps);
    const factors = { diffusion, reach };
    return {
      factors,
      above: points.reduce((sum, p) => sum + Math.log(hours(factors, p.amps) / p.hours), 0),
    };
  };
  let [low, high] = DIFFUSION as readonly [number, number];
  for (let i = 0; i < HALVINGS; i++) {
    const middle = Math.sqrt(low * high);
    if (curveWith(middle).above < 0) low = middle;
    else high = middle;
  }
  const { factors } = curveWith(Math.sqrt(low * high));
  if (known.size >= MOST_KNOWN) known.clear();
  known.set(key, factors);
  return factors;
}

/** Hours a full battery gives a current for, down to the usual end, 25 °C. */
function hoursDown(chemistry: ChemistryKey, size: BatterySize, amps: number): number {
  const stepper = new Stepper(
    makeBattery(DESIGNS[chemistry], size, { charge: 1, temperatureC: 25 }),
  );
  const endV = CUT_OFF_PER_CELL * size.cells;
  const longestS = (40 * 3600 * size.c20Ah) / 20 / amps;
  let before = { s: 0, v: stepper.voltageV };
  while (stepper.voltageV > endV && stepper.elapsedS < longestS) {
    before = { s: stepper.elapsedS, v: stepper.voltageV };
    stepper.step({ currentA: -amps, limitV: Infinity, floorV: 0 }, 1800);
  }
  const along = (before.v - endV) / (before.v - stepper.voltageV);
  return (before.s + (stepper.elapsedS - before.s) * Math.min(1, along)) / 3600;
}
