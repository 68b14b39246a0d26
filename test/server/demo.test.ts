import { expect } from 'chai';
import type { BenchWire, RecordWire, Shop } from '../../src/contract/wire.ts';
import { nextHand, urgencyOf } from '../../src/core/watch/hands.ts';
import { settle } from '../../src/core/steps/settle.ts';
import { CLOCK, INSTRUMENT } from '../../src/core/job/signers.ts';
import { readStoryLine } from '../../src/server/demo/storyteller.ts';
import { TestBench } from '../support/bench.ts';

describe('the demo shop', () => {
  let bench: TestBench;
  before(async () => void (bench = await TestBench.demo()));
  after(() => bench.close());

  it('opens with a bench worth looking at', async () => {
    const { body } = await bench.get<BenchWire>('/api/bench');
    const jobs = body.jobs.map((w) =>
      settle(
        { procedure: body.procedures[w.procedureId] as never, plan: w.plan, state: w.state },
        bench.now,
      ),
    );
    const open = jobs.filter((j) => j.state.status === 'running' || j.state.status === 'with-lead');
    expect(open.length).to.be.at.least(8);
    expect(new Set(open.map((j) => j.state.current?.stepId)).size, 'stages').to.be.at.least(6);
    const urgencies = open
      .map((j) => nextHand(j, bench.now))
      .flatMap((h) => (h ? [urgencyOf(h, bench.now)] : []));
    expect(urgencies).to.include.members(['overdue', 'now', 'soon']);
    expect(jobs.map((j) => j.state.outcome)).to.include.members(['refused', 'passed']);
    expect(
      open.some((j) => j.state.attempt > 1),
      'a second attempt',
    ).to.equal(true);
    expect(
      open.some((j) => j.state.charge?.mode === 'paused'),
      'a warm one',
    ).to.equal(true);
  });

  it('has a past in which not everything passed', async () => {
    const { body } = await bench.get<{ total: number; batteries: { status: string }[] }>(
      '/api/batteries?limit=200',
    );
    expect(body.total).to.be.at.least(30);
    expect(body.batteries.map((b) => b.status)).to.include.members([
      'passed',
      'claim',
      'recover',
      'refused',
    ]);
    const { body: old } = await bench.get<RecordWire>('/api/batteries/LK-0329');
    expect(old.jobs[0]?.state).to.include({ outcome: 'claim', attempt: 2 });
    expect(old.events.length).to.be.greaterThan(30);
  });

  it('is told in order: nothing on record is later than now or before its job', async () => {
    const events = await bench.store.tables.events.findAll({ raw: true, order: [['seq', 'ASC']] });
    expect(events.every((e) => e.at <= bench.now)).to.equal(true);
    const readings = await bench.store.tables.readings.findAll({ raw: true });
    expect(readings.every((r) => r.at <= r.enteredAt && r.enteredAt <= bench.now)).to.equal(true);
  });

  it('names only people it knows', async () => {
    const { body } = await bench.get<Shop>('/api/shop');
    const known = new Set([...body.people.map((p) => p.id), CLOCK, INSTRUMENT]);
    const events = await bench.store.tables.events.findAll({ raw: true, attributes: ['by'] });
    expect(events.filter((e) => !known.has(e.by))).to.deep.equal([]);
    expect(body.people.some((p) => p.role === 'lead')).to.equal(true);
  });

  it('reads its stories line by line', () => {
    expect(readStoryLine('-30 ok 3').map((l) => l.minute)).to.deep.equal([-30, -29, -28]);
    expect(readStoryLine('-60 read 13.5 1.2 24')).to.deep.equal([
      { minute: -60, verb: 'read', words: ['13.5', '1.2', '24'] },
    ]);
    expect(() => readStoryLine('soon ok')).to.throw('begins with minutes');
  });
});
