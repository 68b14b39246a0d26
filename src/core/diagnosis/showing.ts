import {
  type BatterySize,
  copyBattery,
  makeBattery,
  type SimBattery,
} from '../simulation/battery.ts';
import { missingWaterG, viewCell, waterShare } from '../simulation/view.ts';
import { DESIGNS } from '../simulation/design.ts';
import { CELL, CELL_SIZE, MAKE, MAKE_SIZE } from '../simulation/layout.ts';
import { REST, Stepper } from '../simulation/step.ts';
import type { CyclesDone, Evidence } from './evidence.ts';
import { type Passage, passage, routeFit } from './outcome.ts';
import { type RouteKey, ROUTES } from './routes.ts';
import type { Subject } from './subject.ts';
import { HOURLY, type Suspect } from './suspect.ts';

/** Cranking draws about this many times C20. Usual starters. */
const CRANK_C = 4;
const CRANK_S = 2;

/** Volts come back for so long after a load, s. */
const REBOUND_S = 30;

/** A battery under a load test. */
class UnderLoad {
  readonly underV: number;
  readonly #stepper: Stepper;
  #afterV: number | null = null;

  constructor(battery: SimBattery, currentA: number, seconds: number) {
    this.#stepper = new Stepper(copyBattery(battery), HOURLY);
    this.#stepper.run({ currentA: -currentA, limitV: Infinity, floorV: 0 }, seconds);
    this.underV = Math.max(0, this.#stepper.voltageV);
  }

  /** Half a minute after the load; it takes longer to work out than the load does, and few write it down. */
  get afterV(): number {
    if (this.#afterV === null) {
      this.#stepper.run(REST, REBOUND_S);
      this.#afterV = this.#stepper.voltageV;
    }
    return this.#afterV;
  }
}

/** What a suspect would show, worked out once and kept with it. */
export class Showing {
  #load: UnderLoad | null = null;
  #loadFor = '';
  #crankV: number | null = null;
  #ohms: number | null = null;
  #charging: { key: readonly number[]; volts: number[] } | null = null;
  readonly #cycles: { key: RouteKey; open: boolean; passage: Passage }[] = [];

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
    return waterShare(this.battery, k);
  }

  get missingG(): number {
    return missingWaterG(this.battery);
  }

  /** Ohms that an analyser's short pulse sees. */
  get ohms(): number {
    return (this.#ohms ??= Math.max(1e-5, new Stepper(this.battery, HOURLY).pulseOhm));
  }

  load(currentA: number, seconds: number): Readonly<Pick<UnderLoad, 'underV' | 'afterV'>> {
    const key = `${currentA}|${seconds}`;
    if (!this.#load || this.#loadFor !== key) {
      this.#load = new UnderLoad(this.battery, currentA, seconds);
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
    for (const [i, key] of routes.entries()) {
      const known = this.#cycles[i];
      if (known?.key === key && known.open === open) continue;
      const fit = fitFor(this.subject, key);
      if (!fit) return null;
      const from = this.#cycles[i - 1]?.passage.battery ?? this.battery;
      const through = passage(this.suspect, ROUTES[key], fit, open, from);
      // What was known of other routes from here on is of another battery.
      this.#cycles.splice(i, Infinity, { key, open, passage: through });
    }
    return this.#cycles[routes.length - 1]?.passage ?? null;
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
