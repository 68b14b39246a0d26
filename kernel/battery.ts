/**
 * The arithmetic of one small step of a battery, on flat memory. What the symbols mean, and why each term is there, is
 * written up in docs/model.md; where each number of a block lies, in numbers.ts, which is made from src/core/simulation.
 */
import { exp, log } from './exponentials';
import * as N from './numbers';

/** A step takes at most this share of what is there of anything: more is a step too long, and is put right by its volts. */
const MOST_OF_ALL: f64 = 0.9;

/** Degrees from 25 °C, as far as the kinetics are carried on. */
// @ts-ignore: decorator
@inline
function clampWarmth(caseC: f64): f64 {
  return (caseC > N.BOILS_C ? N.BOILS_C : caseC < N.COLDEST_C ? N.COLDEST_C : caseC) - 25.0;
}

/** e to the root that was found last. */
let grown: f64 = 1.0;

/**
 * Charging current at an overpotential: crossing the plates (b·asinh(i/2i₀)) and dissolving the sulfate (i/D) each
 * take their volts. Solved for y = asinh(i/2i₀) by Newton; the function is convex, so it comes down from above.
 *
 * @param c 2i₀/D, V
 * @returns y, and e^y in `grown`
 */
function chargingRoot(over: f64, b: f64, c: f64, from: f64): f64 {
  const byExchange = over / b;
  let y = from;
  for (let i = 0; i < 12; i++) {
    if (!(y > 0.0) || y > byExchange || (i == 1 && y > from + 2.0)) {
      const ratio = over / c;
      const byDissolving = log(ratio + Math.sqrt(ratio * ratio + 1.0));
      y = byExchange < byDissolving ? byExchange : byDissolving;
    }
    const e = exp(y);
    const per = 1.0 / e;
    const step = (b * y + 0.5 * c * (e - per) - over) / (b + 0.5 * c * (e + per));
    y -= step;
    // Newton squares its error: what is this small is far smaller after the step, and e^y follows it by two terms of its series.
    if (step < 1e-6 && step > -1e-6) {
      grown = y > 0.0 ? e * (1.0 - step * (1.0 - 0.5 * step)) : 1.0;
      return y > 0.0 ? y : 0.0;
    }
  }
  grown = y > 0.0 ? exp(y) : 1.0;
  return y > 0.0 ? y : 0.0;
}

