import { randomUUID } from 'node:crypto';
import { expect } from 'chai';
import { QueryTypes } from 'sequelize';
import { sampleColumns } from '../../src/server/live/samples.ts';
import { catchUpSummaries } from '../../src/server/resources/recoveries/recoveries.ts';
import { readJob } from '../../src/server/resources/jobs/jobs.ts';
import { tidy } from '../../src/server/store/housekeeping.ts';
import type { RecoveryResult } from '../../src/core/recovery/record.ts';
import { TestBench } from '../support/bench.ts';

const DAY = 86_400_000;
const YEAR = 365.25 * DAY;

describe('what grows with the years', () => {
  let bench: TestBench;
  before(async () => void (bench = await TestBench.demo()));
  after(() => bench.close());

  const tidied = (more: object = {}) =>
    tidy(bench.store, { now: bench.now, sessionsBefore: 0, samplesYears: 2, ...more });

  /** A charge of ten hours in blocks of half a minute, its volts rising with a peak that one block alone has. */
  async function oldCharge(endedYearsAgo: number): Promise<number> {
    const { sequelize, tables } = bench.store;
    const [known] = await tables.charges.findAll({ raw: true, limit: 1 });
    const startedAt = bench.now - endedYearsAgo * YEAR;
    const row = {
      ...known,
      seq: undefined,
      id: randomUUID(),
      startedAt,
      endedAt: startedAt + 36_000_000,
      lastAt: startedAt + 36_000_000,
      mode: 'ended',
    };
    const { seq } = await tables.charges.create(row as never);
    const blocks = Array.from({ length: 1200 }, (_, i) => {
      const v = 12_000 + 2 * i;
      return [
        seq,
        i * 30_000,
        30,
        v,
        v - 5,
        i === 700 ? 15_999 : v + 5,
        1200,
        1190,
        1210,
        2000,
        2050,
      ].join(',');
    });
    await sequelize.query(
      `INSERT INTO sample_blocks (charge, t, n, v, vLow, vHigh, a, aLow, aHigh, c, cHigh) VALUES ${blocks.map((b) => `(${b})`).join(',')}`,
    );
    return seq as number;
  }

  const blocksOf = async (charge: number) =>
    (
      await bench.store.sequelize.query<{ n: number }>(
        'SELECT n FROM sample_blocks WHERE charge = :charge',
        {
          replacements: { charge },
          type: QueryTypes.SELECT,
        },
      )
    ).length;

  it('an old charge is left as its envelope: every peak, the means and the count stay; a younger one stays whole', async () => {
    const [old, young] = [await oldCharge(2.1), await oldCharge(1.9)];
    const before = await sampleColumns(bench.store, old, 20);
    expect((await tidied()).charges).to.equal(1);
    expect([await blocksOf(old), await blocksOf(young)]).to.deep.equal([40, 1200]);
    const after = await sampleColumns(bench.store, old, 20);
    expect(after.count).to.equal(before.count).and.to.equal(36_000);
    expect(Math.max(...after.columns.voltageHighV)).to.equal(15.999);
    expect(Math.min(...after.columns.voltageLowV)).to.equal(11.995);
    for (const [i, volts] of after.columns.voltageV.entries())
      expect(volts).to.be.closeTo(before.columns.voltageV[i]!, 0.002);
    expect((await tidied()).charges, 'a second time').to.equal(0);
  });

  it('the house rule says for how many years', async () => {
    const charge = await oldCharge(3);
    expect((await tidied({ samplesYears: 5 })).charges).to.equal(0);
    expect(await blocksOf(charge)).to.equal(1200);
    expect((await tidied({ samplesYears: 2 })).charges).to.equal(1);
  });

  it('remembered answers go after a season, those a page may still ask for stay; sessions go when they have run out', async () => {
    const { commands, sessions, events } = bench.store.tables;
    await commands.bulkCreate(
      [89, 91].map((days) => ({
        id: `c-${days}`,
        at: bench.now - days * DAY,
        bodyHash: 'x',
        response: {},
      })),
    );
    await sessions.bulkCreate(
      ['old', 'new'].map((hash, i) => ({
        hash,
        personId: 'ilse',
        openedAt: 0,
        seenAt: 1000 * (i + 1),
      })),
    );
    const logged = await events.count();
    await tidied({ sessionsBefore: 1500 });
    expect(
      [await commands.findByPk('c-89'), await commands.findByPk('c-91')].map((c) => c !== null),
    ).to.deep.equal([true, false]);
    expect((await sessions.findAll({ raw: true })).map((s) => s.hash)).to.deep.equal(['new']);
    expect(await events.count()).to.equal(logged);
  });

  it('what recoveries brought is summed up when a job closes, and made again where it is missing or old', async () => {
    const { recoverySummaries } = bench.store.tables;
    const results = async () =>
      (await bench.get<{ results: RecoveryResult[] }>('/api/recoveries')).body.results;
    const [before, sets] = [await results(), (await bench.get('/api/sets')).body];
    expect(before.length).to.be.greaterThan(10);
    const kept = await recoverySummaries.count();
    await recoverySummaries.update(
      { version: 0, body: { results: [], member: null, brought: null, lesson: null } },
      { where: {} },
    );
    await recoverySummaries.destroy({
      where: { jobId: (await recoverySummaries.findOne())!.jobId },
    });
    expect(await results()).to.deep.equal([]);
    expect(await catchUpSummaries(bench.store, (id) => readJob(bench.store, id))).to.equal(kept);
    expect(await results()).to.deep.equal(before);
    expect((await bench.get('/api/sets')).body).to.deep.equal(sets);
    expect(
      await catchUpSummaries(bench.store, (id) => readJob(bench.store, id)),
      'nothing left',
    ).to.equal(0);
  });
});
