import { restVoltageFromMolality } from '../electrolyte/restVoltage.ts';
import type { DesignKey } from './design.ts';

/**
 * The arithmetic of one small step, on flat arrays and without allocation. What the symbols mean is
 * written up in docs/model.md; states and parameters are per cell and per Ah of rated C20.
 */

/** State of one cell: its numbers lie beside each other, one cell after the other. */
export const CELL = {
  /** Fresh sulfate and hard sulfate, as the charge they hold back, Ah/Ah. */
  soft: 0,
  hard: 1,
  /** Acid in the pores, in the lower and in the upper half of the free acid, Ah/Ah. */
  pore: 2,
  lower: 3,
  upper: 4,
  /** Water, g/Ah. */
  water: 5,
  /** Volts across the plates without the ohmic drop. */
  plates: 6,
  /** Books since the beginning, Ah/Ah: gassing in all, what of it was vented, what leaked through a short. */
  gassed: 7,
  vented: 8,
  leaked: 9,
} as const;
export const CELL_SIZE = 10;

/** State of the case, after the cells. */
export const CASE = {
  temperatureC: 0,
  /** Books since the beginning: net charge in (Ah), energy in, energy kept as chemistry, heat to the room (Wh). */
  chargeIn: 1,
  energyIn: 2,
  chemistry: 3,
  heatOut: 4,
} as const;
export const CASE_SIZE = 5;

/** What a cell is, beside its design: none of it changes while it is simulated. */
export const MAKE = {
  /** Share of the design's active mass that still works. */
  active: 0,
  /** Times the design's resistance, and ohms that a bad joint adds, Ω·Ah. */
  resistance: 1,
  joint: 2,
  /** Conductance of an internal short, 1/(Ω·Ah). */
  short: 3,
  /** −1 where a cell is connected the wrong way round by its own history. */
  polarity: 4,
} as const;
export const MAKE_SIZE = 5;

/** A design's numbers, bare. */
export type DesignNumbers = Readonly<Record<DesignKey, number>>;

/** Ah of acid per g of water to mol/kg: one Faraday uses one mole. */
const MOLALITY_PER_AH_AND_G = (3600 / 96_485.332) * 1000;
/** Water made by a discharge: 1 mol per Faraday, g per Ah. Cross-checked with Faraday's 0.336 g/Ah of gassing. */
export const REACTION_WATER_G = 0.672;
export const GASSING_WATER_G = 0.336;

/** Bode's polynomial is fitted from 0.1 mol/kg; below, the slope of Nernst's law for two electrons and two moles. */
const WEAKEST = 0.1;
const REST_AT_WEAKEST = restVoltageFromMolality(WEAKEST);
const NERNST_V_PER_DECADE = 0.118;
/** Rise of the rest voltage with temperature, V/K (Bode 1977, about 1.265). */
const REST_V_PER_KELVIN = 0.0002;
const KELVIN = 298.15;
/** Volts at which splitting water takes no heat from outside. */
const THERMONEUTRAL_WATER_V = 1.48;
/** Gassing grows 11 per volt and 0.06 per °C (Schiffer et al. 2007), counted from 2.23 V. */
const GAS_PER_VOLT = 11;
const GAS_PER_C = 0.06;
const GAS_AT_V = 2.23;
/** Where a cell driven past empty settles, reversed, its current making gas at both plates the wrong way round. */
const REVERSED_V = -1.8;
/** Hard sulfate comes back only above this, and faster by e for each further step. */
const SOFTENS_ABOVE_V = 2.28;
const SOFTENING_AT_V = 2.45;
const SOFTENING_STEP_V = 0.08;
const SOFTENING_SCALE = 1 / (Math.exp((SOFTENING_AT_V - SOFTENS_ABOVE_V) / SOFTENING_STEP_V) - 1);
/** Growth per °C of diffusion, of the reactions, and of sulfate; fall of resistance. */
const DIFFUSION_PER_C = 0.02;
const DISCHARGING_PER_C = 0.012;
const CHARGING_PER_C = 0.034;
const DELIVERY_PER_C = 0.035;
const SULFATE_PER_C = Math.LN2 / 10;
const RESISTANCE_PER_C = 0.008;
/** In layered acid the strong bottom speaks louder than its share. Assumed. */
const BOTTOM_SPEAKS = 0.3;

/** Rest voltage of a cell at a molality and temperature, on the kernel's own terms. V. */
export function cellRestVoltage(molality: number, temperatureC: number): number {
  const at25 = molality >= WEAKEST ? restVoltageFromMolality(molality) : REST_AT_WEAKEST + NERNST_V_PER_DECADE * Math.log10(Math.max(molality, 1e-9) / WEAKEST);
  return at25 + REST_V_PER_KELVIN * (temperatureC - 25);
}

