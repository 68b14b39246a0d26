import { MOLALITY_PER_AH_AND_G, REACTION_WATER_G } from '../electrolyte/faraday.ts';
import { REST_V_PER_KELVIN, restVoltageFromMolality } from '../electrolyte/restVoltage.ts';
import type { DesignKey } from './design.ts';
import { exp, log } from './exponentials.ts';
import { CASE, CELL, CELL_SIZE, MAKE, MAKE_SIZE } from './layout.ts';

/**
 * The arithmetic of one small step, on flat arrays and without allocation. What the symbols mean, and why
 * each term is there, is written up in docs/model.md.
 */

/** A design's numbers, bare. */
export type DesignNumbers = Readonly<Record<DesignKey, number>>;

/** What the kernel needs to know of a battery besides its state. */
export interface Anatomy {
  cells: number;
  /** Rated C20, Ah. */
  c20Ah: number;
  design: DesignNumbers;
  make: Float64Array;
  ambientC: number;
}

/** Water split by gassing, g per Ah (Faraday). */
export const GASSING_WATER_G = 0.336;

/** Bode's polynomial is fitted from 0.1 mol/kg; below, the slope of Nernst's law for two electrons and two moles. */
const WEAKEST = 0.1;
const REST_AT_WEAKEST = restVoltageFromMolality(WEAKEST);
const NERNST_V_PER_DECADE = 0.118;
const WEAKEST_LOG = log(WEAKEST);
const KELVIN = 298.15;
/** Volts at which splitting water takes no heat from outside. */
const THERMONEUTRAL_WATER_V = 1.48;
/** Gassing grows 11 per volt and 0.06 per °C (Schiffer et al. 2007), counted from 2.23 V. */
const GAS_PER_VOLT = 11;
const GAS_PER_C = 0.06;
const GAS_AT_V = 2.23;
/** Beyond this the law is carried on by its tangent: nothing real goes on exponentially. V */
const GAS_STRAIGHT_FROM_V = 3.1;
/** The law of the exchange likewise, beyond so many times its slope: hundreds of C. */
const STRAIGHT_BEYOND = 9;
/** A cell with nothing left to give loses nothing by itself; this share left, Ah/Ah, halves what it loses. */
const LITTLE_LEFT = 0.03;
/** The last of it ends the exchange altogether: at this share left it is halved. */
const ALL_GONE = 0.003;
/** Gas that a current drives wants this many volts above rest; below, it is the plates that discharge themselves. */
const DRIVEN_OVER_V = 0.1;
/** Where a cell driven past empty settles, reversed, its current making gas at both plates the wrong way round. */
const REVERSED_V = -1.8;
const WRONG_STRAIGHT_FROM_V = -2.5;
/** Beyond these volts, V, something gives way beside the plates, with this conductance, 1/(Ω·Ah). */
const GIVES_WAY_V = 5;
const GIVES_WAY = 4;
/** Transport cannot be pulled lower than this, V: the current finds another way. Its conductance there, 1/(Ω·Ah). */
const TRANSPORT_LOWEST_V = -3.7;
const TRANSPORT_BYPASS = 2;
/** A resistance of transport is never more than this, Ω·Ah: discharging and at rest, and charging. */
const MOST_TRANSPORT = 500;
const MOST_TRANSPORT_CHARGING = 8;
/** Hard sulfate comes back only above this, and faster by e for each further step. */
const SOFTENS_ABOVE_V = 2.28;
const SOFTENING_AT_V = 2.45;
const SOFTENING_STEP_V = 0.08;
const SOFTENING_SCALE = 1 / (exp((SOFTENING_AT_V - SOFTENS_ABOVE_V) / SOFTENING_STEP_V) - 1);
/** The film opens by e for each so much charge put through it, Ah/Ah, and dampens exchange and acceptance by e for each ⅔ of it; months empty close it to 2, years towards 4. */
const FILM_OPENS_AH = 0.035;
const FILM_DAMPS = 1.5;
export const MOST_FILM = 4;
/** Softening and sulfate growth per °C. */
const SOFTENING_PER_C = 0.034;
const SULFATE_PER_C = Math.LN2 / 10;
/** In layered acid the strong bottom speaks louder than its share. Assumed. */
const BOTTOM_SPEAKS = 0.3;
/** Even a dry cell passes a trace of current. */
const DRIEST = 0.02;
/** Kinetics are not carried on beyond these temperatures, °C; what gets hotter boils, and boiling holds it there. */
const COLDEST_C = -60;
const BOILS_C = 105;
/** Boiling takes so many times the heat that still air does, for each °C above. */
const BOILING = 40;
/** A step takes at most this share of what is there of anything: more is a step too long, and is put right by its volts. */
const MOST_OF_ALL = 0.9;

