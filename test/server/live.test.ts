import { randomUUID } from 'node:crypto';
import { expect } from 'chai';
import { CELL_SIZE } from '../../src/core/simulation/layout.ts';
import type { ChargeWire, PulseRecord } from '../../src/contract/chargeWire.ts';
import type { JobWire, Problem, RecordWire } from '../../src/contract/wire.ts';
import type { ChargePlan } from '../../src/core/charging/chargePlan.ts';
import { type Procedure, stepById } from '../../src/core/plan/procedure.ts';
import { settle } from '../../src/core/steps/settle.ts';
import { commandOf } from '../../src/server/demo/storyteller.ts';
import { TestBench } from '../support/bench.ts';
import type { TestRack } from '../support/rack.ts';
import { runsWith } from '../../src/core/job/job.ts';
import { tripText } from '../../src/core/charging/tripWords.ts';
import { whyTitle } from '../../src/core/job/why.ts';
import { waveformFigures, waveformFinding } from '../../src/core/charging/waveform.ts';

const PLACE = 3;

/** A job that stands before its charge, on a bench with stand-ins. */
class ChargeTest {
  jobId = '';
  chargeId = '';
  private constructor(
    readonly bench: TestBench,
    readonly rack: TestRack,
  ) {}

  static async open(tag = 'T-001'): Promise<ChargeTest> {
    const bench = await TestBench.open();
    const rack = await bench.plugIn();
    const test = new ChargeTest(bench, rack);
    await test.takeIn(tag);
    return test;
  }

  /** The usual answers from the box to the charge. */
  async takeIn(tag: string): Promise<void> {
    const { bench } = this;
    this.jobId = await bench.takeIn(await bench.addModel({ code: `M-${tag}` }), tag);
    for (;;) {
      const { body } = await bench.get<{ job: JobWire; procedure: Procedure }>(
        `/api/jobs/${this.jobId}`,
      );
      const job = settle(
        { procedure: body.procedure, plan: body.job.plan, state: body.job.state },
        bench.now,
      );
      const { current } = job.state;
      if (!current || stepById(job.procedure, current.stepId).kind === 'charge') return;
      if (current.dueAt !== null) bench.now = current.dueAt;
      else await bench.send(this.jobId, commandOf({ minute: 0, verb: 'ok', words: [] }, job));
    }
  }

  async start(
    place = PLACE,
    more: object = {},
  ): Promise<{ status: number; body: { chargeId: string; error: Problem } }> {
    const answer = await this.bench.post<{ chargeId: string; error: Problem }>(
      `/api/jobs/${this.jobId}/live`,
      {
        commandId: randomUUID(),
        by: 'ann',
        stepId: 'charge',
        place,
        charge: 0.8,
        ...more,
      },
    );
    if (answer.status === 201) this.chargeId = answer.body.chargeId;
    return answer;
  }

  charge = async (): Promise<ChargeWire> =>
    (await this.bench.get<ChargeWire>(`/api/charges/${this.chargeId}`)).body;
  job = async (): Promise<JobWire> =>
    (await this.bench.get<{ job: JobWire }>(`/api/jobs/${this.jobId}`)).body.job;
  state = async () => (await this.job()).state;
  get place() {
    return this.rack.rack.places[PLACE - 1]!;
  }
}

const plan = (stages: ChargePlan['stages'], more: Partial<ChargePlan> = {}): ChargePlan => ({
  id: 'mine',
  name: 'Mine',
  plain: '',
  kinds: ['agm'],
  stages,
  mostS: 48 * 3600,
  ...more,
});

