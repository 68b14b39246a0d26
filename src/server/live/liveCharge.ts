import type { ChargeWire, LiveSample } from '../../contract/chargeWire.ts';
import type { FittedPlan } from '../../core/charging/fitPlan.ts';
import { trip, type Trip } from '../../core/charging/trips.ts';
import {
  EMPTY_WINDOW,
  type GuardWindow,
  type LiveTrip,
  mayResume,
  remember,
  watch,
} from '../../core/charging/liveGuards.ts';
import {
  advancePlan,
  demandOf,
  noteSg,
  type PlanRun,
  stageOf,
} from '../../core/charging/runPlan.ts';
import { discharges } from '../../core/charging/testPlan.ts';
import type { OnStretch } from '../../core/charging/progress.ts';
import type { Reading } from '../../core/job/reading.ts';
import type { Instant } from '../clock.ts';
import type { Channel, ChannelReading } from '../instruments/channel.ts';
import type { ChargeRow } from '../store/rows.ts';
import { Prospect } from './prospect.ts';
import type { StoredSample } from './samples.ts';
import type { StageEnd } from '../../core/charging/stageEnd.ts';

/** What a moment brought, for the caller to record: in this order. */
export type Happening =
  /** With what came out of it, where the stage that is over was a discharge. */
  | {
      type: 'stage';
      stage: number;
      end: StageEnd;
      discharged?: { ah: number; hours: number; endV: number; temperatureC: number };
    }
  | { type: 'trip'; trip: LiveTrip }
  | { type: 'still-on'; trip: Trip }
  | { type: 'cooled'; temperatureC: number }
  | { type: 'finished'; end: StageEnd | null }
  | { type: 'hour' };

const HOUR_MS = 3_600_000;
/** Looks at an output that should be off and is not before that is said. */
const STILL_ON_LOOKS = 3;

/** One live charge in memory. It decides; the bench around it switches, stores and tells. */
export class LiveCharge {
  readonly id: string;
  readonly jobId: string;
  readonly place: number;
  readonly seq: number;
  readonly plan: FittedPlan;
  startedAt: number;
  readonly prospect: Prospect;
  mode: ChargeWire['mode'];
  run: PlanRun;
  trip: ChargeWire['trip'];
  lastAt: number;
  stretches: OnStretch[];
  newest: LiveSample | null = null;
  /** Bench time gone by from which the next hourly reading is due. */
  #readingAfter: number;
  readonly #notedSg = new Set<string>();
  #bornAt: number;
  #stillOn = 0;
  #window: GuardWindow = EMPTY_WINDOW;
  #everyS = 1;
  #coolsBySelf = false;
  /** When bench time stood at the start of the charge, had it gone by evenly since. */
  #zero: number;
  #spoke: number;
  #lookedAt: number;
  readonly missingAh: number | null;
  readonly roomC: number;

  constructor(
    row: ChargeRow,
    readonly channel: Channel,
    now: Instant,
  ) {
    this.id = row.id;
    this.jobId = row.jobId;
    this.place = row.place;
    this.seq = row.seq as number;
    this.plan = row.plan;
    this.startedAt = row.startedAt;
    this.mode = row.mode;
    this.run = row.run;
    this.trip = row.trip;
    this.lastAt = row.lastAt;
    this.stretches = row.stretches;
    this.#zero = now.passed - (now.at - row.startedAt);
    this.#spoke = now.passed;
    this.#lookedAt = now.passed;
    this.#bornAt = row.lastAt;
    this.#readingAfter = this.#zero;
    this.roomC = row.guess.roomC;
    // What is missing after a discharge nobody knows before it.
    this.missingAh =
      row.guess.charge === null || discharges(row.plan)
        ? null
        : (1 - row.guess.charge) * row.plan.battery.c20Ah;
    this.prospect = new Prospect(row.plan, row.guess);
  }

  get waitsToCool(): boolean {
    return this.#coolsBySelf;
  }

  /** Current flows (again) from `now` on. */
  begin({ at, passed }: Instant): void {
    if (this.mode !== 'running' || this.stretches.length === 0)
      this.stretches = [...this.stretches, { from: at, to: null }];
    this.mode = 'running';
    this.trip = null;
    this.#coolsBySelf = false;
    this.lastAt = at;
    this.#lookedAt = passed;
    this.#spoke = passed;
    this.#window = EMPTY_WINDOW;
  }

  /** The clock was set: what is dated here is dated by the new one. */
  redate(byMs: number): void {
    this.startedAt += byMs;
    this.lastAt += byMs;
    this.#bornAt += byMs;
    this.stretches = this.stretches.map(({ from, to }) => ({
      from: from + byMs,
      to: to && to + byMs,
    }));
    this.newest = this.newest && { ...this.newest, at: this.newest.at + byMs };
  }

