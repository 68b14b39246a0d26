import { randomUUID } from 'node:crypto';
import { Mutex } from 'async-mutex';
import type { Logger } from 'pino';
import type { ChargeWire, LiveSample, SkipStage, StartLive } from '../../contract/wire.ts';
import { type FittedPlan, fitPlan } from '../../core/charging/fitPlan.ts';
import { chargeSettings, firstChargePlan, planBattery } from '../../core/charging/jobChargePlan.ts';
import { refusesToStart } from '../../core/charging/liveGuards.ts';
import { sayStage } from '../../core/charging/planSentences.ts';
import { demandOf, nextStage, PLAN_START, stageOf } from '../../core/charging/runPlan.ts';
import { discharges } from '../../core/charging/testPlan.ts';
import type { InstrumentSetting } from '../../core/house/instruments.ts';
import type { JobCommand } from '../../core/procedures/commands.ts';
import { settle } from '../../core/procedures/settle.ts';
import { jobChemistry } from '../../core/procedures/verdict.ts';
import { type Context, once, parsed, readRules } from '../context.ts';
import { conflict, HttpProblem, notFound } from '../http/problem.ts';
import { type Channel, type ChannelReading, type Instruments, WATCHDOG_S } from '../instruments/channel.ts';
import { readJob, recordInJob, startChargeInJob } from '../resources/jobs/jobs.ts';
import type { ChargeRow } from '../store/tables.ts';
import { Journal } from './journal.ts';
import { LiveCharge } from './liveCharge.ts';
import { expectationOf } from './prospect.ts';
import { keepSamples, sampleColumns, type StoredSample, thinSamples } from './samples.ts';

const THIN_EVERY_MS = 600_000;
/** A place with its current off is looked at once in so many looks. */
const IDLE_LOOKS = 5;
/** When nothing could be written down for so many looks, current goes off: what is not recorded is not charged. */
const MOST_UNWRITTEN = 30;
/** Where nothing was measured, °C. */
const USUAL_C = 25;

/** In the demo there is nobody to put a battery on its place: this does. */
export type ClipOn = (place: number, battery: { tag: string; chemistry: string; c20Ah: number; cells: number; temperatureC: number }) => Promise<void>;

/** Every charge that runs on an instrument. The server watches; the pages only show. */
export class LiveBench {
  readonly #charges = new Map<string, LiveCharge>();
  readonly #journal: Journal;
  #busy: Promise<void> = Promise.resolve();
  #thinnedAt = 0;
  #looks = 0;
  readonly #starting = new Mutex();
  readonly #pen = new Mutex();
  #unwritten: StoredSample[] = [];
  #failedWrites = 0;
  #leaving = false;

