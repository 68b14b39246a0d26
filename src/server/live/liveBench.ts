import { randomUUID } from 'node:crypto';
import type { Logger } from 'pino';
import type { ChargeWire, LiveSample, SkipStage, StartLive } from '../../contract/wire.ts';
import { fitPlan } from '../../core/charging/fitPlan.ts';
import { firstChargePlan, planBattery } from '../../core/charging/jobChargePlan.ts';
import { refusesToStart } from '../../core/charging/liveGuards.ts';
import { sayStage } from '../../core/charging/planSentences.ts';
import { demandOf, nextStage, PLAN_START, stageOf } from '../../core/charging/runPlan.ts';
import type { JobEvent } from '../../core/procedures/events.ts';
import { chargeStartedAt, type Job, type Reading } from '../../core/procedures/job.ts';
import { hoursOn } from '../../core/charging/progress.ts';
import { INSTRUMENT } from '../../core/procedures/settle.ts';
import { jobChemistry } from '../../core/procedures/verdict.ts';
import { type Context, once, parsed, readRules } from '../context.ts';
import { conflict, HttpProblem, notFound } from '../http/problem.ts';
import { type Instruments, WATCHDOG_S } from '../instruments/channel.ts';
import { readJob, recordInJob, startChargeInJob } from '../resources/jobs/jobs.ts';
import type { ChargeRow } from '../store/tables.ts';
import { type Happening, LiveCharge } from './liveCharge.ts';
import { keepSamples, sampleColumns, type StoredSample, thinSamples } from './samples.ts';

const THIN_EVERY_MS = 600_000;

/** In the demo there is nobody to put a battery on its place: this does. */
export type ClipOn = (place: number, battery: { tag: string; chemistry: string; c20Ah: number; cells: number; temperatureC: number }) => Promise<void>;

/** Every charge that runs on an instrument. The server watches; the pages only show. */
export class LiveBench {
  readonly #charges = new Map<string, LiveCharge>();
  #busy: Promise<void> = Promise.resolve();
  #thinnedAt = 0;

  constructor(
    private readonly context: Context,
    readonly instruments: Instruments,
    private readonly log: Logger,
    private readonly clipOn?: ClipOn,
  ) {}

  get running(): number {
    return this.#charges.size;
  }