describe('a live charge', function () {
  let t: ChargeTest;
  beforeEach(async () => void (t = await ChargeTest.open()));
  afterEach(() => t.bench.close());

  it('runs the job’s own plan to its end by itself and closes the step', async () => {
    expect((await t.start()).status).to.equal(201);
    await t.bench.pass(30);
    expect(t.place.output.on).to.equal(true);
    const early = await t.charge();
    expect(early.mode).to.equal('running');
    expect(early.samples.voltageV.at(-1)).to.be.within(12.5, 14.5);
    expect(early.samples.currentA.at(-1)).to.be.closeTo(1.2, 0.02);
    expect(early.expected.totalH).to.be.within(3, 14);
    expect(early.left!.low).to.be.at.most(early.left!.high);
    await t.bench.pass(14 * 3600, 30);
    const done = await t.charge();
    expect(done.mode).to.equal('ended');
    expect(done.endedAt).to.be.a('number');
    expect(done.run.finished).to.equal(true);
    expect(done.run.ended).to.have.length(2);
    expect(t.place.output.on).to.equal(false);
    // The battery on the stand-in is another than the twin, of the same model: it ends within the band of the first minute, and
    // once the ceiling is reached both hold it alike, 20 mV a cell.
    expect(done.run.totalS / 3600).to.be.within(early.left!.low, early.left!.high);
    const { hours, voltageV } = done.expected;
    for (const h of [2, 4, 6]) {
      const [measured, expected] = [
        done.samples.hours.findIndex((x) => x >= h),
        hours.findIndex((x) => x >= h),
      ];
      expect(done.samples.voltageV[measured], `${h} h`).to.be.closeTo(
        voltageV[expected] as number,
        0.12,
      );
    }
    const state = await t.state();
    expect(state.current?.stepId).to.not.equal('charge');
    const [run] = runsWith(state, 'charge');
    expect(run!.result).to.include({ agrees: true });
    expect(run!.result.ampereHours).to.be.closeTo(done.run.ahIn, 1e-9);
    expect(run!.result.ended?.by).to.equal('tail');
    const hourly = state.readings.filter((r) => r.role === 'charge');
    expect(hourly.length).to.be.at.least(3);
    expect(hourly.every((r) => r.by === 'instrument')).to.equal(true);
  });

  it('stores each look, thins the old ones without losing a peak, and counts them all', async () => {
    await t.start();
    await t.bench.pass(600);
    t.rack.rack.setMischief(PLACE, 'noisy', true);
    await t.bench.pass(3);
    t.rack.rack.setMischief(PLACE, 'noisy', false);
    const before = await t.charge();
    await t.bench.pass(2 * 3600, 15);
    const after = await t.charge();
    expect(after.sampleCount).to.be.at.least(before.sampleCount + 480);
    expect(Math.max(...after.samples.voltageHighV)).to.be.at.least(
      Math.max(...before.samples.voltageHighV) - 1e-9,
    );
    const [{ fresh }] = (
      await t.bench.store.sequelize.query('SELECT COUNT(*) AS fresh FROM samples')
    )[0] as [{ fresh: number }];
    const [{ blocks }] = (
      await t.bench.store.sequelize.query('SELECT COUNT(*) AS blocks FROM sample_blocks')
    )[0] as [{ blocks: number }];
    expect(fresh).to.be.lessThan(300);
    expect(blocks).to.be.greaterThan(20);
  });

  it('checks the clips before any current flows, and says why not', async () => {
    const cases: [string, RegExp][] = [
      ['lead-off', /no battery on them/],
      ['reversed', /swapped/],
      ['silent', /did not answer/],
    ];
    const { clipOn } = t.rack;
    for (const [mischief, why] of cases) {
      // Put on its place with something wrong already.
      (t.rack as { clipOn: typeof clipOn }).clipOn = clipOn;
      await clipOn(PLACE, {
        tag: 'T-001',
        chemistry: 'agm',
        c20Ah: 12,
        cells: 6,
        temperatureC: 20,
      });
      t.rack.rack.setMischief(PLACE, mischief as 'silent', true);
      t.rack.rack.clip = () => undefined;
      const { status, body } = await t.start();
      expect(status, mischief).to.equal(422);
      expect(body.error.message).to.match(why);
      expect(t.place.output.on).to.equal(false);
      expect((await t.state()).charge).to.equal(null);
      delete (t.rack.rack as { clip?: unknown }).clip;
    }
    const events = await t.bench.store.tables.events.findAll({
      where: { jobId: t.jobId },
      raw: true,
    });
    expect(events.filter((e) => e.type === 'charge.warned')).to.have.length(3);
  });

  it('refuses a battery of other volts, one below the charger’s start, and a place with no instrument', async () => {
    const put = (cells: number, charge: number, shorts = 0) =>
      t.rack.rack.clip(PLACE, {
        tag: `other-${cells}-${charge}-${shorts}`,
        chemistry: 'agm',
        c20Ah: 12,
        cells,
        charge,
        temperatureC: 20,
      });
    put(3, 0.9);
    t.rack.rack.clip = () => undefined;
    expect((await t.start()).body.error.message).to.contain('half the voltage');
    delete (t.rack.rack as { clip?: unknown }).clip;
    put(12, 0.9);
    t.rack.rack.clip = () => undefined;
    expect((await t.start()).body.error.message).to.contain('too much for a 12 V battery');
    delete (t.rack.rack as { clip?: unknown }).clip;
    expect((await t.start(12)).body.error.message).to.contain('no instrument');
    expect((await t.start(99)).status).to.equal(400);
  });

  const trips: {
    mischief: 'lead-off' | 'hot' | 'silent' | 'frozen' | 'reversed';
    within: number;
    mode: string;
    title: RegExp;
  }[] = [
    { mischief: 'lead-off', within: 20, mode: 'paused', title: /^No current/ },
    { mischief: 'silent', within: 30, mode: 'paused', title: /^Silent instrument/ },
    { mischief: 'frozen', within: 90, mode: 'paused', title: /^Frozen reading/ },
    { mischief: 'hot', within: 900, mode: 'halted', title: /^Heating fast/ },
    { mischief: 'reversed', within: 5, mode: 'halted', title: /^Reversed/ },
  ];
  for (const { mischief, within, mode, title } of trips) {
    it(`${mischief}: a guard switches off by itself within ${within} s and says why`, async () => {
      await t.start();
      await t.bench.pass(60);
      t.rack.rack.setMischief(PLACE, mischief, true);
      await t.bench.pass(within);
      const state = await t.state();
      expect(state.charge?.mode).to.equal(mode);
      expect(whyTitle(state.charge!.why!)).to.match(title);
      if (mischief === 'silent') {
        // It could not be told: its own watchdog has switched it off.
        t.rack.machine += 6000;
        t.rack.rack.advance();
      }
      expect(t.place.output.on).to.equal(false);
      expect(tripText((await t.charge()).trip!, 'C')).to.have.length.above(20);
    });
  }

  it('a lead that comes off while it is held at its ceiling is no tail', async () => {
    await t.start();
    await t.bench.pass(5400, 10);
    expect((await t.charge()).run.stage).to.equal(1);
    t.rack.rack.setMischief(PLACE, 'lead-off', true);
    await t.bench.pass(30);
    expect(whyTitle((await t.state()).charge!.why!)).to.equal('No current');
    expect((await t.charge()).run.finished).to.equal(false);
  });

  it('asks before it goes on, checks the clips again, and goes on from the same stage', async () => {
    await t.start();
    await t.bench.pass(60);
    t.rack.rack.setMischief(PLACE, 'lead-off', true);
    await t.bench.pass(20);
    const resume = () =>
      t.bench.send(t.jobId, { type: 'resumeCharge', stepId: 'charge', temperatureC: 21 });
    const still = await resume();
    expect(still.status).to.equal(422);
    expect(still.body.error.message).to.contain('no battery on them');
    const { run } = await t.charge();
    t.rack.rack.setMischief(PLACE, 'lead-off', false);
    expect((await resume()).status).to.equal(200);
    await t.bench.pass(30);
    const after = await t.charge();
    expect(after.mode).to.equal('running');
    expect(after.run.stage).to.equal(run.stage);
    expect(after.run.totalS).to.be.closeTo(run.totalS + 30, 3);
    expect(t.place.output.on).to.equal(true);
  });

  it('pauses warm and goes on by itself when it has cooled', async () => {
    await t.start();
    await t.bench.pass(60);
    const { battery } = t.place.stepper!;
    // Warmed from outside, slowly enough not to look like a short.
    for (let i = 0; i < 24; i++) {
      battery.state[6 * CELL_SIZE] = 20 + (i + 1) * 0.46;
      await t.bench.pass(240, 20);
    }
    expect((await t.state()).charge).to.include({ mode: 'paused', resumesItself: true });
    expect(t.place.output.on).to.equal(false);
    battery.state[6 * CELL_SIZE] = 22;
    await t.bench.pass(60, 5);
    expect((await t.state()).charge?.mode).to.equal('running');
    expect(t.place.output.on).to.equal(true);
  });

  it('pause, resume, next stage and stop by hand are followed by the instrument and signed by the person', async () => {
    await t.start();
    await t.bench.pass(30);
    await t.bench.send(t.jobId, { type: 'pauseCharge', stepId: 'charge', reason: 'Place wiped' });
    expect(t.place.output.on).to.equal(false);
    await t.bench.send(t.jobId, { type: 'resumeCharge', stepId: 'charge', temperatureC: 21 });
    expect(t.place.output.on).to.equal(true);
    const body = { commandId: randomUUID(), by: 'ann', stage: 0, reason: 'High enough' };
    const skip = (by = body) => t.bench.post(`/api/charges/${t.chargeId}/next-stage`, by);
    // Two people press at once, and one of them twice.
    const pressed = await Promise.all([
      skip(),
      skip({ ...body, commandId: randomUUID(), by: 'lea' }),
    ]);
    expect(pressed.map((p) => p.status).sort()).to.deep.equal([200, 409]);
    expect((await skip()).status).to.equal(pressed[0]!.status);
    expect((await t.charge()).run).to.deep.include({ stage: 1, finished: false });
    const events = await t.bench.store.tables.events.findAll({
      where: { type: 'charge.stage' },
      raw: true,
    });
    expect(events).to.have.length(1);
    expect(events[0]).to.include({ by: pressed[0]!.status === 200 ? 'ann' : 'lea' });
    const early = await t.bench.send(t.jobId, { type: 'endCharge', stepId: 'charge' });
    expect(early.status).to.equal(422);
    await t.bench.send(t.jobId, { type: 'endCharge', stepId: 'charge', reason: 'Wanted' });
    expect(t.place.output.on).to.equal(false);
    await t.bench.pass(10);
    expect((await t.charge()).mode).to.equal('ended');
    expect((await t.state()).deviations.at(-1)?.what).to.have.property('kind', 'ended-early');
  });

  it('two people who press at once do one thing; a page that is behind does nothing', async () => {
    await t.start();
    await t.bench.pass(30);
    const seenRun = (await t.state()).current!.startedAt;
    const both = async (command: object): Promise<string> => {
      const send = (by: string) =>
        t.bench.post<{ error: Problem }>(`/api/jobs/${t.jobId}/commands`, {
          commandId: randomUUID(),
          by,
          command,
          seenRun,
        });
      const answers = await Promise.all([send('ann'), send('lea')]);
      expect(answers.map((a) => a.status).sort(), JSON.stringify(command)).to.deep.equal([
        200, 409,
      ]);
      return answers.find((a) => a.status === 409)!.body.error.message;
    };
    await both({ type: 'pauseCharge', stepId: 'charge', reason: 'Feel the case' });
    await both({ type: 'resumeCharge', stepId: 'charge', temperatureC: 21 });
    expect(t.place.output.on).to.equal(true);
    const said = await both({ type: 'endCharge', stepId: 'charge', reason: 'Place needed' });
    expect(said).to.match(
      /^(Ann|Lea) Test has ended “.+”\. In hand now: “.+”\. Look again before you go on\.$/,
    );
    // Another charge, of a page that still shows the first.
    const events = await t.bench.store.tables.events.count({
      where: { jobId: t.jobId, type: 'step.done' },
    });
    const late = await t.bench.post(`/api/jobs/${t.jobId}/commands`, {
      commandId: randomUUID(),
      by: 'ann',
      command: { type: 'reopen', stepId: 'charge', reason: 'Again' },
      seenRun,
    });
    expect(late.status).to.equal(409);
    expect(
      await t.bench.store.tables.events.count({ where: { jobId: t.jobId, type: 'step.done' } }),
    ).to.equal(events);
  });

  it('a battery that is stopped goes on only for a lead', async () => {
    await t.start();
    await t.bench.pass(30);
    t.rack.rack.setMischief(PLACE, 'reversed', true);
    await t.bench.pass(4);
    t.rack.rack.setMischief(PLACE, 'reversed', false);
    const command = { type: 'resumeCharge', stepId: 'charge', temperatureC: 21 };
    expect((await t.bench.send(t.jobId, command)).body.error.message).to.contain('Only a lead');
    expect(t.place.output.on).to.equal(false);
    expect((await t.bench.send(t.jobId, command, 'lea')).status).to.equal(200);
    expect(t.place.output.on).to.equal(true);
  });

  it('a server that dies leaves the output to the watchdog; the next one asks whether to go on, with every sample', async () => {
    await t.start();
    await t.bench.pass(90);
    const before = await t.charge();
    await t.bench.stop();
    t.bench.now += 40_000;
    t.rack.machine += 4000;
    t.rack.rack.advance();
    expect(t.place.output.on, 'within its watchdog').to.equal(true);
    t.rack.machine += 2000;
    t.rack.rack.advance();
    expect(t.place.output).to.include({ on: false, tripped: 'watchdog' });
    await t.bench.start();
    const after = await t.charge();
    expect(after).to.include({ mode: 'asking', sampleCount: before.sampleCount });
    expect(after.trip?.key).to.equal('interrupted');
    const state = await t.state();
    expect(state.charge?.mode).to.equal('paused');
    expect(state.charge?.on.at(-1)?.to).to.be.at.most(t.bench.now);
    await t.bench.send(t.jobId, { type: 'resumeCharge', stepId: 'charge', temperatureC: 21 });
    await t.bench.pass(10);
    expect(await t.charge()).to.include({ mode: 'running' });
    expect((await t.charge()).run.stage).to.equal(before.run.stage);
  });

  it('a server that ends in good order switches off before it goes', async () => {
    await t.start();
    await t.bench.pass(10);
    await t.bench.live.switchOff();
    expect(t.place.output).to.include({ on: false, tripped: null });
  });

  it('a power cut switches everything off; when power is back it asks', async () => {
    await t.start();
    await t.bench.pass(30);
    t.rack.rack.cutPower();
    t.rack.servers.drop();
    await t.bench.pass(5);
    t.rack.rack.powered = true;
    await new Promise((resolve) => setTimeout(resolve, 350));
    await t.bench.pass(12);
    const state = await t.state();
    expect(state.charge?.mode).to.equal('paused');
    expect(whyTitle(state.charge!.why!)).to.match(/^(Output is off|Silent instrument)/);
    expect(t.place.output.on).to.equal(false);
  });

  it('an output that does not switch off is said, until it does', async () => {
    await t.start();
    await t.bench.pass(20);
    const set = t.rack.rack.set.bind(t.rack.rack);
    t.rack.rack.set = (place, change) => set(place, change.on === false ? {} : change);
    await t.bench.send(t.jobId, { type: 'pauseCharge', stepId: 'charge', reason: 'x' });
    await t.bench.pass(20);
    expect((await t.charge()).trip).to.include({ key: 'still-on' });
    expect((await t.charge()).trip?.key).to.equal('still-on');
    t.rack.rack.set = set;
    await t.bench.pass(6);
    expect(t.place.output.on).to.equal(false);
  });

  it('nothing is charged that cannot be written down, and nothing of it is lost', async () => {
    await t.start();
    await t.bench.pass(10);
    const { write } = t.bench.store;
    t.bench.store.write = () => Promise.reject(new Error('disk full'));
    await t.bench.pass(40);
    expect(t.place.output.on).to.equal(false);
    t.bench.store.write = write;
    await t.bench.pass(10);
    const charge = await t.charge();
    expect(charge).to.include({ mode: 'asking' });
    expect(charge.trip?.key).to.equal('not-recorded');
    expect(charge.sampleCount).to.be.at.least(40);
    expect(whyTitle((await t.state()).charge!.why!)).to.equal('Not recorded');
  });

  it('follows a chosen plan: pulses timed by the instrument, a discharge by the load, and refuses what does not fit', async () => {
    const choose = (chosen: ChargePlan) =>
      t.bench.send(t.jobId, { type: 'planCharge', stepId: 'charge', plan: chosen } as never);
    const hot = await choose(
      plan([{ do: 'current', cRate: 0.1, until: [{ when: 'volts', perCell: 2.6 }] }]),
    );
    expect(hot.status).to.equal(422);
    expect(hot.body.error.message).to.contain('above the 14.70 V');
    const endless = await choose(plan([{ do: 'voltage', perCell: 2.4, cRate: 0.1, until: [] }]));
    expect(endless.body.error.message).to.contain('needs an end');
    expect(
      (
        await choose(
          plan([
            { do: 'discharge', cRate: 0.05, perCell: 2, until: [{ when: 'time', s: 120 }] },
            {
              do: 'pulse',
              cRate: 0.1,
              onS: 10,
              offS: 20,
              perCell: 2.4,
              until: [{ when: 'time', s: 300 }],
            },
          ]),
        )
      ).status,
    ).to.equal(200);
    await t.start();
    await t.bench.pass(60);
    expect(t.place.load.on).to.equal(true);
    expect((await t.charge()).samples.currentA.at(-1)).to.be.closeTo(-0.6, 0.02);
    await t.bench.pass(120);
    expect(t.place.load.on).to.equal(false);
    expect(t.place.output.pulse).to.deep.equal({ widthS: 10, periodS: 30 });
    // A record of the pulses as they are; a charger that only says that it pulses is found out.
    const recorded = async () => {
      const { id } = await t.charge();
      const { body } = await t.bench.get<{ record: PulseRecord }>(`/api/charges/${id}/waveform`);
      const figures = waveformFigures(body.record);
      return { ...figures, finding: waveformFinding(figures, body.record.stage), body };
    };
    const real = await recorded();
    expect(real.body.record.currentA).to.have.length(2000);
    expect(real.finding).to.equal('as-ordered');
    expect(real.perSecond! * 30).to.be.closeTo(1, 0.02);
    expect(real.duty).to.be.closeTo(1 / 3, 0.02);
    expect(real.peakA).to.be.closeTo(1.2, 0.05);
    t.rack.rack.setMischief(PLACE, 'no-pulse', true);
    expect((await recorded()).finding).to.equal('no-pulses');
    t.rack.rack.setMischief(PLACE, 'no-pulse', false);
    await t.bench.pass(330);
    expect((await t.charge()).run.ended).to.have.length(2);
    expect((await t.state()).current?.stepId).to.not.equal('charge');
    expect(t.place.output.on).to.equal(false);
  });

  it('a stage that ends when SG no longer rises counts the readings given by hand, each once', async () => {
    const chosen = plan([
      {
        do: 'voltage',
        perCell: 2.4,
        cRate: 0.1,
        until: [
          { when: 'sg-flat', readings: 2 },
          { when: 'time', s: 40 * 3600 },
        ],
      },
    ]);
    await t.bench.send(t.jobId, { type: 'planCharge', stepId: 'charge', plan: chosen } as never);
    await t.start();
    const sg = () =>
      t.bench.send(t.jobId, { type: 'read', role: 'spot', values: { specificGravity: 1.27 } });
    await t.bench.pass(60);
    await sg();
    await t.bench.pass(3600, 20);
    expect((await t.charge()).run.finished).to.equal(false);
    await sg();
    expect((await t.charge()).run.sg).to.have.length(2);
    await t.bench.pass(60, 20);
    expect((await t.charge()).run.ended[0]?.by).to.equal('sg-flat');
  });

  it('a charge whose end the server did not live to hear is closed at the next start, and its place is free and checked', async () => {
    await t.start();
    await t.bench.pass(10);
    const { charges } = t.bench.store.tables;
    await t.bench.send(t.jobId, { type: 'endCharge', stepId: 'charge', reason: 'Wanted' });
    await charges.update({ mode: 'running', endedAt: null }, { where: { id: t.chargeId } });
    await t.bench.stop();
    await t.bench.start();
    expect(await t.charge()).to.include({ mode: 'ended' });
    expect(t.place.output.on).to.equal(false);
    await t.takeIn('T-003');
    const again = await t.start();
    expect(again.status).to.equal(201);
  });

  it('a retry of the start is answered once more and touches nothing; a start out of turn is refused before anything is touched', async () => {
    const commandId = randomUUID();
    const first = await t.start(PLACE, { commandId });
    await t.bench.pass(5);
    const second = await t.start(PLACE, { commandId });
    expect(second.body.chargeId).to.equal(first.body.chargeId);
    expect(t.place.output.on).to.equal(true);
    const fresh = await t.bench.takeIn(await t.bench.addModel({ code: 'M-new' }), 'T-009');
    const early = await t.bench.post<{ error: Problem }>(`/api/jobs/${fresh}/live`, {
      commandId: randomUUID(),
      by: 'ann',
      stepId: 'charge',
      place: 6,
      charge: 0.8,
    });
    expect(early.body.error.message).to.contain('not the step in hand');
    expect(t.rack.rack.places[5]?.tag).to.equal(null);
  });

  it('two places run side by side, and a place is taken once', async () => {
    await t.start();
    const first = t.chargeId;
    await t.takeIn('T-002');
    expect((await t.start(PLACE)).body.error.message).to.contain('is taken');
    expect((await t.start(5)).status).to.equal(201);
    await t.bench.pass(20);
    const both = await Promise.all(
      [first, t.chargeId].map((id) => t.bench.get<ChargeWire>(`/api/charges/${id}`)),
    );
    expect(both.map(({ body }) => body.mode)).to.deep.equal(['running', 'running']);
    expect(both.every(({ body }) => body.sampleCount >= 20)).to.equal(true);
  });
});