/** Finds how fast everything in each cell of a block goes at the volts of a state, and how that changes with them. */
export function linearise(block: usize, state: usize): void {
  const cells = load<i32>(block, N.B_CELLS);
  const d = block + N.B_DESIGN;
  const theta = clampWarmth(load<f64>(state + <usize>cells * N.CELL_BYTES, N.C_temperatureC));
  const gasWarmth = exp(N.GAS_PER_C * theta);
  const exchange = load<f64>(d, N.D_exchange) * exp(load<f64>(d, N.D_exchangePerK) * theta);
  const charging = exp(load<f64>(d, N.D_acceptancePerK) * theta);
  const acceptance = load<f64>(d, N.D_acceptance) * charging;
  const exchangeCharging = load<f64>(d, N.D_exchangeCharging) * charging;
  const softening = N.SOFTENING_SCALE * load<f64>(d, N.D_softening) * exp(N.SOFTENING_PER_C * theta);
  const transport = load<f64>(d, N.D_transport) * exp(load<f64>(d, N.D_transportPerK) * theta);
  const spread = load<f64>(d, N.D_diffusion) * exp(load<f64>(d, N.D_diffusionPerK) * theta);
  const gas0 = load<f64>(d, N.D_gassing) * gasWarmth;
  const local = load<f64>(d, N.D_localAction) * gasWarmth;
  const acidOhms = load<f64>(d, N.D_acidOhms);
  const ohmsMetal = load<f64>(d, N.D_resistance) * (1.0 - acidOhms) * (1.0 + load<f64>(d, N.D_metalPerK) * theta);
  const ohmsAcid = load<f64>(d, N.D_resistance) * acidOhms * exp(-load<f64>(d, N.D_acidPerK) * theta);
  const reach = Math.max(0.3, load<f64>(d, N.D_reach) + load<f64>(d, N.D_reachPerK) * theta);
  store<f64>(block, spread, N.B_SPREAD);
  store<f64>(block, exp(N.SULFATE_PER_C * theta), N.B_SULFATES);
  store<f64>(block, reach, N.B_REACH);
  const tafel = load<f64>(d, N.D_tafel);
  const tafelCharging = load<f64>(d, N.D_tafelCharging);
  const exchangeFade = load<f64>(d, N.D_exchangeFade);
  const acceptancePower = load<f64>(d, N.D_acceptancePower);
  const transportPower = load<f64>(d, N.D_transportPower);
  const transportAcid = load<f64>(d, N.D_transportAcid);
  const recombination = load<f64>(d, N.D_recombination);
  const recombinationLimit = load<f64>(d, N.D_recombinationLimit);
  const fullWater = load<f64>(d, N.D_water);
  const dryEnds = load<f64>(d, N.D_dryEnds);
  const perDry = 1.0 / (load<f64>(d, N.D_dryBegins) - dryEnds);
  const dryCapacity = load<f64>(d, N.D_dryCapacity);
  const dryGas = load<f64>(d, N.D_dryGas);
  const surfaceLoss = load<f64>(d, N.D_surfaceLoss);
  const resistanceEmpty = load<f64>(d, N.D_resistanceEmpty);
  const resistanceHard = load<f64>(d, N.D_resistanceHard);
  const poreShare = load<f64>(d, N.D_poreShare);
  const perPore = 1.0 / poreShare;
  const perFree = 1.0 / (1.0 - poreShare);
  const perFullWater = 1.0 / fullWater;
  const poreMolality = N.MOLALITY_PER_AH_AND_G * perPore;
  const freeMolality = N.BOTTOM_SPEAKS * N.MOLALITY_PER_AH_AND_G * perFree;
  const perFullLog = log(fullWater / (N.MOLALITY_PER_AH_AND_G * load<f64>(d, N.D_acid)));
  for (let k: usize = 0; k < <usize>cells; k++) {
    const s = state + k * N.CELL_BYTES;
    const m = block + N.B_MAKE + k * N.MAKE_BYTES;
    const o = block + N.B_LINEAR + k * N.LINEAR_BYTES;
    const soft = load<f64>(s, N.S_soft);
    const hard = load<f64>(s, N.S_hard);
    const water = load<f64>(s, N.S_water);
    const u = load<f64>(s, N.S_plates);
    const pore = load<f64>(s, N.S_pore);
    const lower = load<f64>(s, N.S_lower);
    const upper = load<f64>(s, N.S_upper);
    const discharged = soft + hard;
    const kept = (water - N.REACTION_WATER_G * discharged) * perFullWater;
    const covered = (kept - dryEnds) * perDry;
    const wet = covered > 1.0 ? 1.0 : covered < N.DRIEST ? N.DRIEST : covered;

    const perWater = 1.0 / water;
    const poreM = poreMolality * pore * perWater;
    const layer = freeMolality * (lower - upper) * perWater;
    const felt = layer > 0.0 ? poreM + layer : poreM;
    let rest = N.REST_V_PER_KELVIN * theta;
    // Rise of the rest voltage with the logarithm of the acid.
    let perLog = N.NERNST_V_PER_DECADE * Math.LOG10E;
    const feltLog = log(felt > 1e-9 ? felt : 1e-9);
    if (felt >= N.WEAKEST) {
      const l = feltLog * Math.LOG10E;
      rest += N.BODE_0 + l * (N.BODE_1 + l * (N.BODE_2 + l * (N.BODE_3 + l * N.BODE_4)));
      perLog = Math.LOG10E * (N.BODE_1 + l * (2.0 * N.BODE_2 + l * (3.0 * N.BODE_3 + l * (4.0 * N.BODE_4))));
    } else rest += N.REST_AT_WEAKEST + N.NERNST_V_PER_DECADE * Math.LOG10E * (feltLog - N.WEAKEST_LOG);

    // What the plates can still give, of what they could when fresh.
    const active = load<f64>(m, N.M_active) * (1.0 - dryCapacity * (1.0 - wet));
    const whole = reach * (active > 0.02 ? active : 0.02);
    const room = whole - hard;
    const left = room > 1e-3 && soft < room ? 1.0 - soft / room : 0.0;
    const blocked = hard / whole;
    const leftLog = log(left > 1e-4 ? left : 1e-4);

    const over = u - rest;
    let main: f64;
    let mainSlope: f64;
    let mainPerSoft: f64;
    if (over >= 0.0) {
      const film = load<f64>(s, N.S_film);
      const open = film > 0.0 ? wet * exp(-N.FILM_DAMPS * film) : wet;
      const dissolving = acceptance * open * exp(acceptancePower * log(soft > 1e-5 ? soft : 1e-5));
      const exchanging = 2.0 * exchangeCharging * open;
      const y = chargingRoot(over, tafelCharging, exchanging / dissolving, load<f64>(o, N.L_root));
      store<f64>(o, y, N.L_root);
      const e = grown;
      const per = 1.0 / e;
      main = 0.5 * exchanging * (e - per);
      mainSlope = 1.0 / (tafelCharging / (0.5 * exchanging * (e + per)) + 1.0 / dissolving);
      mainPerSoft = soft > 1e-5 ? (mainSlope * main * acceptancePower) / (dissolving * soft) : 0.0;
    } else {
      // Exchange fades with what is left, and the plates that are covered take no part.
      const gone = (N.ALL_GONE * N.ALL_GONE) / (left * left + N.ALL_GONE * N.ALL_GONE);
      const exchanging = exchange * wet * active * exp(exchangeFade * leftLog) * (1.0 - gone);
      const x = over / tafel;
      const e = exp(x < -N.STRAIGHT_BEYOND ? -N.STRAIGHT_BEYOND : x);
      const per = 1.0 / e;
      mainSlope = (exchanging * (e + per)) / tafel;
      main = exchanging * (e - per) + (x < -N.STRAIGHT_BEYOND ? mainSlope * tafel * (x + N.STRAIGHT_BEYOND) : 0.0);
      mainPerSoft = left > 0.0 ? (-main * (exchangeFade + 2.0 * gone)) / ((left > 1e-5 ? left : 1e-5) * room) : 0.0;
    }

    let back: f64 = 0.0;
    let backSlope: f64 = 0.0;
    if (u > N.SOFTENS_ABOVE_V && hard > 0.0) {
      const grow = exp(((u > N.GAS_STRAIGHT_FROM_V ? N.GAS_STRAIGHT_FROM_V : u) - N.SOFTENS_ABOVE_V) / N.SOFTENING_STEP_V) * softening * hard;
      back = grow - softening * hard;
      backSlope = u > N.GAS_STRAIGHT_FROM_V ? 0.0 : grow / N.SOFTENING_STEP_V;
    }

    // A cell loses what it still has, in acid that is still there; only a current makes gas on plates that are empty.
    const dry = covered < N.DRIEST ? (covered > 0.0 ? covered / N.DRIEST : 0.0) : 1.0;
    const has = left > 0.0 ? left / (left + N.LITTLE_LEFT) : 0.0;
    const driven = over >= N.DRIVEN_OVER_V ? 1.0 : over > 0.0 ? over / N.DRIVEN_OVER_V : 0.0;
    const losing = dry * (has + (1.0 - has) * driven);
    const steep = u > N.GAS_STRAIGHT_FROM_V ? N.GAS_STRAIGHT_FROM_V : u;
    const crosses = 1.0 + dryGas * (1.0 - (kept < 1.0 ? kept : 1.0));
    const burst = losing * gas0 * crosses * exp(N.GAS_PER_VOLT * (steep - N.GAS_AT_V));
    // Surface charge eats itself up as gas, whether there is sulfate left to take it or not.
    const fading = over > 0.0 ? losing * crosses * surfaceLoss : 0.0;
    const gasSlope = N.GAS_PER_VOLT * burst + fading;
    const gas = burst + N.GAS_PER_VOLT * burst * (u - steep) + fading * over + losing * local;
    const vent = recombination == 0.0 ? 1.0 : 1.0 - recombination / (1.0 + gas / recombinationLimit);

    // Past empty the plates make gas the wrong way round; far beyond either end something else gives way.
    let wrong: f64 = 0.0;
    let wrongSlope: f64 = 0.0;
    if (u < 0.0) {
      const low = u < N.WRONG_STRAIGHT_FROM_V ? N.WRONG_STRAIGHT_FROM_V : u;
      wrong = 0.02 * exp(-N.GAS_PER_VOLT * (low - N.REVERSED_V));
      wrongSlope = N.GAS_PER_VOLT * wrong;
      wrong += wrongSlope * (low - u);
    }
    const short = load<f64>(m, N.M_short);
    const beyond = u > N.GIVES_WAY_V ? u - N.GIVES_WAY_V : u < -N.GIVES_WAY_V ? u + N.GIVES_WAY_V : 0.0;

    store<f64>(o, main, N.L_main);
    store<f64>(o, mainSlope, N.L_mainSlope);
    store<f64>(o, mainPerSoft, N.L_mainPerSoft);
    store<f64>(o, (mainSlope * perLog * poreM) / (felt * (pore > 1e-3 ? pore : 1e-3)), N.L_mainPerPore);
    store<f64>(o, spread * (pore * perPore - (lower + upper) * perFree), N.L_leaves);
    store<f64>(o, back, N.L_hard);
    store<f64>(o, gas, N.L_gas);
    store<f64>(o, vent, N.L_vent);
    store<f64>(o, wrong, N.L_back);
    store<f64>(o, backSlope, N.L_hardSlope);
    store<f64>(o, gasSlope, N.L_gasSlope);
    store<f64>(o, wrongSlope, N.L_backSlope);
    const leakSlope = short + (beyond == 0.0 ? 0.0 : N.GIVES_WAY);
    store<f64>(o, leakSlope, N.L_leakSlope);
    store<f64>(o, backSlope + gasSlope + wrongSlope + leakSlope, N.L_sideSlope);
    store<f64>(o, short * u + N.GIVES_WAY * beyond, N.L_leak);
    store<f64>(o, rest, N.L_rest);

    // Full of sulfate, or short of acid, the pores resist ever more.
    const weakLog = feltLog + perFullLog;
    const byAcid = exp(-transportAcid * (weakLog > -5.0 ? weakLog : -5.0));
    const transportOhms = transport * byAcid * (exp(-transportPower * leftLog) - 1.0);
    store<f64>(o, transportOhms > 1e-9 ? transportOhms : 1e-9, N.L_transport);
    store<f64>(o, left > 1e-4 ? transportPower / (left * room) : 0.0, N.L_transportPerSoft);
    // Conductivity of the acid has its best at 4.6 mol/kg.
    const strength = (poreM > 0.05 ? poreM : 0.05) / 4.6;
    const conducts = strength * exp(1.0 - strength);
    const dryness = wet < 1.0 ? exp(-load<f64>(d, N.D_dryOhms) * log(wet)) : 1.0;
    const risen = 1.0 + resistanceEmpty * discharged * discharged + resistanceHard * blocked * blocked;
    const ohms =
      (ohmsMetal + (ohmsAcid * dryness) / (conducts > 0.02 ? conducts : 0.02)) * load<f64>(m, N.M_resistance) * risen + load<f64>(m, N.M_joint);
    store<f64>(o, ohms, N.L_ohms);
  }
}