  /** Begins the charge of a job: checks the clips before any current flows, then lets the plan run. */
  async start(jobId: string, body: StartLive): Promise<{ chargeId: string }> {
    const { store, clock } = this.context;
    const rules = await readRules(store);
    const job = await readJob(store, jobId);
    const { model } = job.plan;
    const chemistry = jobChemistry(job).key;
    const found = this.instruments.channel(rules.instruments, body.place);
    if (!found) throw conflict(`Place ${body.place} has no instrument; charge by hand there.`, { place: 'No instrument.' });
    const { channel, charger } = found;
    const plan = job.state.chargePlan ?? firstChargePlan(model, chemistry, job.plan.figures.chargeA.value, job.plan.figures.ceilingV.value);
    const battery = planBattery(model, chemistry);
    const fit = fitPlan(plan, {
      ...battery,
      mostA: Math.min(battery.mostA ?? Infinity, charger.mostA),
      mostV: Math.min(battery.mostV ?? Infinity, charger.mostV),
    });
    if (!fit.fitted) throw refused(fit.faults[0]?.sentence ?? 'The plan does not fit this battery.');
    const fitted = fit.fitted;
    if (fitted.stages.some((s) => s.do === 'discharge') && !channel.discharges)
      throw refused(`Place ${body.place} has no electronic load, and the plan discharges.`);

    // A retry, or a place in use: nothing is touched, the decision below answers.
    const untouched = [...this.#charges.values()].every((c) => c.place !== body.place && c.jobId !== jobId);
    if (untouched) {
      const owner = (await store.tables.batteries.findByPk(job.batteryId, { raw: true }))?.tag ?? '';
      await this.clipOn?.(body.place, { tag: owner, chemistry, c20Ah: model.c20Ah, cells: model.cells, temperatureC: rules.roomC });
    }
    const measured = untouched ? await this.#checkClips(jobId, body, channel, charger.leastStartV, model.cells) : { temperatureC: rules.roomC };

    const charging = fitted.stages.filter((s) => s.do !== 'rest' && s.do !== 'discharge');
    const setA = Math.max(...charging.map((s) => (s.do === 'pulse' ? (s.currentA * s.onS) / (s.onS + s.offS) : s.currentA)));
    // A constant current is held by its end, not by the slack its limit has above it.
    const setV = Math.max(...charging.map((s) => s.until.find((u) => u.when === 'volts')?.v ?? s.limitV));
    const answer = await once(this.context, body, async ({ by, now, transaction }) => {
      const chargeId = randomUUID();
      const sentences = plan.stages.map((s) => sayStage(s, { c20Ah: model.c20Ah, cells: model.cells }));
      await startChargeInJob(
        store,
        jobId,
        { type: 'startCharge', stepId: body.stepId, place: body.place, setA, setV },
        { chargeId, planName: plan.name, sentences },
        { by, now, transaction, commandId: body.commandId },
      );
      const guess = { charge: body.charge, temperatureC: measured.temperatureC, roomC: job.plan.roomC };
      await store.tables.charges.create(
        {
          id: chargeId,
          jobId,
          place: body.place,
          instrument: charger.name,
          startedAt: now,
          endedAt: null,
          mode: 'running',
          plan: fitted,
          run: PLAN_START,
          trip: null,
          guess,
          lastAt: now,
        },
        { transaction },
      );
      return { chargeId };
    });
    if (!this.#charges.has(answer.chargeId)) {
      const row = await this.#row(answer.chargeId);
      if (row.endedAt === null) {
        const live = new LiveCharge(row, channel);
        live.begin(clock.now());
        this.#charges.set(live.id, live);
        await this.#drive(live, measured.temperatureC);
      }
    }
    this.context.changes.announce({ topic: 'bench', jobId });
    return answer;
  }

  async #checkClips(jobId: string, body: StartLive, channel: LiveCharge['channel'], leastStartV: number, cells: number) {
    let measured;
    try {
      const missing = await channel.prepare();
      if (missing[0]) throw refused(`${missing.join(' ')} A charge nobody watches needs both; charge by hand here.`);
      measured = await channel.measure();
    } catch (error) {
      if (error instanceof HttpProblem) throw error;
      throw refused((error as Error).message);
    }
    const refusal = refusesToStart(measured, { cells }, { leastStartV });
    if (refusal) {
      await recordInJob(this.context, jobId, this.context.clock.now(), (job) =>
        job.state.current?.stepId === body.stepId ? [{ type: 'charge.warned', reason: `Place ${body.place}: ${refusal.sentence}` }] : [],
      );
      throw refused(refusal.sentence);
    }
    return measured;
  }

  /** After a restart: every charge that was under way is off, says so, and waits for an answer. */
  async restore(): Promise<void> {
    const { store } = this.context;
    const rules = await readRules(store);
    const rows = await store.tables.charges.findAll({ where: { endedAt: null }, raw: true });
    for (const raw of rows) {
      const row = revive(raw);
      const found = this.instruments.channel(rules.instruments, row.place);
      if (!found) continue;
      const live = new LiveCharge(row, found.channel);
      this.#charges.set(live.id, live);
      await found.channel.off().catch(() => undefined);
      if (row.mode !== 'running') continue;
      // The device's watchdog works in real seconds; bench time may run faster.
      const offAt = Math.min(this.context.clock.now(), row.lastAt + WATCHDOG_S * 1000 * this.context.clock.rate);
      const sentence = 'The server stopped while it was charging. The output is off since within a few seconds of that; nothing that was measured is lost.';
      live.stopFor({ key: 'interrupted', title: 'Interrupted', action: 'ask', sentence });
      await this.#save([live], []);
      await recordInJob(this.context, live.jobId, offAt, (job) => (job.state.charge?.mode === 'running' ? [{ type: 'charge.paused', reason: sentence }] : []));
    }
  }

