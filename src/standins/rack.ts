import {
  copyBattery,
  keepBattery,
  keptBattery,
  type KeptBattery,
  makeBattery,
  type SimBattery,
} from '../core/simulation/battery.ts';
import { viewBattery, viewCell } from '../core/simulation/view.ts';
import { DESIGNS } from '../core/simulation/design.ts';
import { CASE, CELL_SIZE, MAKE, MAKE_SIZE } from '../core/simulation/layout.ts';
import { type Random, seeded } from '../core/simulation/random.ts';
import { Stepper } from '../core/simulation/step.ts';
import { drawFactors } from '../core/simulation/twins.ts';
import type { Clipped, Mischief, Output, Place, RackClock } from './place.ts';

const freshOutput = (): Output => ({
  on: false,
  volts: 0,
  amps: 0,
  pulse: null,
  watchdogS: null,
  heardMs: 0,
  tripped: null,
});
const NOISE_V = 0.0006;
const NOISE_A = 0.0008;
const HOT_C_PER_S = 0.02;
const SHORT_OHM = 0.02;
/** Batteries of one maker are more alike than all that is not known of the family. */
const OF_ONE_MAKER = 0.4;

/**
 * A rack of simulated batteries with a charger and a load at every place. It stands for the real
 * bench: what it holds is known to nobody but itself.
 */
export class Rack {
  readonly places: Place[];
  /** A power cut: nothing answers, everything is off. */
  powered = true;
  readonly #records = new Map<
    number,
    { seconds: number; points: number; taken: { amps: number[]; volts: number[] } | null }
  >();
  readonly #noise: Random = seeded(20_260_310);
  readonly #shelf = new Map<string, SimBattery>();

  constructor(
    places: number,
    private readonly clock: RackClock,
  ) {
    this.places = Array.from({ length: places }, () => ({
      tag: null,
      stepper: null,
      output: freshOutput(),
      load: { on: false, amps: 0, cutV: 0 },
      mischief: new Set<Mischief>(),
      simulatedMs: clock.bench(),
      pulseS: 0,
      last: { voltageV: 0, currentA: 0, temperatureC: 20 },
    }));
  }

  /** A battery is put on a place; the same tag is the same battery as before. */
  clip(number: number, what: Clipped): void {
    const place = this.#at(number);
    this.advance();
    for (const other of this.places) if (other.tag === what.tag) this.#unclip(other);
    this.#unclip(place);
    const battery = this.#shelf.get(what.tag) ?? hidden(what);
    this.#shelf.set(what.tag, battery);
    place.tag = what.tag;
    place.stepper = new Stepper(battery);
    place.simulatedMs = this.clock.bench();
    place.mischief.clear();
  }

