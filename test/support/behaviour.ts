import { type ChemistryKey } from '../../src/core/batteries/chemistry.ts';
import {
  type BatterySize,
  type Condition,
  copyBattery,
  makeBattery,
  type SimBattery,
} from '../../src/core/simulation/battery.ts';
import { viewBattery } from '../../src/core/simulation/view.ts';
import { DESIGNS } from '../../src/core/simulation/design.ts';
import { REST, Stepper } from '../../src/core/simulation/step.ts';

const HOUR = 3600;

/** One row of the table of how a sound battery behaves: what was measured beside what published tests and data sheets show. */
export interface Measured {
  row: string;
  value: number;
  low: number;
  high: number;
}

type Range = readonly [number, number];
/** Ranges of each row, 12 V and 25 °C unless said. Gel, of which less is published, charges to its own ceiling; it has no range where null. */
const RANGES: Readonly<Record<string, Readonly<Record<ChemistryKey, Range | null>>>> = {
  'charge acceptance, half out, 0 °C, 10 min: × C20': {
    flooded: [0.1, 0.35],
    agm: [0.1, 0.45],
    gel: [0.08, 0.45],
  },
  'C/10 from empty: hours to the ceiling': { flooded: [7.8, 9.3], agm: [7.8, 9.5], gel: [7, 9.5] },
  'C/10 from 80 %: hours to the ceiling': { flooded: [0.4, 1.4], agm: [0.4, 1.4], gel: [0.3, 1.4] },
  'C/10 passing half charge: V': { flooded: [12.9, 13.5], agm: [13, 13.5], gel: [12.9, 13.5] },
  'held from the turn to C/50: h': { flooded: [2, 6], agm: [2, 6], gel: [2, 7] },
  'float after 3 days: mA/Ah': { flooded: [0.3, 1.5], agm: [0.2, 1], gel: [0.1, 1] },
  'C20: × rating': { flooded: [0.97, 1.03], agm: [0.97, 1.03], gel: [0.97, 1.03] },
  'C/10: × C20': { flooded: [0.9, 0.95], agm: [0.91, 0.96], gel: [0.91, 0.97] },
  'C/5: × C20': { flooded: [0.8, 0.9], agm: [0.83, 0.91], gel: [0.83, 0.92] },
  '1 C to 9.6 V: min': { flooded: [30, 40], agm: [33, 43], gel: [33, 45] },
  '1 C half way: V': { flooded: [11, 11.6], agm: [11.2, 11.8], gel: [11, 11.8] },
  '3 × C20 for 15 s: V': { flooded: [10.7, 11.5], agm: [10.8, 11.9], gel: null },
  'rated CCA, −18 °C, 10 s: V': { flooded: [7.5, 8.8], agm: [7.5, 9], gel: null },
  'C20 at 0 °C: × of 25 °C': { flooded: [0.8, 0.88], agm: [0.82, 0.89], gel: [0.8, 0.9] },
  'worst rebound after 2 s: share': { flooded: [0.75, 1.02], agm: [0.75, 1.02], gel: [0.75, 1.02] },
  'worst rebound after 10 s: share': {
    flooded: [0.88, 1.02],
    agm: [0.88, 1.02],
    gel: [0.88, 1.02],
  },
  'worst rebound after 60 s: share': {
    flooded: [0.96, 1.02],
    agm: [0.96, 1.02],
    gel: [0.96, 1.02],
  },
  'off a full charge, 10 min: V': { flooded: [12.95, 13.3], agm: [13.05, 13.4], gel: [12.9, 13.3] },
  'off a full charge, 1 h: V': { flooded: [12.8, 13.05], agm: [12.95, 13.2], gel: [12.85, 13.15] },
  'off a full charge, 12 h above settled: V': {
    flooded: [-0.03, 0.03],
    agm: [-0.04, 0.04],
    gel: [-0.04, 0.04],
  },
  'settled, full: V': { flooded: [12.62, 12.73], agm: [12.75, 12.95], gel: [12.72, 12.95] },
  'emptied at C/20, a day later: V': {
    flooded: [11.6, 11.95],
    agm: [11.5, 11.9],
    gel: [11.5, 11.9],
  },
  'left empty 12 weeks: V': { flooded: [10.9, 11.95], agm: [10.9, 11.95], gel: [10.9, 11.95] },
  'a month at 20 °C: loss': { flooded: [0.025, 0.05], agm: [0.018, 0.04], gel: [0.012, 0.03] },
  'C/5 from 20 %, air 20 °C: K': { flooded: [2, 8], agm: [3, 9], gel: [2, 9] },
};

