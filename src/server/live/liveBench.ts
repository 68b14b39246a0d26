import { randomUUID } from 'node:crypto';
import { Mutex } from 'async-mutex';
import type { Logger } from 'pino';
import type { AnswerClock, MeasureWith, SkipStage, StartLive } from '../../contract/asks.ts';
import type {
  LiveSample,
  Measured,
  TriedInstrument,
  PulseRecord,
} from '../../contract/chargeWire.ts';
import { chargeSettings } from '../../core/charging/jobChargePlan.ts';
import { sayStage } from '../../core/charging/planSentences.ts';
import { demandOf, nextStage, PLAN_START, stageOf } from '../../core/charging/runPlan.ts';
import type { InstrumentSetting } from '../../core/house/instruments.ts';
import type { JobCommand } from '../../core/job/commands.ts';
import { settle } from '../../core/steps/settle.ts';
import type { BatterySize } from '../../core/simulation/battery.ts';
import { labelledSize } from '../../core/simulation/labelled.ts';
import { instantOf, type SteadyClock, type WallWatch } from '../clock.ts';
import { type Context, once, readRules } from '../context.ts';
import { conflict, notFound } from '../http/problem.ts';
import { type Instruments } from '../instruments/channel.ts';
import { answerClock } from '../resources/clock/clockAnswer.ts';
import { measureWith } from '../resources/instruments/measure.ts';
import { placeTaken } from '../resources/jobs/openJobs.ts';
import { readJob, recordInJob, startChargeInJob } from '../resources/jobs/jobs.ts';
import { chargeRow, openCharges } from './chargeRows.ts';
import { Journal } from './journal.ts';
import { type Happening, LiveCharge } from './liveCharge.ts';
import type { ChargeStanding, LiveDesk } from './liveDesk.ts';
import { Pen } from './pen.ts';
import { expectationOf } from './prospect.ts';
import { thinSamples } from './samples.ts';
import { type StageEnd } from '../../core/charging/stageEnd.ts';
import { trip } from '../../core/charging/trips.ts';
import { checkClips } from './clips.ts';
import { StageSkips } from './stageSkips.ts';
import { planAtPlace } from './planAtPlace.ts';
import { takenUp } from './takenUp.ts';
import { recordSeconds } from '../../core/charging/waveform.ts';

const THIN_EVERY_MS = 600_000;
/** A place with its current off is looked at once in so many looks. */
const IDLE_LOOKS = 5;
/** Real time between two looks, ms: a second, and a quarter of one where bench time runs fast. */
const LOOK_MS = 1000;
const FAST_LOOK_MS = 250;
/** Where nothing was measured, °C. */
const USUAL_C = 25;

/** In the demo there is nobody to put a battery on its place, and its instruments keep the demo's time: this sees to both. */
export interface DemoHands {
  clipOn(
    place: number,
    battery: BatterySize & { tag: string; chemistry: string; temperatureC: number },
  ): Promise<void>;
  setRate(rate: number): Promise<void>;
}

/** Points of a record of pulses. */
const RECORD_POINTS = 2000;

/**
 * Every charge that runs on an instrument. The server watches; the pages only show. All that may begin, change or end a
 * live charge is in this one class, over 350 lines or not: whoever asks what can switch a current on reads one file.
 */
export class LiveBench implements LiveDesk {
  readonly #charges = new Map<string, LiveCharge>();
  readonly #journal: Journal;
  readonly #pen: Pen;
  /** Places that are being looked at: a slow instrument is late with its own next look and with nobody else's. */
  readonly #looking = new Map<LiveCharge, Promise<void>>();
  #thinnedAt = 0;
  #looks = 0;
  #beat: NodeJS.Timeout | undefined;
  #afterBeat: Promise<void> = Promise.resolve();
  readonly #starting = new Mutex();
  readonly #skips: StageSkips;
  #time: { clock: SteadyClock; wall: WallWatch } | undefined;
  #leaving = false;

  constructor(
    private readonly context: Context,
    private readonly instruments: Instruments,
    private readonly log: Logger,
    private readonly demo?: DemoHands,
  ) {
    this.#journal = new Journal(context);
    this.#skips = new StageSkips(context);
    this.#pen = new Pen(context.store, this.#journal, log);
  }

  /** Begins the charge of a job: checks the clips before any current flows, then lets the plan run. One at a time. */
  start(jobId: string, body: StartLive): Promise<{ chargeId: string }> {
    return this.#starting.runExclusive(() => this.#start(jobId, body));
  }

  async #start(jobId: string, body: StartLive): Promise<{ chargeId: string }> {
    const { store, clock } = this.context;
    const rules = await readRules(store);
    const job = await readJob(store, jobId);
    const { model } = job.plan;
    const { channel, charger, plan, fitted, chemistry } = planAtPlace(
      job,
      body.place,
      this.instruments.channel(rules.instruments, body.place),
    );