  constructor(
    private readonly context: Context,
    readonly instruments: Instruments,
    private readonly log: Logger,
    private readonly clipOn?: ClipOn,
  ) {
    this.#journal = new Journal(context);
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
    const found = this.instruments.channel(rules.instruments, body.place);
    if (!found) throw conflict(`Place ${body.place} has no instrument; charge by hand there.`, { place: 'No instrument.' });
    const { channel, charger } = found;
    const chemistry = jobChemistry(job).key;
    const plan = job.state.chargePlan ?? firstChargePlan(model, chemistry, job.plan.figures.chargeA.value, job.plan.figures.ceilingV.value);
    const battery = planBattery(model, chemistry);
    const fit = fitPlan(plan, {
      ...battery,
      mostA: Math.min(battery.mostA ?? Infinity, charger.mostA),
      mostV: Math.min(battery.mostV ?? Infinity, charger.mostV),
    });
    if (!fit.fitted) throw refused(fit.faults[0]?.sentence ?? 'The plan does not fit this battery.');
    const fitted = fit.fitted;
    if (discharges(fitted) && !channel.discharges) throw refused(`Place ${body.place} has no electronic load, and the plan discharges.`);

    const charges = [...this.#charges.values()];
    if (charges.some((c) => c.place === body.place && c.jobId !== jobId)) throw conflict(`Place ${body.place} is taken.`, { place: 'In use.' });
    const mine = charges.find((c) => c.jobId === jobId);
    if (mine?.mode === 'ended') throw conflict(`The charge before this one is not confirmed off at place ${mine.place}. Look at its charger.`);
    if (!mine && settle(job, clock.now()).state.current?.stepId !== body.stepId) throw conflict('The charge is not the step in hand.');
    if (!mine && this.clipOn) {
      const owner = await store.tables.batteries.findByPk(job.batteryId, { raw: true });
      await this.clipOn(body.place, { tag: owner?.tag ?? '', chemistry, c20Ah: model.c20Ah, cells: model.cells, temperatureC: rules.roomC });
    }
    // A retry finds its charge under way: nothing is touched, the first answer is given again.
    const measured = mine ? { temperatureC: rules.roomC } : await this.#checkClips(jobId, body.place, channel, charger, fitted);

    const guess = { charge: body.charge, temperatureC: measured.temperatureC, roomC: job.plan.roomC };
    const expected = expectationOf(fitted, guess);
    const answer = await once(this.context, body, async ({ by, now, transaction }) => {
      const chargeId = randomUUID();
      const sentences = plan.stages.map((s) => sayStage(s, { c20Ah: model.c20Ah, cells: model.cells }));
      await startChargeInJob(
        store,
        jobId,
        { type: 'startCharge', stepId: body.stepId, place: body.place, ...chargeSettings(fitted), ...(body.reason ? { reason: body.reason } : {}) },
        { chargeId, planName: plan.name, sentences, expectedS: Math.round(expected.totalH * 3600) },
        { by, now, transaction, commandId: body.commandId },
      );
      const row = { id: chargeId, jobId, place: body.place, instrument: charger.name, startedAt: now, endedAt: null, lastAt: now };
      await store.tables.charges.create(
        { ...row, mode: 'running', plan: fitted, run: PLAN_START, trip: null, guess, expected, stretches: [] },
        { transaction },
      );
      return { chargeId };
    });
    const row = await this.#row(answer.chargeId);
    if (!this.#charges.has(row.id) && row.endedAt === null) {
      const live = new LiveCharge(row, channel);
      live.begin(clock.now());
      this.#charges.set(live.id, live);
      await this.#drive(live, measured.temperatureC);
    }
    this.context.changes.announce({ topic: 'bench', jobId });
    return answer;
  }

  /** Looks at the clips with everything off; says no, on the record, where current must not flow. */
  async #checkClips(jobId: string, place: number, channel: Channel, charger: InstrumentSetting, plan: FittedPlan): Promise<ChannelReading> {
    const no = async (sentence: string): Promise<never> => {
      await recordInJob(this.context, jobId, this.context.clock.now(), () => [{ type: 'charge.warned', reason: `Place ${place}: ${sentence}` }]);
      throw refused(sentence);
    };
    let measured: ChannelReading;
    try {
      const missing = await channel.prepare({ pulses: plan.stages.some((s) => s.do === 'pulse') });
      if (missing[0]) return await no(`${missing.join(' ')} A charge nobody watches needs that; charge by hand here.`);
      measured = await channel.measure();
    } catch (error) {
      if (error instanceof HttpProblem) throw error;
      return no((error as Error).message);
    }
    const refusal = refusesToStart(measured, plan.battery, charger);
    return refusal ? no(refusal.sentence) : measured;
  }

  /** What must hold before a person's command is decided: current goes on again only where it may. */
  async before(jobId: string, command: JobCommand): Promise<{ ahIn: number } | undefined> {
    if (command.type !== 'resumeCharge' && command.type !== 'endCharge') return undefined;
    const job = await readJob(this.context.store, jobId);
    const id = job.state.charge?.live?.chargeId;
    if (id === undefined) return undefined;
    const charge = this.#charges.get(id);
    if (command.type === 'resumeCharge' && job.state.charge?.mode !== 'running') {
      if (!charge) throw conflict('Its place has no instrument any more. End this charge, or give the place its instrument back and start the server again.');
      const { instruments } = await readRules(this.context.store);
      const found = this.instruments.channel(instruments, charge.place);
      if (found) await this.#checkClips(jobId, charge.place, charge.channel, found.charger, charge.plan);
    }
    return charge && { ahIn: charge.run.ahIn };
  }

