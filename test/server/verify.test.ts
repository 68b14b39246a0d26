import { randomUUID } from 'node:crypto';
import { gunzipSync } from 'node:zlib';
import { mkdtemp, rm } from 'node:fs/promises';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect } from 'chai';
import { openStore, type Store } from '../../src/server/store/store.ts';
import { verifyShop } from '../../src/server/verify/verify.ts';
import { copyDemo } from '../support/demoFile.ts';
import { TestBench } from '../support/bench.ts';
import { scratch } from '../support/scratch.ts';

const FIXTURES = new URL('../fixtures/', import.meta.url);

describe('the log of events tells the whole shop', () => {
  it('the demo: every job, reading, lot, the shelf and the sets', async () => {
    const bench = await TestBench.demo();
    const found = await verifyShop(bench.store);
    expect(found.differences).to.deep.equal([]);
    expect(found.jobs).to.be.greaterThan(40);
    expect(found.readings).to.be.greaterThan(200);
    expect(found.shelf).to.be.greaterThan(20);
    expect(found.lots).to.be.greaterThan(2);
    // Sets and lots are told too: made, ended, taken from.
    const { candidates } = (await bench.get<{ candidates: { tag: string }[] }>('/api/sets')).body;
    const tags = candidates.slice(0, 2).map((c) => c.tag);
    const made = await bench.post<{ id: string }>('/api/sets', {
      commandId: randomUUID(),
      by: 'ilse',
      tags,
    });
    if (made.status === 201)
      await bench.post(`/api/sets/${made.body.id}/end`, {
        commandId: randomUUID(),
        by: 'greta',
        reason: 'Given out',
      });
    const { lots } = (await bench.get<{ lots: { code: string; leftMl: number }[] }>('/api/lots'))
      .body;
    const used = await bench.post(`/api/lots/${lots.find((l) => l.leftMl > 100)!.code}/uses`, {
      commandId: randomUUID(),
      by: 'ilse',
      ml: 50,
      why: 'spilt',
    });
    expect(used.status).to.equal(200);
    expect((await verifyShop(bench.store)).differences).to.deep.equal([]);
    if (made.status === 201)
      expect(
        (await bench.store.tables.sets.findByPk(made.body.id, { raw: true }))?.endedBy,
      ).to.equal('greta');
    await bench.close();
  });

  for (const name of readdirSync(FIXTURES).filter((n) => n.endsWith('.sqlite.gz')))
    it(`${name}, brought to today`, async () => {
      const bench = await TestBench.on(gunzipSync(readFileSync(new URL(name, FIXTURES))));
      const found = await verifyShop(bench.store);
      expect(found.differences).to.deep.equal([]);
      expect(found.jobs).to.be.greaterThan(8);
      await bench.close();
    });

  describe('and finds', () => {
    let folder: string;
    let store: Store;
    before(async () => {
      folder = await mkdtemp(join(scratch(), 'cork-ember-verify-'));
      await copyDemo(join(folder, 'bench.sqlite'));
      store = await openStore(join(folder, 'bench.sqlite'));
    });
    after(async () => {
      await store.close();
      await rm(folder, { recursive: true, force: true });
    });
    const spoilt: [string, string, RegExp][] = [
      [
        'a job whose state was changed',
        `UPDATE jobs SET state = json_set(state, '$.attempt', 7) WHERE id = (SELECT id FROM jobs LIMIT 1)`,
        /^job of .+: attempt: told \d, stored 7$/,
      ],
      [
        'a battery put on the shelf by nobody',
        `INSERT INTO stock SELECT batteryId, 1, 1, '[]', NULL FROM jobs WHERE batteryId NOT IN (SELECT batteryId FROM stock) LIMIT 1`,
        /^shelf, /,
      ],
      [
        'a lot of which more is left than was',
        `UPDATE lots SET quantityMl = quantityMl + 1 WHERE code = (SELECT code FROM lots LIMIT 1)`,
        /^lot .+: quantityMl: told/,
      ],
    ];
    for (const [what, sql, sentence] of spoilt)
      it(what, async () => {
        const before = (await verifyShop(store)).differences.length;
        await store.sequelize.query(sql);
        const { differences } = await verifyShop(store);
        expect(differences).to.have.length(before + 1);
        expect(differences.map((d) => `${d.what}: ${d.where}`).join('\n')).to.match(
          new RegExp(sentence.source, 'm'),
        );
      });
  });
});
