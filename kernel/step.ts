/**
 * Free steps: a whole one beside two halves gives the error, and both together a second-order result. A step that errs
 * too much is taken again, shorter. Two blocks of memory hold a battery each; the first is the one that is stepped.
 */
import { apply, close, linearise } from './battery';
import { exp as exponential, log as logarithm } from './exponentials';
import * as N from './numbers';

const FIRST: usize = memory.data(N.BLOCK_BYTES, 8);
const SECOND: usize = memory.data(N.BLOCK_BYTES, 8);
const WHOLE: usize = memory.data(N.STATE_BYTES, 8);
const HALVES: usize = memory.data(N.STATE_BYTES, 8);

export function first(): usize {
  return FIRST;
}
export function second(): usize {
  return SECOND;
}
export function exp(x: f64): f64 {
  return exponential(x);
}
export function log(x: f64): f64 {
  return logarithm(x);
}

/** Where a battery's own state lies in its block. */
// @ts-ignore: decorator
@inline
function stateOf(block: usize): usize {
  return block + N.B_STATE;
}

/** Rates at the volts as they are, and the battery as a source for a step of so many hours. */
export function face(block: usize, hours: f64, towards: f64): void {
  linearise(block, stateOf(block));
  close(block, stateOf(block), hours, towards);
}

/** Carries a step out for which {@link face} has run. @returns terminal volts */
export function carry(block: usize, hours: f64, current: f64): f64 {
  return apply(block, stateOf(block), hours, current);
}

/** Water of a cell that is there whether it is charged or not, g/Ah. */
// @ts-ignore: decorator
@inline
function freeWater(cell: usize): f64 {
  return load<f64>(cell, N.S_water) - N.REACTION_WATER_G * (load<f64>(cell, N.S_soft) + load<f64>(cell, N.S_hard));
}

/** Amps of the step just taken. */
let takenA: f64 = 0.0;

/** One linearly implicit step at the current the drive and the battery settle on. @returns terminal volts */
function take(state: usize, hours: f64): f64 {
  const c20Ah = load<f64>(FIRST, N.B_C20);
  const asked = load<f64>(FIRST, N.B_DRIVE_A) / c20Ah;
  const limitV = load<f64>(FIRST, N.B_LIMIT_V);
  const floorV = load<f64>(FIRST, N.B_FLOOR_V);
  let c = asked;
  close(FIRST, state, hours, c);
  // What a limit leaves of the current may take another branch of the transport than the current that was asked for.
  for (let pass = 0; pass < 2; pass++) {
    const openV = load<f64>(FIRST, N.B_OPEN_V);
    const ohms = load<f64>(FIRST, N.B_OHMS);
    c = asked;
    if (c > 0.0 && openV + ohms * c > limitV) c = Math.max(0.0, (limitV - openV) / ohms);
    else if (c < 0.0 && openV + ohms * c < floorV) c = Math.min(0.0, (floorV - openV) / ohms);
    if (pass > 0 || c == asked || load<i32>(FIRST, N.B_BYPASSED) == 0) break;
    close(FIRST, state, hours, c);
  }
  takenA = c * c20Ah;
  return apply(FIRST, state, hours, c);
}

/** Nothing creeps: a battery that wants ever more steps under one drive gets longer ones, at the cost of their accuracy. */
function ease(shorter: bool): void {
  const driveA = load<f64>(FIRST, N.B_DRIVE_A);
  const limitV = load<f64>(FIRST, N.B_LIMIT_V);
  if (driveA != load<f64>(FIRST, N.B_UNDER_A) || limitV != load<f64>(FIRST, N.B_UNDER_V)) {
    store<f64>(FIRST, driveA, N.B_UNDER_A);
    store<f64>(FIRST, limitV, N.B_UNDER_V);
    store<f64>(FIRST, 0.0, N.B_STRAIN);
  } else if (shorter) store<f64>(FIRST, load<f64>(FIRST, N.B_STRAIN) + 1.0, N.B_STRAIN);
  const patience = load<f64>(FIRST, N.B_PATIENCE);
  const strain = load<f64>(FIRST, N.B_STRAIN);
  store<f64>(FIRST, strain > patience ? N.SHORTEST_S * exponential((Math.LN2 * 7.0 * (strain - patience)) / patience) : N.SHORTEST_S, N.B_SHORTEST_S);
}

/**
 * One step of the first battery of at most `mostS` seconds. Where the second-order result would leave less than nothing
 * of something, the two halves stand.
 *
 * @returns its length, s; −1 where the model has come apart
 */
