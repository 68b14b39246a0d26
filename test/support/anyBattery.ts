import type { ChemistryKey } from '../../src/core/batteries/chemistry.ts';
import {
  type CellCondition,
  makeBattery,
  type SimBattery,
} from '../../src/core/simulation/battery.ts';
import { DESIGNS } from '../../src/core/simulation/design.ts';
import { CASE, CELL, CELL_SIZE, MAKE, MAKE_SIZE } from '../../src/core/simulation/layout.ts';
import { seeded } from '../../src/core/simulation/random.ts';
import { type Drive, Stepper } from '../../src/core/simulation/step.ts';

/** What was done to a battery, one after the other. */
export interface Driven {
  drive: Drive;
  seconds: number;
}

/** Any battery there could be, and some there could not, with what is done to it: 0.5–3000 Ah, 1–12 cells, every fault, −30 to 60 °C, ±5 C, up to a year. */
export function anyBattery(seed: number): { battery: SimBattery; driven: Driven[] } {
  const random = seeded(seed);
  const between = (low: number, high: number): number => low + (high - low) * random.even();
  const decades = (low: number, high: number): number =>
    Math.exp(between(Math.log(low), Math.log(high)));
  const now = (chance: number): boolean => random.even() < chance;
  const chemistry = (['flooded', 'agm', 'gel'] as const)[
    Math.floor(3 * random.even())
  ] as ChemistryKey;
  const cells = 1 + Math.floor(12 * random.even());
  const c20Ah = decades(0.5, 3000);
  const cell = (): CellCondition => {
    const active = now(0.3) ? between(0.05, 1) : 1;
    return {
      active,
      hard: now(0.4) ? between(0, active) : 0,
      film: now(0.4) ? between(0, 2.5) : 0,
      dry: now(0.3) ? between(0, 0.95) : 0,
      behind: now(0.3) ? between(0, 1.2) : 0,
      reversed: now(0.05),
      ...(now(0.1) ? { shortOhm: decades(0.001, 100) } : {}),
      ...(now(0.1) ? { jointOhm: decades(0.0001, 500) } : {}),
      ...(now(0.1) ? { platesV: between(-2, 2) } : {}),
    };
  };
  const battery = makeBattery(
    DESIGNS[chemistry],
    { c20Ah, cells },
    {
      charge: between(-0.3, 1),
      temperatureC: between(-30, 60),
      layeredSg: now(0.2) ? between(0, 0.15) : 0,
      resistance: now(0.3) ? between(0.5, 30) : 1,
      cells: Array.from({ length: cells }, cell),
    },
    between(-30, 60),
  );
  const driven = Array.from({ length: 1 + Math.floor(3 * random.even()) }, (): Driven => {
    const c = now(0.25) ? 0 : (now(0.5) ? -1 : 1) * decades(0.002, 5);
    const limitV = now(0.3) ? Infinity : between(1.8, 2.8) * cells;
    const floor = c < 0 && now(0.5) ? { floorV: between(0, 1.9) * cells } : {};
    return { drive: { currentA: c * c20Ah, limitV, ...floor }, seconds: decades(1, 8760 * 3600) };
  });
  return { battery, driven };
}

/** Charge on each cell's books, Ah/Ah: what went through it is all here. */
function booked({ state, design, cells }: SimBattery): number[] {
  return Array.from({ length: cells }, (_, k) => {
    const s = k * CELL_SIZE;
    const part = (offset: number): number => state[s + offset] as number;
    return (
      part(CELL.gassed) +
      part(CELL.leaked) -
      part(CELL.soft) -
      part(CELL.hard) +
      design.doubleLayer * part(CELL.plates) +
      design.surface * part(CELL.surface)
    );
  });
}

/** How a run ended: its longest part in steps, and how far its books are off, as a share of what went through. */
export interface RunOff {
  steps: number;
  chargeOff: number;
  energyOff: number;
}

const MUST_STAY = [CELL.soft, CELL.hard, CELL.film, CELL.pore, CELL.lower, CELL.upper, CELL.water];

/**
 * Does to a battery what is to be done to it.
 *
 * @throws Error when a number is none, or an amount is below nothing, or it does not come to its end in `mostSteps`
 */
export function runOff(battery: SimBattery, driven: readonly Driven[], mostSteps = 20_000): RunOff {
  const { state, cells, c20Ah, make, design } = battery;
  const base = cells * CELL_SIZE;
  const before = booked(battery);
  const startC = state[base + CASE.temperatureC] as number;
  let steps = 0;
  for (const { drive, seconds } of driven) {
    const stepper = new Stepper(battery);
    for (let left = seconds; left > 1e-9; left -= stepper.step(drive, left))
      if (stepper.steps >= mostSteps) throw new Error(`not over after ${mostSteps} steps`);
    steps = Math.max(steps, stepper.steps);
    if (!state.every(Number.isFinite)) throw new Error('a number that is none');
    for (let k = 0; k < cells; k++)
      for (const offset of MUST_STAY)
        if ((state[k * CELL_SIZE + offset] as number) < -1e-9)
          throw new Error(`number ${offset} of cell ${k + 1} below nothing`);
  }
  const through = (state[base + CASE.chargeIn] as number) / c20Ah;
  let chargeOff = 0;
  booked(battery).forEach((now, k) => {
    const s = k * CELL_SIZE;
    const scale =
      1 +
      Math.abs(through) +
      Math.abs(state[s + CELL.gassed] as number) +
      Math.abs(state[s + CELL.leaked] as number);
    chargeOff = Math.max(
      chargeOff,
      Math.abs(
        now - (before[k] as number) - (make[k * MAKE_SIZE + MAKE.polarity] as number) * through,
      ) / scale,
    );
  });
  const [energyIn, chemistry, heatOut] = [CASE.energyIn, CASE.chemistry, CASE.heatOut].map(
    (offset) => state[base + offset] as number,
  ) as [number, number, number];
  const stored =
    design.heatCapacity * cells * c20Ah * ((state[base + CASE.temperatureC] as number) - startC);
  const energyOff =
    Math.abs(energyIn - chemistry - heatOut - stored) /
    (Math.abs(energyIn) + Math.abs(chemistry) + Math.abs(heatOut) + c20Ah);
  return { steps, chargeOff, energyOff };
}