  #unclip(place: Place): void {
    place.tag = null;
    place.stepper = null;
    place.output = freshOutput();
    place.load.on = false;
  }

  /** Lets simulated time catch up with the clock, watchdogs first. */
  advance(): void {
    const now = this.clock.bench();
    for (const place of this.places) {
      const { output } = place;
      if (
        output.on &&
        output.watchdogS !== null &&
        this.clock.machine() - output.heardMs > output.watchdogS * 1000
      ) {
        output.on = false;
        output.tripped = 'watchdog';
      }
      const seconds = (now - place.simulatedMs) / 1000;
      if (seconds <= 0) continue;
      place.simulatedMs = now;
      if (place.stepper) this.#run(place, place.stepper, seconds);
    }
  }

  #run(place: Place, stepper: Stepper, seconds: number): void {
    const { output, load, mischief } = place;
    const battery = stepper.battery;
    if (mischief.has('hot')) {
      const at = battery.cells * CELL_SIZE + CASE.temperatureC;
      battery.state[at] = Math.min(80, (battery.state[at] as number) + HOT_C_PER_S * seconds);
    }
    const reached = !mischief.has('lead-off') && !mischief.has('reversed');
    if (load.on && reached) {
      stepper.run({ currentA: -load.amps, limitV: Infinity }, seconds);
      if (stepper.voltageV <= load.cutV) load.on = false;
      return;
    }
    if (!output.on || !reached) {
      stepper.run({ currentA: 0, limitV: Infinity }, seconds);
      return;
    }
    const drive = { currentA: output.amps, limitV: output.volts };
    if (!output.pulse) {
      stepper.run(drive, seconds);
      return;
    }
    if (mischief.has('no-pulse')) {
      const { widthS, periodS } = output.pulse;
      stepper.run({ ...drive, currentA: (output.amps * widthS) / periodS }, seconds);
      return;
    }
    const { widthS, periodS } = output.pulse;
    let left = seconds;
    while (left > 1e-6) {
      const phase = place.pulseS % periodS;
      const burst = phase < widthS - 1e-6;
      const part = Math.min(left, Math.max(1e-3, (burst ? widthS : periodS) - phase));
      stepper.run(burst ? drive : { currentA: 0, limitV: Infinity }, part);
      place.pulseS += part;
      left -= part;
    }
  }

  /** What the place's own instrument reads. */
  measure(number: number): { voltageV: number; currentA: number; temperatureC: number } {
    this.advance();
    const place = this.#at(number);
    if (place.mischief.has('frozen')) return place.last;
    const { stepper, output, load, mischief } = place;
    const wobble = mischief.has('noisy') ? 0.2 : 1;
    const noise = (step: number) => step * this.#noise.normal();
    const apart = !stepper || mischief.has('lead-off') || mischief.has('reversed');
    let volts = stepper?.voltageV ?? 0;
    if (!stepper || mischief.has('lead-off')) volts = output.on ? output.volts : 0;
    else if (mischief.has('reversed')) volts = -volts;
    const flowing = !apart && (output.on || load.on);
    place.last = {
      voltageV: round(volts + noise(wobble === 1 ? NOISE_V : wobble), 1000),
      currentA: flowing ? round(stepper.currentA + noise(NOISE_A), 1000) : 0,
      temperatureC: round((stepper?.temperatureC ?? 20) + noise(0.02), 100),
    };
    return place.last;
  }

  /** How a record is to be taken: so long, in so many points. */
  wants(number: number, change: { seconds?: number; points?: number }): void {
    const known = this.#records.get(number) ?? { seconds: 1, points: 1000, taken: null };
    this.#records.set(number, { ...known, ...change, taken: null });
  }

  takeRecord(number: number): void {
    const wanted = this.#records.get(number) ?? { seconds: 1, points: 1000, taken: null };
    const taken = this.record(number, wanted.seconds, wanted.points);
    this.#records.set(number, { ...wanted, taken });
  }

  recorded(number: number): { amps: number[]; volts: number[] } | null {
    return this.#records.get(number)?.taken ?? null;
  }

  /**
   * A record of what a place gives from now on, sampled a thousand times a second at least and averaged to so many points: the
   * rack knows at once what an instrument would have to wait for.
   *
   * @returns A and V, point by point
   */
  private record(
    number: number,
    seconds: number,
    points: number,
  ): { amps: number[]; volts: number[] } {
    this.advance();
    const place = this.#at(number);
    const none = { amps: Array<number>(points).fill(0), volts: Array<number>(points).fill(0) };
    if (!place.stepper) return none;
    const copy: Place = { ...place, stepper: new Stepper(copyBattery(place.stepper.battery)) };
    const each = seconds / points;
    const reached = !place.mischief.has('lead-off') && !place.mischief.has('reversed');
    for (let i = 0; i < points; i++) {
      const before = chargeIn(copy.stepper as Stepper);
      this.#run(copy, copy.stepper as Stepper, each);
      const ah = chargeIn(copy.stepper as Stepper) - before;
      none.amps[i] = round(
        (reached ? (ah * 3600) / each : 0) + NOISE_A * this.#noise.normal(),
        1000,
      );
      none.volts[i] = round((copy.stepper?.voltageV ?? 0) + NOISE_V * this.#noise.normal(), 1000);
    }
    return none;
  }

  /** Current steps a charger's output shows the moment it is switched: nothing to do but catch up first. */
  set(number: number, change: Partial<Output>): void {
    this.advance();
    const { output } = this.#at(number);
    if (change.on && !output.on) output.tripped = null;
    Object.assign(output, change);
  }

  setLoad(number: number, change: Partial<Place['load']>): void {
    this.advance();
    Object.assign(this.#at(number).load, change);
  }

  heard(number: number): void {
    this.#at(number).output.heardMs = this.clock.machine();
  }

  setMischief(number: number, mischief: Mischief, on: boolean): void {
    this.advance();
    const place = this.#at(number);
    if (on) place.mischief.add(mischief);
    else place.mischief.delete(mischief);
    if (mischief !== 'short' || !place.stepper) return;
    const { battery } = place.stepper;
    const weakest = Math.floor(battery.cells / 2);
    battery.make[weakest * MAKE_SIZE + MAKE.short] = on ? 1 / (SHORT_OHM * battery.c20Ah) : 0;
  }

  cutPower(): void {
    this.advance();
    this.powered = false;
    for (const place of this.places) {
      place.output.on = false;
      place.output.tripped = 'power cut';
      place.load.on = false;
    }
  }

  /** SG drawn from a cell, its volts by probe, mass of the whole: what the hand-held instruments see. */
  cell(number: number, cell: number): { sg: number; voltageV: number } | null {
    this.advance();
    const { stepper } = this.#at(number);
    if (!stepper || cell < 1 || cell > stepper.battery.cells) return null;
    const view = viewCell(stepper.battery, cell - 1);
    return {
      sg: round(
        view.sgTop + 0.0007 * (25 - stepper.temperatureC) + 0.0008 * this.#noise.normal(),
        1000,
      ),
      voltageV: round(view.voltageV, 1000),
    };
  }

  resistanceOhm(number: number): number | null {
    this.advance();
    const { stepper } = this.#at(number);
    return stepper ? (stepper.probe(1) - stepper.probe(-1)) / 2 : null;
  }

  massG(number: number): number | null {
    this.advance();
    const { stepper } = this.#at(number);
    if (!stepper) return null;
    const { battery } = stepper;
    return Math.round(battery.c20Ah * battery.cells * 41 - viewBattery(battery).waterLostG);
  }

  /** Written down so that the batteries outlive the process. */
  save(): unknown {
    this.advance();
    return {
      batteries: [...this.#shelf].map(([tag, b]) => [tag, keepBattery(b)]),
      places: this.places.map((p) => p.tag),
    };
  }

  restore(saved: unknown): void {
    const { batteries, places } = saved as {
      batteries: [string, KeptBattery][];
      places: (string | null)[];
    };
    for (const [tag, b] of batteries) this.#shelf.set(tag, keptBattery(b));
    places.forEach((tag, i) => {
      const battery = tag === null ? undefined : this.#shelf.get(tag);
      const place = this.places[i];
      if (!battery || !place) return;
      place.tag = tag;
      place.stepper = new Stepper(battery);
    });
  }

  #at(number: number): Place {
    const place = this.places[number - 1];
    if (!place) throw new RangeError(`The rack has places 1 to ${this.places.length}.`);
    return place;
  }
}

const round = (value: number, parts: number): number => Math.round(value * parts) / parts;

/** A battery nobody has measured yet: its tag decides what it really is. */
function hidden({ tag, chemistry, charge, temperatureC, ...size }: Clipped): SimBattery {
  let seed = 7;
  for (const letter of tag) seed = Math.imul(seed, 31) + letter.charCodeAt(0);
  const random = seeded(seed);
  const design = DESIGNS[chemistry];
  const condition = {
    charge: charge ?? 0.74 + 0.14 * random.even(),
    temperatureC,
    cells: Array.from({ length: size.cells }, () => ({
      behind: 0.02 * random.even(),
      active: 0.97 + 0.05 * random.even(),
    })),
  };
  return makeBattery(
    design,
    size,
    condition,
    temperatureC,
    drawFactors(design, random, OF_ONE_MAKER),
  );
}

/** Ah that went into a battery so far. */
const chargeIn = ({ battery }: Stepper): number =>
  battery.state[battery.cells * CELL_SIZE + CASE.chargeIn] as number;