export function step(mostS: f64): f64 {
  const cells = load<i32>(FIRST, N.B_CELLS);
  const state = stateOf(FIRST);
  const driveA = load<f64>(FIRST, N.B_DRIVE_A);
  const tolerated = load<f64>(FIRST, N.B_VOLTS_PER_CELL);
  const charge = load<f64>(FIRST, N.B_CHARGE);
  const bytes = <usize>cells * N.CELL_BYTES + N.CASE_BYTES;
  let seconds = Math.min(Math.min(load<f64>(FIRST, N.B_NEXT_S), mostS), load<f64>(FIRST + (driveA == 0.0 ? N.B_LONGEST_REST_S : N.B_LONGEST_S)));
  // Rates at the beginning serve every try, the whole step and the first half.
  linearise(FIRST, state);
  while (true) {
    const hours = seconds / 3600.0;
    memory.copy(WHOLE, state, bytes);
    memory.copy(HALVES, state, bytes);
    const wholeV = take(WHOLE, hours);
    const wholeA = takenA;
    take(HALVES, hours / 2.0);
    linearise(FIRST, HALVES);
    const halvesV = take(HALVES, hours / 2.0);
    const halvesA = takenA;
    const volt = seconds < N.TRANSIENT_S ? load<f64>(FIRST, N.B_TRANSIENT) * tolerated : tolerated;
    let worst = Math.abs(halvesV - wholeV) / (<f64>cells * volt);
    let extrapolates = true;
    for (let k: usize = 0; k < <usize>cells; k++) {
      const w = WHOLE + k * N.CELL_BYTES;
      const h = HALVES + k * N.CELL_BYTES;
      const volts = Math.abs(load<f64>(h, N.S_plates) - load<f64>(w, N.S_plates)) / volt;
      const soft = Math.abs(load<f64>(h, N.S_soft) - load<f64>(w, N.S_soft)) / charge;
      const pore = Math.abs(load<f64>(h, N.S_pore) - load<f64>(w, N.S_pore)) / charge;
      if (!(volts <= worst)) worst = volts;
      if (soft > worst) worst = soft;
      if (pore > worst) worst = pore;
      // The amounts lie side by side, from fresh sulfate to water.
      for (let i = N.S_soft; i <= N.S_water; i += 8) if (2.0 * load<f64>(h + i) < load<f64>(w + i)) extrapolates = false;
      // Water that no sulfate holds: what gas is made of.
      if (2.0 * freeWater(h) < freeWater(w)) extrapolates = false;
    }
    const finite = worst < Infinity && isFinite(load<f64>(HALVES + <usize>cells * N.CELL_BYTES, N.C_temperatureC));
    const shortestS = load<f64>(FIRST, N.B_SHORTEST_S);
    const shortest = seconds <= shortestS;
    if (finite && (worst <= 1.0 || shortest)) {
      ease(seconds < mostS);
      let voltageV = halvesV;
      let currentA = halvesA;
      if (extrapolates) {
        for (let i: usize = 0; i < bytes; i += 8) store<f64>(state + i, 2.0 * load<f64>(HALVES + i) - load<f64>(WHOLE + i));
        voltageV = 2.0 * halvesV - wholeV;
        currentA = 2.0 * halvesA - wholeA;
      } else memory.copy(state, HALVES, bytes);
      // The second-order result may reach past what was asked for; no charger gives more, nor takes any.
      const limitV = load<f64>(FIRST, N.B_LIMIT_V);
      if (driveA > 0.0 && voltageV > limitV) voltageV = limitV;
      const least = driveA > 0.0 ? 0.0 : driveA;
      const most = driveA > 0.0 ? driveA : 0.0;
      store<f64>(FIRST, voltageV, N.B_VOLTAGE_V);
      store<f64>(FIRST, Math.max(least, Math.min(most, currentA)), N.B_CURRENT_A);
      store<f64>(FIRST, load<f64>(FIRST, N.B_ELAPSED_S) + seconds, N.B_ELAPSED_S);
      store<f64>(FIRST, load<f64>(FIRST, N.B_STEPS) + 1.0, N.B_STEPS);
      const grow = worst < 0.02 ? 4.0 : 0.9 / Math.sqrt(worst);
      store<f64>(FIRST, Math.max(load<f64>(FIRST, N.B_SHORTEST_S), seconds * (grow > 4.0 ? 4.0 : grow)), N.B_NEXT_S);
      return seconds;
    }
    if (shortest && !finite) return -1.0;
    seconds = Math.max(Math.min(shortestS, mostS), seconds * (finite ? Math.max(0.2, 0.9 / Math.sqrt(worst)) : 0.25));
    linearise(FIRST, state);
  }
  return -1.0;
}

/** Steps the first battery for so many seconds. @returns whether it held together */
export function run(seconds: f64): bool {
  for (let left = seconds; left > 1e-9; ) {
    const taken = step(left);
    if (taken < 0.0) return false;
    left -= taken;
  }
  return true;
}
