import { randomUUID } from 'node:crypto';
import { get as httpGet } from 'node:http';
import { expect } from 'chai';
import fc from 'fast-check';
import type { PlansWire, Shop } from '../../src/contract/wire.ts';
import type { ChargePlan } from '../../src/core/charging/chargePlan.ts';
import { controlServer } from '../../src/standins/control.ts';
import { TestBench } from '../support/bench.ts';
import type { AddressInfo } from 'node:net';

const plan = (change: Partial<ChargePlan> = {}): ChargePlan => ({
  id: 'new',
  name: 'Night plan',
  plain: 'Overnight.',
  kinds: ['agm'],
  stages: [
    {
      do: 'current',
      cRate: 0.05,
      until: [
        { when: 'volts', perCell: 2.4 },
        { when: 'time', s: 40_000 },
      ],
    },
  ],
  mostS: 50_000,
  ...change,
});

describe('charge plans of a shop', () => {
  let bench: TestBench;
  before(async () => void (bench = await TestBench.open()));
  after(() => bench.close());
  const keep = (body: object, commandId = randomUUID(), more = {}) =>
    bench.post<ChargePlan & { error: { message: string; fields: Record<string, string> } }>(
      '/api/plans',
      { commandId, by: 'ann', plan: body, ...more },
    );
  const plansNow = async () => (await bench.get<PlansWire>('/api/plans')).body;

  it('are kept under a name; one of the same name is replaced by who has seen it, and by nobody else', async () => {
    const first = await keep(plan());
    expect(first.status).to.equal(201);
    const asked = await keep(plan({ plain: 'Changed.' }));
    expect(asked.status).to.equal(409);
    expect(asked.body.error.message).to.match(/^Ann Test keeps a plan of that name already: /);
    const { replaces } = asked.body.error.fields;
    expect(replaces).to.equal(first.body.id);
    expect((await keep(plan({ plain: 'Changed.' }), randomUUID(), { replaces })).status).to.equal(
      201,
    );
    expect(
      (await keep(plan({ plain: 'Changed otherwise.' }), randomUUID(), { replaces })).status,
      'another has replaced it meanwhile',
    ).to.equal(409);
    expect((await plansNow()).own.map((p) => [p.name, p.plain])).to.deep.equal([
      ['Night plan', 'Changed.'],
    ]);
    expect((await plansNow()).standard.length).to.be.at.least(6);
    const events = await bench.store.tables.events.findAll({
      where: { type: 'plan.saved' },
      raw: true,
    });
    expect(events).to.have.length(2);
  });

  it('a retry keeps it once', async () => {
    const commandId = randomUUID();
    await keep(plan({ name: 'Twice' }), commandId);
    await keep(plan({ name: 'Twice' }), commandId);
    expect(await bench.store.tables.events.count({ where: { commandId } })).to.equal(1);
  });

  it('are refused with the sentence that is wrong, and nothing is kept', async () => {
    const before = (await plansNow()).own.length;
    const cases: [Partial<ChargePlan>, RegExp][] = [
      [{ name: 'First charge, C/10' }, /belongs to a standard plan/],
      [{ stages: [] }, /at least one stage/],
      [{ stages: [{ do: 'current', cRate: 0.05, until: [] }] }, /say until when/],
      [
        { stages: [{ do: 'current', cRate: 0.5, until: [{ when: 'time', s: 3600 }] }] },
        /more than the 20 % allowed/,
      ],
      [
        {
          stages: [{ do: 'voltage', perCell: 2.7, cRate: 0.1, until: [{ when: 'time', s: 3600 }] }],
        },
        /above the 14.70 V/,
      ],
      [
        {
          stages: [
            { do: 'voltage', perCell: 2.4, cRate: 0.1, until: [{ when: 'amps', cRate: 0.2 }] },
          ],
        },
        /must lie below/,
      ],
      [{ stages: [{ do: 'rest', until: [{ when: 'time', s: 3600 }] }] }, /rests alone/],
      [{ mostS: 30 * 24 * 3600 - 1 }, /end within 14 days/],
      [
        {
          stages: [
            { do: 'discharge', cRate: 0.05, perCell: 1.2, until: [{ when: 'time', s: 3600 }] },
          ],
        },
        /itself does harm/,
      ],
    ];
    for (const [change, sentence] of cases) {
      const { status, body } = await keep(plan({ name: 'Wrong', ...change }));
      expect(status, String(sentence)).to.be.within(409, 422);
      expect(body.error.message).to.match(sentence);
    }
    expect((await keep({ ...plan(), surprise: 1 })).status).to.equal(400);
    expect((await keep({ ...plan(), name: '=cmd()' })).status).to.equal(400);
    expect((await plansNow()).own.length).to.equal(before);
  });

  it('whatever JSON is sent as a plan, the answer is a sentence', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.jsonValue(),
        fc.constantFrom('stages', 'kinds', 'mostS', 'guards', 'name'),
        async (junk, key) => {
          const { status, body } = await keep({ ...plan(), [key]: junk });
          expect(status).to.be.within(201, 499);
          if (status >= 400) expect(body.error.message).to.be.a('string');
        },
      ),
      { numRuns: 80 },
    );
  });
});

