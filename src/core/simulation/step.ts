import type { SimBattery } from './battery.ts';
import { apply, close, linearise, type Linear, makeLinear } from './kernel.ts';
import { CASE, CELL, CELL_SIZE } from './layout.ts';

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
  /** Steps under one drive that may be as short as they must, where fewer than usual are worth it. */
  patience?: number;
}

/** Holds the volts of a 16 h charge of a 12 V battery within 5 mV after its first minutes, and its Ah within 0.1 %, of steps of one second. */
export const FINE: Readonly<Tolerance> = { voltsPerCell: 0.0015, charge: 0.002, longestS: 3600, longestRestS: 12 * 3600, transient: 0.2 };
const SHORTEST_S = 0.02;
/** Shorter than this is a short step, s. */
const TRANSIENT_S = 30;
/** Under one and the same drive so many steps are as short as they must be; from then on the shortest there is doubles with each seventh of that. */
const PATIENCE = 2000;
/** Currents beyond this share of C20 per hour are no current of a battery. */
const MOST_C = 200;

/** Moves one battery through time; keeps scratch, so nothing is allocated while it runs. */
export class Stepper {
  /** Terminal volts and amps at the end of the last step. */
  voltageV: number;
  currentA = 0;
  /** Seconds that went by, and the length it would try next. */
  elapsedS = 0;
  nextS = 1;
  steps = 0;
  /** Steps under the present drive that were shorter than asked for, that drive, and the shortest step there is by now. */
  #strain = 0;
  #under = { currentA: NaN, limitV: NaN };
  #shortestS = SHORTEST_S;
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
   * together a second-order result. A step that errs too much is taken again, shorter. Where the
   * second-order result would leave less than nothing of something, the two halves stand.
   *
   * @returns its length, s
   * @throws RangeError for a current or a time that is none
   */
  step(drive: Readonly<Drive>, mostS: number): number {
    const { battery, tolerance } = this;
    const { state, cells } = battery;
    const whole = this.#whole;
    const halves = this.#halves;
    const size = state.length;
    checkDrive(drive, mostS, battery.c20Ah);
    let seconds = Math.min(this.nextS, mostS, drive.currentA === 0 ? tolerance.longestRestS : tolerance.longestS);
    // Rates at the beginning serve every try, the whole step and the first half.
    linearise(battery, state, this.#linear);
    for (;;) {
      const hours = seconds / 3600;
      for (let i = 0; i < size; i++) halves[i] = whole[i] = state[i] as number;
      const wholeV = this.#take(whole, hours, drive);
      const wholeA = this.currentA;
      this.#take(halves, hours / 2, drive);
      linearise(battery, halves, this.#linear);
      const halvesV = this.#take(halves, hours / 2, drive);
      const volt = seconds < TRANSIENT_S ? tolerance.transient * tolerance.voltsPerCell : tolerance.voltsPerCell;
      let worst = Math.abs(halvesV - wholeV) / (cells * volt);
      let extrapolates = true;
      for (let k = 0; k < cells; k++) {
        const s = k * CELL_SIZE;
        const volts = Math.abs((halves[s + CELL.plates] as number) - (whole[s + CELL.plates] as number)) / volt;
        const soft = Math.abs((halves[s + CELL.soft] as number) - (whole[s + CELL.soft] as number)) / tolerance.charge;
        const pore = Math.abs((halves[s + CELL.pore] as number) - (whole[s + CELL.pore] as number)) / tolerance.charge;
        if (!(volts <= worst)) worst = volts;
        if (soft > worst) worst = soft;
        if (pore > worst) worst = pore;
        for (let i = s + CELL.soft; i <= s + CELL.water; i++) if (2 * (halves[i] as number) < (whole[i] as number)) extrapolates = false;
      }
      const finite = worst < Infinity && Number.isFinite(halves[cells * CELL_SIZE + CASE.temperatureC] as number);
      const shortest = seconds <= this.#shortestS;
      if (finite && (worst <= 1 || shortest)) {
        this.#ease(drive, seconds < mostS);
        if (!extrapolates) for (let i = 0; i < size; i++) state[i] = halves[i] as number;
        else for (let i = 0; i < size; i++) state[i] = 2 * (halves[i] as number) - (whole[i] as number);
        this.voltageV = extrapolates ? 2 * halvesV - wholeV : halvesV;
        this.currentA = extrapolates ? 2 * this.currentA - wholeA : this.currentA;
        if (drive.currentA > 0 && this.voltageV > drive.limitV) this.voltageV = drive.limitV;
        // The second-order result may reach past what was asked for; no charger gives more, nor takes any.
        const [least, most] = drive.currentA > 0 ? [0, drive.currentA] : [drive.currentA, 0];
        this.currentA = Math.max(least, Math.min(most, this.currentA));
        this.elapsedS += seconds;
        this.steps++;
        const grow = worst < 0.02 ? 4 : 0.9 / Math.sqrt(worst);
        this.nextS = Math.max(this.#shortestS, seconds * (grow > 4 ? 4 : grow));
        return seconds;
      }
      if (shortest && !finite) throw new RangeError('The model of this battery has come apart; its state holds a number that is none.');
      seconds = Math.max(Math.min(this.#shortestS, mostS), seconds * (finite ? Math.max(0.2, 0.9 / Math.sqrt(worst)) : 0.25));
      linearise(battery, state, this.#linear);
    }
  }

  /** Nothing creeps: a battery that wants ever more steps under one drive gets longer ones, at the cost of their accuracy. */
  #ease(drive: Readonly<Drive>, shorter: boolean): void {
    if (drive.currentA !== this.#under.currentA || drive.limitV !== this.#under.limitV) {
      this.#under = { currentA: drive.currentA, limitV: drive.limitV };
      this.#strain = 0;
    } else if (shorter) this.#strain++;
    const { patience = PATIENCE } = this.tolerance;
    this.#shortestS = this.#strain > patience ? SHORTEST_S * 2 ** ((7 * (this.#strain - patience)) / patience) : SHORTEST_S;
  }

  /** One linearly implicit step at the current the drive and the battery settle on. */
  #take(state: Float64Array, hours: number, drive: Readonly<Drive>): number {
    const { battery } = this;
    const linear = this.#linear;
    let c = drive.currentA / battery.c20Ah;
    close(battery, state, hours, linear, c);
    const asked = c;
    const floorV = drive.floorV ?? -Infinity;
    // What a limit leaves of the current may take another branch of the transport than the current that was asked for.
    for (let pass = 0; pass < 2; pass++) {
      c = asked;
      if (c > 0 && linear.openV + linear.ohms * c > drive.limitV) c = Math.max(0, (drive.limitV - linear.openV) / linear.ohms);
      else if (c < 0 && linear.openV + linear.ohms * c < floorV) c = Math.min(0, (floorV - linear.openV) / linear.ohms);
      if (pass > 0 || c === asked || !linear.bypassed) break;
      close(battery, state, hours, linear, c);
    }
    this.currentA = c * battery.c20Ah;
    return apply(battery, state, hours, linear, c);
  }

  /** Volts the terminals would show a moment from now at a current, without moving time on. */
  probe(currentA: number): number {
    linearise(this.battery, this.battery.state, this.#linear);
    close(this.battery, this.battery.state, 1e-6, this.#linear, currentA);
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

function checkDrive({ currentA, limitV, floorV }: Readonly<Drive>, mostS: number, c20Ah: number): void {
  if (!(Math.abs(currentA) <= MOST_C * c20Ah)) throw new RangeError(`${currentA} A is no current for a battery of ${c20Ah} Ah.`);
  if (Number.isNaN(limitV) || Number.isNaN(floorV ?? 0)) throw new RangeError('A limit of the volts is a number.');
  if (!(mostS > 0)) throw new RangeError('A step takes time.');
}
