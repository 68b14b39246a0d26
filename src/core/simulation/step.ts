import type { SimBattery } from './battery.ts';
import { apply, CASE, CELL, CELL_SIZE, close, linearise, type Linear, makeLinear } from './kernel.ts';

/** What is connected to the terminals. Amps and volts of the whole battery. */
export interface Drive {
  /** Current wanted: charging positive, discharging negative, 0 disconnected. A. */
  currentA: number;
  /** A charger lowers its current rather than pass this, and never draws any. */
  limitV: number;
  /** A load draws less rather than pull the volts below this: no load has a pump. None is assumed where absent. */
  floorV?: number;
}

export const REST: Readonly<Drive> = { currentA: 0, limitV: Infinity };

export interface Tolerance {
  /** Error of a step that is accepted: volts per cell, and share of C20. */
  voltsPerCell: number;
  charge: number;
  longestS: number;
  longestRestS: number;
  /** Share of the volts above that a short step may err by: short steps follow a change of current, where errors come one upon the other. */
  transient: number;
}

/** Holds the volts of a 16 h charge of a 12 V battery within 5 mV after its first minutes, and its Ah within 0.1 %, of steps of one second. */
export const FINE: Readonly<Tolerance> = { voltsPerCell: 0.0015, charge: 0.002, longestS: 1800, longestRestS: 6 * 3600, transient: 0.2 };
const SHORTEST_S = 0.02;
/** Shorter than this is a short step, s. */
const TRANSIENT_S = 30;

/** Moves one battery through time; keeps scratch, so nothing is allocated while it runs. */
export class Stepper {
  /** Terminal volts and amps at the end of the last step. */
  voltageV: number;
  currentA = 0;
  /** Seconds that went by, and the length it would try next. */
  elapsedS = 0;
  nextS = 1;
  steps = 0;
  readonly #linear: Linear;
  readonly #whole: Float64Array;
  readonly #halves: Float64Array;

  constructor(
    readonly battery: SimBattery,
    readonly tolerance: Tolerance = FINE,
  ) {
    this.#linear = makeLinear(battery.cells);
    this.#whole = new Float64Array(battery.state.length);
    this.#halves = new Float64Array(battery.state.length);
    let open = 0;
    for (let k = 0; k < battery.cells; k++) open += battery.state[k * CELL_SIZE + CELL.plates] as number;
    this.voltageV = open;
  }

  /**
   * One step of at most `mostS` seconds: a whole one beside two halves gives the error, and both
   * together a second-order result. A step that errs too much is taken again, shorter.
   *
   * @returns its length, s
   */
  step(drive: Readonly<Drive>, mostS: number): number {
    const { battery, tolerance } = this;
    const { state, cells } = battery;
    const whole = this.#whole;
    const halves = this.#halves;
    const size = state.length;
    let seconds = Math.min(this.nextS, mostS, drive.currentA === 0 ? tolerance.longestRestS : tolerance.longestS);
    for (;;) {
      const hours = seconds / 3600;
      for (let i = 0; i < size; i++) halves[i] = whole[i] = state[i] as number;
      // Rates at the beginning serve the whole step and the first half.
      linearise(battery, whole, this.#linear);
      const wholeV = this.#take(whole, hours, drive);
      const wholeA = this.currentA;
      this.#take(halves, hours / 2, drive);
      linearise(battery, halves, this.#linear);
      const halvesV = this.#take(halves, hours / 2, drive);
      const volt = seconds < TRANSIENT_S ? tolerance.transient * tolerance.voltsPerCell : tolerance.voltsPerCell;
      let worst = Math.abs(halvesV - wholeV) / (cells * volt);
      let sound = true;
      for (let k = 0; k < cells; k++) {
        const s = k * CELL_SIZE;
        const volts = Math.abs((halves[s + CELL.plates] as number) - (whole[s + CELL.plates] as number)) / volt;
        const soft = Math.abs((halves[s] as number) - (whole[s] as number)) / tolerance.charge;
        const pore = Math.abs((halves[s + CELL.pore] as number) - (whole[s + CELL.pore] as number)) / tolerance.charge;
        if (volts > worst) worst = volts;
        if (soft > worst) worst = soft;
        if (pore > worst) worst = pore;
        if (2 * (halves[s] as number) - (whole[s] as number) < -1e-6 || 2 * (halves[s + CELL.pore] as number) - (whole[s + CELL.pore] as number) <= 0)
          sound = false;
      }
      // A step so long that its numbers burst is no step at all.
      if (!(worst < Infinity)) sound = false;
      if ((worst <= 1 && sound) || seconds <= SHORTEST_S) {
        for (let i = 0; i < size; i++) state[i] = sound ? 2 * (halves[i] as number) - (whole[i] as number) : (halves[i] as number);
        this.voltageV = sound ? 2 * halvesV - wholeV : halvesV;
        this.currentA = sound ? 2 * this.currentA - wholeA : this.currentA;
        if (drive.currentA > 0 && this.voltageV > drive.limitV) this.voltageV = drive.limitV;
        this.elapsedS += seconds;
        this.steps++;
        const grow = worst < 0.02 ? 4 : 0.9 / Math.sqrt(worst);
        this.nextS = Math.max(SHORTEST_S, seconds * (grow > 4 ? 4 : grow));
        return seconds;
      }
      seconds = Math.max(SHORTEST_S, seconds * (sound ? Math.max(0.2, 0.9 / Math.sqrt(worst)) : 0.25));
    }
  }

  /** One linearly implicit step at the current the drive and the battery settle on. */
  #take(state: Float64Array, hours: number, drive: Readonly<Drive>): number {
    const { battery } = this;
    const linear = this.#linear;
    close(battery, state, hours, linear);
    let c = drive.currentA / battery.c20Ah;
    if (c > 0 && linear.openV + linear.ohms * c > drive.limitV) c = Math.max(0, (drive.limitV - linear.openV) / linear.ohms);
    const floorV = drive.floorV ?? -Infinity;
    if (c < 0 && linear.openV + linear.ohms * c < floorV) c = Math.min(0, (floorV - linear.openV) / linear.ohms);
    this.currentA = c * battery.c20Ah;
    return apply(battery, state, hours, linear, c);
  }

  /** Volts the terminals would show a moment from now at a current, without moving time on. */
  probe(currentA: number): number {
    linearise(this.battery, this.battery.state, this.#linear);
    close(this.battery, this.battery.state, 1e-6, this.#linear);
    return this.#linear.openV + (this.#linear.ohms * currentA) / this.battery.c20Ah;
  }

  get temperatureC(): number {
    return this.battery.state[this.battery.cells * CELL_SIZE + CASE.temperatureC] as number;
  }

  /** Runs a drive for so long. */
  run(drive: Readonly<Drive>, seconds: number): void {
    let left = seconds;
    while (left > 1e-9) left -= this.step(drive, left);
  }
}
