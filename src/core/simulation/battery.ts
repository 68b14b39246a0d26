import {
  molalityFromWeightPercent,
  sgFromWeightPercent,
  weightPercentFromMolality,
  weightPercentFromSg,
} from '../electrolyte/concentration.ts';
import { type CellDesign, DESIGN_KEYS, type DesignKey } from './design.ts';
import { MOLALITY_PER_AH_AND_G, REACTION_WATER_G } from '../electrolyte/faraday.ts';
import { cellRestVoltage, CONSTANTS } from './constants.ts';
import type { Anatomy } from './kernel.ts';
import { CASE, CASE_SIZE, CELL, CELL_SIZE, MAKE_SIZE, MOST_CELLS } from './layout.ts';

/** What is wrong, or not, with one cell. Everything optional: a sound cell is `{}`. */
export interface CellCondition {
  /** Share of its active mass that still works, 1 as new. */
  active?: number;
  /** Charge held back by hard sulfate, share of C20. */
  hard?: number;
  /** How closed the film of sulfate is: 0 open, 1 after half a year empty, at most 4. */
  film?: number;
  /** Share of its water that is gone. */
  dry?: number;
  /** An internal short, Ω; none when absent. */
  shortOhm?: number;
  /** A bad joint in its connection, Ω added. */
  jointOhm?: number;
  /** Connected the wrong way round by its own history. */
  reversed?: boolean;
  /** Charge less than the others, share of C20. */
  behind?: number;
  /** Volts across its plates as they stand, where it was driven past empty and no acid holds them up any more. */
  platesV?: number;
}

export interface Condition {
  /** State of charge of the battery's sound part, 0–1; below 0 it was driven past empty, as far as its plates go. */
  charge: number;
  temperatureC: number;
  /** Strength in the lower half above the upper, as SG. */
  layeredSg?: number;
  /** Times the design's resistance. */
  resistance?: number;
  cells?: readonly CellCondition[];
}

/** A design's numbers, bare. */
export type DesignNumbers = Readonly<Record<DesignKey, number>>;

/** A simulated battery: its anatomy, which stays, and its state, which moves. */
export interface SimBattery extends Anatomy {
  design: DesignNumbers;
  state: Float64Array;
}

/** What a battery is by its label. */
export interface BatterySize {
  /** Rated C20, Ah, and cells in series, 1–12. */
  c20Ah: number;
  cells: number;
  /** Resistance of the whole battery, full, 25 °C, mΩ, where its label tells it; by design and size where absent. */
  milliohm?: number | undefined;
  /** What its label makes different from its family: factors on the design. */
  labelFactors?: Factors | undefined;
}

/** Factors on a design's parameters. */
export type Factors = Readonly<Partial<Record<DesignKey, number>>>;

/** The design's numbers in the kernel's order, some of them changed by a factor, with the resistance of this size. */
function designNumbers(
  design: CellDesign,
  { c20Ah, cells, milliohm, labelFactors = {} }: BatterySize,
  factors: Factors = {},
): DesignNumbers {
  const numbers = {} as Record<DesignKey, number>;
  for (const key of DESIGN_KEYS)
    numbers[key] = design.parameters[key].value * (labelFactors[key] ?? 1) * (factors[key] ?? 1);
  const bySize = numbers.resistance * (c20Ah / 60) ** numbers.resistanceSize;
  numbers.resistance =
    milliohm === undefined
      ? bySize
      : ((milliohm / 1000) * c20Ah * (factors.resistance ?? 1)) / cells;
  return numbers;
}

/** Furthest below its rated charge that a battery can be described, and acid that always stays, Ah/Ah. */
export const PAST_EMPTY = -0.3;
const LEAST_ACID = 0.02;
/** No plate is emptied to the last crystal. */
const MOST_EMPTIED = 0.98;

/**
 * A battery at rest in a given condition.
 *
 * @param size what its label says
 * @param ambientC the air around it, °C
 * @throws RangeError for a size or a condition no battery can be in
 */