  /** After a restart: every charge that was under way is off, says so, and waits for an answer. */
  async restore(): Promise<void> {
    const { store, clock } = this.context;
    const { instruments } = await readRules(store);
    const rows = await store.tables.charges.findAll({ where: { endedAt: null }, raw: true });
    for (const row of rows.map(revive)) {
      const { charge } = (await readJob(store, row.jobId)).state;
      if (charge?.live?.chargeId !== row.id || charge.mode === 'ended') {
        // Its job has ended it; only the row did not hear of that any more.
        await this.instruments
          .channel(instruments, row.place)
          ?.channel.off()
          .catch(() => undefined);
        await store.write((transaction) => store.tables.charges.update({ mode: 'ended', endedAt: row.lastAt }, { where: { id: row.id }, transaction }));
        continue;
      }
      const channel = this.instruments.channel(instruments, row.place)?.channel;
      // The device's watchdog works in real seconds; bench time may run faster.
      const offAt = Math.min(clock.now(), row.lastAt + WATCHDOG_S * 1000 * clock.rate);
      const sentence = channel
        ? 'The server stopped while it was charging. The output is off since within a few seconds of that; nothing that was measured is lost.'
        : `The server stopped while it was charging, and place ${row.place} has no instrument any more.`;
      const trip = row.mode === 'running' || !row.trip ? { key: 'interrupted', title: 'Interrupted', sentence } : row.trip;
      // The pages may have been told less than was done: what the row says is written into the job again.
      await recordInJob(this.context, row.jobId, offAt, (job) =>
        job.state.charge?.mode === 'running' && job.state.charge.live?.chargeId === row.id && row.mode !== 'ended'
          ? [{ type: 'charge.paused', reason: `${trip.title}: ${trip.sentence}` }]
          : [],
      );
      if (!channel) continue;
      const live = new LiveCharge(row, channel);
      this.#charges.set(live.id, live);
      if (row.mode === 'running') live.stopFor({ ...trip, action: 'ask' });
      if (row.mode === 'ended') this.#journal.note(live, { type: 'finished', said: row.run.ended.at(-1) ?? '' }, offAt);
      await this.#drive(live, USUAL_C);
    }
    await this.#write([]);
  }

  /** One look at every place. Called each second; two never overlap. */
  tick(): Promise<void> {
    if (this.#leaving) return this.#busy;
    this.#busy = this.#busy.then(() => this.#tick()).catch((error: unknown) => this.log.error({ error }, 'a look at the live charges failed'));
    return this.#busy;
  }

  async #tick(): Promise<void> {
    this.#looks += 1;
    const charges = [...this.#charges.values()].filter((c) => c.mode === 'running' || c.waitsToCool || this.#looks % IDLE_LOOKS === 0);
    if (charges.length === 0) return;
    const looks = await Promise.all(
      charges.map(async (charge) => {
        const reading = await charge.channel.measure().catch(() => null);
        const now = this.context.clock.now();
        return { charge, reading, now, look: charge.look(now, reading) };
      }),
    );
    const live: Record<string, LiveSample> = {};
    const samples: StoredSample[] = [];
    for (const { charge, look } of looks) {
      if (look.sample) samples.push(look.sample);
      if (charge.newest) live[charge.id] = charge.newest;
    }
    // Current first, then the disk, then the screens.
    await Promise.all(
      looks.map(async ({ charge, look, reading, now }) => {
        for (const happening of look.happenings) {
          if (happening.type === 'trip') charge.stopFor(happening.trip);
          if (happening.type === 'cooled') charge.begin(now);
          if (happening.type === 'finished') charge.end();
          this.#journal.note(charge, happening, now);
        }
        await this.#drive(charge, reading?.temperatureC ?? USUAL_C);
      }),
    );
    await this.#write(samples);
    this.context.changes.announce({ topic: 'charge', live });
    charges.find((charge) => charge.prospect.think());
    const now = this.context.clock.now();
    if (now - this.#thinnedAt > THIN_EVERY_MS) {
      this.#thinnedAt = now;
      await thinSamples(this.context.store, now);
    }
  }

  /** Tells the instrument what the plan wants now, or to be off. */
  async #drive(charge: LiveCharge, temperatureC: number): Promise<void> {
    const stage = charge.mode === 'running' ? stageOf(charge.plan, charge.run) : null;
    try {
      await charge.channel.drive(demandOf(charge.plan, charge.run, temperatureC), stage);
    } catch (error) {
      // The next look tells it again, or finds it silent; the device's own watchdog does the rest.
      this.log.warn({ error }, 'an instrument did not take its setting');
    }
  }

