import { randomUUID } from 'node:crypto';
import { expect } from 'chai';
import type { SetWire } from '../../src/contract/wire.ts';
import type { RecoveryResult } from '../../src/core/recovery/record.ts';
import type { Candidate } from '../../src/core/sets/candidate.ts';
import { TestBench } from '../support/bench.ts';

describe('recoveries that have ended', () => {
  let bench: TestBench;
  before(async () => (bench = await TestBench.demo()));
  after(() => bench.close());
  const sets = async () =>
    (await bench.get<{ sets: SetWire[]; candidates: Candidate[] }>('/api/sets')).body;
  const keep = (tags: string[], commandId: string = randomUUID()) =>
    bench.post<{ id: string; error: { message: string; fields: Record<string, string> } }>(
      '/api/sets',
      { commandId, by: 'ilse', tags },
    );

  it('are told cycle by cycle, each with what was forecast and what came', async () => {
    const { body } = await bench.get<{ results: RecoveryResult[] }>('/api/recoveries');
    expect(body.results.length).to.be.greaterThan(10);
    expect(new Set(body.results.map((r) => r.outcome))).to.include.all.keys(
      'return',
      'light',
      'recycle',
    );
    const twice = body.results.filter((r) => r.tag === 'LK-0395');
    expect(twice.map((r) => [r.cycle, r.route, r.last])).to.deep.equal([
      [1, 'slow-restore', false],
      [2, 'pulse', true],
    ]);
    for (const r of body.results)
      expect(r.forecast?.capacity.low ?? 0).to.be.at.most(r.forecast?.capacity.high ?? 0);
  });

  it('stand on the shelf with what they read after their hold, and are free for a set', async () => {
    const { candidates } = await sets();
    expect(candidates.map((c) => c.tag)).to.include.members([
      'LK-0360',
      'LK-0362',
      'LK-0366',
      'LK-0375',
    ]);
    for (const c of candidates) {
      expect(c.capacityAh).to.be.within(5, 70);
      expect(c.restV).to.be.within(12.2, 13.1);
      expect(c.ageYears).to.be.within(0.2, 10);
    }
  });

  it('are kept together once, only if alike and free; apart again they are free', async () => {
    const commandId = randomUUID();
    const made = await keep(['LK-0362', 'LK-0366'], commandId);
    expect(made.status).to.equal(201);
    expect((await keep(['LK-0362', 'LK-0366'], commandId)).body.id).to.equal(made.body.id);
    const now = await sets();
    expect(now.sets.map((s) => s.members.map((m) => m.tag))).to.deep.equal([
      ['LK-0362', 'LK-0366'],
    ]);
    expect(now.candidates.map((c) => c.tag)).to.not.include('LK-0362');
    expect((await keep(['LK-0362', 'LK-0375'])).body.error.fields['tags']).to.contain(
      'LK-0362 is not free',
    );
    expect((await keep(['LK-0360', 'LK-0353'])).body.error.fields['tags']).to.match(
      /further apart|not free/,
    );
    expect((await keep(['LK-0360'])).status).to.equal(400);
    const pdf = await bench.ask<string>('GET', `/api/sets/${made.body.id}/sheet.pdf`);
    expect([pdf.status, pdf.body.slice(0, 5)]).to.deep.equal([200, '%PDF-']);
    const end = () =>
      bench.post(`/api/sets/${made.body.id}/end`, {
        commandId: randomUUID(),
        by: 'ilse',
        reason: 'Taken apart',
      });
    expect((await end()).status).to.equal(200);
    expect((await end()).status).to.equal(409);
    expect((await sets()).candidates.map((c) => c.tag)).to.include('LK-0362');
  });
});