export function makeBattery(
  design: CellDesign,
  size: BatterySize,
  condition: Condition,
  ambientC = condition.temperatureC,
  factors: Factors = {},
): SimBattery {
  const { cells, c20Ah } = size;
  if (!(Number.isInteger(cells) && cells >= 1 && cells <= MOST_CELLS))
    throw new RangeError('A battery has 1 to 12 cells.');
  if (!(c20Ah > 0 && c20Ah < Infinity)) throw new RangeError('A battery holds more than 0 Ah.');
  checkCondition(condition, ambientC);
  const numbers = designNumbers(design, size, factors);
  const state = new Float64Array(cells * CELL_SIZE + CASE_SIZE);
  const make = new Float64Array(cells * MAKE_SIZE);
  const poreWater = numbers.poreShare;
  for (let k = 0; k < cells; k++) {
    const cell = condition.cells?.[k] ?? {};
    const active = cell.active ?? 1;
    const hard = cell.hard ?? 0;
    const usable = Math.max(0, Math.min(1, active) - hard);
    const wanted = condition.charge * usable - (cell.behind ?? 0);
    // What plates and acid have to give beyond the rated charge ends somewhere.
    const last = Math.min(MOST_EMPTIED * active * numbers.reach, numbers.acid - LEAST_ACID) - hard;
    const soft = Math.max(
      0,
      Math.min(usable - (condition.charge < 0 ? wanted : Math.max(0, wanted)), last),
    );
    make.set(
      [
        active,
        condition.resistance ?? 1,
        (cell.jointOhm ?? 0) * c20Ah,
        cell.shortOhm ? 1 / (cell.shortOhm * c20Ah) : 0,
        cell.reversed ? -1 : 1,
      ],
      k * MAKE_SIZE,
    );

    const acid = numbers.acid - soft - hard;
    const water = numbers.water * (1 - (cell.dry ?? 0)) + REACTION_WATER_G * (soft + hard);
    const free = (1 - poreWater) / 2;
    const s = k * CELL_SIZE;
    const lift = layering(condition.layeredSg ?? 0, acid, water) * free * acid;
    state[s + CELL.soft] = soft;
    state[s + CELL.hard] = hard;
    state[s + CELL.film] = cell.film ?? 0;
    state[s + CELL.pore] = poreWater * acid;
    state[s + CELL.lower] = free * acid + lift;
    state[s + CELL.upper] = free * acid - lift;
    state[s + CELL.water] = water;
    state[s + CELL.plates] =
      cell.platesV ??
      cellRestVoltage((MOLALITY_PER_AH_AND_G * acid) / water, condition.temperatureC);
    state[s + CELL.surface] = state[s + CELL.plates] as number;
  }
  state[cells * CELL_SIZE + CASE.temperatureC] = condition.temperatureC;
  return {
    cells,
    c20Ah,
    design: numbers,
    make,
    ambientC,
    state,
    ...ofDesign({ design: numbers, cells, c20Ah }),
  };
}

const TEMPERATURES_C = [-60, 100] as const;