describe('instruments in the house rules', () => {
  let bench: TestBench;
  before(async () => void (bench = await TestBench.open()));
  after(() => bench.close());

  it('are kept by a lead, bounded, each once', async () => {
    const { rules, rulesVersion: version } = (await bench.get<Shop>('/api/shop')).body;
    expect(rules.instruments).to.deep.equal([]);
    const one = {
      id: 'a',
      name: 'Supply',
      kind: 'charger',
      host: '10.0.0.5',
      port: 5025,
      firstPlace: 1,
      outputs: 2,
      mostA: 10,
      mostV: 16,
      leastStartV: 2,
    };
    const put = (instruments: unknown) =>
      bench.ask('PUT', '/api/shop/rules', {
        commandId: randomUUID(),
        by: 'lea',
        version,
        rules: { ...rules, instruments },
      });
    expect((await put([one])).status).to.equal(200);
    // Read before somebody changed them: nothing is kept, and both texts are told.
    const late = await bench.ask('PUT', '/api/shop/rules', {
      commandId: randomUUID(),
      by: 'lea',
      version,
      rules: { ...rules, places: 9 },
    });
    expect(late.status).to.equal(409);
    expect(late.body.error.message).to.match(
      /^Lea Test has changed the house rules since you read them/,
    );
    expect(late.body.error.fields['rules.places']).to.match(/^There: \d+\. Yours: 9\.$/);
    expect(late.body.error.fields['rules.instruments']).to.match(/^There: .+Supply/);
    expect((await bench.get<Shop>('/api/shop')).body.rules.instruments).to.have.length(1);
    expect((await put([one, one])).status).to.equal(400);
    expect((await put([{ ...one, port: 70_000 }])).status).to.equal(400);
    expect((await put([{ ...one, host: 'a b; rm' }])).status).to.equal(400);
    expect((await put([{ ...one, kind: 'toaster' }])).status).to.equal(400);
  });

  it('that are not there say so, and a measurement without an instrument is refused', async () => {
    const { body } = await bench.post<{ ok: boolean; lines: string[] }>('/api/instruments/try', {
      by: 'lea',
      instrument: {
        id: 'a',
        name: 'S',
        kind: 'charger',
        host: '127.0.0.1',
        port: 9,
        firstPlace: 1,
        outputs: 1,
        mostA: 1,
        mostV: 16,
        leastStartV: 2,
      },
    });
    expect(body.ok).to.equal(false);
    expect(body.lines[0]).to.contain('No instrument answers at 127.0.0.1:9');
    expect(
      (await bench.post('/api/instruments/measure', { kind: 'meter', place: 60 })).status,
    ).to.equal(409);
  });

  it('measure the battery of a place', async () => {
    const rack = await bench.plugIn();
    await rack.clipOn(4, { tag: 'X', chemistry: 'agm', c20Ah: 12, cells: 6, temperatureC: 21 });
    const read = async (kind: string) =>
      (await bench.post<Record<string, number>>('/api/instruments/measure', { kind, place: 4 }))
        .body;
    expect((await read('meter'))['voltageV']).to.be.within(12.2, 13);
    expect((await read('meter'))['temperatureC']).to.be.closeTo(21, 0.5);
    expect(await read('analyser')).to.have.keys('resistanceMilliohm', 'ccaA');
    expect((await read('scale'))['massG']).to.be.greaterThan(1000);
    expect((await read('hydrometer'))['specificGravity']).to.be.within(1.2, 1.34);
    const empty = await bench.post<{ error: { message: string } }>('/api/instruments/measure', {
      kind: 'scale',
      place: 5,
    });
    expect(empty.status).to.equal(422);
    expect(empty.body.error.message).to.contain('makes no sense');
  });
});

