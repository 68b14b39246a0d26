import { randomUUID } from 'node:crypto';
import { expect } from 'chai';
import type { JobWire, Lot, RecordWire, ShelfItem, TakenIn } from '../../src/contract/wire.ts';
import { BY_KIND, HOUR, MINUTE } from '../support/battery.ts';
import { verifyShop } from '../../src/server/verify/verify.ts';
import { procedureFor } from '../../src/core/catalogue/catalogue.ts';
import { TestBench } from '../support/bench.ts';

const DAY = 24 * HOUR;

describe('the shelf', () => {
  let bench: TestBench;
  let modelId: string;
  const signed = (by = 'ann') => ({ commandId: randomUUID(), by });
  const shelf = async () => (await bench.get<{ items: ShelfItem[] }>('/api/shelf')).body.items;
  const read = (tag: string, voltageV: number, more: object = {}) =>
    bench.post(`/api/shelf/${tag}/readings`, {
      ...signed(),
      voltageV,
      takenAt: bench.now,
      ...more,
    });
  const pick = (tag: string, more: object = {}) =>
    bench.post(`/api/shelf/${tag}/pick`, { ...signed(), owner: 'Hut radio', ...more });

  /** Wet stock brought in, charged so many days ago. */
  const stock = (tag: string, days: number, restV = 12.85) => ({
    tag,
    modelCode: 'T-S12',
    dateCode: '2026-01',
    owner: 'Shelf',
    restV,
    readAt: bench.now - days * DAY,
    chargedAt: bench.now - days * DAY - HOUR,
  });

  before(async () => {
    bench = await TestBench.open();
    modelId = await bench.addModel({ ...BY_KIND['agm-sealed'] });
    await bench.post('/api/import/batteries', {
      ...signed(),
      batteries: [stock('S-001', 20), stock('S-002', 5), stock('S-003', 100)],
    });
  });
  after(() => bench.close());

  it('stands first in first out, with what each was read', async () => {
    expect((await shelf()).map((i) => [i.tag, i.readings.length])).to.deep.equal([
      ['S-003', 1],
      ['S-001', 1],
      ['S-002', 1],
    ]);
  });
  it('takes a reading of a round with the battery, once, and asks about an odd one', async () => {
    const body = { ...signed(), voltageV: 12.78, takenAt: bench.now };
    expect((await bench.post('/api/shelf/S-001/readings', body)).status).to.equal(201);
    expect((await bench.post('/api/shelf/S-001/readings', body)).status).to.equal(201);
    const { body: record } = await bench.get<RecordWire>('/api/batteries/S-001');
    expect(record.shelfReadings.map((r) => [r.role, r.values.voltageV])).to.deep.equal([
      ['shelf', 12.78],
    ]);
    expect(record.stock?.readings).to.have.length(2);
    expect(record.events.map((e) => e.event.type)).to.deep.equal([
      'battery.imported',
      'shelf.read',
    ]);
    expect((await read('S-001', 9)).body.error).to.include({ code: 'ask' });
    expect((await read('S-001', 9, { sure: true })).status).to.equal(201);
    expect((await read('S-404', 12.8)).status).to.equal(404);
    expect(
      (await read('S-002', 12.8, { takenAt: bench.now - 300 * DAY })).body.error.message,
    ).to.include('before it was charged');
  });
  it('a reading of a round is corrected where it stands; the old one stays on record, and the forecast goes by the new', async () => {
    const { body: before } = await bench.get<RecordWire>('/api/batteries/S-002');
    expect((await read('S-002', 12.7)).status).to.equal(201);
    const [slip] = (await bench.get<RecordWire>('/api/batteries/S-002')).body.shelfReadings;
    bench.now += HOUR;
    expect((await read('S-002', 12.81, { supersedes: slip!.id })).status).to.equal(201);
    const { body: after } = await bench.get<RecordWire>('/api/batteries/S-002');
    expect(
      after.shelfReadings.map((r) => [r.values.voltageV, r.at, r.supersededBy !== null]),
    ).to.deep.equal(
      [
        [12.7, slip!.at, true],
        [12.81, slip!.at, false],
      ].sort(
        (a, b) =>
          after.shelfReadings.findIndex((r) => r.values.voltageV === a[0]) -
          after.shelfReadings.findIndex((r) => r.values.voltageV === b[0]),
      ),
    );
    expect(after.stock!.readings).to.deep.equal([
      ...before.stock!.readings,
      { at: slip!.at, voltageV: 12.81 },
    ]);
    expect((await read('S-002', 12.9, { supersedes: slip!.id })).body.error).to.include({
      code: 'out-of-order',
    });
    expect((await read('S-001', 12.9, { supersedes: slip!.id })).body.error.message).to.include(
      'no reading of a round of this battery',
    );
    expect((await verifyShop(bench.store)).differences).to.deep.equal([]);
    bench.now -= HOUR;
  });
  it('lets the oldest ready one go, another only with a reason, and none that wants charge', async () => {
    expect((await pick('S-003')).body.error.message).to.include('must be charged first');
    // S-001 was read at 9 V and wants charge; S-002 is the one to take.
    await bench.post('/api/import/batteries', { ...signed(), batteries: [stock('S-004', 3)] });
    expect((await pick('S-004')).body.error.message).to.include('S-002 has stood longer');
    expect((await pick('S-004', { reason: 'Its posts are the other way round' })).status).to.equal(
      200,
    );
    expect((await pick('S-002')).status).to.equal(200);
    expect((await shelf()).map((i) => i.tag)).to.deep.equal(['S-003', 'S-001']);
    expect((await bench.get<RecordWire>('/api/batteries/S-002')).body.battery.owner).to.equal(
      'Hut radio',
    );
    expect((await pick('S-002')).status).to.equal(409);
  });
  it('gives a battery to a recharge and has it back with its new charge and its old place in the row', async () => {
    const [before] = await shelf();
    const opened = await bench.post<{ jobId: string }>('/api/batteries/S-003/jobs', {
      ...signed(),
      purpose: 'recharge',
      promisedAt: null,
    });
    expect(opened.status).to.equal(201);
    expect((await shelf())[0]?.jobId).to.equal(opened.body.jobId);
    expect((await read('S-003', 12.8)).body.error.message).to.include('on the bench');
    expect(
      (
        await bench.post('/api/batteries/S-003/jobs', {
          ...signed(),
          purpose: 'recharge',
          promisedAt: null,
        })
      ).status,
    ).to.equal(409);
    const { jobId } = opened.body;
    const send = async (command: object) => {
      const { status, body } = await bench.post<{ job: JobWire }>(`/api/jobs/${jobId}/commands`, {
        ...signed(),
        command,
      });
      expect(status, JSON.stringify(body)).to.equal(200);
    };
    await send({ type: 'read', role: 'arrival', values: { voltageV: 12.42 } });
    await send({ type: 'acknowledge', stepId: 'safe' });
    await send({ type: 'startCharge', stepId: 'charge', place: 1, setA: 1.2, setV: 14.7 });
    for (const [v, a] of [
      [13.6, 1.2],
      [14.5, 1.1],
      [14.69, 0.2],
      [14.69, 0.19],
    ] as const) {
      bench.now += HOUR;
      await send({
        type: 'read',
        role: 'charge',
        values: { voltageV: v, currentA: a, temperatureC: 23 },
      });
    }
    await send({ type: 'endCharge', stepId: 'charge' });
    bench.now += 70 * MINUTE;
    await send({ type: 'read', role: 'rest', values: { voltageV: 12.86 } });
    await send({ type: 'giveVerdict', stepId: 'verdict' });
    await send({ type: 'handOver', stepId: 'handover', destination: 'shelf' });
    const [after] = await shelf();
    expect(after).to.include({ tag: 'S-003', since: before?.since, jobId: null });
    expect(after?.readings.map((r) => r.voltageV)).to.deep.equal([12.86]);
    expect(after?.chargedAt).to.be.above(before?.chargedAt ?? 0);
  });
  it('has it back as it stood, where a refusal that took it off was a mistake', async () => {
    const before = (await shelf()).find((i) => i.tag === 'S-001')!;
    const opened = await bench.post<{ jobId: string }>('/api/batteries/S-001/jobs', {
      ...signed(),
      purpose: 'recover',
      promisedAt: null,
    });
    const { jobId } = opened.body;
    const send = async (command: object) => {
      const { status, body } = await bench.post(`/api/jobs/${jobId}/commands`, {
        ...signed(),
        command,
      });
      expect(status, JSON.stringify(body)).to.equal(200);
    };
    const step = procedureFor('agm-sealed', 'recover').steps.find((s) => s.kind === 'checks')!;
    const checks = step.kind === 'checks' ? step.checks : [];
    await send({
      type: 'answerChecks',
      stepId: step.id,
      answers: Object.fromEntries(checks.map((c) => [c.id, !c.refusal])),
    });
    expect((await shelf()).map((i) => i.tag)).to.not.include('S-001');
    await send({ type: 'takeBackRefusal', reason: 'Tapped beside it' });
    expect((await shelf()).find((i) => i.tag === 'S-001')).to.deep.equal({ ...before, jobId });
    expect((await verifyShop(bench.store)).differences).to.deep.equal([]);
    // The job is over again, this time for good; the battery goes back to its place as it was.
    await send({
      type: 'answerChecks',
      stepId: step.id,
      answers: Object.fromEntries(checks.map((c) => [c.id, !c.refusal])),
    });
    await send({ type: 'takeBackRefusal', reason: 'Tapped beside it again' });
    expect((await shelf()).find((i) => i.tag === 'S-001')?.since).to.equal(before.since);
  });
  it('is listed on paper and in a table', async () => {
    expect((await bench.get<string>('/api/shelf/list.pdf')).body.slice(0, 5)).to.equal('%PDF-');
    const { body } = await bench.get<string>('/api/shelf/list.csv');
    expect(body.split('\r\n')[0]).to.include('Tag,Model');
    expect(body).to.include('S-003,T-S12');
  });
  it('takes in a tray whose tags run on, all or none', async () => {
    const tray = (tag: string, count: number) =>
      bench.post<TakenIn>('/api/batteries', {
        ...signed(),
        tag,
        modelId,
        dateCode: '2026-02',
        owner: 'Shelf',
        promisedAt: null,
        count,
        purpose: 'commission',
      });
    const { status, body } = await tray('S-098', 4);
    expect(status).to.equal(201);
    expect(body.tags).to.deep.equal(['S-098', 'S-099', 'S-100', 'S-101']);
    expect(new Set(body.jobIds).size).to.equal(4);
    const trays = await Promise.all(
      body.tags.map(
        async (t) => (await bench.get<RecordWire>(`/api/batteries/${t}`)).body.battery.trayId,
      ),
    );
    expect(new Set(trays).size).to.equal(1);
    expect(
      (await bench.get<string>(`/api/trays/${trays[0]}/summary.pdf`)).body.slice(0, 5),
    ).to.equal('%PDF-');
    expect((await tray('S-096', 5)).status).to.equal(409);
    expect((await bench.get('/api/batteries/S-096')).status).to.equal(404);
    expect((await tray('S-200', 49)).status).to.equal(400);
    for (const code of ['code128', 'qr'])
      expect(
        (
          await bench.get<string>(`/api/tags/sheet.pdf?code=${code}&tags=${body.tags.join(',')}`)
        ).body.slice(0, 5),
      ).to.equal('%PDF-');
    expect((await bench.get('/api/tags/sheet.pdf?tags=S-098,S-404')).status).to.equal(404);
  });
  it('does not commission a battery twice, nor charge one for the recycler', async () => {
    const open = (tag: string, purpose: string) =>
      bench.post(`/api/batteries/${tag}/jobs`, { ...signed(), purpose, promisedAt: null });
    expect((await open('S-404', 'service')).status).to.equal(404);
    const service = await open('S-003', 'service');
    expect(service.status).to.equal(201);
    const { jobId } = service.body as unknown as { jobId: string };
    await bench.post(`/api/jobs/${jobId}/commands`, {
      ...signed(),
      command: { type: 'escalate', reason: 'Post is loose' },
    });
    await bench.post(`/api/jobs/${jobId}/commands`, {
      ...signed('lea'),
      command: { type: 'leadDecide', decision: 'recycle', reason: 'Post tore out' },
    });
    expect((await shelf()).map((i) => i.tag)).to.not.include('S-003');
    expect((await open('S-003', 'recharge')).body.error.message).to.include('recycler');
  });
});