/** Rest voltage of a cell at a molality and temperature, on the kernel's own terms. V. */
export function cellRestVoltage(molality: number, temperatureC: number): number {
  const at25 = molality >= WEAKEST ? restVoltageFromMolality(molality) : REST_AT_WEAKEST + NERNST_V_PER_DECADE * Math.log10(Math.max(molality, 1e-9) / WEAKEST);
  return at25 + REST_V_PER_KELVIN * (temperatureC - 25);
}

/** Scratch of one step: what {@link linearise} finds and {@link apply} uses. */
export interface Linear {
  /** For each cell: volts per C, values and slopes of each current, and what the step makes of transport. */
  cells: Float64Array;
  /** The battery as a source: terminal volts at the end of the step = openV + ohms × current (C). */
  openV: number;
  ohms: number;
  /** Did the transport of any cell take its bypass? */
  bypassed: boolean;
  /** At its temperature: spread of the acid (1/h), growth of sulfate (×), and reach of the plates (Ah/Ah). */
  spread: number;
  sulfates: number;
  reach: number;
}
const LINEAR_SIZE = 24;
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
  leak: 10,
  leakSlope: 11,
  rest: 12,
  ohms: 13,
  transport: 14,
  /** Root of the charging law, where the next search begins. */
  root: 15,
  /** Of this step's transport: volts without current, and volts per C. */
  transportV: 16,
  transportPerC: 17,
  /** How the main reaction slows as its sulfate and its acid are used up: per Ah/Ah of each; and acid that leaves the pores, 1/h. */
  mainPerSoft: 18,
  mainPerPore: 19,
  leaves: 20,
  transportPerSoft: 21,
  /** The main reaction and its slope, as this step sees them. */
  mainNow: 22,
  mainSlopeNow: 23,
};

export function makeLinear(cells: number): Linear {
  return { cells: new Float64Array(cells * LINEAR_SIZE), openV: 0, ohms: 0, bypassed: false, spread: 0, sulfates: 0, reach: 0 };
}

/** Share of the plates that acid reaches, {@link DRIEST} to 1. */
export function wetShare(water: number, discharged: number, design: DesignNumbers): number {
  const share = ((water - REACTION_WATER_G * discharged) / design.water - design.dryEnds) / (design.dryBegins - design.dryEnds);
  return share > 1 ? 1 : share < DRIEST ? DRIEST : share;
}

/**
 * Charging current at an overpotential: crossing the plates (b·asinh(i/2i₀)) and dissolving the sulfate (i/D) each
 * take their volts. Solved for y = asinh(i/2i₀) by Newton; the function is convex, so it comes down from above.
 *
 * @param c 2i₀/D, V
 */
function chargingRoot(over: number, b: number, c: number, from: number): number {
  const byExchange = over / b;
  let y = from;
  for (let i = 0; i < 12; i++) {
    if (!(y > 0) || y > byExchange || (i === 1 && y > from + 2)) {
      const ratio = over / c;
      const byDissolving = log(ratio + Math.sqrt(ratio * ratio + 1));
      y = byExchange < byDissolving ? byExchange : byDissolving;
    }
    const e = exp(y);
    const per = 1 / e;
    const step = (b * y + 0.5 * c * (e - per) - over) / (b + 0.5 * c * (e + per));
    y -= step;
    // Newton squares its error: what is this small is far smaller after the step.
    if (step < 1e-6 && step > -1e-6) break;
  }
  return y > 0 ? y : 0;
}