describe('the control page of the stand-ins', () => {
  it('shows every place, takes orders by form and by JSON, and refuses nonsense', async () => {
    const bench = await TestBench.open();
    const rack = await bench.plugIn();
    let rate = 1;
    const server = controlServer({
      rack: rack.rack,
      servers: rack.servers,
      setRate: (next) => (rate = next),
      advance: () => undefined,
    }).listen(0, '127.0.0.1');
    await new Promise((resolve) => server.once('listening', resolve));
    const url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
    const post = (path: string, body: string, type = 'application/json') =>
      fetch(url + path, {
        method: 'POST',
        headers: { 'Content-Type': type },
        body,
        redirect: 'manual',
      });
    await post(
      '/clip',
      JSON.stringify({
        place: 1,
        tag: 'A<b>',
        chemistry: 'agm',
        c20Ah: 12,
        cells: 6,
        temperatureC: 20,
      }),
    );
    const page = await (await fetch(url)).text();
    expect(page).to.contain('A&#60;b&#62;').and.to.contain('lead-off');
    expect(
      (await post('/mischief', 'place=1&mischief=hot&on=true', 'application/x-www-form-urlencoded'))
        .status,
    ).to.equal(303);
    expect([...rack.rack.places[0]!.mischief]).to.deep.equal(['hot']);
    expect(
      (await post('/mischief', JSON.stringify({ place: 1, mischief: 'sing', on: true }))).status,
    ).to.equal(400);
    expect((await post('/mischief', '{')).status).to.equal(400);
    expect(
      (
        await post(
          '/clip',
          JSON.stringify({
            place: 99,
            tag: 'B',
            chemistry: 'agm',
            c20Ah: 12,
            cells: 6,
            temperatureC: 20,
          }),
        )
      ).status,
    ).to.equal(400);
    const battery = { place: 2, tag: 'B', chemistry: 'agm', c20Ah: 12, cells: 6, temperatureC: 20 };
    for (const wrong of [
      { cells: 1e9 },
      { cells: 2.5 },
      { c20Ah: -1 },
      { c20Ah: null },
      { temperatureC: 'hot' },
      { chemistry: 'constructor' },
      { tag: 'x'.repeat(41) },
      { charge: 2 },
    ])
      expect(
        (await post('/clip', JSON.stringify({ ...battery, ...wrong }))).status,
        JSON.stringify(wrong),
      ).to.equal(400);
    expect((await post('/advance', JSON.stringify({ seconds: 1e12 }))).status).to.equal(400);
    expect(
      (await post('/mischief', JSON.stringify({ place: 1, mischief: 'constructor', on: true })))
        .status,
    ).to.equal(400);
    // A page from elsewhere, and a name pointed here, are told nothing.
    expect(
      (
        await fetch(`${url}/clip`, {
          method: 'POST',
          headers: { Origin: 'http://elsewhere.test' },
          body: JSON.stringify(battery),
        })
      ).status,
    ).to.equal(403);
    expect(
      (
        await fetch(`${url}/clip`, {
          method: 'POST',
          headers: { Origin: url },
          body: JSON.stringify(battery),
        })
      ).status,
    ).to.equal(200);
    const named = await new Promise((resolve) =>
      httpGet(url, { headers: { Host: 'evil.example' } }, (response) =>
        resolve(response.resume().statusCode),
      ),
    );
    expect(named).to.equal(403);
    expect((await post('/rate', JSON.stringify({ rate: 60 }))).status).to.equal(200);
    expect(rate).to.equal(60);
    await post('/power-cut', JSON.stringify({ ms: 50 }));
    expect(rack.rack.powered).to.equal(false);
    await new Promise((resolve) => setTimeout(resolve, 120));
    expect(rack.rack.powered).to.equal(true);
    expect((await post('/nowhere', '{}')).status).to.equal(400);
    expect((await fetch(`${url}/nowhere`)).status).to.equal(404);
    server.close();
    await bench.close();
  });
});
