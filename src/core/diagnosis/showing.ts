import {
  type BatterySize,
  copyBattery,
  makeBattery,
  type SimBattery,
} from '../simulation/battery.ts';
import { missingWaterG, viewCell } from '../simulation/view.ts';
import { DESIGNS } from '../simulation/design.ts';
import { CELL, CELL_SIZE, MAKE, MAKE_SIZE } from '../simulation/layout.ts';
import { Stepper } from '../simulation/step.ts';
import type { CyclesDone, Evidence } from './evidence.ts';
import { type Passage, passage, routeFit } from './outcome.ts';
import { type RouteKey, ROUTES } from './routes.ts';
import type { Subject } from './subject.ts';
import { HOURLY, type Suspect } from './suspect.ts';

/** Cranking draws about this many times C20. Usual starters. */
const CRANK_C = 4;
const CRANK_S = 2;

/** What a suspect would show, worked out once and kept with it. */
export class Showing {
  #load: { underV: number; afterV: number } | null = null;
  #loadFor = '';
  #crankV: number | null = null;
  #ohms: number | null = null;
  #charging: { key: readonly number[]; volts: number[] } | null = null;
  readonly #passages: Passage[] = [];

  constructor(
    readonly suspect: Suspect,
    readonly subject: Subject,
  ) {}

  private get battery(): SimBattery {
    return this.suspect.battery;
  }

  cellV(k: number): number {
    return (
      (this.battery.make[k * MAKE_SIZE + MAKE.polarity] as number) *
      (this.battery.state[k * CELL_SIZE + CELL.plates] as number)
    );
  }

  /** Has this cell been driven past where acid holds its volts? */
  collapsed(k: number): boolean {
    return Math.abs(this.cellV(k)) < 1.8;
  }

  get restV(): number {
    let sum = 0;
    for (let k = 0; k < this.battery.cells; k++) sum += this.cellV(k);
    return sum;
  }

  get fallen(): number {
    let n = 0;
    for (let k = 0; k < this.battery.cells; k++) if (this.collapsed(k)) n++;
    return n;
  }

  sg(k: number): number {
    return viewCell(this.battery, k).sgTop;
  }

  /** Water there is, share of a full cell. */
  water(k: number): number {
    const view = viewCell(this.battery, k);
    return view.water;
  }

  get missingG(): number {
    return missingWaterG(this.battery);
  }

  /** Ohms that an analyser's short pulse sees. */
  get ohms(): number {
    return (this.#ohms ??= Math.max(1e-5, new Stepper(this.battery, HOURLY).pulseOhm));
  }

  load(currentA: number, seconds: number): { underV: number; afterV: number } {
    const key = `${currentA}|${seconds}`;
    if (!this.#load || this.#loadFor !== key) {
      const stepper = new Stepper(copyBattery(this.battery), HOURLY);
      stepper.run({ currentA: -currentA, limitV: Infinity, floorV: 0 }, seconds);
      const underV = Math.max(0, stepper.voltageV);
      stepper.run({ currentA: 0, limitV: Infinity }, 30);
      this.#load = { underV, afterV: stepper.voltageV };
      this.#loadFor = key;
    }
    return this.#load;
  }

  get crankV(): number {
    if (this.#crankV === null) {
      const stepper = new Stepper(copyBattery(this.battery), HOURLY);
      stepper.run(
        { currentA: -CRANK_C * this.battery.c20Ah, limitV: Infinity, floorV: 0 },
        CRANK_S,
      );
      this.#crankV = Math.max(0, stepper.voltageV);
    }
    return this.#crankV;
  }

  /** What the last of these cycles did to it, and where it stands since; null where a plan does not fit it. */
  after({ routes, open }: CyclesDone): Passage | null {
    while (this.#passages.length < routes.length) {
      const route = ROUTES[routes[this.#passages.length] as RouteKey];
      const fit = fitFor(this.subject, route.key);
      if (!fit) return null;
      this.#passages.push(
        passage(this.suspect, route, fit, open, this.#passages.at(-1)?.battery ?? this.battery),
      );
    }
    return this.#passages[routes.length - 1] ?? null;
  }

  /** As it stands after the cycles that were done. */
  standing(done: CyclesDone | undefined): SimBattery {
    return (done && this.after(done)?.battery) ?? this.battery;
  }

  /** Volts at those moments with that current. */
  charging({ hours, amps, done }: Extract<Evidence, { of: 'charging' }>): number[] {
    if (this.#charging?.key !== hours) {
      const stepper = new Stepper(copyBattery(this.standing(done)), HOURLY);
      const volts = hours.map((hour, i) => {
        stepper.run(
          { currentA: amps[i] ?? 0, limitV: 3 * this.battery.cells, floorV: 0 },
          Math.max(0, hour - (hours[i - 1] ?? 0)) * 3600,
        );
        return stepper.voltageV;
      });
      this.#charging = { key: hours, volts };
    }
    return this.#charging.volts;
  }
}

const fits = new WeakMap<Subject, Map<RouteKey, ReturnType<typeof routeFit>>>();
/** A route's charge for this battery, worked out once for all suspects. */
function fitFor(subject: Subject, key: RouteKey): ReturnType<typeof routeFit> {
  const known = fits.get(subject) ?? new Map<RouteKey, ReturnType<typeof routeFit>>();
  fits.set(subject, known);
  if (!known.has(key)) known.set(key, routeFit(ROUTES[key], subject));
  return known.get(key) ?? null;
}

/** Ohms of a sound, full battery of the design as an analyser sees it. */
export function soundOhms(
  subject: BatterySize & Pick<Subject, 'chemistry' | 'temperatureC'>,
): number {
  const { chemistry, temperatureC } = subject;
  const sound = makeBattery(DESIGNS[chemistry], subject, { charge: 1, temperatureC });
  return new Stepper(sound, HOURLY).pulseOhm;
}

let soundFor = '';
let sound = 0;
/** Resistance of a sound one of its kind, Ω; worked out once for the subject at hand. */
export function soundOhmsOf(subject: Subject): number {
  const key = JSON.stringify([
    subject.chemistry,
    subject.cells,
    subject.c20Ah,
    subject.milliohm,
    subject.labelFactors,
    subject.temperatureC,
  ]);
  if (key !== soundFor) {
    sound = soundOhms(subject);
    soundFor = key;
  }
  return sound;
}
