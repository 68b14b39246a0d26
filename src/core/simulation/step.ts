import type { SimBattery } from './battery.ts';
import { CONSTANTS } from './constants.ts';
import { FIRST, kernel } from './kernel.ts';
import { BLOCK, CASE, CELL, CELL_SIZE, LINEAR, LINEAR_SIZE } from './layout.ts';

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
export const FINE: Readonly<Tolerance> = {
  voltsPerCell: 0.0015,
  charge: 0.002,
  longestS: 3600,
  longestRestS: 12 * 3600,
  transient: 0.2,
};
/** Under one and the same drive so many steps are as short as they must be; from then on the shortest there is doubles with each seventh of that. */
const PATIENCE = 2000;
/** Currents beyond this share of C20 per hour are no current of a battery. */
const MOST_C = 200;

/** What a stepper remembers from step to step, in the order of its places in the kernel's block. */
const REMEMBERED = [
  BLOCK.NEXT_S,
  BLOCK.VOLTAGE_V,
  BLOCK.CURRENT_A,
  BLOCK.ELAPSED_S,
  BLOCK.STEPS,
  BLOCK.STRAIN,
  BLOCK.UNDER_A,
  BLOCK.UNDER_V,
  BLOCK.SHORTEST_S,
] as const;
const [NEXT, VOLTAGE, CURRENT, ELAPSED, STEPS, STRAIN, UNDER_A, UNDER_V, SHORTEST] = [
  0, 1, 2, 3, 4, 5, 6, 7, 8,
] as const;
const ROOTS = REMEMBERED.length;

/** Moves one battery through time; nothing is allocated while it runs. */
export class Stepper {
  readonly #memory: Float64Array;

  constructor(
    readonly battery: SimBattery,
    readonly tolerance: Tolerance = FINE,
  ) {
    let open = 0;
    for (let k = 0; k < battery.cells; k++)
      open += battery.state[k * CELL_SIZE + CELL.plates] as number;
    const memory = new Float64Array(ROOTS + battery.cells);
    memory[NEXT] = 1;
    memory[VOLTAGE] = open;
    memory[STRAIN] = 0;
    memory[UNDER_A] = NaN;
    memory[UNDER_V] = NaN;
    memory[SHORTEST] = CONSTANTS.SHORTEST_S;
    this.#memory = memory;
  }

  /** Terminal volts and amps at the end of the last step. */
  get voltageV(): number {
    return this.#memory[VOLTAGE] as number;
  }
  get currentA(): number {
    return this.#memory[CURRENT] as number;
  }
  /** Seconds that went by, and how many steps they took. */
  get elapsedS(): number {
    return this.#memory[ELAPSED] as number;
  }
  set elapsedS(seconds: number) {
    this.#memory[ELAPSED] = seconds;
  }
  get steps(): number {
    return this.#memory[STEPS] as number;
  }
  /** The length it would try next, s. */
  get nextS(): number {
    return this.#memory[NEXT] as number;
  }
  set nextS(seconds: number) {
    this.#memory[NEXT] = seconds;
  }
  /** Ohms that an analyser's short pulse sees. */
  get pulseOhm(): number {
    return this.probe(1) - this.probe(0);
  }
  get temperatureC(): number {
    return this.battery.state[this.battery.cells * CELL_SIZE + CASE.temperatureC] as number;
  }

  /**
   * One step of at most `mostS` seconds: a whole one beside two halves gives the error, and both
   * together a second-order result. A step that errs too much is taken again, shorter.
   *
   * @returns its length, s
   * @throws RangeError for a current or a time that is none
   */
  step(drive: Readonly<Drive>, mostS: number): number {
    checkDrive(drive, mostS, this.battery.c20Ah);
    this.#put(drive);
    const seconds = kernel.step(mostS);
    this.#take();
    if (seconds < 0) throw new RangeError(APART);
    return seconds;
  }

  /** Runs a drive for so long. */
  run(drive: Readonly<Drive>, seconds: number): void {
    if (!(seconds > 0)) return;
    checkDrive(drive, seconds, this.battery.c20Ah);
    this.#put(drive);
    const held = kernel.run(seconds);
    this.#take();
    if (!held) throw new RangeError(APART);
  }

  /** Volts the terminals would show a moment from now at a current, without moving time on. */
  probe(currentA: number): number {
    this.#put(REST);
    kernel.face(FIRST.at, 1e-6, currentA);
    return FIRST.get(BLOCK.OPEN_V) + (FIRST.get(BLOCK.OHMS) * currentA) / this.battery.c20Ah;
  }

  #put({ currentA, limitV, floorV = -Infinity }: Readonly<Drive>): void {
    const { battery, tolerance } = this;
    const memory = this.#memory;
    FIRST.put(battery, battery.state);
    FIRST.set(BLOCK.DRIVE_A, currentA);
    FIRST.set(BLOCK.LIMIT_V, limitV);
    FIRST.set(BLOCK.FLOOR_V, floorV);
    FIRST.set(BLOCK.VOLTS_PER_CELL, tolerance.voltsPerCell);
    FIRST.set(BLOCK.CHARGE, tolerance.charge);
    FIRST.set(BLOCK.LONGEST_S, tolerance.longestS);
    FIRST.set(BLOCK.LONGEST_REST_S, tolerance.longestRestS);
    FIRST.set(BLOCK.TRANSIENT, tolerance.transient);
    FIRST.set(BLOCK.PATIENCE, tolerance.patience ?? PATIENCE);
    for (let i = 0; i < ROOTS; i++) FIRST.set(REMEMBERED[i] as number, memory[i] as number);
    for (let k = 0; k < battery.cells; k++)
      FIRST.set(BLOCK.LINEAR + k * LINEAR_SIZE + LINEAR.root, memory[ROOTS + k] as number);
  }

  #take(): void {
    const memory = this.#memory;
    FIRST.take(this.battery.state);
    for (let i = 0; i < ROOTS; i++) memory[i] = FIRST.get(REMEMBERED[i] as number);
    for (let k = 0; k < this.battery.cells; k++)
      memory[ROOTS + k] = FIRST.get(BLOCK.LINEAR + k * LINEAR_SIZE + LINEAR.root);
  }
}

const APART = 'The model of this battery has come apart; its state holds a number that is none.';

function checkDrive(
  { currentA, limitV, floorV }: Readonly<Drive>,
  mostS: number,
  c20Ah: number,
): void {
  if (!(Math.abs(currentA) <= MOST_C * c20Ah))
    throw new RangeError(`${currentA} A is no current for a battery of ${c20Ah} Ah.`);
  if (Number.isNaN(limitV) || Number.isNaN(floorV ?? 0))
    throw new RangeError('A limit of the volts is a number.');
  if (!(mostS > 0)) throw new RangeError('A step takes time.');
}