describe('the wet room', () => {
  let bench: TestBench;
  const signed = () => ({ commandId: randomUUID(), by: 'ann' });
  const lot = (change: object = {}) => ({
    code: 'B-1',
    kind: 'acid',
    packCode: null,
    sg: 1.265,
    quantityMl: 2000,
    expiresAt: null,
    ...change,
  });
  const add = (change: object = {}) => bench.post('/api/lots', { ...signed(), lot: lot(change) });
  const lots = async () => (await bench.get<{ lots: Lot[] }>('/api/lots')).body.lots;

  before(async () => void (bench = await TestBench.open()));
  after(() => bench.close());

  it('keeps lots by their code, each what it is', async () => {
    expect((await add()).status).to.equal(201);
    expect((await add()).status).to.equal(409);
    expect((await add({ code: 'B-2', sg: null })).status).to.equal(400);
    expect((await add({ code: 'W-1', kind: 'water', sg: 1.1 })).status).to.equal(400);
    expect((await add({ code: 'P-1', kind: 'pack', sg: null })).status).to.equal(400);
    expect(
      (await add({ code: 'P-1', kind: 'pack', sg: null, packCode: 'E-66', quantityMl: 1320 }))
        .status,
    ).to.equal(201);
    expect((await add({ code: 'B-3', expiresAt: bench.now - DAY })).status).to.equal(422);
    expect((await add({ code: '=B' })).status).to.equal(400);
  });
  it('takes from them by hand, never more than is left', async () => {
    const use = (ml: number) =>
      bench.post<{ leftMl: number }>('/api/lots/B-1/uses', { ...signed(), ml, why: 'Spilt' });
    expect((await use(300)).body.leftMl).to.equal(1700);
    expect((await use(1701)).status).to.equal(422);
    expect((await lots()).find((l) => l.code === 'B-1')).to.include({ leftMl: 1700 });
    expect(
      (await bench.post('/api/lots/none/uses', { ...signed(), ml: 1, why: 'x' })).status,
    ).to.equal(404);
  });
  it('gives a job its acid and counts it; a pack of another code, an expired or empty lot stays', async () => {
    const dry = await bench.addModel();
    const open = await bench.addModel({ ...BY_KIND['flooded-dry'] });
    const send = (jobId: string, command: object) =>
      bench.post<{ job: JobWire }>(`/api/jobs/${jobId}/commands`, { ...signed(), command });
    const looked = {
      type: 'answerChecks',
      stepId: 'identify',
      answers: { label: true, case: true, posts: true },
    };

    const packed = await bench.takeIn(dry, 'W-001');
    await send(packed, looked);
    await send(packed, { type: 'answerChecks', stepId: 'foil', answers: { foil: true } });
    await add({ code: 'P-2', kind: 'pack', sg: null, packCode: 'E-99', quantityMl: 1320 });
    const match = (code: string) =>
      send(packed, { type: 'matchPack', stepId: 'pack', code: 'E-66', lot: code });
    expect((await match('P-2')).status).to.equal(403);
    expect((await match('B-1')).status).to.equal(403);
    // However it was typed, it is the wet room’s lot.
    expect((await match('p-1 ')).status).to.equal(200);
    expect((await lots()).find((l) => l.code === 'P-1')?.leftMl).to.equal(660);

    const bulk = await bench.takeIn(open, 'W-002');
    await send(bulk, looked);
    expect(
      (
        await send(bulk, {
          type: 'matchAcid',
          stepId: 'acid',
          lot: 'b-1',
          specificGravity: 1.265,
          temperatureC: 25,
        })
      ).status,
    ).to.equal(200);
    await send(bulk, { type: 'acknowledge', stepId: 'safe' });
    await send(bulk, {
      type: 'answerChecks',
      stepId: 'vent',
      answers: { transport: true, tube: true },
    });
    await send(bulk, { type: 'confirmDone', stepId: 'fill' });
    bench.now += 31 * MINUTE;
    await send(bulk, {
      type: 'answerPorts',
      stepId: 'pass',
      ports: ['mark', 'mark', 'mark', 'mark', 'mark', 'mark'],
    });
    expect(
      (await send(bulk, { type: 'confirmDone', stepId: 'used', amountMl: 1000 })).status,
    ).to.equal(200);
    const used = (await lots()).find((l) => l.code === 'B-1');
    expect(used).to.include({ leftMl: 700 });
    expect(used?.uses[0]).to.include({ ml: 1000, tag: 'W-002', why: 'job' });
    // A lot nobody counts is asked about, and may be written down all the same.
    const uncounted = { type: 'topUp', liquid: 'acid', cells: [1], ml: 5, lot: 'uncounted' };
    expect((await send(bulk, uncounted)).body).to.have.nested.property('error.code', 'ask');
    expect((await send(bulk, { ...uncounted, sure: true })).status).to.equal(200);
    expect(await bench.store.tables.lotUses.count()).to.equal(3);
  });
});