/** Degrees from 25 °C, as far as the kinetics are carried on. */
function clampWarmth(caseC: number): number {
  return (caseC > BOILS_C ? BOILS_C : caseC < COLDEST_C ? COLDEST_C : caseC) - 25;
}

/** Finds how fast everything in each cell goes at its present volts, and how that changes with them. */
export function linearise(anatomy: Anatomy, state: Float64Array, linear: Linear): void {
  const { cells, design, make } = anatomy;
  const caseC = state[cells * CELL_SIZE + CASE.temperatureC] as number;
  const theta = clampWarmth(caseC);
  const gasWarmth = exp(GAS_PER_C * theta);
  const exchange = design.exchange * exp(design.exchangePerK * theta);
  const acceptance = design.acceptance * exp(design.acceptancePerK * theta);
  const exchangeCharging = design.exchangeCharging * exp(design.acceptancePerK * theta);
  const softening = SOFTENING_SCALE * design.softening * exp(SOFTENING_PER_C * theta);
  const transport = design.transport * exp(design.transportPerK * theta);
  const spread = design.diffusion * exp(design.diffusionPerK * theta);
  const gas0 = design.gassing * gasWarmth;
  const local = design.localAction * gasWarmth;
  const ohmsMetal = design.resistance * (1 - design.acidOhms) * (1 + design.metalPerK * theta);
  const ohmsAcid = design.resistance * design.acidOhms * exp(-design.acidPerK * theta);
  const reach = Math.max(0.3, design.reach + design.reachPerK * theta);
  linear.spread = spread;
  linear.sulfates = exp(SULFATE_PER_C * theta);
  linear.reach = reach;
  const { tafel, tafelCharging, exchangeFade, acceptancePower, transportPower, transportAcid, recombination, recombinationLimit } = design;
  const { water: fullWater, dryBegins, dryEnds, poreShare } = design;
  const poreMolality = MOLALITY_PER_AH_AND_G / poreShare;
  const freeMolality = (0.5 * BOTTOM_SPEAKS * MOLALITY_PER_AH_AND_G) / (0.5 * (1 - poreShare));
  const perFullLog = log(design.water / (MOLALITY_PER_AH_AND_G * design.acid));
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
    const kept = (water - REACTION_WATER_G * discharged) / fullWater;
    const covered = (kept - dryEnds) / (dryBegins - dryEnds);
    const wet = covered > 1 ? 1 : covered < DRIEST ? DRIEST : covered;

    const perWater = 1 / water;
    const poreM = poreMolality * (state[s + CELL.pore] as number) * perWater;
    const layer = freeMolality * ((state[s + CELL.lower] as number) - (state[s + CELL.upper] as number)) * perWater;
    const felt = layer > 0 ? poreM + layer : poreM;
    let rest = REST_V_PER_KELVIN * theta;
    // Rise of the rest voltage with the logarithm of the acid.
    let perLog = NERNST_V_PER_DECADE * Math.LOG10E;
    const feltLog = log(felt > 1e-9 ? felt : 1e-9);
    if (felt >= WEAKEST) {
      const l = feltLog * Math.LOG10E;
      rest += 1.9228 + l * (0.147519 + l * (0.063552 + l * (0.073772 + l * 0.033612)));
      perLog = Math.LOG10E * (0.147519 + l * (2 * 0.063552 + l * (3 * 0.073772 + l * 4 * 0.033612)));
    } else rest += REST_AT_WEAKEST + NERNST_V_PER_DECADE * Math.LOG10E * (feltLog - WEAKEST_LOG);

    // What the plates can still give, of what they could when fresh.
    const active = (make[m + MAKE.active] as number) * (1 - design.dryCapacity * (1 - wet));
    const whole = reach * (active > 0.02 ? active : 0.02);
    const room = whole - hard;
    const left = room > 1e-3 && soft < room ? 1 - soft / room : 0;
    const blocked = hard / whole;
    const leftLog = log(left > 1e-4 ? left : 1e-4);

    const over = u - rest;
    let main: number;
    let mainSlope: number;
    let mainPerSoft: number;
    if (over >= 0) {
      const film = state[s + CELL.film] as number;
      const open = film > 0 ? wet * exp(-FILM_DAMPS * film) : wet;
      const dissolving = acceptance * open * exp(acceptancePower * log(soft > 1e-5 ? soft : 1e-5));
      const exchanging = 2 * exchangeCharging * open;
      const y = chargingRoot(over, tafelCharging, exchanging / dissolving, out[o + L.root] as number);
      out[o + L.root] = y;
      const e = exp(y);
      main = 0.5 * exchanging * (e - 1 / e);
      mainSlope = 1 / (tafelCharging / (0.5 * exchanging * (e + 1 / e)) + 1 / dissolving);
      mainPerSoft = soft > 1e-5 ? (mainSlope * main * acceptancePower) / (dissolving * soft) : 0;
    } else {
      // Exchange fades with what is left, and the plates that are covered take no part.
      const gone = (ALL_GONE * ALL_GONE) / (left * left + ALL_GONE * ALL_GONE);
      const exchanging = exchange * wet * active * exp(exchangeFade * leftLog) * (1 - gone);
      const x = over / tafel;
      const e = exp(x < -STRAIGHT_BEYOND ? -STRAIGHT_BEYOND : x);
      mainSlope = (exchanging * (e + 1 / e)) / tafel;
      main = exchanging * (e - 1 / e) + (x < -STRAIGHT_BEYOND ? mainSlope * tafel * (x + STRAIGHT_BEYOND) : 0);
      mainPerSoft = left > 0 ? (-main * (exchangeFade + 2 * gone)) / ((left > 1e-5 ? left : 1e-5) * room) : 0;
    }

    let back = 0;
    let backSlope = 0;
    if (u > SOFTENS_ABOVE_V && hard > 0) {
      const grow = exp(((u > GAS_STRAIGHT_FROM_V ? GAS_STRAIGHT_FROM_V : u) - SOFTENS_ABOVE_V) / SOFTENING_STEP_V) * softening * hard;
      back = grow - softening * hard;
      backSlope = u > GAS_STRAIGHT_FROM_V ? 0 : grow / SOFTENING_STEP_V;
    }

    // A cell loses what it still has, in acid that is still there; only a current makes gas on plates that are empty.
    const dry = covered < DRIEST ? (covered > 0 ? covered / DRIEST : 0) : 1;
    const has = left > 0 ? left / (left + LITTLE_LEFT) : 0;
    const driven = over >= DRIVEN_OVER_V ? 1 : over > 0 ? over / DRIVEN_OVER_V : 0;
    const losing = dry * (has + (1 - has) * driven);
    const steep = u > GAS_STRAIGHT_FROM_V ? GAS_STRAIGHT_FROM_V : u;
    const crosses = 1 + design.dryGas * (1 - (kept < 1 ? kept : 1));
    const burst = losing * gas0 * crosses * exp(GAS_PER_VOLT * (steep - GAS_AT_V));
    // Surface charge eats itself up as gas, whether there is sulfate left to take it or not.
    const fading = over > 0 ? losing * crosses * design.surfaceLoss : 0;
    const gasSlope = GAS_PER_VOLT * burst + fading;
    const gas = burst + GAS_PER_VOLT * burst * (u - steep) + fading * over + losing * local;
    const vent = recombination === 0 ? 1 : 1 - recombination / (1 + gas / recombinationLimit);

    // Past empty the plates make gas the wrong way round; far beyond either end something else gives way.
    let wrong = 0;
    let wrongSlope = 0;
    if (u < 0) {
      const low = u < WRONG_STRAIGHT_FROM_V ? WRONG_STRAIGHT_FROM_V : u;
      wrong = 0.02 * exp(-GAS_PER_VOLT * (low - REVERSED_V));
      wrongSlope = GAS_PER_VOLT * wrong;
      wrong += wrongSlope * (low - u);
    }
    const short = make[m + MAKE.short] as number;
    const beyond = u > GIVES_WAY_V ? u - GIVES_WAY_V : u < -GIVES_WAY_V ? u + GIVES_WAY_V : 0;

    out[o + L.main] = main;
    out[o + L.mainSlope] = mainSlope;
    out[o + L.mainPerSoft] = mainPerSoft;
    const pore = state[s + CELL.pore] as number;
    out[o + L.mainPerPore] = (mainSlope * perLog * poreM) / (felt * (pore > 1e-3 ? pore : 1e-3));
    out[o + L.leaves] = spread * (pore / poreShare - ((state[s + CELL.lower] as number) + (state[s + CELL.upper] as number)) / (1 - poreShare));
    out[o + L.hard] = back;
    out[o + L.hardSlope] = backSlope;
    out[o + L.gas] = gas;
    out[o + L.gasSlope] = gasSlope;
    out[o + L.vent] = vent;
    out[o + L.back] = wrong;
    out[o + L.backSlope] = wrongSlope;
    out[o + L.leak] = short * u + GIVES_WAY * beyond;
    out[o + L.leakSlope] = short + (beyond === 0 ? 0 : GIVES_WAY);
    out[o + L.rest] = rest;

    // Full of sulfate, or short of acid, the pores resist ever more.
    const weakLog = feltLog + perFullLog;
    const byAcid = exp(-transportAcid * (weakLog > -5 ? weakLog : -5));
    const transportOhms = transport * byAcid * (exp(-transportPower * leftLog) - 1);
    out[o + L.transport] = transportOhms > 1e-9 ? transportOhms : 1e-9;
    out[o + L.transportPerSoft] = left > 1e-4 ? transportPower / (left * room) : 0;
    // Conductivity of the acid has its best at 4.6 mol/kg.
    const strength = poreM > 0.05 ? poreM / 4.6 : 0.05 / 4.6;
    const conducts = strength * exp(1 - strength);
    const dryness = wet < 1 ? exp(-design.dryOhms * log(wet)) : 1;
    const grown = 1 + design.resistanceEmpty * discharged * discharged + design.resistanceHard * blocked * blocked;
    out[o + L.ohms] =
      (ohmsMetal + (ohmsAcid * dryness) / (conducts > 0.02 ? conducts : 0.02)) * (make[m + MAKE.resistance] as number) * grown +
      (make[m + MAKE.joint] as number);
  }
}

