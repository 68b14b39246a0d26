import { randomUUID } from 'node:crypto';
import { readdir, rm } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { expect } from 'chai';
import type { DrillWire } from '../../src/contract/drillWire.ts';
import type { CatalogueModel } from '../../src/contract/wire.ts';
import { goodTechnician } from '../../src/core/drill/goodTechnician.ts';
import { ownCase } from '../../src/core/drill/ownCase.ts';
import type { Context } from '../../src/server/context.ts';
import { drillOf } from '../../src/server/resources/drill/drill.ts';
import { backUp, restore } from '../../src/server/store/backups.ts';
import { idOf } from '../../src/server/store/fileFaults.ts';
import { TestBench } from '../support/bench.ts';

const RESULT = {
  code: 'R-06',
  endedAt: 1_772_440_000_000,
  decision: 'recycle',
  passed: true,
  points: { safety: 100, procedure: 85, economy: 92, judgement: 100, record: 80 },
  handsMin: 26,
  hours: 0.4,
};

describe('what the drill keeps on the server', () => {
  let bench: TestBench;
  before(async () => {
    bench = await TestBench.demo();
  });
  after(() => bench.close());

  const drill = async () => (await bench.get<DrillWire>('/api/drill')).body;

  it('a result that was shared is there once, however often it is sent; nothing of the shop has a row more', async () => {
    const before = await bench.rowCounts();
    const body = { commandId: randomUUID(), by: 'tobin', result: RESULT };
    for (let i = 0; i < 3; i++)
      expect((await bench.post('/api/drill/results', body)).status).to.equal(201);
    const { results } = await drill();
    expect(results).to.have.length(1);
    expect(results[0]).to.include({ personId: 'tobin', code: 'R-06', passed: true, handsMin: 26 });
    expect(results[0]!.points).to.deep.equal(RESULT.points);
    expect(await bench.rowCounts()).to.deep.equal(before);
  });

  it('a lead gives a case out, a technician does not', async () => {
    const give = (by: string, more: object = {}) =>
      bench.post('/api/drill/assigned', {
        commandId: randomUUID(),
        by,
        personId: 'tobin',
        code: 'G12-7KQ2M',
        note: 'Read SG first',
        ...more,
      });
    expect((await give('tobin')).status).to.equal(403);
    expect((await give('greta')).status).to.equal(201);
    const { assigned } = await drill();
    expect(assigned).to.have.length(1);
    expect(assigned[0]).to.include({ personId: 'tobin', code: 'G12-7KQ2M', by: 'greta' });
    expect((await give('greta', { personId: 'nobody' })).status).to.equal(422);
    expect((await give('greta', { code: 'R-99' })).status).to.equal(422);
    expect((await give('greta', { code: '../etc' })).status).to.equal(400);
  });

  it('points beyond their ends, a stranger and a key too many are turned away, and nothing is kept', async () => {
    const { results: before } = await drill();
    const share = (result: object, by = 'tobin') =>
      bench.post('/api/drill/results', { commandId: randomUUID(), by, result });
    expect((await share({ ...RESULT, points: { ...RESULT.points, safety: 101 } })).status).to.equal(
      400,
    );
    expect((await share({ ...RESULT, stars: 5 })).status).to.equal(400);
    expect((await share({ ...RESULT, code: 'R-99' })).status).to.equal(422);
    expect((await share(RESULT, 'nobody')).status).to.equal(422);
    expect((await drill()).results).to.deep.equal(before);
  });

  it('a case of the shop’s own gets the next number, can be given out, and is the same battery for everybody', async () => {
    const { body: models } = await bench.get<CatalogueModel[]>('/api/models');
    const model = models.find((m) => m.code === 'LF-S60')!;
    const body = {
      commandId: randomUUID(),
      by: 'greta',
      modelId: model.id,
      facts: {
        title: 'Behind the tow',
        says: 'It stood since the thaw.',
        story: 'parked',
        standingDays: 90,
        ageYears: 3,
        picture: 'light',
        badness: 0.4,
        find: null,
        purpose: 'recover',
        trap: 'none',
        meterShows: 1,
        beginsH: 15,
        closesH: 18,
        promisedH: 400,
        strands: true,
        teaches: 'Slow beats fast.',
      },
    };
    for (let i = 0; i < 2; i++)
      expect((await bench.post('/api/drill/cases', body)).body).to.deep.equal({ code: 'S-01' });
    const technician = await bench.post('/api/drill/cases', {
      ...body,
      commandId: randomUUID(),
      by: 'tobin',
    });
    expect(technician.status).to.equal(403);
    const { cases } = await drill();
    expect(cases.map((c) => c.code)).to.deep.equal(['S-01']);
    const { code, facts, model: kept } = cases[0]!;
    expect(facts).to.deep.equal(body.facts);
    const made = ownCase(code, facts, kept);
    expect(made.truth.family).to.equal('sulfated');
    const good = goodTechnician(made);
    expect(made.right).to.include(good.decision);
    const given = await bench.post('/api/drill/assigned', {
      commandId: randomUUID(),
      by: 'greta',
      personId: 'ilse',
      code: 'S-01',
      note: '',
    });
    expect(given.status).to.equal(201);
  });

  it('travels in a backup and comes back with it; what was there is set aside', async () => {
    const before = await drill();
    expect(before.results.length + before.cases.length).to.be.above(1);
    const copy = join(bench.folder, 'with-drill.sqlite');
    await idOf(bench.store.sequelize);
    await backUp(bench.file, copy);
    const restored = join(bench.folder, 'restored', 'bench.sqlite');
    await restore(restored, copy);
    const store = { file: restored } as Context['store'];
    expect(await drillOf({ store } as Context, null)).to.deep.equal(before);
    const { aside } = await restore(restored, copy);
    expect(await readdir(aside!)).to.include('drill.sqlite');
    await rm(dirname(restored), { recursive: true });
  });
});