/** Short-pulse resistance of a 12 V AGM battery without a printed CCA, mΩ. */
export const AGM_MILLIOHM: Readonly<Record<number, Range>> = {
  7: [20, 27],
  18: [10, 15],
  60: [4, 5.5],
  100: [3.5, 5],
  200: [2, 3.5],
};

const CEILING_V: Readonly<Record<ChemistryKey, number>> = { flooded: 14.4, agm: 14.7, gel: 14.2 };
/** From so full, at so many C, until it is pulled to 3 V or 15 s are over. */
const REBOUNDS = [
  [1, 3],
  [0.6, 3],
  [0.3, 3],
  [0.2, 2],
  [0.1, 3],
  [0.05, 1.5],
] as const;

/** Short-pulse resistance, full: mΩ. */
export function milliohmOf(battery: SimBattery): number {
  const stepper = new Stepper(battery);
  const amps = battery.c20Ah / 100;
  return ((stepper.probe(0) - stepper.probe(-amps)) / amps) * 1000;
}

/** Hours at a current down to a cut-off. @param battery moves on */
export function hoursDown(battery: SimBattery, amps: number, cutV: number): number {
  const stepper = new Stepper(battery);
  let before = { s: 0, v: stepper.voltageV };
  while (stepper.elapsedS < 60 * HOUR) {
    stepper.step({ currentA: -amps, limitV: Infinity, floorV: 0 }, 1800);
    if (stepper.voltageV <= cutV)
      return (
        (before.s +
          ((stepper.elapsedS - before.s) * (before.v - cutV)) / (before.v - stepper.voltageV)) /
        HOUR
      );
    before = { s: stepper.elapsedS, v: stepper.voltageV };
  }
  return Infinity;
}