/**
 * Closes a step of `hours`: what the whole battery looks like from outside, once {@link linearise} has run.
 *
 * @param towards current about to flow (C): only its sign counts, for each cell
 */
export function close(anatomy: Anatomy, state: Float64Array, hours: number, linear: Linear, towards: number): void {
  const { cells, make, design } = anatomy;
  const capacitance = design.doubleLayer / hours;
  const surface = 1 / (design.surfaceOhms + hours / design.surface);
  const holds = design.transportCapacity / hours;
  const evens = 1 + hours * linear.spread * (1 / design.poreShare + 1 / (1 - design.poreShare));
  const out = linear.cells;
  let openV = 0;
  let ohms = 0;
  let bypassed = false;
  for (let k = 0; k < cells; k++) {
    const s = k * CELL_SIZE;
    const o = k * LINEAR_SIZE;
    const polarity = make[k * MAKE_SIZE + MAKE.polarity] as number;
    const u = state[s + CELL.plates] as number;
    // What the step itself uses up slows it: sulfate that dissolves, acid that the pores make or lose meanwhile.
    const byAcid = ((out[o + L.mainPerPore] as number) * hours) / evens;
    const slows = 1 / (1 + hours * (out[o + L.mainPerSoft] as number) + byAcid);
    out[o + L.mainNow] = slows * ((out[o + L.main] as number) + byAcid * (out[o + L.leaves] as number));
    out[o + L.mainSlopeNow] = slows * (out[o + L.mainSlope] as number);
    const slope =
      (out[o + L.mainSlopeNow] as number) +
      (out[o + L.hardSlope] as number) +
      (out[o + L.gasSlope] as number) +
      (out[o + L.backSlope] as number) +
      (out[o + L.leakSlope] as number);
    const gain = 1 / (capacitance + slope + surface);
    out[o + L.gain] = gain;
    const drop = gain * (total(out, o) + surface * (u - (state[s + CELL.surface] as number)));

    const charging = polarity * towards > 0;
    const share = charging ? design.transportCharging : 1;
    const most = charging ? MOST_TRANSPORT_CHARGING : MOST_TRANSPORT;
    const uses = -(out[o + L.mainNow] as number) * hours * (out[o + L.transportPerSoft] as number);
    const transport = (out[o + L.transport] as number) * (uses > 1 ? 2 : uses < -0.5 ? 0.5 : 1 + uses);
    let conducts = 1 / (transport < most ? transport : most);
    let transportV = (holds * (state[s + CELL.transport] as number)) / (holds + conducts);
    // Pulled down to its end it takes the bypass; which branch holds is judged by the current that is coming.
    if (transportV + (share * polarity * towards) / (holds + conducts) < TRANSPORT_LOWEST_V) {
      bypassed = true;
      conducts += TRANSPORT_BYPASS;
      transportV = (holds * (state[s + CELL.transport] as number) + TRANSPORT_BYPASS * TRANSPORT_LOWEST_V) / (holds + conducts);
    }
    const transportPerC = share / (holds + conducts);
    out[o + L.transportV] = transportV;
    out[o + L.transportPerC] = transportPerC;
    openV += polarity * (u - drop + transportV);
    ohms += gain + transportPerC + (out[o + L.ohms] as number);
  }
  linear.openV = openV;
  linear.bypassed = bypassed;
  linear.ohms = ohms;
}

