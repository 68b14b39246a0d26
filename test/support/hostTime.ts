import { readFileSync } from 'node:fs';

/** A host that takes more of a machine's time than this breaks any pace on it. */
const MUCH = 0.1;
/** Of what was to keep a pace, so much must have kept it then. */
const MOST = 0.8;

/** What the host of a virtual machine takes of its time while something is watched; nothing where the system does not tell. */
export class HostTime {
  readonly #from = ticks();

  /** Share since watching began, 0–1. */
  get taken(): number {
    const now = ticks();
    return (now.taken - this.#from.taken) / Math.max(1, now.all - this.#from.all);
  }

  /** The value that a pace is held by: the worst of all, or of the best four in five where the host took much. */
  worst(values: readonly number[]): number {
    const sorted = values.toSorted((a, b) => a - b);
    const last = this.taken > MUCH ? Math.floor(MOST * sorted.length) : sorted.length;
    return sorted[last - 1] ?? NaN;
  }
}

/** Of all processors since the machine began, in the system's own ticks: all, and taken by the host (`steal`, the eighth). */
function ticks(): { all: number; taken: number } {
  try {
    const [, ...of] = (readFileSync('/proc/stat', 'utf8').split('\n')[0] ?? '').split(/\s+/);
    const counted = of.slice(0, 8).map(Number);
    return { all: counted.reduce((a, b) => a + b, 0), taken: counted[7] ?? 0 };
  } catch {
    return { all: 0, taken: 0 };
  }
}