  /** One look at every place. Called each second; two never overlap. */
  tick(): Promise<void> {
    this.#busy = this.#busy.then(() => this.#tick()).catch((error: unknown) => this.log.error({ error }, 'a look at the live charges failed'));
    return this.#busy;
  }

  async #tick(): Promise<void> {
    const charges = [...this.#charges.values()];
    if (charges.length === 0) return;
    const samples: StoredSample[] = [];
    const live: Record<string, LiveSample> = {};
    const looks = await Promise.all(
      charges.map(async (charge) => {
        const reading = await charge.channel.measure().catch(() => null);
        return { charge, look: charge.look(this.context.clock.now(), reading), reading };
      }),
    );
    for (const { charge, look } of looks) {
      if (look.sample) samples.push(look.sample);
      if (charge.newest) live[charge.id] = charge.newest;
    }
    // Current first, then the disk, then the screens.
    await Promise.all(looks.map(({ charge, look, reading }) => this.#switch(charge, look.happenings, reading?.temperatureC ?? 25)));
    await this.#save(charges, samples);
    for (const { charge, look } of looks) for (const happening of look.happenings) await this.#record(charge, happening);
    this.context.changes.announce({ topic: 'charge', live });
    charges.find((charge) => charge.prospect.think());
    const now = this.context.clock.now();
    if (now - this.#thinnedAt > THIN_EVERY_MS) {
      this.#thinnedAt = now;
      for (const charge of charges) await thinSamples(this.context.store, charge.seq, now - charge.startedAt);
    }
  }

  /** Acts on the instrument: a trip or an end switches off, a new stage changes what it is asked for. */
  async #switch(charge: LiveCharge, happenings: readonly Happening[], temperatureC: number): Promise<void> {
    for (const happening of happenings) {
      if (happening.type === 'trip') charge.stopFor(happening.trip);
      if (happening.type === 'cooled') charge.begin(this.context.clock.now());
      if (happening.type === 'finished') charge.mode = 'ended';
    }
    await this.#drive(charge, temperatureC);
  }

  async #drive(charge: LiveCharge, temperatureC: number): Promise<void> {
    try {
      const stage = charge.mode === 'running' ? stageOf(charge.plan, charge.run) : null;
      if (stage) await charge.channel.drive(demandOf(charge.plan, charge.run, temperatureC), stage);
      else await charge.channel.drive({ currentA: 0, limitV: 0, holdsS: Infinity }, charge.plan.stages[0] as never);
    } catch (error) {
      // The next look finds it silent or off; the device's own watchdog does the rest.
      this.log.warn({ error }, 'an instrument did not take its setting');
    }
  }

