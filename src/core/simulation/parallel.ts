import type { SimBattery } from './battery.ts';
import { FIRST, kernel, SECOND } from './kernel.ts';
import { BLOCK } from './layout.ts';
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

  /** @param leadOhm both leads together with their clips, Ω */
  constructor(
    readonly first: SimBattery,
    readonly second: SimBattery,
    readonly leadOhm: number,
  ) {
    if (first.cells !== second.cells)
      throw new RangeError('Batteries of different voltage are never connected in parallel.');
    if (!(leadOhm > 0)) throw new RangeError('Leads have a resistance above 0 Ω.');
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
      this.voltageV = kernel.carry(FIRST.at, step / 3600, this.firstA / this.first.c20Ah);
      kernel.carry(SECOND.at, step / 3600, this.secondA / this.second.c20Ah);
      FIRST.take(this.first.state);
      SECOND.take(this.second.state);
      const change =
        Math.abs(this.secondA - before) / Math.max(this.first.c20Ah, this.second.c20Ah) / CALM_C;
      this.#nextS = Math.max(SHORTEST_S, step * (change > 1 ? 0.5 : change < 0.3 ? 2 : 1));
      this.elapsedS += step;
      left -= step;
    }
  }

  #solve(hours: number, drive: Readonly<Drive>): void {
    FIRST.put(this.first, this.first.state);
    SECOND.put(this.second, this.second.state);
    kernel.face(FIRST.at, hours, this.firstA);
    kernel.face(SECOND.at, hours, this.secondA);
    const [open1, open2] = [FIRST.get(BLOCK.OPEN_V), SECOND.get(BLOCK.OPEN_V)];
    const r1 = FIRST.get(BLOCK.OHMS) / this.first.c20Ah;
    const r2 = SECOND.get(BLOCK.OHMS) / this.second.c20Ah + this.leadOhm;
    let supplied = drive.currentA;
    const free = (open1 / r1 + open2 / r2) / (1 / r1 + 1 / r2);
    const together = 1 / (1 / r1 + 1 / r2);
    if (supplied > 0 && free + together * supplied > drive.limitV)
      supplied = Math.max(0, (drive.limitV - free) / together);
    const clips = free + together * supplied;
    this.firstA = (clips - open1) / r1;
    this.secondA = (clips - open2) / r2;
    this.voltageV = clips;
  }
}