/**
 * Closes a step of `hours`: what the whole battery looks like from outside, once {@link linearise} has run. As a source,
 * its terminal volts at the end of the step are open volts + ohms × current (C).
 *
 * @param towards current about to flow (C): only its sign counts, for each cell
 */
export function close(block: usize, state: usize, hours: f64, towards: f64): void {
  const cells = load<i32>(block, N.B_CELLS);
  const d = block + N.B_DESIGN;
  const capacitance = load<f64>(d, N.D_doubleLayer) / hours;
  const surface = 1.0 / (load<f64>(d, N.D_surfaceOhms) + hours / load<f64>(d, N.D_surface));
  const holds = load<f64>(d, N.D_transportCapacity) / hours;
  const poreShare = load<f64>(d, N.D_poreShare);
  const evens = hours / (1.0 + hours * load<f64>(block, N.B_SPREAD) * (1.0 / poreShare + 1.0 / (1.0 - poreShare)));
  const transportCharging = load<f64>(d, N.D_transportCharging);
  let openV: f64 = 0.0;
  let ohms: f64 = 0.0;
  let bypassed = 0;
  for (let k: usize = 0; k < <usize>cells; k++) {
    const s = state + k * N.CELL_BYTES;
    const o = block + N.B_LINEAR + k * N.LINEAR_BYTES;
    const polarity = load<f64>(block + N.B_MAKE + k * N.MAKE_BYTES, N.M_polarity);
    const u = load<f64>(s, N.S_plates);
    // What the step itself uses up slows it: sulfate that dissolves, acid that the pores make or lose meanwhile.
    const byAcid = load<f64>(o, N.L_mainPerPore) * evens;
    const slows = 1.0 / (1.0 + hours * load<f64>(o, N.L_mainPerSoft) + byAcid);
    const mainNow = slows * (load<f64>(o, N.L_main) + byAcid * load<f64>(o, N.L_leaves));
    const mainSlopeNow = slows * load<f64>(o, N.L_mainSlope);
    store<f64>(o, mainNow, N.L_mainNow);
    store<f64>(o, mainSlopeNow, N.L_mainSlopeNow);
    const gain = 1.0 / (capacitance + surface + mainSlopeNow + load<f64>(o, N.L_sideSlope));
    const taken = mainNow + load<f64>(o, N.L_hard) + load<f64>(o, N.L_gas) - load<f64>(o, N.L_back) + load<f64>(o, N.L_leak);
    store<f64>(o, gain, N.L_gain);
    store<f64>(o, taken, N.L_taken);
    const drop = gain * (taken + surface * (u - load<f64>(s, N.S_surface)));

    const charging = polarity * towards > 0.0;
    const share = charging ? transportCharging : 1.0;
    const most = charging ? N.MOST_TRANSPORT_CHARGING : N.MOST_TRANSPORT;
    const uses = -mainNow * hours * load<f64>(o, N.L_transportPerSoft);
    const transport = load<f64>(o, N.L_transport) * (uses > 1.0 ? 2.0 : uses < -0.5 ? 0.5 : 1.0 + uses);
    let conducts = 1.0 / (transport < most ? transport : most);
    let perC = 1.0 / (holds + conducts);
    const held = holds * load<f64>(s, N.S_transport);
    let transportV = held * perC;
    // Pulled down to its end it takes the bypass; which branch holds is judged by the current that is coming.
    if (transportV + share * polarity * towards * perC < N.TRANSPORT_LOWEST_V) {
      bypassed = 1;
      conducts += N.TRANSPORT_BYPASS;
      perC = 1.0 / (holds + conducts);
      transportV = (held + N.TRANSPORT_BYPASS * N.TRANSPORT_LOWEST_V) * perC;
    }
    const transportPerC = share * perC;
    store<f64>(o, transportV, N.L_transportV);
    store<f64>(o, transportPerC, N.L_transportPerC);
    openV += polarity * (u - drop + transportV);
    ohms += gain + transportPerC + load<f64>(o, N.L_ohms);
  }
  store<f64>(block, openV, N.B_OPEN_V);
  store<f64>(block, ohms, N.B_OHMS);
  store<i32>(block, bypassed, N.B_BYPASSED);
}

