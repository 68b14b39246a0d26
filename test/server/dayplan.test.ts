import { randomUUID } from 'node:crypto';
import { expect } from 'chai';
import pino from 'pino';
import type { AskedWire, DayPlanWire } from '../../src/contract/dayPlanWire.ts';
import type { PromisesKept } from '../../src/core/results/promises.ts';
import type { ToldPlan } from '../../src/core/dayplan/told.ts';
import { DayPlanner } from '../../src/server/dayplan/dayPlanner.ts';
import { Changes } from '../../src/server/http/changes.ts';
import { HOUR, PLAIN, START } from '../support/battery.ts';
import { TestBench } from '../support/bench.ts';

describe('the day plan of a bench', () => {
  let bench: TestBench;
  let jobId: string;
  let modelId: string;

  const read = async () => (await bench.get<DayPlanWire>('/api/day-plan')).body;
  const settled = async () => {
    for (;;) {
      const body = await read();
      // On a busy machine the thread may come late: the quick plan stands until then.
      if (body.standing === 'settled') return body;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
  };

  before(async () => {
    TestBench.plansInThread = true;
    bench = await TestBench.open();
    modelId = await bench.addModel(PLAIN);
    jobId = await bench.takeIn(modelId, 'TT-101');
  });
  after(async () => {
    TestBench.plansInThread = false;
    await bench.close();
  });

  it('is made in a thread, kept until something changes, and made anew then', async () => {
    const first = await settled();
    expect(first.standing).to.equal('settled');
    expect(first.trouble).to.equal(null);
    expect(first.plan!.works.map((w) => w.tag)).to.deep.equal(['TT-101']);
    expect((await read()).madeAt).to.equal(first.madeAt);
    await bench.takeIn(modelId, 'TT-102');
    expect((await settled()).plan!.works.map((w) => w.tag).sort()).to.deep.equal([
      'TT-101',
      'TT-102',
    ]);
  });

  it('says when the bench is asked for an hour, and by which chance', async () => {
    await settled();
    const asked = async (wantedAt: number | null, count = 1) =>
      (
        await bench.post<AskedWire>('/api/day-plan/ask', {
          model: PLAIN,
          purpose: 'commission',
          count,
          wantedAt,
        })
      ).body;
    const one = (await asked(null)).answer!;
    expect(one.kept).to.equal(null);
    // The shop of the test has no charger written down: nothing can be promised, and it says so.
    expect(one.earliest).to.equal(null);
    expect((await asked(START)).answer!.kept).to.equal(0);
    const wrong = await bench.post('/api/day-plan/ask', { model: PLAIN, purpose: 'commission' });
    expect(wrong.status).to.equal(400);
  });

  it('tries a move without keeping it, keeps one that is signed, and logs it', async () => {
    const pin = { jobId, postId: null, notBefore: bench.now + 20 * HOUR, forbidden: [] };
    const tried = await bench.post<{ plan: ToldPlan }>('/api/day-plan/try', { pin });
    expect(tried.body.plan.works.find((w) => w.id === jobId)!.set).not.to.equal(null);
    expect((await settled()).plan!.works.find((w) => w.id === jobId)!.set).to.equal(null);
    const kept = await bench.post('/api/day-plan/pins', {
      commandId: randomUUID(),
      by: 'ann',
      pin,
    });
    expect(kept.status).to.equal(200);
    expect((await settled()).plan!.works.find((w) => w.id === jobId)!.set).not.to.equal(null);
    const log = await bench.store.tables.events.findAll({
      where: { type: 'dayplan.pinned' },
      raw: true,
    });
    expect(log).to.have.length(1);
    const strange = { ...pin, jobId: randomUUID() };
    expect(
      (await bench.post('/api/day-plan/pins', { commandId: randomUUID(), by: 'ann', pin: strange }))
        .status,
    ).to.equal(404);
  });

  it('says what it would be in a shop that is otherwise, and keeps nothing of it', async () => {
    const before = (await settled()).plan!;
    const suppose = (supposed: unknown) =>
      bench.post<{ plan: ToldPlan }>('/api/day-plan/suppose', { supposed });
    const day = new Date(bench.now).toISOString().slice(0, 10);
    const closed = await suppose({ kind: 'closed', day });
    expect(closed.status).to.equal(200);
    const today = (plan: ToldPlan) => plan.people[0]!.there.filter((s) => s.from < 8 * 60).length;
    expect(today(closed.body.plan)).to.be.lessThan(today(before));
    const rush = await suppose({ kind: 'rush', workId: jobId });
    expect(rush.body.plan.works.find((w) => w.id === jobId)!.set?.rush).to.equal(true);
    expect(await read()).to.deep.equal(await settled());
    expect((await settled()).plan!.people).to.deep.equal(before.people);
    expect((await suppose({ kind: 'flood' })).status).to.equal(400);
    expect((await suppose({ kind: 'closed', day: 'Sunday' })).status).to.equal(400);
    expect((await bench.get(`/api/day-plan/helps/${jobId}`)).body).to.deep.equal({ helps: [] });
    const left = await bench.store.tables.events.count({ where: { type: 'dayplan.pinned' } });
    expect(left).to.equal(1);
  });

  it('writes down once what it says of a promise, and compares it when the hour has come', async () => {
    const promisedAt = bench.now + 30 * HOUR;
    const id = await bench.takeIn(modelId, 'TT-103', promisedAt);
    const ledger = () => bench.store.tables.promises.findAll({ raw: true });
    const written = async (many: number) => {
      for (;;) {
        await settled();
        if ((await ledger()).length >= many) return ledger();
        await new Promise((resolve) => setTimeout(resolve, 50));
      }
    };
    const [first] = await written(1);
    expect(first).to.include({ jobId: id, promisedAt, saidAt: bench.now });
    expect(first!.kept).to.be.within(0, 1);
    await bench.takeIn(modelId, 'TT-104', promisedAt);
    const two = await written(2);
    expect(
      two.find((p) => p.jobId === id),
      'nothing of it is changed',
    ).to.deep.equal(first);
    const kept = async () => (await bench.get<PromisesKept>('/api/promises')).body;
    expect((await kept()).all.of, 'its hour has not come').to.equal(0);
    bench.now += 31 * HOUR;
    const { all, past } = await kept();
    expect([all.hits, all.of]).to.deep.equal([0, 2]);
    expect(past.find((p) => p.jobId === id)).to.include({ tag: 'TT-103', readyAt: null });
    bench.now -= 31 * HOUR;
  });

  it('stands in the calendar of whoever does it, and in nobody else’s', async () => {
    await settled();
    const feedOf = async (by: string) => {
      const { body } = await bench.post<{ path: string }>('/api/calendar/address', {
        commandId: randomUUID(),
        by,
        renew: false,
      });
      return (await fetch(bench.url + body.path)).text();
    };
    const { works, people } = (await settled()).plan!;
    for (const { id } of people) {
      const own = works.flatMap((w) => w.tasks).filter((task) => task.personId === id).length;
      const feed = await feedOf(id);
      expect(feed.includes('By the day plan.'), id).to.equal(own > 0);
    }
  });

  it('stands without its thread: a planner that dies or is missing leaves the quick plan, and says so', async () => {
    const clock = {
      now: () => bench.now,
      passed: () => bench.now,
      rate: 1,
      demo: true,
      setRate: () => undefined,
    };
    const context = { store: bench.store, clock, changes: new Changes() };
    const planner = new DayPlanner(context, pino({ level: 'silent' }), 'server/dayplan/nobody');
    const { plan, standing, trouble } = await planner.plan();
    expect(standing).to.equal('quick');
    expect(trouble).to.equal(null);
    expect(plan!.works.map((w) => w.tag).sort()).to.deep.equal([
      'TT-101',
      'TT-102',
      'TT-103',
      'TT-104',
    ]);
    expect(
      await planner.ask({ model: PLAIN, purpose: 'commission', count: 1, wantedAt: null }),
    ).to.equal(null);
    await planner.close();
  });
});
