import { randomUUID } from 'node:crypto';
import { expect } from 'chai';
import type { ChargeWire } from '../../src/contract/chargeWire.ts';
import type { Clock, JobWire } from '../../src/contract/wire.ts';
import { redated } from '../../src/core/job/redate.ts';
import { stepById, type Procedure } from '../../src/core/plan/procedure.ts';
import { settle } from '../../src/core/steps/settle.ts';
import { demoClock, shopClock, WallWatch } from '../../src/server/clock.ts';
import { commandOf } from '../../src/server/demo/storyteller.ts';
import { TestBench } from '../support/bench.ts';
import { verifyShop } from '../../src/server/verify/verify.ts';
import { BY_KIND, START } from '../support/battery.ts';

const HOUR = 3_600_000;
const YEAR = 365 * 24 * HOUR;

describe('bench time', () => {
  it('goes by evenly whatever the machine’s clock is set to, and tells that they have parted', () => {
    let wall = START;
    let steady = 0;
    const clock = shopClock(
      START - HOUR,
      () => wall,
      () => steady,
    );
    const watch = new WallWatch(
      clock,
      () => wall,
      () => steady,
    );
    const second = () => {
      wall += 1000;
      steady += 1000;
      return watch.look();
    };
    expect(second()).to.equal(null);
    for (const jump of [-3 * HOUR, 3 * HOUR, -5 * YEAR, 5 * YEAR]) {
      const before = clock.now();
      wall += jump;
      expect(second()).to.be.closeTo(jump, 10);
      expect(second(), 'told once').to.equal(null);
      expect(clock.now() - before).to.equal(2000);
      expect(watch.standing()).to.deep.include({ kept: false });
      wall -= jump;
      expect(second(), 'they agree again').to.equal(0);
      expect(watch.standing()).to.equal(null);
    }
  });

  it('is drawn slowly after a wall clock that runs a little fast, and never steps back after a slow one', () => {
    let wall = START;
    let steady = 0;
    const clock = shopClock(
      0,
      () => wall,
      () => steady,
    );
    const watch = new WallWatch(
      clock,
      () => wall,
      () => steady,
    );
    wall += 60_000;
    for (let i = 0; i < 1000; i++) {
      const [bench, passed] = [clock.now(), clock.passed()];
      [wall, steady] = [wall + 1000, steady + 1000];
      watch.look();
      expect(clock.now() - bench).to.be.within(1000, 1006);
      expect(clock.passed() - passed).to.equal(1000);
    }
    for (; wall - clock.now() > 1; steady += 1000, wall += 1000) watch.look();
    wall -= 90_000;
    for (let i = 0; i < 1000; i++) {
      const bench = clock.now();
      [wall, steady] = [wall + 100, steady + 100];
      watch.look();
      expect(clock.now()).to.be.at.least(bench);
    }
    expect(watch.standing()).to.equal(null);
  });

  it('starts at the last entry where the machine’s clock lies before it, or long after, and asks', () => {
    for (const off of [-3 * HOUR, 5 * YEAR]) {
      const wall = () => START + off;
      const clock = shopClock(START, wall, () => 0);
      expect(clock.now()).to.equal(START);
      expect(new WallWatch(clock, wall, () => 0).standing()).to.deep.equal({
        aheadMs: off,
        kept: false,
      });
    }
    // A week's holiday is no news; neither is a shop with nothing in it.
    expect(shopClock(START, () => START + 7 * 24 * HOUR).now()).to.be.closeTo(
      START + 7 * 24 * HOUR,
      50,
    );
    expect(shopClock(0, () => START + 5 * YEAR).now()).to.be.closeTo(START + 5 * YEAR, 50);
  });

  it('of a shop has one speed; the demo’s runs at its rate from where it stood', () => {
    let steady = 0;
    expect(() => shopClock(0).setRate(60)).to.throw('one speed');
    const clock = demoClock(1_000_000, 1, () => steady);
    steady = 1000;
    clock.setRate(60);
    steady = 2000;
    expect(clock.now()).to.equal(1_000_000 + 1000 + 60_000);
    expect(clock.passed()).to.equal(61_000);
  });

  it('moved by a person moves every date and no duration', () => {
    const state = {
      openedAt: START,
      current: { dueAt: START + HOUR, attempt: 1 },
      on: [{ from: START, to: null }],
      plan: 'x',
      hours: 3.5,
    };
    expect(redated(state, -HOUR)).to.deep.equal({
      openedAt: START - HOUR,
      current: { dueAt: START, attempt: 1 },
      on: [{ from: START - HOUR, to: null }],
      plan: 'x',
      hours: 3.5,
    });
  });
});