/** @throws RangeError in words, for what no battery can be */
function checkCondition(condition: Condition, ambientC: number): void {
  if (!(condition.charge >= PAST_EMPTY && condition.charge <= 1))
    throw new RangeError('State of charge lies between 0 and 1.');
  const between = (
    value: number | undefined,
    [low, high]: readonly [number, number],
    what: string,
    unit = '',
  ): void => {
    if (value !== undefined && !(value >= low && value <= high))
      throw new RangeError(`${what} lies between ${low} and ${high}${unit}, not at ${value}.`);
  };
  between(condition.temperatureC, TEMPERATURES_C, 'The temperature of a battery', ' °C');
  between(ambientC, TEMPERATURES_C, 'The temperature of the air', ' °C');
  between(condition.layeredSg, [-0.4, 0.4], 'The difference of its acid from top to bottom');
  between(condition.resistance, [0.01, 10_000], 'Its resistance, against a new one,');
  for (const cell of condition.cells ?? []) {
    between(cell.active, [0, 1.5], 'The working share of a cell');
    between(cell.hard, [0, 1.5], 'Hard sulfate of a cell');
    between(cell.film, [0, CONSTANTS.MOST_FILM], 'The film of a cell');
    between(cell.dry, [0, 0.95], 'The water a cell has lost');
    between(cell.behind, [-1, 2], 'The charge a cell lacks');
    between(cell.platesV, [-4, 4], 'The volts of a cell', ' V');
    between(cell.shortOhm, [1e-9, Infinity], 'A short', ' Ω');
    between(cell.jointOhm, [0, 1e9], 'A joint', ' Ω');
  }
}

/** Acid never gets stronger than this, whatever is described. */
const STRONGEST_SG = 1.45;

/** Share by which the lower half is stronger (and the upper weaker) for a difference in SG. */
function layering(differenceSg: number, acid: number, water: number): number {
  if (differenceSg === 0) return 0;
  const mean = (MOLALITY_PER_AH_AND_G * acid) / water;
  const meanSg = sgFromWeightPercent(Math.min(60, weightPercentFromMolality(mean)));
  const strong = molalityFromWeightPercent(
    weightPercentFromSg(Math.min(STRONGEST_SG, meanSg + differenceSg / 2)),
  );
  return Math.max(-0.9, Math.min(0.9, strong / mean - 1));
}

/** A battery as a file keeps it. */
export type KeptBattery = Omit<SimBattery, 'numbers' | 'make' | 'state'> & {
  make: number[];
  state: number[];
};

export function keepBattery({ numbers: _, make, state, ...battery }: SimBattery): KeptBattery {
  return { ...battery, make: [...make], state: [...state] };
}

export function keptBattery({ make, state, ...battery }: KeptBattery): SimBattery {
  return {
    ...battery,
    ...ofDesign(battery),
    make: Float64Array.from(make),
    state: Float64Array.from(state),
  };
}

/** What the kernel wants of a design for a battery of this size. */
function ofDesign({
  design,
  cells,
  c20Ah,
}: {
  design: DesignNumbers;
  cells: number;
  c20Ah: number;
}): { numbers: Float64Array; coolingWPerK: number } {
  return {
    numbers: Float64Array.from(DESIGN_KEYS, (key) => design[key]),
    coolingWPerK: design.cooling * Math.cbrt((cells * c20Ah) ** 2),
  };
}

/** An independent copy. */
export function copyBattery(battery: SimBattery): SimBattery {
  return { ...battery, state: battery.state.slice(), make: battery.make.slice() };
}

/** Stirs the acid: agitation, or a while of gassing. */
export function mixLayers(battery: SimBattery): void {
  for (let s = 0; s < battery.cells * CELL_SIZE; s += CELL_SIZE) {
    const mean =
      ((battery.state[s + CELL.lower] as number) + (battery.state[s + CELL.upper] as number)) / 2;
    battery.state[s + CELL.lower] = mean;
    battery.state[s + CELL.upper] = mean;
  }
}

/** Tops every cell up with distilled water to its full share; returns the grams it took. */
export function topUp(battery: SimBattery): number {
  const full = battery.design.water;
  let grams = 0;
  for (let s = 0; s < battery.cells * CELL_SIZE; s += CELL_SIZE) {
    const discharged =
      (battery.state[s + CELL.soft] as number) + (battery.state[s + CELL.hard] as number);
    const wanted = full + REACTION_WATER_G * discharged;
    const missing = wanted - (battery.state[s + CELL.water] as number);
    if (missing <= 0) continue;
    battery.state[s + CELL.water] = wanted;
    grams += missing * battery.c20Ah;
  }
  return grams;
}