  /** SG readings given by hand while it runs, each once. Those before a restart are in the run already. */
  noteSg(readings: readonly Reading[]): void {
    for (const { id, at, values } of readings) {
      if (values.specificGravity === undefined || at <= this.#bornAt || this.#notedSg.has(id))
        continue;
      this.#notedSg.add(id);
      this.run = noteSg(this.run, values.specificGravity);
    }
  }

  /**
   * Takes one look at the place into account.
   *
   * @param reading null when the instrument did not answer
   * @returns what came of it, and the sample to keep
   */
  look(
    { at, passed }: Instant,
    reading: ChannelReading | null,
  ): { happenings: Happening[]; sample: StoredSample | null } {
    const sinceStart = passed - this.#zero;
    const atS = sinceStart / 1000;
    const stage = stageOf(this.plan, this.run);
    if (!stage) return { happenings: [], sample: null };
    const happenings: Happening[] = [];
    let sample: StoredSample | null = null;
    const running = this.mode === 'running';
    const asked = running ? demandOf(this.plan, this.run, reading?.temperatureC ?? 25).currentA : 0;
    const before = this.run;
    const stageWas = before.stage;
    if (reading) {
      const dtS = Math.max(0, (passed - this.#lookedAt) / 1000);
      this.#everyS = dtS > 0 ? 0.8 * this.#everyS + 0.2 * dtS : this.#everyS;
      this.#spoke = passed;
      this.#window = remember(this.#window, {
        ...reading,
        atS,
        askedA: running && stage.do === 'pulse' ? stage.currentA : asked,
      });
      if (running && dtS > 0) {
        this.run = advancePlan(this.plan, this.run, { dtS, ...reading });
        this.prospect.see(this.run.totalS / 3600, reading.voltageV);
      }
      this.lastAt = at;
      this.#lookedAt = passed;
      sample = {
        charge: this.seq,
        t: sinceStart,
        v: reading.voltageV * 1000,
        a: reading.currentA * 1000,
        c: reading.temperatureC * 100,
      };
      this.newest = {
        at,
        voltageV: reading.voltageV,
        currentA: reading.currentA,
        temperatureC: reading.temperatureC,
        ahIn: this.run.ahIn,
        stage: this.run.stage,
      };
      if (passed >= this.#readingAfter && running) {
        this.#readingAfter = passed + HOUR_MS;
        happenings.push({ type: 'hour' });
      }
    }
    if (this.run.finished) {
      happenings.push({ type: 'finished', end: this.run.ended.at(-1) ?? null });
      return { happenings, sample };
    }
    if (this.run.stage !== stageWas) {
      const discharged =
        stage.do === 'discharge' && reading
          ? {
              ah: -before.stageAh,
              hours: before.stageS / 3600,
              endV: reading.voltageV,
              temperatureC: reading.temperatureC,
            }
          : null;
      happenings.push({
        type: 'stage',
        stage: stageWas,
        end: this.run.ended.at(-1) as StageEnd,
        ...(discharged ? { discharged } : {}),
      });
      this.#window = EMPTY_WINDOW;
      return { happenings, sample };
    }
    if (this.#coolsBySelf && reading && mayResume(reading.temperatureC, this.roomC, this.plan))
      happenings.push({ type: 'cooled', temperatureC: reading.temperatureC });
    if (running) this.#guard(passed, atS, reading, asked, happenings);
    else this.#checkOff(reading, happenings);
    return { happenings, sample };
  }

  #guard(
    passed: number,
    atS: number,
    reading: ChannelReading | null,
    asked: number,
    happenings: Happening[],
  ): void {
    const stage = stageOf(this.plan, this.run);
    if (!stage) return;
    const found = watch(this.#window, {
      plan: this.plan,
      stage,
      run: this.run,
      ambientC: this.roomC,
      missingAh: this.missingAh,
      // Before the first sample, silence counts from when the current was switched on.
      nowS: reading ? atS : this.#window.recent.length > 0 ? atS : (passed - this.#spoke) / 1000,
      everyS: this.#everyS,
    });
    if (found) {
      happenings.push({ type: 'trip', trip: found });
      return;
    }
    // Off though it should be on, and not a cut-off of the load's own: somebody or something switched it off.
    if (reading && !reading.on && asked !== 0 && this.run.stageS > 3 * this.#everyS)
      happenings.push({ type: 'trip', trip: { ...trip('output-off', {}), action: 'ask' } });
  }

  /** An output that was told to be off and is not. */
  #checkOff(reading: ChannelReading | null, happenings: Happening[]): void {
    if (!reading) return;
    this.#stillOn = reading.on ? this.#stillOn + 1 : 0;
    if (this.#stillOn !== STILL_ON_LOOKS) return;
    const stillOn = trip('still-on', { currentA: reading.currentA, voltageV: reading.voltageV });
    this.trip = stillOn;
    happenings.push({ type: 'still-on', trip: stillOn });
  }

  /** Notes that a guard has switched it off. */
  stopFor({ action, ...tripped }: LiveTrip): void {
    this.#off();
    this.mode = action === 'pause' ? 'paused' : 'asking';
    this.#coolsBySelf = action === 'pause';
    this.trip = tripped;
  }

  /** It is over. */
  end(): void {
    this.#off();
    this.mode = 'ended';
  }

  #off(): void {
    this.stretches = this.stretches.map((stretch) =>
      stretch.to === null ? { ...stretch, to: this.lastAt } : stretch,
    );
  }

  /** A person paused it. */
  hold(): void {
    this.#off();
    this.mode = 'paused';
    this.#coolsBySelf = false;
  }
}