/** Scratch of one step: what `linearise` finds and `apply` uses. */
export interface Linear {
  /** For each cell: volts per C, volts with no current, slope and value of each current, rest voltage, ohms. */
  cells: Float64Array;
  /** The battery as a source: terminal volts at the end of the step = openV + ohms × current (C). */
  openV: number;
  ohms: number;
}
const LINEAR_SIZE = 15;
const L = {
  gain: 0,
  main: 1,
  mainSlope: 2,
  hard: 3,
  hardSlope: 4,
  gas: 5,
  gasSlope: 6,
  vent: 7,
  back: 8,
  backSlope: 9,
  leakSlope: 10,
  rest: 11,
  ohms: 12,
  total: 13,
  slope: 14,
};

export function makeLinear(cells: number): Linear {
  return { cells: new Float64Array(cells * LINEAR_SIZE), openV: 0, ohms: 0 };
}

/** What the kernel needs to know of a battery besides its state. */
export interface Anatomy {
  cells: number;
  /** Rated C20, Ah. */
  c20Ah: number;
  design: DesignNumbers;
  make: Float64Array;
  ambientC: number;
}

/** Even a dry cell passes a trace of current. */
const DRIEST = 0.02;

/** Share of the plates that acid reaches, {@link DRIEST} to 1. */
export function wetShare(water: number, discharged: number, design: DesignNumbers): number {
  const kept = (water - REACTION_WATER_G * discharged) / design.water;
  const begins = design.dryBegins;
  const ends = design.dryEnds;
  const share = (kept - ends) / (begins - ends);
  return share > 1 ? 1 : share < 0.02 ? 0.02 : share;
}