    const charges = [...this.#charges.values()];
    if (
      charges.some((c) => c.place === body.place && c.jobId !== jobId) ||
      (await placeTaken(store, body.place, jobId))
    )
      throw conflict(`Place ${body.place} is taken.`, { place: 'In use.' });
    const mine = charges.find((c) => c.jobId === jobId);
    if (mine?.mode === 'ended')
      throw conflict(
        `The charge before this one is not confirmed off at place ${mine.place}. Look at its charger.`,
      );
    if (!mine && settle(job, clock.now()).state.current?.stepId !== body.stepId)
      throw conflict('The charge is not the step in hand.');
    if (!mine && this.demo) {
      const owner = await store.tables.batteries.findByPk(job.batteryId, { raw: true });
      await this.demo.clipOn(body.place, {
        tag: owner?.tag ?? '',
        chemistry,
        ...labelledSize(model),
        temperatureC: rules.roomC,
      });
    }
    // A retry finds its charge under way: nothing is touched, the first answer is given again.
    const measured = mine
      ? { temperatureC: rules.roomC }
      : await checkClips(this.context, jobId, body.place, channel, charger, fitted);

    const guess = {
      charge: body.charge,
      temperatureC: measured.temperatureC,
      roomC: job.plan.roomC,
    };
    const expected = expectationOf(fitted, guess);
    const answer = await once(this.context, body, async ({ by, now, transaction }) => {
      const chargeId = randomUUID();
      const sentences = plan.stages.map((s) =>
        sayStage(s, { c20Ah: model.c20Ah, cells: model.cells }),
      );
      await startChargeInJob(
        store,
        jobId,
        {
          type: 'startCharge',
          stepId: body.stepId,
          place: body.place,
          ...chargeSettings(fitted),
          ...(body.reason ? { reason: body.reason } : {}),
        },
        { chargeId, planName: plan.name, sentences, expectedS: Math.round(expected.totalH * 3600) },
        { by, now, transaction, commandId: body.commandId },
      );
      const row = {
        id: chargeId,
        jobId,
        place: body.place,
        instrument: charger.name,
        startedAt: now,
        endedAt: null,
        lastAt: now,
      };
      await store.tables.charges.create(
        {
          ...row,
          mode: 'running',
          plan: fitted,
          run: PLAN_START,
          trip: null,
          guess,
          expected,
          stretches: [],
        },
        { transaction },
      );
      return { chargeId };
    });
    const row = await chargeRow(store, answer.chargeId);
    if (!this.#charges.has(row.id) && row.endedAt === null) {
      const live = new LiveCharge(row, channel, instantOf(clock));
      live.begin(instantOf(clock));
      this.#charges.set(live.id, live);
      await this.#drive(live, measured.temperatureC);
    }
    this.context.changes.announce({ topic: 'bench', jobId });
    return answer;
  }

  /** What must hold before a person's command is decided: current goes on again only where it may. */
  async before(jobId: string, command: JobCommand): Promise<{ ahIn: number } | null> {
    if (command.type !== 'resumeCharge' && command.type !== 'endCharge') return null;
    const job = await readJob(this.context.store, jobId);
    const id = job.state.charge?.live?.chargeId;
    if (id === undefined) return null;
    const charge = this.#charges.get(id) ?? null;
    if (command.type === 'resumeCharge' && job.state.charge?.mode !== 'running') {
      if (!charge)
        throw conflict(
          'Its place has no instrument any more. End this charge, or give the place its instrument back and start the server again.',
        );
      const { instruments } = await readRules(this.context.store);
      const found = this.instruments.channel(instruments, charge.place);
      if (found)
        await checkClips(
          this.context,
          jobId,
          charge.place,
          charge.channel,
          found.charger,
          charge.plan,
        );
    }
    return charge && { ahIn: charge.run.ahIn };
  }

  /** After a restart: every charge that was under way is off, says so, and waits for an answer. */
  async restore(): Promise<void> {
    const { instruments } = await readRules(this.context.store);
    for (const row of await openCharges(this.context.store)) {
      const channel = this.instruments.channel(instruments, row.place)?.channel ?? null;
      const found = await takenUp(this.context, row, channel);
      if (!found) continue;
      const { live, offAt, stopped } = found;
      this.#charges.set(live.id, live);
      if (row.mode === 'running') live.stopFor({ ...stopped, action: 'ask' });
      if (row.mode === 'ended')
        this.#journal.note(live, { type: 'finished', end: row.run.ended.at(-1) ?? null }, offAt);
      await this.#drive(live, USUAL_C);
    }
    await this.#write();
  }