/**
 * Carries a step out at a current, once {@link linearise} and {@link close} have run for the same state.
 * Charge is conserved to rounding: what goes in is stored, gassed or leaked.
 *
 * @param current in C (1/h), charging positive
 * @returns terminal volts at the end of the step
 */
export function apply(block: usize, state: usize, hours: f64, current: f64): f64 {
  const cells = load<i32>(block, N.B_CELLS);
  const d = block + N.B_DESIGN;
  const base = state + <usize>cells * N.CELL_BYTES;
  const temperature = load<f64>(base, N.C_temperatureC);
  const theta = clampWarmth(temperature);
  const spreads = load<f64>(block, N.B_SPREAD) * hours;
  const harden = load<f64>(block, N.B_SULFATES) * hours;
  const reach = load<f64>(block, N.B_REACH);
  const poreWater = load<f64>(d, N.D_poreShare);
  const freeWater = 1.0 - poreWater;
  const perPore = 1.0 / poreWater;
  const perFree = 1.0 / freeWater;
  const evens = spreads / (1.0 + spreads * (perPore + perFree));
  const shared = spreads / (freeWater + spreads);
  const perHours = 1.0 / hours;
  const ofAll = MOST_OF_ALL * perHours;
  const capacitance = load<f64>(d, N.D_doubleLayer);
  const hoursPerCapacitance = hours / capacitance;
  const surfaceCapacity = load<f64>(d, N.D_surface);
  const hoursPerSurface = hours / surfaceCapacity;
  const surface = 1.0 / (load<f64>(d, N.D_surfaceOhms) + hoursPerSurface);
  const driedOut = load<f64>(d, N.D_dryEnds) * load<f64>(d, N.D_water);
  const hardening = harden * load<f64>(d, N.D_hardening);
  const filming = harden * load<f64>(d, N.D_filming);
  const mixingByGas = load<f64>(d, N.D_mixingByGas);
  const mixingByItself = load<f64>(d, N.D_mixingByItself);
  const sinks = 0.5 * (1.0 + load<f64>(d, N.D_layering));
  const halfTransport = 0.5 * load<f64>(d, N.D_transportCapacity);
  let volts: f64 = 0.0;
  let chemistry: f64 = 0.0;
  for (let k: usize = 0; k < <usize>cells; k++) {
    const s = state + k * N.CELL_BYTES;
    const m = block + N.B_MAKE + k * N.MAKE_BYTES;
    const o = block + N.B_LINEAR + k * N.LINEAR_BYTES;
    const polarity = load<f64>(m, N.M_polarity);
    const through = polarity * current;
    const before = load<f64>(s, N.S_plates);
    const held = load<f64>(s, N.S_surface);
    let rise = load<f64>(o, N.L_gain) * (through - load<f64>(o, N.L_taken) - surface * (before - held));

    const wanted = load<f64>(o, N.L_mainNow) + load<f64>(o, N.L_mainSlopeNow) * rise;
    const backWanted = load<f64>(o, N.L_hard) + load<f64>(o, N.L_hardSlope) * rise;
    const gasWanted = load<f64>(o, N.L_gas) + load<f64>(o, N.L_gasSlope) * rise;
    const wrongWanted = load<f64>(o, N.L_back) - load<f64>(o, N.L_backSlope) * rise;
    const leak = load<f64>(o, N.L_leak) + load<f64>(o, N.L_leakSlope) * rise;
    const intoSurface = surface * (before + rise - held);

    const soft = load<f64>(s, N.S_soft);
    const hard = load<f64>(s, N.S_hard);
    const water = load<f64>(s, N.S_water);
    const pore = load<f64>(s, N.S_pore);
    const lower = load<f64>(s, N.S_lower);
    const upper = load<f64>(s, N.S_upper);
    const free = lower + upper;

    // Nothing is taken that is not there. A step that wanted more was too long; its volts put the charge right, and it is taken again.
    const comes = pore + shared * free;
    const room = reach * load<f64>(m, N.M_active) - hard - soft;
    const mostIn = ofAll * soft;
    const emptiest = room > 0.0 ? room : 0.0;
    const mostOut = ofAll * (emptiest < comes ? emptiest : comes);
    const main = wanted > mostIn ? mostIn : wanted < -mostOut ? -mostOut : wanted;
    const mostBack = ofAll * hard;
    const back = backWanted > mostBack ? mostBack : backWanted > 0.0 ? backWanted : 0.0;
    const vent = load<f64>(o, N.L_vent);
    const dries = vent * (gasWanted > 0.0 ? gasWanted : 0.0) + (wrongWanted > 0.0 ? wrongWanted : 0.0);
    const splits = (water - N.REACTION_WATER_G * (soft + hard) - driedOut) * (perHours / N.GASSING_WATER_G);
    const wets = dries > MOST_OF_ALL * splits ? (splits > 0.0 ? (MOST_OF_ALL * splits) / dries : 0.0) : 1.0;
    const gas = wets * gasWanted;
    const wrong = wets * wrongWanted;
    // Whatever the plates did not pass on is in their volts: the books balance to the last digit.
    rise = (through - main - back - gas + wrong - leak - intoSurface) * hoursPerCapacitance;

    const after = before + rise;
    const surfaceRise = intoSurface * hoursPerSurface;
    const transportBefore = load<f64>(s, N.S_transport);
    const transport = load<f64>(o, N.L_transportV) + load<f64>(o, N.L_transportPerC) * through;
    store<f64>(s, after, N.S_plates);
    store<f64>(s, held + surfaceRise, N.S_surface);
    store<f64>(s, transport, N.S_transport);
    volts += polarity * (after + transport) + load<f64>(o, N.L_ohms) * current;

    const vented = gas * vent;
    const hardens = hardening * soft;
    const fresh = soft - main * hours;
    const hardened = (fresh * hardens) / (1.0 + hardens);
    store<f64>(s, fresh - hardened, N.S_soft);
    store<f64>(s, hard - back * hours + hardened, N.S_hard);
    store<f64>(s, load<f64>(s, N.S_gassed) + (gas - wrong) * hours, N.S_gassed);
    store<f64>(s, load<f64>(s, N.S_vented) + (vented + wrong) * hours, N.S_vented);
    store<f64>(s, load<f64>(s, N.S_leaked) + leak * hours, N.S_leaked);
    store<f64>(s, water - ((main + back) * N.REACTION_WATER_G + (vented + wrong) * N.GASSING_WATER_G) * hours, N.S_water);

    // The film closes while the cell stands discharged, and opens with the charge put through it.
    const film = load<f64>(s, N.S_film);
    const closes = filming * soft * soft;
    const opens = main > 0.0 ? main * hours * (1.0 / N.FILM_OPENS_AH) : 0.0;
    store<f64>(s, (film + closes * (1.0 - film * (1.0 / N.MOST_FILM))) / (1.0 + opens), N.S_film);

    // Acid: made and used in the pores, spread to the free acid; what leaves the pores while charging sinks.
    const made = (main + back) * hours;
    const leaves = evens * ((pore + made) * perPore - free * perFree);
    // What enters the pores comes from both halves as they are, so a layer outlives the charge that made it.
    const down = leaves > 0.0 ? sinks * leaves : free > 0.0 ? (leaves * lower) / free : 0.0;
    const mixing = (mixingByGas * (vented > 0.0 ? vented : 0.0) + mixingByItself) * hours;
    const fall = (0.5 * (lower - upper) * mixing) / (1.0 + mixing);
    store<f64>(s, pore + made - leaves, N.S_pore);
    store<f64>(s, lower + down - fall, N.S_lower);
    store<f64>(s, upper + (leaves - down) + fall, N.S_upper);

    const enthalpyV = load<f64>(o, N.L_rest) - N.REST_V_PER_KELVIN * (N.KELVIN + theta);
    chemistry +=
      ((main + back) * enthalpyV + (vented + wrong) * N.THERMONEUTRAL_WATER_V) * hours +
      capacitance * (before + 0.5 * rise) * rise +
      surfaceCapacity * (held + 0.5 * surfaceRise) * surfaceRise +
      halfTransport * (transport * transport - transportBefore * transportBefore);
  }
  const c20Ah = load<f64>(block, N.B_C20);
  chemistry *= c20Ah;
  const energy = volts * current * c20Ah * hours;
  const away = load<f64>(block, N.B_COOLING) * hours;
  const lost = temperature > N.BOILS_C ? away * (1.0 + N.BOILING * (temperature - N.BOILS_C)) : away;
  const stores = load<f64>(d, N.D_heatCapacity) * <f64>cells * c20Ah;
  const ambientC = load<f64>(block, N.B_AMBIENT);
  const next = (temperature + (energy - chemistry) / stores + (lost / stores) * ambientC) / (1.0 + lost / stores);
  store<f64>(base, next, N.C_temperatureC);
  store<f64>(base, load<f64>(base, N.C_chargeIn) + current * c20Ah * hours, N.C_chargeIn);
  store<f64>(base, load<f64>(base, N.C_energyIn) + energy, N.C_energyIn);
  store<f64>(base, load<f64>(base, N.C_chemistry) + chemistry, N.C_chemistry);
  store<f64>(base, load<f64>(base, N.C_heatOut) + lost * (next - ambientC), N.C_heatOut);
  return volts;
}