describe('a machine whose clock is set while a charge runs', () => {
  let bench: TestBench;
  let jobId: string;
  let chargeId: string;
  let offMs: number;

  const job = async () =>
    (await bench.get<{ job: JobWire; procedure: Procedure }>(`/api/jobs/${jobId}`)).body;
  const charge = async () => (await bench.get<ChargeWire>(`/api/charges/${chargeId}`)).body;
  const clock = async () => (await bench.get<Clock>('/api/clock')).body;
  const answer = (kind: string, aheadMs: number) =>
    bench.post<Clock>('/api/clock/answer', {
      commandId: randomUUID(),
      by: 'ann',
      answer: kind,
      aheadMs,
    });

  beforeEach(async () => {
    offMs = 0;
    bench = await TestBench.open();
    const rack = await bench.plugIn();
    await bench.byMachine(() => bench.now + offMs);
    jobId = await bench.takeIn(await bench.addModel({}), 'C-001');
    for (;;) {
      const { job: wire, procedure } = await job();
      const settled = settle(
        { procedure, plan: wire.plan, state: wire.state },
        (await clock()).now,
      );
      const { current } = settled.state;
      if (!current || stepById(procedure, current.stepId).kind === 'charge') break;
      if (current.dueAt !== null) bench.now += current.dueAt - (await clock()).now;
      else await bench.send(jobId, commandOf({ minute: 0, verb: 'ok', words: [] }, settled));
    }
    const started = await bench.post<{ chargeId: string }>(`/api/jobs/${jobId}/live`, {
      commandId: randomUUID(),
      by: 'ann',
      stepId: 'charge',
      place: 2,
      charge: 0.8,
    });
    chargeId = started.body.chargeId;
    expect(rack.rack.places[1]!.output.on).to.equal(true);
    await bench.pass(60);
  });
  afterEach(() => bench.close());

  for (const [name, jump] of [
    ['back an hour', -HOUR],
    ['forward three hours', 3 * HOUR],
    ['back five years', -5 * YEAR],
    ['forward five years', 5 * YEAR],
  ] as const) {
    it(`${name}: amp-hours are those that flowed, and the guards see silence and a lead that fell off`, async () => {
      const before = await charge();
      offMs = jump;
      bench.wall?.look();
      await bench.pass(60);
      const after = await charge();
      expect(after.run.totalS - before.run.totalS).to.be.closeTo(60, 0.01);
      expect(after.run.ahIn - before.run.ahIn).to.be.closeTo((1.2 * 60) / 3600, 0.004);
      expect(Math.max(...after.samples.hours)).to.be.below(0.1);
      expect((await clock()).machine).to.deep.include({ kept: false });
      bench.rack!.rack.setMischief(2, 'lead-off', true);
      await bench.pass(15);
      expect((await charge()).mode).to.equal('asking');
      expect(bench.rack!.rack.places[1]!.output.on).to.equal(false);
    });
  }

  it('put right by a person: dates follow, what has gone by and what is waited for stay', async () => {
    const before = { charge: await charge(), job: (await job()).job, now: (await clock()).now };
    offMs = -3 * HOUR;
    bench.wall?.look();
    const asked = (await clock()).machine!;
    expect(asked.aheadMs).to.be.closeTo(-3 * HOUR, 100);
    expect((await answer('put-right', HOUR)).status, 'asked about another difference').to.equal(
      409,
    );
    const told = await answer('put-right', asked.aheadMs);
    expect(told.status).to.equal(200);
    expect(told.body.machine).to.equal(null);
    expect(told.body.now).to.be.closeTo(before.now - 3 * HOUR, 100);
    await bench.pass(30);
    const after = { charge: await charge(), job: (await job()).job };
    expect(after.charge.startedAt - before.charge.startedAt).to.equal(asked.aheadMs);
    expect(after.charge.run.totalS - before.charge.run.totalS).to.be.closeTo(30, 0.01);
    expect(after.job.state.current!.startedAt - before.job.state.current!.startedAt).to.equal(
      asked.aheadMs,
    );
    expect(after.job.state.charge!.on[0]!.from - before.job.state.charge!.on[0]!.from).to.equal(
      asked.aheadMs,
    );
    // Stopped and started, it is not asked again: the entries of before do not count.
    await bench.stop();
    await bench.start();
    expect((await clock()).machine).to.equal(null);
    expect((await charge()).mode).to.equal('asking');
  });

  it('slept: the time did pass, and waits have run on; wrong now: the bench keeps its own', async () => {
    const before = {
      startedAt: (await job()).job.state.current!.startedAt,
      now: (await clock()).now,
    };
    offMs = 3 * HOUR;
    bench.wall?.look();
    expect((await answer('wrong', 3 * HOUR)).body.machine).to.deep.include({ kept: true });
    expect((await clock()).now).to.be.closeTo(before.now, 100);
    expect((await answer('passed', 3 * HOUR)).body.machine).to.equal(null);
    expect((await clock()).now).to.be.closeTo(before.now + 3 * HOUR, 100);
    expect((await job()).job.state.current!.startedAt).to.equal(before.startedAt);
  });

  it('entries written while it was years ahead are counted, and dated anew by a lead; the log tells it all', async () => {
    offMs = 5 * YEAR;
    bench.wall?.look();
    expect((await answer('passed', 5 * YEAR)).status).to.equal(200);
    const modelId = await bench.addModel({ ...BY_KIND['agm-sealed'], code: 'T-AHEAD' });
    const ahead = (await clock()).now;
    const stock = {
      tag: 'C-900',
      modelCode: 'T-AHEAD',
      dateCode: 'x',
      owner: 'Shelf',
      restV: 12.8,
      readAt: ahead - HOUR,
      chargedAt: ahead - 2 * HOUR,
    };
    await bench.post('/api/import/batteries', {
      commandId: randomUUID(),
      by: 'ann',
      batteries: [stock],
    });
    const wrong = await bench.takeIn(modelId, 'C-901');
    await bench.send(wrong, { type: 'note', text: 'Written in a year that is to come' });
    // Put right, and the server started anew: it goes on from its latest entry, and asks.
    offMs = 0;
    await bench.stop();
    await bench.start();
    const { machine } = await clock();
    expect(machine!.aheadMs).to.be.closeTo(-5 * YEAR, 1000);
    const told = (
      await bench.get<{ jobs: number; batteries: number; shelf: number }>('/api/clock/ahead')
    ).body;
    expect(told).to.deep.equal({ jobs: 1, batteries: 2, shelf: 1 });
    expect((await answer('put-right', machine!.aheadMs)).status, 'a technician').to.equal(403);
    const put = await bench.post<Clock>('/api/clock/answer', {
      commandId: randomUUID(),
      by: 'lea',
      answer: 'put-right',
      aheadMs: machine!.aheadMs,
    });
    expect(put.status).to.equal(200);
    const right = put.body.now;
    expect((await bench.get('/api/clock/ahead')).body).to.deep.equal({
      jobs: 0,
      batteries: 0,
      shelf: 0,
    });
    const { job: dated } = (await bench.get<{ job: JobWire }>(`/api/jobs/${wrong}`)).body;
    expect(dated.state.openedAt).to.be.closeTo(right, HOUR);
    expect(dated.battery.takenInAt).to.be.closeTo(right, HOUR);
    const [item] = (await bench.get<{ items: { chargedAt: number }[] }>('/api/shelf')).body.items;
    expect(item!.chargedAt).to.be.closeTo(right - 2 * HOUR, HOUR);
    // Tomorrow is to come again.
    const tomorrow = {
      commandId: randomUUID(),
      by: 'ann',
      tag: 'C-902',
      modelId,
      dateCode: 'x',
      owner: 'x',
      promisedAt: right + 24 * HOUR,
    };
    expect((await bench.post('/api/batteries', tomorrow)).status).to.equal(201);
    expect((await verifyShop(bench.store)).differences).to.deep.equal([]);
  });
});