  /** Samples, standing of the charges, what happened: on the disk, or kept and tried again with the next look. */
  #write(samples: readonly StoredSample[]): Promise<void> {
    this.#unwritten.push(...samples);
    return this.#pen.runExclusive(() => this.#writeAll());
  }

  async #writeAll(): Promise<void> {
    const { store } = this.context;
    const batch = this.#unwritten.splice(0);
    try {
      await store.write(async (transaction) => {
        await keepSamples(store, batch, transaction);
        for (const { id, run, mode, trip, lastAt, stretches } of this.#charges.values())
          await store.tables.charges.update({ run, mode, trip, lastAt, stretches }, { where: { id }, transaction });
      });
      batch.length = 0;
      await this.#journal.settle();
      this.#failedWrites = 0;
    } catch (error) {
      this.#unwritten.unshift(...batch);
      this.log.error({ error }, 'live charges could not be written down');
      this.#failedWrites += 1;
      if (this.#failedWrites === MOST_UNWRITTEN) await this.#stopUnrecorded();
      return;
    }
    for (const charge of this.#charges.values()) if (charge.mode === 'ended' && charge.channel.isOff && !this.#journal.owes(charge)) await this.#close(charge);
  }

  async #stopUnrecorded(): Promise<void> {
    const sentence = 'Nothing can be written to the disk, so nothing is charged. Make room on it, then answer.';
    for (const charge of this.#charges.values()) {
      if (charge.mode !== 'running') continue;
      const trip = { key: 'not-recorded', title: 'Not recorded', action: 'ask', sentence } as const;
      charge.stopFor(trip);
      this.#journal.note(charge, { type: 'trip', trip }, this.context.clock.now());
      await this.#drive(charge, USUAL_C);
    }
  }

  /** A charge that is over, switched off and written down leaves the bench. */
  async #close({ id, lastAt }: LiveCharge): Promise<void> {
    const { store } = this.context;
    await store.write((transaction) => store.tables.charges.update({ endedAt: lastAt }, { where: { id }, transaction }));
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
    else if (mine.mode === 'running' && charge.mode !== 'running') charge.begin(this.context.clock.now());
    else if (mine.mode !== 'running' && charge.mode === 'running') charge.hold();
    else return;
    await this.#drive(charge, charge.newest?.temperatureC ?? USUAL_C);
    await this.#write([]);
  }

  /** Goes on to the next stage of the plan because a person says so. */
  async skipStage(chargeId: string, body: SkipStage): Promise<{ chargeId: string }> {
    const charge = this.#charges.get(chargeId);
    if (!charge || charge.run.finished) throw notFound('That live charge');
    const was = charge.run.stage;
    let by = '';
    const answer = await once(this.context, body, async (signed) => {
      by = signed.by.id;
      return Promise.resolve({ chargeId });
    });
    // A retry is answered and changes nothing.
    if (by === '') return answer;
    charge.run = nextStage(charge.plan, charge.run, `by hand: ${body.reason}`);
    const now = this.context.clock.now();
    await recordInJob(this.context, charge.jobId, now, () => [{ type: 'charge.stage', said: `Stage ${was + 1} ended by hand: ${body.reason}` }], by);
    if (charge.run.finished) {
      charge.end();
      this.#journal.note(charge, { type: 'finished', said: `by hand: ${body.reason}` }, now);
    }
    await this.#drive(charge, charge.newest?.temperatureC ?? USUAL_C);
    await this.#write([]);
    return answer;
  }

  async #row(id: string): Promise<ChargeRow> {
    const row = await this.context.store.tables.charges.findOne({ where: { id }, raw: true });
    if (!row) throw notFound('That live charge');
    return revive(row);
  }

  async wire(id: string, points: number): Promise<ChargeWire> {
    const row = await this.#row(id);
    const live = this.#charges.get(id);
    const { columns, count } = await sampleColumns(this.context.store, row.seq as number, points);
    const run = live?.run ?? row.run;
    const { jobId, place, instrument, startedAt, endedAt, plan, expected } = row;
    const standing = {
      mode: live?.mode ?? row.mode,
      trip: live?.trip ?? row.trip,
      stretches: live?.stretches ?? row.stretches,
      left: live && live.mode !== 'ended' ? live.prospect.left(run.totalS / 3600) : null,
    };
    return { id, jobId, place, instrument, startedAt, endedAt, plan, expected, run, ...standing, samples: columns, sampleCount: count };
  }

  /** The server ends in good order: everything is off before it goes, not seconds later by a watchdog. */
  async switchOff(): Promise<void> {
    this.#leaving = true;
    await this.#busy;
    await Promise.all([...this.#charges.values()].map((charge) => charge.channel.off().catch(() => undefined)));
  }

  async close(): Promise<void> {
    await this.#busy;
    this.instruments.close();
  }
}

const refused = (message: string): HttpProblem => new HttpProblem(422, { code: 'forbidden', message, fields: {} });

function revive(row: ChargeRow): ChargeRow {
  return {
    ...row,
    plan: parsed(row.plan) as ChargeRow['plan'],
    run: parsed(row.run) as ChargeRow['run'],
    trip: parsed(row.trip) as ChargeRow['trip'],
    guess: parsed(row.guess) as ChargeRow['guess'],
    expected: parsed(row.expected) as ChargeRow['expected'],
    stretches: parsed(row.stretches) as ChargeRow['stretches'],
  };
}