  async #save(charges: readonly LiveCharge[], samples: readonly StoredSample[]): Promise<void> {
    const { store } = this.context;
    await store.write(async (transaction) => {
      await keepSamples(store, samples, transaction);
      for (const { id, run, mode, trip, lastAt } of charges) {
        await store.tables.charges.update({ run, mode, trip, lastAt, ...(mode === 'ended' ? { endedAt: lastAt } : {}) }, { where: { id }, transaction });
      }
    });
  }

  /** Writes what happened into the job, signed by the instrument. */
  async #record(charge: LiveCharge, happening: Happening): Promise<void> {
    const now = this.context.clock.now();
    const mine = (job: Job, events: JobEvent[]): JobEvent[] => (job.state.charge?.live === charge.id ? events : []);
    const reading = (job: Job): JobEvent[] => (charge.newest ? [{ type: 'reading.taken', reading: readingOf(charge.newest, job) }] : []);
    switch (happening.type) {
      case 'hour':
        return recordInJob(this.context, charge.jobId, now, (job) => mine(job, reading(job)));
      case 'stage':
        return recordInJob(this.context, charge.jobId, now, (job) => mine(job, [{ type: 'charge.stage', said: happening.said }]));
      case 'cooled':
        return recordInJob(this.context, charge.jobId, now, (job) =>
          mine(job, job.state.charge?.mode === 'paused' ? [{ type: 'charge.resumed', temperatureC: happening.temperatureC }] : []),
        );
      case 'trip': {
        const { action, title, sentence } = happening.trip;
        const reason = `${title}: ${sentence}`;
        return recordInJob(this.context, charge.jobId, now, (job) =>
          mine(
            job,
            job.state.charge?.mode === 'running'
              ? [...reading(job), action === 'stop' ? { type: 'charge.halted', reason } : { type: 'charge.paused', reason }]
              : [],
          ),
        );
      }
      case 'finished':
        this.#charges.delete(charge.id);
        return recordInJob(this.context, charge.jobId, now, (job) => {
          const { charge: state, current } = job.state;
          if (!state || !current || state.mode === 'ended') return [];
          const result = {
            agrees: true,
            ampereHours: charge.run.ahIn,
            chargeStartedAt: chargeStartedAt(state),
            hours: hoursOn(state.on, now),
            ended: happening.said,
          };
          return mine(job, [...reading(job), { type: 'step.done', stepId: current.stepId, result }]);
        });
    }
  }

  /** People act on the job; the instrument follows. */
  async sync(jobId: string): Promise<void> {
    const charge = [...this.#charges.values()].find((c) => c.jobId === jobId);
    if (!charge) return;
    const { state } = await readJob(this.context.store, jobId);
    const lastSg = state.readings.findLast((r) => r.values.specificGravity !== undefined && r.at >= charge.startedAt);
    if (lastSg && charge.run.sg.at(-1)?.sg !== lastSg.values.specificGravity) charge.noteSg(lastSg.values.specificGravity as number);
    const mine = state.charge?.live === charge.id ? state.charge : null;
    if (!mine || mine.mode === 'ended' || state.status === 'closed') {
      charge.mode = 'ended';
      this.#charges.delete(charge.id);
      await this.#drive(charge, 25);
      await this.#save([charge], []);
    } else if (mine.mode === 'running' && charge.mode !== 'running') {
      charge.begin(this.context.clock.now());
      await charge.channel.prepare().catch(() => []);
      await this.#drive(charge, charge.newest?.temperatureC ?? 25);
      await this.#save([charge], []);
    } else if (mine.mode !== 'running' && charge.mode === 'running') {
      charge.hold();
      await this.#drive(charge, 25);
      await this.#save([charge], []);
    }
  }

  /** Goes on to the next stage of the plan because a person says so. */
  async skipStage(chargeId: string, body: SkipStage): Promise<{ chargeId: string }> {
    const charge = this.#charges.get(chargeId);
    if (!charge) throw notFound('That live charge');
    const was = charge.run.stage;
    const answer = await once(this.context, body, async () => {
      charge.run = nextStage(charge.plan, charge.run, `by hand: ${body.reason}`);
      return { chargeId };
    });
    if (charge.run.stage === was && !charge.run.finished) return answer;
    if (charge.run.finished) charge.mode = 'ended';
    await this.#drive(charge, charge.newest?.temperatureC ?? 25);
    await this.#save([charge], []);
    await this.#record(
      charge,
      charge.run.finished ? { type: 'finished', said: body.reason } : { type: 'stage', said: `Stage ${was + 1} ended by hand: ${body.reason}` },
    );
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
    return {
      id,
      jobId: row.jobId,
      place: row.place,
      instrument: row.instrument,
      startedAt: row.startedAt,
      endedAt: row.endedAt,
      mode: live?.mode ?? row.mode,
      plan: row.plan,
      run,
      trip: live?.trip ?? row.trip,
      samples: columns,
      sampleCount: count,
      expected: live?.prospect.expected ?? { hours: [], voltageV: [], currentA: [] },
      left: live ? live.prospect.left(run.totalS / 3600) : null,
    };
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
  };
}

function readingOf(sample: LiveSample, job: Job): Reading {
  const { voltageV, currentA, temperatureC } = sample;
  return {
    id: randomUUID(),
    at: sample.at,
    enteredAt: sample.at,
    by: INSTRUMENT,
    role: 'charge',
    stepId: job.state.current?.stepId ?? null,
    attempt: job.state.attempt,
    values: { voltageV, currentA: Math.max(0, Math.round(currentA * 100) / 100), temperatureC: Math.round(temperatureC * 10) / 10 },
    marks: [],
    supersedes: null,
    supersededBy: null,
  };
}