  /** One look at every place, written down before it returns: for whoever holds the clock. A server {@link watchOver}s instead. */
  async tick(): Promise<void> {
    if (this.#leaving) return;
    await Promise.all(this.#due().map((charge) => this.#look(charge)));
    await this.#afterLooks();
  }

  /** Looks at every place each second until the server leaves. No place waits for another, and none for the disk. */
  watchOver(): void {
    let next = performance.now();
    const beat = (): void => {
      if (this.#leaving) return;
      for (const charge of this.#due())
        void this.#look(charge).catch((err: unknown) =>
          this.log.error({ err }, 'a look at a live charge failed'),
        );
      this.#afterBeat = this.#afterBeat
        .then(() => this.#afterLooks())
        .catch((err: unknown) => this.log.error({ err }, 'what was seen was not dealt with'));
      // Counted from when it was due, so that the pace holds; a beat that was missed altogether is not made up for.
      next = Math.max(
        next + (this.context.clock.rate > 1 ? FAST_LOOK_MS : LOOK_MS),
        performance.now(),
      );
      this.#beat = setTimeout(beat, next - performance.now());
    };
    beat();
  }

  #due(): LiveCharge[] {
    this.#looks += 1;
    return [...this.#charges.values()].filter(
      (c) => c.mode === 'running' || c.waitsToCool || this.#looks % IDLE_LOOKS === 0,
    );
  }

  /** One look at one place; where the last one is still under way, that one. */
  #look(charge: LiveCharge): Promise<void> {
    const underWay = this.#looking.get(charge);
    if (underWay) return underWay;
    const look = this.#lookOnce(charge).finally(() => this.#looking.delete(charge));
    this.#looking.set(charge, look);
    return look;
  }

  async #lookOnce(charge: LiveCharge): Promise<void> {
    const reading = await charge.channel.measure().catch(() => null);
    const now = instantOf(this.context.clock);
    const { happenings, sample } = charge.look(now, reading);
    if (sample) this.#pen.keep(sample);
    for (const happening of happenings) this.#happened(charge, happening);
    // Who did not answer is not asked again in the same look, except to switch off.
    if (reading || charge.mode !== 'running')
      await this.#drive(charge, reading?.temperatureC ?? USUAL_C);
  }

  #happened(charge: LiveCharge, happening: Happening): void {
    const now = instantOf(this.context.clock);
    if (happening.type === 'trip') charge.stopFor(happening.trip);
    if (happening.type === 'cooled') charge.begin(now);
    if (happening.type === 'finished') charge.end();
    this.#journal.note(charge, happening, now.at);
  }

  /** Current first, then the disk, then the screens. */
  async #afterLooks(): Promise<void> {
    const charges = [...this.#charges.values()];
    if (charges.length === 0) return;
    await this.#write();
    const live: Record<string, LiveSample> = {};
    for (const { id, newest } of charges) if (newest) live[id] = newest;
    this.context.changes.announce({ topic: 'charge', live });
    charges.find((charge) => charge.prospect.think());
    const now = this.context.clock.now();
    if (Math.abs(now - this.#thinnedAt) > THIN_EVERY_MS) {
      this.#thinnedAt = now;
      await thinSamples(this.context.store, now);
    }
  }

  /** Tells the instrument what the plan wants now, or to be off. */
  async #drive(charge: LiveCharge, temperatureC: number): Promise<void> {
    try {
      await charge.channel.drive(() => {
        const stage = charge.mode === 'running' ? stageOf(charge.plan, charge.run) : null;
        return stage && { demand: demandOf(charge.plan, charge.run, temperatureC), stage };
      });
    } catch (err) {
      // The next look tells it again, or finds it silent; the device's own watchdog does the rest.
      this.log.warn({ err }, 'an instrument did not take its setting');
    }
  }

  /** Writes down what there is; where that has not worked for too long, nothing is charged any more. */
  async #write(): Promise<void> {
    const charges = [...this.#charges.values()];
    const written = await this.#pen.write(charges);
    if (written === 'not for long') await this.#stopUnrecorded();
    if (written !== 'written') return;
    for (const charge of charges)
      if (charge.mode === 'ended' && charge.channel.isOff && !this.#journal.owes(charge))
        await this.#close(charge);
  }

  async #stopUnrecorded(): Promise<void> {
    const notRecorded = { ...trip('not-recorded', {}), action: 'ask' } as const;
    const running = [...this.#charges.values()].filter((charge) => charge.mode === 'running');
    await Promise.all(
      running.map((charge) => {
        this.#happened(charge, { type: 'trip', trip: notRecorded });
        return this.#drive(charge, USUAL_C);
      }),
    );
  }

  /** A charge that is over, switched off and written down leaves the bench. */
  async #close({ id, lastAt }: LiveCharge): Promise<void> {
    const { store } = this.context;
    await store.write((transaction) =>
      store.tables.charges.update({ endedAt: lastAt }, { where: { id }, transaction }),
    );
    this.#charges.delete(id);
  }