describe('a recovery charged by hand', function () {
  it('is forecast by its readings once it has run for three hours, and again later; nobody needs to have a page open', async () => {
    const bench = await TestBench.open();
    const modelId = await bench.addModel({
      code: 'M-H',
      kind: 'agm-sealed',
      electrolyteCode: null,
      electrolyteMl: null,
    });
    const taken = {
      tag: 'R-002',
      modelId,
      dateCode: '2024-01',
      owner: 'Test',
      promisedAt: null,
      purpose: 'recover',
    };
    const { body } = await bench.post<{ jobId: string }>('/api/batteries', {
      commandId: randomUUID(),
      by: 'ann',
      ...taken,
    });
    const { jobId } = body;
    const send = async (command: object) =>
      expect((await bench.send(jobId, command as never)).status, JSON.stringify(command)).to.equal(
        200,
      );
    const state = async () =>
      (await bench.get<{ job: JobWire }>(`/api/jobs/${jobId}`)).body.job.state;
    const forecasts = async () => (await state()).recovery?.forecasts ?? [];
    await send({
      type: 'answerChecks',
      stepId: 'identify',
      answers: { label: true, crack: true, bulge: true, post: true, frozen: true },
    });
    await send({ type: 'acknowledge', stepId: 'safe' });
    await send({ type: 'confirmDone', stepId: 'clean' });
    const story = {
      story: 'parked',
      standingDays: 60,
      ageYears: 2,
      coldestC: null,
      whitePost: false,
      wetMassG: null,
    };
    await send({ type: 'tellStory', stepId: 'story', story });
    await send({ type: 'read', role: 'arrival', values: { voltageV: 12, temperatureC: 20 } });
    await send({
      type: 'chooseRoute',
      stepId: 'diagnose',
      route: 'slow-restore',
      wake: 'none',
      forecast: null,
    });
    await bench.forecaster.settle();
    expect(await forecasts()).to.deep.equal([]);
    await send({ type: 'startCharge', stepId: 'charge', place: 2, setA: 0.6, setV: 14.7 });
    // Three hours, and nothing read yet: there is nothing to forecast by.
    bench.now += 3.2 * 3_600_000;
    await bench.forecaster.settle();
    expect(await forecasts()).to.deep.equal([]);
    await send({
      type: 'read',
      role: 'charge',
      values: { voltageV: 12.9, currentA: 0.6, temperatureC: 21 },
    });
    bench.now += 3_600_000;
    await send({
      type: 'read',
      role: 'charge',
      values: { voltageV: 13.05, currentA: 0.6, temperatureC: 21 },
    });
    await bench.forecaster.settle();
    expect((await forecasts()).map((f) => [f.mark, f.attempt])).to.deep.equal([[3, 1]]);
    bench.now += 7 * 3_600_000;
    await send({
      type: 'read',
      role: 'charge',
      values: { voltageV: 13.6, currentA: 0.6, temperatureC: 21 },
    });
    await bench.forecaster.settle();
    await bench.forecaster.settle();
    const kept = await forecasts();
    expect(kept.map((f) => f.mark)).to.deep.equal([3, 10]);
    for (const { capacity, restV, hours, returns, light } of kept) {
      for (const band of [capacity, restV, hours])
        expect(band.low <= band.middle && band.middle <= band.high).to.equal(true);
      expect(returns + light).to.be.within(0, 1 + 1e-9);
    }
    const events = (await bench.get<RecordWire>('/api/batteries/R-002')).body.events.filter(
      (e) => e.event.type === 'forecast.made',
    );
    expect(events.map((e) => e.by)).to.deep.equal(['clock', 'clock']);
    await bench.close();
  });
});

