import { randomUUID } from 'node:crypto';
import { expect } from 'chai';
import type { JobWire } from '../../src/contract/wire.ts';
import type { ChargerFacts, ShopCharger } from '../../src/core/chargers/charger.ts';
import { CHARGER_TEMPLATES } from '../../src/core/chargers/templates.ts';
import { verifyShop } from '../../src/server/verify/verify.ts';
import { BY_KIND } from '../support/battery.ts';
import { TestBench } from '../support/bench.ts';

describe('the shop’s chargers', () => {
  let bench: TestBench;
  const signed = () => ({ commandId: randomUUID(), by: 'ann' });
  const facts = (key: string, over: Partial<ChargerFacts> = {}): ChargerFacts => ({
    ...CHARGER_TEMPLATES.find((t) => t.key === key)!.facts,
    name: key,
    ...over,
  });
  const add = (charger: object) =>
    bench.post<{ id: string }>('/api/chargers', { ...signed(), charger });
  const change = (id: string, charger: object) =>
    bench.ask<{ id: string }>('PUT', `/api/chargers/${id}`, { ...signed(), charger });
  const remove = (id: string) => bench.post(`/api/chargers/${id}/removal`, signed());
  const chargers = async () =>
    (await bench.get<{ chargers: ShopCharger[] }>('/api/chargers')).body.chargers;
  const named = async (name: string) => (await chargers()).find((c) => c.name === name)!;

  before(async () => void (bench = await TestBench.open()));
  after(() => bench.close());

  it('are written down from a template, each under its own name', async () => {
    for (const { key, facts: f } of CHARGER_TEMPLATES)
      expect((await add({ ...f, name: key })).status, key).to.equal(201);
    expect((await add(facts('taper', { name: 'TAPER' }))).status).to.equal(409);
    expect(await chargers()).to.have.length(CHARGER_TEMPLATES.length);
    expect(await named('fixed-2-10')).to.deep.include(facts('fixed-2-10'));
  });

  it('are refused where they could not be set, or would have no end', async () => {
    for (const bad of [
      facts('fixed-2-10', { name: 'a', settings: [] }),
      facts('supply', { name: 'b', settings: [{ name: '2 A', amps: 2, boost: false }] }),
      facts('supply', { name: 'c', range: { leastA: 5, mostA: 2, mostV: 16 } }),
      facts('automatic-4', { name: 'd', programs: [] }),
      facts('automatic-4', { name: '' }),
      { ...facts('automatic-4', { name: 'e' }), volts: [24] },
    ])
      expect((await add(bad)).status, JSON.stringify(bad)).to.equal(400);
  });

  it('tell since when one is out of order', async () => {
    const { id, ...before } = await named('taper');
    bench.now += 3_600_000;
    const { standingSince: _, ...known } = before;
    expect((await change(id, { ...known, standing: 'out-of-order' })).status).to.equal(200);
    expect(await named('taper')).to.deep.include({
      standing: 'out-of-order',
      standingSince: bench.now,
    });
    bench.now += 3_600_000;
    await change(id, { ...known, standing: 'out-of-order', where: 'Yard' });
    expect((await named('taper')).standingSince).to.equal(bench.now - 3_600_000);
    expect((await change(randomUUID(), known)).status).to.equal(404);
  });

  describe('on a battery', () => {
    let modelId: string;
    const atCharge = async (tag: string) => {
      const { body } = await bench.post<{ jobId: string }>('/api/batteries', {
        ...signed(),
        tag,
        modelId,
        dateCode: '2026-01',
        owner: 'Test',
        promisedAt: null,
        purpose: 'recharge',
      });
      const { jobId } = body;
      const answers = [
        await bench.send(jobId, { type: 'read', role: 'arrival', values: { voltageV: 12.3 } }),
        await bench.send(jobId, { type: 'acknowledge', stepId: 'safe' }),
      ];
      for (const a of answers) expect(a.status, JSON.stringify(a.body)).to.equal(200);
      return jobId;
    };
    const start = async (jobId: string, charger: object, more: object = {}) =>
      bench.send(jobId, {
        type: 'startCharge',
        stepId: 'charge',
        place: 1,
        setA: 9,
        setV: 14.7,
        charger,
        ...more,
      });
    const automatic = async () => ({
      id: (await named('automatic-4')).id,
      setting: '4 A',
      program: 'AGM',
    });

    before(async () => {
      modelId = await bench.addModel({ ...BY_KIND['agm-sealed'], code: 'S-60', c20Ah: 60 });
    });

    it('give their own current, whatever is said of it, and are kept with the charge', async () => {
      const jobId = await atCharge('C-001');
      const { body, status } = await start(jobId, await automatic(), { setV: 13 });
      expect(status, JSON.stringify(body)).to.equal(200);
      expect(body.job.state.charge).to.deep.include({ setA: 4, setV: 14.7 });
      expect(body.job.state.charge?.charger).to.include({
        name: 'automatic-4',
        setting: '4 A',
        program: 'AGM',
        showsAmps: false,
      });
      expect(body.job.state.deviations).to.deep.equal([]);
    });

    it('are asked about where they are on another battery already', async () => {
      const jobId = await atCharge('C-002');
      const refused = await start(jobId, await automatic(), { place: 2 });
      expect(refused.status).to.equal(422);
      expect(refused.body.error).to.deep.include({
        message: 'automatic-4 is on C-001 already. Is it on this battery as well?',
      });
      const again = { place: 2, sure: true, reason: 'It has two leads' };
      const taken = await start(jobId, await automatic(), again);
      expect(taken.status, JSON.stringify(taken.body)).to.equal(200);
      expect(
        taken.body.job.state.deviations.map((d) => typeof d.what === 'string' || d.what.kind),
      ).to.deep.equal(['charger']);
    });

    it('that do not fit are taken only with a reason, which stands on the sheet', async () => {
      const jobId = await atCharge('C-003');
      const big = { id: (await named('automatic-10')).id, setting: '10 A', program: 'AGM' };
      const refused = await start(jobId, big, { place: 3 });
      expect(refused.status).to.equal(422);
      expect(refused.body.error.message).to.equal(
        'automatic-10: 10 A is C/6 of this battery; at most 6 A. Choose another, or give a reason.',
      );
      const given = await start(jobId, big, { place: 3, reason: 'The only one left' });
      expect(given.body.job.state.charge).to.deep.include({ setA: 10 });
      expect(given.body.job.state.deviations).to.have.length(1);
    });

    it('that are unknown, out of order or not set are refused', async () => {
      const jobId = await atCharge('C-004');
      for (const [charger, said] of [
        [{ id: 'nobody' }, /no longer in the shop/],
        [{ id: (await named('automatic-4')).id, setting: '9 A', program: 'AGM' }, /which setting/],
        [{ id: (await named('automatic-4')).id, setting: '4 A' }, /which program/],
        [{ id: (await named('taper')).id, setting: '4 A', program: 'No program' }, /out of order/],
        [{ id: (await named('supply')).id }, /gives 0.1 to 10 A/],
      ] as const) {
        const { status, body } = await start(jobId, charger, {
          place: 4,
          setA: 12,
          reason: 'because',
        });
        expect(status, JSON.stringify(body)).to.equal(422);
        expect(body.error.message).to.match(said);
      }
    });

    it('cannot be removed while they charge; afterwards they can, and the charge keeps the name', async () => {
      const { id } = await named('automatic-4');
      expect((await remove(id)).status).to.equal(409);
      const jobs = (await bench.get<{ jobs: JobWire[] }>('/api/bench')).body.jobs;
      for (const job of jobs.filter((j) => j.state.charge?.charger?.id === id))
        expect(
          (await bench.send(job.id, { type: 'endCharge', stepId: 'charge', reason: 'Done' }))
            .status,
        ).to.equal(200);
      expect((await remove(id)).status).to.equal(200);
      expect(await named('automatic-4')).to.equal(undefined);
      expect((await remove(id)).status).to.equal(404);
      const [job] = jobs.filter((j) => j.state.charge?.charger?.id === id);
      const { body } = await bench.get<{ job: JobWire }>(`/api/jobs/${job!.id}`);
      expect(
        body.job.state.runs.map((r) => r.result?.kind === 'charge' && r.result.charger?.name),
      ).to.include('automatic-4');
    });

    it('are told from the log alone, all the same', async () => {
      expect((await verifyShop(bench.store)).differences).to.deep.equal([]);
    });
  });
});