  /** People act on the job; the instrument follows. */
  async sync(jobId: string): Promise<void> {
    const charge = [...this.#charges.values()].find((c) => c.jobId === jobId);
    if (!charge) return;
    const { state } = await readJob(this.context.store, jobId);
    charge.noteSg(state.readings);
    const mine = state.charge?.live?.chargeId === charge.id ? state.charge : null;
    if (charge.mode === 'ended') return;
    if (!mine || mine.mode === 'ended' || state.status === 'closed') charge.end();
    else if (mine.mode === 'running' && charge.mode !== 'running')
      charge.begin(instantOf(this.context.clock));
    else if (mine.mode !== 'running' && charge.mode === 'running') charge.hold();
    else return;
    await this.#drive(charge, charge.newest?.temperatureC ?? USUAL_C);
    await this.#write();
  }

  /** Goes on to the next stage of the plan because a person says so: from the stage they saw, and from no other. */
  async skipStage(chargeId: string, body: SkipStage): Promise<{ chargeId: string }> {
    const charge = this.#charges.get(chargeId);
    if (!charge || charge.run.finished) throw notFound('That live charge');
    const by = await this.#skips.ask(charge, body);
    // A retry is answered and changes nothing; a stage that has just ended by itself is not followed by another.
    if (by === null || charge.run.stage !== body.stage || charge.run.finished) return { chargeId };
    const end: StageEnd = { by: 'hand', reason: body.reason };
    charge.run = nextStage(charge.plan, charge.run, end);
    const now = this.context.clock.now();
    const event = { type: 'charge.stage', stage: body.stage, end } as const;
    await recordInJob(this.context, charge.jobId, now, () => [event], by);
    if (charge.run.finished) {
      charge.end();
      this.#journal.note(charge, { type: 'finished', end }, now);
    }
    await this.#drive(charge, charge.newest?.temperatureC ?? USUAL_C);
    await this.#write();
    return { chargeId };
  }

  standing(chargeId: string): Promise<ChargeStanding | null> {
    const charge = this.#charges.get(chargeId);
    if (!charge) return Promise.resolve(null);
    const { mode, trip, stretches, run, startedAt, prospect } = charge;
    return Promise.resolve({
      mode,
      trip,
      stretches,
      run,
      startedAt,
      left: mode === 'ended' ? null : prospect.left(run.totalS / 3600),
    });
  }

  async waveform(chargeId: string): Promise<PulseRecord | null> {
    const charge = this.#charges.get(chargeId);
    const stage = charge && stageOf(charge.plan, charge.run);
    if (!charge || charge.mode !== 'running' || stage?.do !== 'pulse') return null;
    const seconds = recordSeconds(stage);
    const taken = await charge.channel.record(
      seconds,
      RECORD_POINTS,
      (ms) => new Promise((resolve) => setTimeout(resolve, ms)),
    );
    return taken && { seconds, ...taken, stage: { ...stage, until: [...stage.until] } };
  }

  measure(request: MeasureWith): Promise<Measured> {
    return measureWith(this.context, this.instruments, request);
  }

  tryOut(setting: InstrumentSetting): Promise<TriedInstrument> {
    return this.instruments.tryOut(setting);
  }

  /** Holds bench time against the machine's clock; without it there is nothing to answer. */
  keepTime(clock: SteadyClock, wall: WallWatch): void {
    this.#time = { clock, wall };
  }

  async answerClock(body: AnswerClock): Promise<void> {
    if (!this.#time) throw conflict('This clock is not held against the machine’s.');
    await answerClock(this.context, this.#time.clock, this.#time.wall, body, (byMs) => {
      for (const charge of this.#charges.values()) charge.redate(byMs);
    });
  }

  async setRate(rate: number): Promise<void> {
    this.context.clock.setRate(rate);
    await this.demo?.setRate(rate);
  }

  /** The server ends in good order: everything is off before it goes, not seconds later by a watchdog. */
  async switchOff(): Promise<void> {
    this.#leaving = true;
    clearTimeout(this.#beat);
    await Promise.all(
      [...this.#charges.values()].map((charge) => charge.channel.off().catch(() => undefined)),
    );
    await Promise.allSettled([...this.#looking.values(), this.#afterBeat]);
  }

  async close(): Promise<void> {
    this.#leaving = true;
    clearTimeout(this.#beat);
    await Promise.allSettled([...this.#looking.values(), this.#afterBeat]);
    this.instruments.close();
  }
}