/** Measures every row of the table on one size of a family. */
export function behaviourOf(
  chemistry: ChemistryKey,
  size: BatterySize,
  { at25 = 25 } = {},
): Measured[] {
  const { c20Ah, cells } = size;
  const rows: Measured[] = [];
  const put = (row: string, value: number): void => {
    const range = RANGES[row]?.[chemistry];
    if (range) rows.push({ row, value, low: range[0], high: range[1] });
  };
  const perCell = cells / 6;
  const volts = (stepper: Stepper): number => stepper.voltageV / perCell;
  const make = (
    condition: Partial<Condition> = {},
    ambientC = condition.temperatureC ?? at25,
  ): SimBattery =>
    makeBattery(
      DESIGNS[chemistry],
      size,
      { charge: 1, temperatureC: at25, ...condition },
      ambientC,
    );
  const ceilingV = CEILING_V[chemistry] * perCell;
  const cut = (v: number): number => v * perCell;

  const half = make();
  new Stepper(half).run({ currentA: -c20Ah / 10, limitV: Infinity }, 5 * HOUR);
  half.ambientC = 0;
  new Stepper(half).run(REST, 20 * HOUR);
  const cold = new Stepper(half);
  cold.nextS = 0.05;
  cold.run({ currentA: 5 * c20Ah, limitV: 14.4 * perCell }, 600);
  put('charge acceptance, half out, 0 °C, 10 min: × C20', cold.currentA / c20Ah);

  const empty = make();
  const c20h = hoursDown(copyBattery(empty), c20Ah / 20, cut(10.5));
  new Stepper(empty).run({ currentA: -c20Ah / 20, limitV: Infinity }, c20h * HOUR);
  const waits = new Stepper(copyBattery(empty));
  waits.run(REST, 24 * HOUR);
  put('emptied at C/20, a day later: V', volts(waits));
  waits.run(REST, 83 * 24 * HOUR);
  put('left empty 12 weeks: V', volts(waits));

  new Stepper(empty).run(REST, HOUR);
  const charges = new Stepper(empty);
  let passing = NaN;
  while (charges.voltageV < ceilingV - 1e-6 && charges.elapsedS < 14 * HOUR) {
    charges.step({ currentA: c20Ah / 10, limitV: ceilingV }, 300);
    if (Number.isNaN(passing) && viewBattery(empty).charge >= 0.5) passing = volts(charges);
  }
  const turnedS = charges.elapsedS;
  put('C/10 from empty: hours to the ceiling', turnedS / HOUR);
  put('C/10 passing half charge: V', passing);
  const tail = (share: number, hours: number): void => {
    const from = charges.elapsedS;
    while (charges.currentA > share * c20Ah && charges.elapsedS - from < hours * HOUR)
      charges.step({ currentA: c20Ah / 10, limitV: ceilingV }, 300);
  };
  tail(0.02, 14);
  put('held from the turn to C/50: h', (charges.elapsedS - turnedS) / HOUR);
  tail(0.01, 6);
  const resting = new Stepper(empty);
  resting.run(REST, 600);
  put('off a full charge, 10 min: V', volts(resting));
  resting.run(REST, 3000);
  put('off a full charge, 1 h: V', volts(resting));
  resting.run(REST, 11 * HOUR);
  const after12 = volts(resting);
  resting.run(REST, 60 * HOUR);
  put('off a full charge, 12 h above settled: V', after12 - volts(resting));
  put('settled, full: V', volts(resting));

  const nearly = new Stepper(make({ charge: 0.8 }));
  while (nearly.voltageV < ceilingV - 1e-6 && nearly.elapsedS < 5 * HOUR)
    nearly.step({ currentA: c20Ah / 10, limitV: ceilingV }, 120);
  put('C/10 from 80 %: hours to the ceiling', nearly.elapsedS / HOUR);

  const floats = new Stepper(make());
  floats.run({ currentA: c20Ah / 10, limitV: 13.6 * perCell }, 72 * HOUR);
  put('float after 3 days: mA/Ah', (floats.currentA / c20Ah) * 1000);

  put('C20: × rating', c20h / 20);
  put('C/10: × C20', hoursDown(make(), c20Ah / 10, cut(10.5)) / 10 / (c20h / 20));
  put('C/5: × C20', hoursDown(make(), c20Ah / 5, cut(10.5)) / 5 / (c20h / 20));
  const oneC = hoursDown(make(), c20Ah, cut(9.6));
  put('1 C to 9.6 V: min', oneC * 60);
  const halfWay = new Stepper(make());
  halfWay.run({ currentA: -c20Ah, limitV: Infinity }, (oneC / 2) * HOUR);
  put('1 C half way: V', volts(halfWay));
  put(
    'C20 at 0 °C: × of 25 °C',
    hoursDown(make({ temperatureC: 0 }), c20Ah / 20, cut(10.5)) / c20h,
  );

  const loaded = new Stepper(make());
  loaded.nextS = 0.05;
  loaded.run({ currentA: -3 * c20Ah, limitV: Infinity }, 15);
  put('3 × C20 for 15 s: V', volts(loaded));
  const freezing = make({ temperatureC: -18 });
  const cranks = new Stepper(freezing);
  cranks.nextS = 0.05;
  cranks.run({ currentA: -CCA_MILLIOHM / (milliohmOf(make()) / perCell), limitV: Infinity }, 10);
  put('rated CCA, −18 °C, 10 s: V', volts(cranks));

  const worst = [1, 1, 1];
  for (const [charge, rate] of REBOUNDS) {
    const shares = reboundOf(make({ charge }), rate * c20Ah, 3 * perCell);
    shares.forEach((share, i) => (worst[i] = Math.min(worst[i] as number, share)));
  }
  [2, 10, 60].forEach((s, i) => put(`worst rebound after ${s} s: share`, worst[i] as number));

  const shelf = make({ temperatureC: 20 });
  const before = viewBattery(shelf).charge;
  new Stepper(shelf).run(REST, 30 * 24 * HOUR);
  put('a month at 20 °C: loss', before - viewBattery(shelf).charge);

  const warms = new Stepper(make({ charge: 0.2, temperatureC: 20 }));
  let peakC = 20;
  while (warms.elapsedS < 10 * HOUR) {
    warms.step({ currentA: c20Ah / 5, limitV: ceilingV }, 300);
    peakC = Math.max(peakC, warms.temperatureC);
  }
  put('C/5 from 20 %, air 20 °C: K', peakC - 20);
  return rows;
}

/** Resistance times CCA (EN), mΩ·A: analysers' own constant. */
const CCA_MILLIOHM = 2700;

/** After a load that pulls a battery down for at most 15 s: share of the fall that is back after 2, 10 and 60 s. */
function reboundOf(battery: SimBattery, amps: number, lowestV: number): number[] {
  const stepper = new Stepper(battery);
  const restV = stepper.voltageV;
  stepper.nextS = 0.02;
  while (stepper.elapsedS < 15 && stepper.voltageV > lowestV)
    stepper.step({ currentA: -amps, limitV: Infinity }, 0.25);
  const low = stepper.voltageV;
  return [2, 8, 50].map((s) => {
    stepper.nextS = Math.min(stepper.nextS, 0.02);
    stepper.run(REST, s);
    return (stepper.voltageV - low) / (restV - low);
  });
}