describe('a live charge of a recovery', function () {
  it('discharges first by its load, stops by itself, and keeps that as a capacity test', async () => {
    const bench = await TestBench.open();
    await bench.plugIn();
    const modelId = await bench.addModel({
      code: 'M-R',
      kind: 'agm-sealed',
      electrolyteCode: null,
      electrolyteMl: null,
    });
    const { body } = await bench.post<{ jobId: string }>('/api/batteries', {
      commandId: randomUUID(),
      by: 'ann',
      tag: 'R-001',
      modelId,
      dateCode: '2024-01',
      owner: 'Test',
      promisedAt: null,
      purpose: 'recover',
    });
    const { jobId } = body;
    const send = async (command: object) =>
      expect((await bench.send(jobId, command as never)).status, JSON.stringify(command)).to.equal(
        200,
      );
    await send({
      type: 'answerChecks',
      stepId: 'identify',
      answers: { label: true, crack: true, bulge: true, post: true, frozen: true },
    });
    await send({ type: 'acknowledge', stepId: 'safe' });
    await send({ type: 'confirmDone', stepId: 'clean' });
    await send({
      type: 'tellStory',
      stepId: 'story',
      story: {
        story: 'unknown',
        standingDays: null,
        ageYears: null,
        coldestC: null,
        whitePost: false,
        wetMassG: null,
      },
    });
    await send({ type: 'read', role: 'arrival', values: { voltageV: 12.35, temperatureC: 20 } });
    await send({
      type: 'chooseRoute',
      stepId: 'diagnose',
      route: 'cycle',
      wake: 'none',
      forecast: null,
    });
    await send({ type: 'testByInstrument', stepId: 'empty-first' });
    const begin = async (stepId: string, charge: number) => {
      const started = await bench.post<{ chargeId: string; error: Problem }>(
        `/api/jobs/${jobId}/live`,
        {
          commandId: randomUUID(),
          by: 'ann',
          stepId,
          place: PLACE,
          charge,
        },
      );
      expect(started.status, JSON.stringify(started.body)).to.equal(201);
    };
    await begin('charge', 0.4);
    const state = async () =>
      (await bench.get<{ job: JobWire }>(`/api/jobs/${jobId}`)).body.job.state;
    for (let h = 0; h < 23 && ((await state()).recovery?.tests.length ?? 0) === 0; h++)
      await bench.pass(3600, 90);
    const [test] = (await state()).recovery!.tests;
    expect(test).to.deep.include({ method: 'instrument', rested: false, attempt: 1 });
    expect(test!.currentA).to.be.closeTo(0.6, 0.05);
    expect(test!.cutoffV).to.be.closeTo(10.5, 0.2);
    expect(test!.minutes).to.be.within(600, 1330);

    // Its charge is forecast by what it has shown, once at each mark, and kept.
    for (let h = 0; h < 2; h++) await bench.pass(3600, 90);
    await bench.forecaster.settle();
    await bench.forecaster.settle();
    const forecasts = (await state()).recovery!.forecasts!;
    expect(forecasts.map((f) => f.mark)).to.deep.equal([10]);
    expect(forecasts[0]!.capacity.low).to.be.at.most(forecasts[0]!.capacity.high);
    expect(forecasts[0]!.hours.high).to.be.greaterThan(forecasts[0]!.afterHours / 2);

    // The same again after the charge and its rest, at the current of a capacity test; full again by the same plan.
    for (let h = 0; h < 40 && (await state()).current?.stepId === 'charge'; h++)
      await bench.pass(3600, 90);
    await bench.pass(25 * 3600, 600);
    await send({ type: 'read', role: 'rest', values: { voltageV: 12.7, temperatureC: 20 } });
    await send({ type: 'skip', stepId: 'load', reason: 'Not today' });
    await send({ type: 'testByInstrument', stepId: 'capacity' });
    expect((await state()).current?.stepId).to.equal('refill');
    expect((await state()).chargePlan?.stages.map((s) => s.do)).to.deep.equal([
      'discharge',
      'rest',
      'current',
      'voltage',
    ]);
    await begin('refill', 1);
    for (let h = 0; h < 40 && (await state()).current?.stepId === 'refill'; h++)
      await bench.pass(3600, 90);
    const after = (await state()).recovery!.tests.at(-1)!;
    expect(after).to.deep.include({ method: 'instrument', rested: true, attempt: 1 });
    expect(after.currentA).to.be.closeTo(2.4, 0.1);
    expect(after.minutes).to.be.within(150, 260);
    expect((await state()).current?.stepId).to.equal('clear-refill');
    await bench.close();
  });
});