/** Finds how fast everything in each cell goes at its present volts, and how that changes with them. */
export function linearise(anatomy: Anatomy, state: Float64Array, linear: Linear): void {
  const { cells, design, make } = anatomy;
  const warmth = (state[cells * CELL_SIZE] as number) - 25;
  const reaction = Math.exp(CHARGING_PER_C * warmth);
  const gasWarmth = Math.exp(GAS_PER_C * warmth);
  const discharging = 0.5 * design.exchange * Math.exp(DISCHARGING_PER_C * warmth);
  const charging = 0.5 * design.exchangeCharging * reaction;
  const acceptance = design.acceptance * reaction;
  const delivery = design.delivery * Math.exp(DELIVERY_PER_C * warmth);
  const tafel = design.tafel;
  const poreWater = design.poreShare;
  const gas0 = design.gassing * gasWarmth;
  const local = design.localAction * gasWarmth;
  const recombining = design.recombination;
  const ohms0 = design.resistance * Math.exp(-RESISTANCE_PER_C * warmth);
  const { activeShare, acidKnee, resistanceEmpty, resistanceHard, recombinationLimit, water: fullWater, dryBegins, dryEnds } = design;
  const softening = SOFTENING_SCALE * design.softening * reaction;
  const poreMolality = MOLALITY_PER_AH_AND_G / poreWater;
  const freeMolality = (0.5 * BOTTOM_SPEAKS * MOLALITY_PER_AH_AND_G) / (0.5 * (1 - poreWater));
  const perTafel = 1 / tafel;
  const out = linear.cells;
  for (let k = 0; k < cells; k++) {
    const s = k * CELL_SIZE;
    const m = k * MAKE_SIZE;
    const o = k * LINEAR_SIZE;
    const soft = state[s + CELL.soft] as number;
    const hard = state[s + CELL.hard] as number;
    const water = state[s + CELL.water] as number;
    const u = state[s + CELL.plates] as number;
    const discharged = soft + hard;
    const covered = ((water - REACTION_WATER_G * discharged) / fullWater - dryEnds) / (dryBegins - dryEnds);
    const wet = covered > 1 ? 1 : covered < DRIEST ? DRIEST : covered;

    const perWater = 1 / water;
    const poreM = poreMolality * (state[s + CELL.pore] as number) * perWater;
    const layer = freeMolality * ((state[s + CELL.lower] as number) - (state[s + CELL.upper] as number)) * perWater;
    const felt = layer > 0 ? poreM + layer : poreM;
    let rest = REST_V_PER_KELVIN * warmth;
    if (felt >= WEAKEST) {
      const l = Math.log(felt) * Math.LOG10E;
      rest += 1.9228 + l * (0.147519 + l * (0.063552 + l * (0.073772 + l * 0.033612)));
    } else rest += REST_AT_WEAKEST + NERNST_V_PER_DECADE * Math.log10((felt > 1e-9 ? felt : 1e-9) / WEAKEST);

    // The reaction: exchange × sinh, held back by what is left to convert and by the acid in the pores.
    const over = (u - rest) * perTafel;
    const active = (make[m + MAKE.active] as number) * activeShare * wet;
    const left = active - discharged;
    let main: number;
    let mainSlope: number;
    const ex = Math.exp(over > 30 ? 30 : over < -30 ? -30 : over);
    const per = 1 / ex;
    // Hard crystals lie on the surface and cover more of it than their share: what they cover takes no part. Assumed.
    const blocked = hard / (active > 0.05 ? active : 0.05);
    const bare = blocked < 0.9 ? wet * (1 - blocked) * (1 - blocked) : wet * 0.01;
    const exchange = (over >= 0 ? charging : discharging) * bare;
    const drive = exchange * (ex - per);
    const driveSlope = exchange * (ex + per) * perTafel;
    if (over >= 0) {
      // Crossing the plate surface and dissolving the sulfate follow one another; the second goes with its amount to the power 1¼ (fitted).
      const dissolving = acceptance * bare * (soft > 0 ? soft * Math.sqrt(Math.sqrt(soft)) : 0) + 1e-9;
      const limit = dissolving * over;
      if (over < 1e-6) {
        const through = driveSlope * tafel;
        mainSlope = (through * dissolving) / (through + dissolving) / tafel;
        main = mainSlope * over * tafel;
      } else {
        const both = drive + limit;
        main = (drive * limit) / both;
        mainSlope = (limit * limit * driveSlope + (drive * drive * dissolving) / tafel) / (both * both);
      }
    } else {
      const acid = poreM > 0 ? poreM / (poreM + acidKnee) : 0;
      const limit = delivery * (left > 0 ? left * left * left : 0) * acid + 1e-9;
      const held = 1 / (1 - drive / limit);
      main = drive * held;
      mainSlope = driveSlope * held * held;
    }

    let back = 0;
    let backSlope = 0;
    if (u > SOFTENS_ABOVE_V && hard > 0) {
      const grow = Math.exp((u - SOFTENS_ABOVE_V) / SOFTENING_STEP_V) * softening * hard;
      back = grow - softening * hard;
      backSlope = grow / SOFTENING_STEP_V;
    }

    const burst = gas0 * Math.exp(GAS_PER_VOLT * ((u > 3.6 ? 3.6 : u) - GAS_AT_V));
    const gas = burst + (u > 1 ? local : 0);
    const gasSlope = GAS_PER_VOLT * burst;
    const vent = recombining === 0 ? 1 : 1 - recombining / (1 + gas / recombinationLimit);

    // Past empty the plates make gas the wrong way round.
    const wrong = u < 0 ? 0.02 * Math.exp(-GAS_PER_VOLT * ((u < -3.5 ? -3.5 : u) - REVERSED_V)) : 0;
    const wrongSlope = GAS_PER_VOLT * wrong;
    const short = make[m + MAKE.short] as number;

    const slope = mainSlope + backSlope + gasSlope + wrongSlope + short;
    const total = main + back + gas - wrong + short * u;
    const r =
      (ohms0 * (make[m + MAKE.resistance] as number) * (1 + resistanceEmpty * discharged * discharged + resistanceHard * blocked * blocked)) / wet +
      (make[m + MAKE.joint] as number);
    out[o + L.slope] = slope;
    out[o + L.main] = main;
    out[o + L.mainSlope] = mainSlope;
    out[o + L.hard] = back;
    out[o + L.hardSlope] = backSlope;
    out[o + L.gas] = gas;
    out[o + L.gasSlope] = gasSlope;
    out[o + L.vent] = vent;
    out[o + L.back] = wrong;
    out[o + L.backSlope] = wrongSlope;
    out[o + L.leakSlope] = short;
    out[o + L.rest] = rest;
    out[o + L.ohms] = r;
    out[o + L.total] = total;
  }
}

/** Closes a step of `hours`: what the whole battery looks like from outside, once {@link linearise} has run. */
export function close(anatomy: Anatomy, state: Float64Array, hours: number, linear: Linear): void {
  const { cells, make } = anatomy;
  const capacitance = anatomy.design.doubleLayer / hours;
  const out = linear.cells;
  let openV = 0;
  let ohms = 0;
  for (let k = 0; k < cells; k++) {
    const o = k * LINEAR_SIZE;
    const gain = 1 / (capacitance + (out[o + L.slope] as number));
    out[o + L.gain] = gain;
    openV += (make[k * MAKE_SIZE + MAKE.polarity] as number) * ((state[k * CELL_SIZE + CELL.plates] as number) - gain * (out[o + L.total] as number));
    ohms += gain + (out[o + L.ohms] as number);
  }
  linear.openV = openV;
  linear.ohms = ohms;
}

/**
 * Carries a step out at a current, once {@link linearise} and {@link close} have run for the same state.
 * Charge is conserved to rounding: what goes in is stored, gassed or leaked.
 *
 * @param current in C (1/h), charging positive
 * @returns terminal volts at the end of the step
 */
