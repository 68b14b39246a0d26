import { KERNEL } from './kernelBytes.ts';
import { BLOCK, BLOCK_NUMBERS } from './layout.ts';

/**
 * The kernel as it is called: WebAssembly compiled from kernel/, with two blocks of memory for a battery each. Nothing is
 * kept in it between two calls that matters; whoever calls it puts a battery in and takes it out again.
 */
interface Exports {
  memory: WebAssembly.Memory;
  first: () => number;
  second: () => number;
  /** One step of the first battery, at most so long. @returns s, or −1 where the model has come apart */
  step: (mostS: number) => number;
  /** @returns 0 where the model has come apart */
  run: (seconds: number) => number;
  /** The battery of a block as a source for a step of so many hours, at a current of this sign. */
  face: (block: number, hours: number, towards: number) => void;
  /** Carries that step out at a current, C. @returns terminal volts */
  carry: (block: number, hours: number, current: number) => number;
  /** e^x and ln x as the kernel works them out. */
  exp: (x: number) => number;
  log: (x: number) => number;
}

export const kernel = new WebAssembly.Instance(
  new WebAssembly.Module(Uint8Array.from(atob(KERNEL), (c) => c.charCodeAt(0))),
).exports as unknown as Exports;

/** What the kernel needs to know of a battery besides its state. */
export interface Anatomy {
  cells: number;
  /** Rated C20, Ah. */
  c20Ah: number;
  /** The design's numbers in the order of their names. */
  numbers: Float64Array;
  make: Float64Array;
  ambientC: number;
  /** Heat its case gives off, W/K. */
  coolingWPerK: number;
}

/** One of the two places for a battery in the kernel's memory. */
class Block {
  readonly #doubles: Float64Array;
  readonly #words: Int32Array;
  /** Views of the state, by its length. */
  readonly #states: Float64Array[] = [];

  constructor(readonly at: number) {
    this.#doubles = new Float64Array(kernel.memory.buffer, at, BLOCK_NUMBERS);
    this.#words = new Int32Array(kernel.memory.buffer, at, 2 * BLOCK_NUMBERS);
  }

  /** Puts a battery in, as it is. */
  put({ cells, c20Ah, numbers, make, ambientC, coolingWPerK }: Anatomy, state: Float64Array): void {
    const doubles = this.#doubles;
    this.#words[2 * BLOCK.CELLS] = cells;
    doubles[BLOCK.C20] = c20Ah;
    doubles[BLOCK.AMBIENT] = ambientC;
    doubles[BLOCK.COOLING] = coolingWPerK;
    doubles.set(numbers, BLOCK.DESIGN);
    doubles.set(make, BLOCK.MAKE);
    doubles.set(state, BLOCK.STATE);
  }

  /** Takes the state of the battery out again. */
  take(state: Float64Array): void {
    const { length } = state;
    state.set((this.#states[length] ??= this.#doubles.subarray(BLOCK.STATE, BLOCK.STATE + length)));
  }

  get(place: number): number {
    return this.#doubles[place] as number;
  }
  set(place: number, value: number): void {
    this.#doubles[place] = value;
  }
}

export const FIRST = new Block(kernel.first());
export const SECOND = new Block(kernel.second());