/** Everything that takes charge from the plates of one cell, at their volts. */
function total(out: Float64Array, o: number): number {
  return (out[o + L.mainNow] as number) + (out[o + L.hard] as number) + (out[o + L.gas] as number) - (out[o + L.back] as number) + (out[o + L.leak] as number);
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
  const temperature = state[base + CASE.temperatureC] as number;
  const theta = clampWarmth(temperature);
  const spreads = linear.spread * hours;
  const harden = linear.sulfates * hours;
  const poreWater = design.poreShare;
  const freeWater = 1 - poreWater;
  const capacitance = design.doubleLayer;
  const surface = 1 / (design.surfaceOhms + hours / design.surface);
  const { reach } = linear;
  const out = linear.cells;
  let volts = 0;
  let chemistry = 0;
  for (let k = 0; k < cells; k++) {
    const s = k * CELL_SIZE;
    const o = k * LINEAR_SIZE;
    const polarity = make[k * MAKE_SIZE + MAKE.polarity] as number;
    const through = polarity * current;
    const before = state[s + CELL.plates] as number;
    const held = state[s + CELL.surface] as number;
    let rise = (out[o + L.gain] as number) * (through - total(out, o) - surface * (before - held));

    const wanted = (out[o + L.mainNow] as number) + (out[o + L.mainSlopeNow] as number) * rise;
    const backWanted = (out[o + L.hard] as number) + (out[o + L.hardSlope] as number) * rise;
    const gasWanted = (out[o + L.gas] as number) + (out[o + L.gasSlope] as number) * rise;
    const wrongWanted = (out[o + L.back] as number) - (out[o + L.backSlope] as number) * rise;
    const leak = (out[o + L.leak] as number) + (out[o + L.leakSlope] as number) * rise;
    const intoSurface = surface * (before + rise - held);

    const soft = state[s + CELL.soft] as number;
    const hard = state[s + CELL.hard] as number;
    const water = state[s + CELL.water] as number;
    const pore = state[s + CELL.pore] as number;
    const lower = state[s + CELL.lower] as number;
    const upper = state[s + CELL.upper] as number;
    const free = lower + upper;

    // Nothing is taken that is not there. A step that wanted more was too long; its volts put the charge right, and it is taken again.
    const comes = pore + (spreads * free) / (freeWater + spreads);
    const room = reach * (make[k * MAKE_SIZE + MAKE.active] as number) - hard - soft;
    const mostIn = (MOST_OF_ALL * soft) / hours;
    const mostOut = (MOST_OF_ALL * Math.min(room > 0 ? room : 0, comes)) / hours;
    const main = wanted > mostIn ? mostIn : wanted < -mostOut ? -mostOut : wanted;
    const mostBack = (MOST_OF_ALL * hard) / hours;
    const back = backWanted > mostBack ? mostBack : backWanted > 0 ? backWanted : 0;
    const dries = (out[o + L.vent] as number) * (gasWanted > 0 ? gasWanted : 0) + (wrongWanted > 0 ? wrongWanted : 0);
    const splits = (water - REACTION_WATER_G * (soft + hard) - design.dryEnds * design.water) / (GASSING_WATER_G * hours);
    const wets = dries > MOST_OF_ALL * splits ? (splits > 0 ? (MOST_OF_ALL * splits) / dries : 0) : 1;
    const gas = wets * gasWanted;
    const wrong = wets * wrongWanted;
    // Whatever the plates did not pass on is in their volts: the books balance to the last digit.
    rise = ((through - main - back - gas + wrong - leak - intoSurface) * hours) / capacitance;

    const after = before + rise;
    const surfaceRise = (intoSurface * hours) / design.surface;
    const transportBefore = state[s + CELL.transport] as number;
    const transport = (out[o + L.transportV] as number) + (out[o + L.transportPerC] as number) * through;
    state[s + CELL.plates] = after;
    state[s + CELL.surface] = held + surfaceRise;
    state[s + CELL.transport] = transport;
    volts += polarity * (after + transport) + (out[o + L.ohms] as number) * current;

    const vented = gas * (out[o + L.vent] as number);
    const hardens = harden * design.hardening * soft;
    const fresh = soft - main * hours;
    const hardened = (fresh * hardens) / (1 + hardens);
    state[s + CELL.soft] = fresh - hardened;
    state[s + CELL.hard] = hard - back * hours + hardened;
    state[s + CELL.gassed] = (state[s + CELL.gassed] as number) + (gas - wrong) * hours;
    state[s + CELL.vented] = (state[s + CELL.vented] as number) + (vented + wrong) * hours;
    state[s + CELL.leaked] = (state[s + CELL.leaked] as number) + leak * hours;
    state[s + CELL.water] = water - ((main + back) * REACTION_WATER_G + (vented + wrong) * GASSING_WATER_G) * hours;

    // The film closes while the cell stands discharged, and opens with the charge put through it.
    const film = state[s + CELL.film] as number;
    const closes = harden * design.filming * soft * soft;
    const opens = main > 0 ? (main * hours) / FILM_OPENS_AH : 0;
    state[s + CELL.film] = (film + closes * (1 - film / MOST_FILM)) / (1 + opens);

    // Acid: made and used in the pores, spread to the free acid; what leaves the pores while charging sinks.
    const made = (main + back) * hours;
    const leaves = (spreads * ((pore + made) / poreWater - free / freeWater)) / (1 + spreads * (1 / poreWater + 1 / freeWater));
    // What enters the pores comes from both halves as they are, so a layer outlives the charge that made it.
    const down = leaves > 0 ? 0.5 * (1 + design.layering) * leaves : free > 0 ? (leaves * lower) / free : 0;
    const up = leaves - down;
    const mixing = (design.mixingByGas * (vented > 0 ? vented : 0) + design.mixingByItself) * hours;
    const fall = (0.5 * (lower - upper) * mixing) / (1 + mixing);
    state[s + CELL.pore] = pore + made - leaves;
    state[s + CELL.lower] = lower + down - fall;
    state[s + CELL.upper] = upper + up + fall;

    const enthalpyV = (out[o + L.rest] as number) - REST_V_PER_KELVIN * (KELVIN + theta);
    chemistry +=
      ((main + back) * enthalpyV + (vented + wrong) * THERMONEUTRAL_WATER_V) * hours +
      capacitance * (before + 0.5 * rise) * rise +
      design.surface * (held + 0.5 * surfaceRise) * surfaceRise +
      0.5 * design.transportCapacity * (transport * transport - transportBefore * transportBefore);
  }
  chemistry *= c20Ah;
  const energy = volts * current * c20Ah * hours;
  const size = cells * c20Ah;
  const away = design.cooling * Math.cbrt(size * size) * hours;
  const lost = temperature > BOILS_C ? away * (1 + BOILING * (temperature - BOILS_C)) : away;
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
