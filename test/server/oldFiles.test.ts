import { gunzipSync } from 'node:zlib';
import { readdirSync, readFileSync } from 'node:fs';
import { readdir } from 'node:fs/promises';
import { expect } from 'chai';
import type { BenchWire, JobWire } from '../../src/contract/wire.ts';
import { settle } from '../../src/core/steps/settle.ts';
import { verifyShop } from '../../src/server/verify/verify.ts';
import { TestBench } from '../support/bench.ts';

const FIXTURES = new URL('../fixtures/', import.meta.url);
const FILES = readdirSync(FIXTURES).filter((name) => name.endsWith('.sqlite.gz'));

const countsOf = async (bench: TestBench) => {
  const { readings: reads, events, batteries, jobs } = bench.store.tables;
  return {
    readings: await reads.count(),
    events: await events.count(),
    batteries: await batteries.count(),
    jobs: await jobs.count(),
  };
};

describe('a file of an earlier version', () => {
  it('is kept for every schema that was released', () => {
    expect(FILES.map((f) => f.slice('schema-'.length, -'.sqlite.gz'.length))).to.deep.equal([
      '001',
      '002',
      '003',
      '004',
      '005',
      '007',
      '008',
      '009',
      '010',
      '011',
      '012',
    ]);
  });

  for (const name of FILES)
    it(`${name}: is copied aside, migrated, and every job and record in it can be read and goes on`, async () => {
      const bench = await TestBench.on(gunzipSync(readFileSync(new URL(name, FIXTURES))));
      const copies = (await readdir(bench.folder)).filter((f) => f.includes('.before-'));
      expect(copies, 'a copy is put aside').to.have.length(1);

      const { body } = await bench.get<BenchWire>('/api/bench');
      expect(body.jobs.length).to.be.greaterThan(8);
      const counts = await countsOf(bench);
      for (const job of await bench.store.tables.jobs.findAll({ raw: true, attributes: ['id'] })) {
        const answer = await bench.get<{ job: JobWire; procedure: never }>(`/api/jobs/${job.id}`);
        expect(answer.status).to.equal(200);
        settle(
          {
            procedure: answer.body.procedure,
            plan: answer.body.job.plan,
            state: answer.body.job.state,
          },
          bench.now,
        );
      }
      // What a lead decided stood in the log alone; it is in the job now.
      const decided = await bench.store.tables.events.findAll({
        where: { type: 'lead.decided' },
        raw: true,
      });
      expect(decided.length).to.be.greaterThan(0);
      for (const { jobId, at, by, data } of decided) {
        const { decision, reason } = (typeof data === 'string' ? JSON.parse(data) : data) as {
          decision: string;
          reason: string;
        };
        const { body } = await bench.get<{ job: JobWire }>(`/api/jobs/${jobId}`);
        expect(body.job.state.leadDecisions).to.deep.include({ at, by, decision, reason });
      }
      for (const { id } of body.jobs.slice(0, 6))
        expect((await bench.ask('GET', `/api/jobs/${id}/sheet.pdf`)).status, id).to.equal(200);
      const { body: found } = await bench.get<{ batteries: { tag: string }[] }>(
        '/api/batteries?limit=200',
      );
      for (const { tag } of found.batteries) {
        expect((await bench.ask('GET', `/api/batteries/${tag}/export.json`)).status, tag).to.equal(
          200,
        );
        expect((await bench.ask('GET', `/api/batteries/${tag}`)).status, tag).to.equal(200);
      }
      expect((await verifyShop(bench.store)).differences, 'told anew from its log').to.deep.equal(
        [],
      );
      // Reading changed nothing.
      expect(await countsOf(bench)).to.deep.equal(counts);

      const charging = body.jobs.find((j) => j.state.charge?.mode === 'running') as JobWire;
      bench.now += 3_600_000;
      const { setV } = charging.state.charge!;
      const reading = {
        type: 'read',
        role: 'charge',
        values: { voltageV: setV - 0.4, currentA: 0.9, temperatureC: 24 },
        sure: true,
      };
      const sent = await bench.send(charging.id, reading, 'ilse');
      expect(sent.status, JSON.stringify(sent.body)).to.equal(200);
      expect(await countsOf(bench)).to.deep.equal({
        ...counts,
        readings: counts.readings + 1,
        events: counts.events + 1,
      });
      const gone = await bench.store.sequelize.query('DELETE FROM readings').then(
        () => 'gone',
        (error: Error & { parent?: Error }) => error.parent?.message,
      );
      expect(gone, 'readings stay append-only in the rebuilt table').to.include('append-only');
      await bench.close();
    });
});
