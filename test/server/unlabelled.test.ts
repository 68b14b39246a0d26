import { randomUUID } from 'node:crypto';
import { expect } from 'chai';
import type { JobWire, RecordWire } from '../../src/contract/wire.ts';
import { verifyShop } from '../../src/server/verify/verify.ts';
import { TestBench } from '../support/bench.ts';

interface Answer {
  jobId: string;
  error: { message: string; fields: Record<string, string> };
}

describe('a battery without a label, at the server', () => {
  let bench: TestBench;
  before(async () => void (bench = await TestBench.open()));
  after(() => bench.close());

  const takeIn = (tag: string, more: object) =>
    bench.post<Answer>('/api/batteries', {
      commandId: randomUUID(),
      by: 'ann',
      tag,
      dateCode: 'not readable',
      owner: 'Not said',
      promisedAt: null,
      purpose: 'recover',
      ...more,
    });
  const seen = { kind: 'flooded-sealed', cells: 6, caps: null, cca: 520, massKg: 15 };
  const jobOf = async (id: string) =>
    (await bench.get<{ job: JobWire }>(`/api/jobs/${id}`)).body.job;

  it('is taken in with what can be seen, and nothing else is demanded', async () => {
    const least = await takeIn('N-001', {
      unlabelled: { kind: 'agm-sealed', cells: 6, caps: null },
    });
    expect(least.status).to.equal(201);
    const { body } = await takeIn('N-002', { unlabelled: seen });
    const { plan } = await jobOf(body.jobId);
    expect(plan.model.code).to.equal('No label N-002');
    expect(plan.model.estimate!.from).to.deep.equal(['520 A (EN)', '15 kg']);
    expect(plan.model.c20Ah).to.be.within(50, 65);
  });

  it('is one or the other: a model, or what can be seen; one at a time; never lithium', async () => {
    for (const [more, field] of [
      [{}, ''],
      [{ unlabelled: seen, modelId: 'x' }, ''],
      [{ unlabelled: seen, count: 3 }, 'count'],
      [{ unlabelled: { ...seen, kind: 'lithium' } }, 'kind'],
      [{ unlabelled: { ...seen, massKg: 900 } }, ''],
    ] as const) {
      const { status, body } = await takeIn('N-009', more);
      expect(status, JSON.stringify(more)).to.be.within(400, 422);
      if (field) expect(body.error.fields).to.have.property(field);
    }
    expect(await bench.store.tables.batteries.count({ where: { tag: 'N-009' } })).to.equal(0);
    expect(
      await bench.store.tables.models.count({ where: { code: 'No label N-009' } }),
      'nothing is half-written',
    ).to.equal(0);
  });

  it('goes on by its size when that is known, in this job and in the next; its log tells the same', async () => {
    const { body } = await takeIn('N-003', { unlabelled: seen });
    const sent = await bench.send(body.jobId, { type: 'tellSize', c20Ah: 70 });
    expect(sent.status).to.equal(200);
    const { plan } = await jobOf(body.jobId);
    expect(plan.model).to.include({ c20Ah: 70, estimate: null });
    expect(plan.figures.loadA.value).to.equal(210);
    const again = await bench.send(body.jobId, { type: 'tellSize', c20Ah: 80 });
    expect(again.status).to.equal(409);
    const { body: record } = await bench.get<RecordWire>('/api/batteries/N-003');
    expect(record.model).to.include({ c20Ah: 70, estimate: null });
    expect((await verifyShop(bench.store)).differences).to.deep.equal([]);
  });

  it('stands at a place that somebody says, and takes off again', async () => {
    const put = (place: string) =>
      bench.ask('PUT', '/api/batteries/N-001/place', {
        commandId: randomUUID(),
        by: 'ann',
        place,
      });
    expect((await put('Rack B 2')).status).to.equal(200);
    const record = async () => (await bench.get<RecordWire>('/api/batteries/N-001')).body;
    expect((await record()).battery.place).to.equal('Rack B 2');
    expect((await put('')).status).to.equal(200);
    expect((await record()).battery.place).to.equal(null);
    expect((await put('x'.repeat(25))).status).to.equal(400);
  });
});
