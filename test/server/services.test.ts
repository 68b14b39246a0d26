import { randomUUID } from 'node:crypto';
import { expect } from 'chai';
import type { ServicesWire } from '../../src/contract/dayPlanWire.ts';
import type { ServiceDue } from '../../src/core/storage/services.ts';
import { TestBench } from '../support/bench.ts';

describe('owners to be asked in for the service of a season', () => {
  let bench: TestBench;
  before(async () => {
    bench = await TestBench.demo();
  });
  after(() => bench.close());

  const read = async () => (await bench.get<ServicesWire>('/api/services')).body;
  const asked = (tags: string[]) =>
    bench.post('/api/services/asked', { commandId: randomUUID(), by: 'greta', tags });
  /** The same, told from the record of each battery alone. */
  const byRecords = async (): Promise<string[]> => {
    const batteries = await bench.store.tables.batteries.findAll({ raw: true });
    const march = Date.parse('2026-03-01T00:00:00Z');
    const out: string[] = [];
    for (const battery of batteries) {
      const jobs = await bench.store.tables.jobs.findAll({
        where: { batteryId: battery.id },
        order: [['openedAt', 'ASC']],
        raw: true,
      });
      const last = jobs.at(-1);
      const state = typeof last?.state === 'string' ? JSON.parse(last.state) : last?.state;
      if (
        last?.closedAt &&
        last.closedAt < march - 90 * 86_400_000 &&
        state.destination === 'customer'
      )
        out.push(battery.tag);
    }
    return out.sort();
  };

  it('are those whose battery was last handed to them before the 90 days, longest away first', async () => {
    const { season, due } = await read();
    expect(season).to.deep.equal({ name: 'March', from: '2026-03-01' });
    expect(due.length).to.be.greaterThan(3);
    expect(due.map((d) => d.tag).sort()).to.deep.equal(await byRecords());
    const since = due.map((d: ServiceDue) => d.since);
    expect(since).to.deep.equal(since.toSorted((a, b) => a - b));
  });

  it('are asked once a season, on the record of the battery, and a battery that is here is not among them', async () => {
    const { due } = await read();
    const [first, second, ...others] = due.map((d) => d.tag) as [string, string, ...string[]];
    expect((await asked([first])).status).to.equal(200);
    expect((await read()).due.map((d) => d.tag)).to.deep.equal([second, ...others]);
    const battery = await bench.store.tables.batteries.findOne({
      where: { tag: first },
      raw: true,
    });
    expect(
      await bench.store.tables.events.count({
        where: { batteryId: battery!.id, type: 'service.asked' },
      }),
    ).to.equal(1);
    await bench.post(`/api/batteries/${second}/jobs`, {
      commandId: randomUUID(),
      by: 'greta',
      purpose: 'service',
      promisedAt: null,
    });
    expect((await read()).due.map((d) => d.tag)).to.deep.equal(others);
    expect((await asked(['LK-9999'])).status).to.equal(404);
  });
});