export function apply(anatomy: Anatomy, state: Float64Array, hours: number, linear: Linear, current: number): number {
  const { cells, design, make, c20Ah } = anatomy;
  const base = cells * CELL_SIZE;
  const temperature = state[base] as number;
  const warmth = temperature - 25;
  const spread = Math.exp(DIFFUSION_PER_C * warmth) * design.diffusion;
  const harden = Math.exp(SULFATE_PER_C * warmth) * design.hardening * hours;
  const poreWater = design.poreShare;
  const freeWater = 1 - poreWater;
  const layering = design.layering;
  const capacitance = design.doubleLayer;
  const out = linear.cells;
  let volts = 0;
  let chemistry = 0;
  for (let k = 0; k < cells; k++) {
    const s = k * CELL_SIZE;
    const o = k * LINEAR_SIZE;
    const polarity = make[k * MAKE_SIZE + MAKE.polarity] as number;
    const through = polarity * current;
    const before = state[s + CELL.plates] as number;
    const rise = (out[o + L.gain] as number) * (through - (out[o + L.total] as number));
    const after = before + rise;
    state[s + CELL.plates] = after;
    volts += polarity * after + (out[o + L.ohms] as number) * current;

    const main = (out[o + L.main] as number) + (out[o + L.mainSlope] as number) * rise;
    const back = (out[o + L.hard] as number) + (out[o + L.hardSlope] as number) * rise;
    const gas = (out[o + L.gas] as number) + (out[o + L.gasSlope] as number) * rise;
    const wrong = (out[o + L.back] as number) - (out[o + L.backSlope] as number) * rise;
    const leak = (out[o + L.leakSlope] as number) * after;
    const vented = gas * (out[o + L.vent] as number);

    const soft = state[s + CELL.soft] as number;
    const hardened = harden * soft * soft;
    state[s + CELL.soft] = soft - main * hours - hardened;
    state[s + CELL.hard] = (state[s + CELL.hard] as number) - back * hours + hardened;
    state[s + CELL.gassed] = (state[s + CELL.gassed] as number) + (gas - wrong) * hours;
    state[s + CELL.vented] = (state[s + CELL.vented] as number) + (vented + wrong) * hours;
    state[s + CELL.leaked] = (state[s + CELL.leaked] as number) + leak * hours;
    state[s + CELL.water] = (state[s + CELL.water] as number) - ((main + back) * REACTION_WATER_G + (vented + wrong) * GASSING_WATER_G) * hours;

    // Acid: made and used in the pores, spread to the free acid; what leaves the pores while charging sinks.
    const made = (main + back) * hours;
    const pore = state[s + CELL.pore] as number;
    const lower = state[s + CELL.lower] as number;
    const upper = state[s + CELL.upper] as number;
    const free = lower + upper;
    const settled = (pore + made + (hours * spread * free) / freeWater) / (1 + (hours * spread) / poreWater);
    const leaves = hours * spread * (settled / poreWater - free / freeWater);
    // What enters the pores comes from both halves as they are, so a layer outlives the charge that made it.
    const down = leaves > 0 ? 0.5 * (1 + layering) * leaves : free > 0 ? (leaves * lower) / free : 0;
    const up = leaves - down;
    const mixing = (design.mixingByGas * vented + design.mixingByItself) * hours;
    const fall = (0.5 * (lower - upper) * mixing) / (1 + mixing);
    state[s + CELL.pore] = pore + made - leaves;
    state[s + CELL.lower] = lower + down - fall;
    state[s + CELL.upper] = upper + up + fall;

    const enthalpyV = (out[o + L.rest] as number) - REST_V_PER_KELVIN * (KELVIN + warmth);
    chemistry += ((main + back) * enthalpyV + (vented + wrong) * THERMONEUTRAL_WATER_V) * hours + capacitance * (before + 0.5 * rise) * rise;
  }
  chemistry *= c20Ah;
  const energy = volts * current * c20Ah * hours;
  const size = cells * c20Ah;
  const lost = design.cooling * Math.cbrt(size * size) * hours;
  const stores = design.heatCapacity * size;
  const warm = temperature + (energy - chemistry) / stores;
  const next = (warm + (lost / stores) * anatomy.ambientC) / (1 + lost / stores);
  state[base + CASE.temperatureC] = next;
  state[base + CASE.chargeIn] = (state[base + CASE.chargeIn] as number) + current * c20Ah * hours;
  state[base + CASE.energyIn] = (state[base + CASE.energyIn] as number) + energy;
  state[base + CASE.chemistry] = (state[base + CASE.chemistry] as number) + chemistry;
  state[base + CASE.heatOut] = (state[base + CASE.heatOut] as number) + lost * (next - anatomy.ambientC);
  return volts;
}
