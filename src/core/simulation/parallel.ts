import type { SimBattery } from './battery.ts';
import { apply, close, type Linear, linearise, makeLinear } from './kernel.ts';
import type { Drive } from './step.ts';

/** Change of the current between them that one step may bring, share of the larger C20 per hour. */
const CALM_C = 0.02;
const SHORTEST_S = 0.02;
const LONGEST_S = 60;

/**
 * Two batteries of as many cells side by side through leads, and perhaps a charger across the first.
 * Both are seen as a source with a resistance, so the current that runs between them follows from
 * Kirchhoff at every step.
 */
export class Pair {
  /** Into each battery, charging positive, A; and volts at the clips. */
  firstA = 0;
  secondA = 0;
  voltageV = 0;
  elapsedS = 0;
  #nextS = 0.1;
  readonly #a: Linear;
  readonly #b: Linear;

  /** @param leadOhm both leads together with their clips, Ω */
  constructor(
    readonly first: SimBattery,
    readonly second: SimBattery,
    readonly leadOhm: number,
  ) {
    if (first.cells !== second.cells) throw new RangeError('Batteries of different voltage are never connected in parallel.');
    if (!(leadOhm > 0)) throw new RangeError('Leads have a resistance above 0 Ω.');
    this.#a = makeLinear(first.cells);
    this.#b = makeLinear(second.cells);
  }

  /** Current at the moment the clips go on, out of the first battery, A. */
  inrushA(): number {
    this.#solve(1e-6, { currentA: 0, limitV: Infinity });
    return this.secondA;
  }

  /** Lets them run for so long, with a charger or nothing (0 A) connected. */
  run(drive: Readonly<Drive>, seconds: number): void {
    let left = seconds;
    while (left > 1e-9) {
      const step = Math.min(this.#nextS, left, LONGEST_S);
      const before = this.secondA;
      this.#solve(step / 3600, drive);
      this.voltageV = apply(this.first, this.first.state, step / 3600, this.#a, this.firstA / this.first.c20Ah);
      apply(this.second, this.second.state, step / 3600, this.#b, this.secondA / this.second.c20Ah);
      const change = Math.abs(this.secondA - before) / Math.max(this.first.c20Ah, this.second.c20Ah) / CALM_C;
      this.#nextS = Math.max(SHORTEST_S, step * (change > 1 ? 0.5 : change < 0.3 ? 2 : 1));
      this.elapsedS += step;
      left -= step;
    }
  }

  #solve(hours: number, drive: Readonly<Drive>): void {
    linearise(this.first, this.first.state, this.#a);
    linearise(this.second, this.second.state, this.#b);
    close(this.first, this.first.state, hours, this.#a, this.firstA);
    close(this.second, this.second.state, hours, this.#b, this.secondA);
    const r1 = this.#a.ohms / this.first.c20Ah;
    const r2 = this.#b.ohms / this.second.c20Ah + this.leadOhm;
    let supplied = drive.currentA;
    const free = (this.#a.openV / r1 + this.#b.openV / r2) / (1 / r1 + 1 / r2);
    const together = 1 / (1 / r1 + 1 / r2);
    if (supplied > 0 && free + together * supplied > drive.limitV) supplied = Math.max(0, (drive.limitV - free) / together);
    const clips = free + together * supplied;
    this.firstA = (clips - this.#a.openV) / r1;
    this.secondA = (clips - this.#b.openV) / r2;
    this.voltageV = clips;
  }
}
