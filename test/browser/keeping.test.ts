import { randomUUID } from 'node:crypto';
import { expect } from 'chai';
import type { NoteWire } from '../../src/contract/paperWire.ts';
import type { JobWire, Shop } from '../../src/contract/wire.ts';
import { type Procedure, stepById } from '../../src/core/plan/procedure.ts';
import { settle } from '../../src/core/steps/settle.ts';
import { commandOf } from '../../src/server/demo/storyteller.ts';
import { TestBench } from '../support/bench.ts';
import { Technician } from '../support/browser.ts';

const HOUR = 3_600_000;

describe('nothing that is typed, and nothing that is pressed, goes another way than it says', () => {
  let bench: TestBench;
  let offMs = 0;
  const ids: string[] = [];
  const jobOf = async (id: string) =>
    (await bench.get<{ job: JobWire; procedure: Procedure }>(`/api/jobs/${id}`)).body;
  const now = async () => (await bench.get<{ now: number }>('/api/clock')).body.now;

  before(async () => {
    bench = await TestBench.open();
    await bench.byMachine(() => bench.now + offMs);
    const modelId = await bench.addModel({});
    const body = {
      commandId: randomUUID(),
      by: 'ann',
      tag: 'K-301',
      count: 3,
      modelId,
      dateCode: '2026-01',
      owner: 'Ski tow',
      promisedAt: null,
    };
    ids.push(...(await bench.post<{ jobIds: string[] }>('/api/batteries', body)).body.jobIds);
    for (const id of ids)
      for (;;) {
        const { job: wire, procedure } = await jobOf(id);
        const at = await now();
        const job = settle({ procedure, plan: wire.plan, state: wire.state }, at);
        const { current } = job.state;
        if (!current || stepById(procedure, current.stepId).kind === 'charge') break;
        if (current.dueAt !== null) bench.now += current.dueAt - at;
        else await bench.send(id, commandOf({ minute: 0, verb: 'ok', words: [] }, job));
      }
  });
  after(() => bench.close());

  const sit = async (path: string) => {
    const t = await Technician.sitDown(bench, 'ann');
    await t.open(path);
    return t;
  };

  it('a tray: places are seen before current flows, and pausing and ending go to all of them', async () => {
    const t = await sit(`/jobs/${ids[0]}`);
    await t.page.getByLabel(/Step all 3 together/).check();
    await t.sees('each on a place that you see first');
    await t.press('Current is on');
    const places = t.page.getByRole('dialog', { name: 'Where is each of them charged?' });
    await places.getByRole('combobox').last().selectOption('7');
    await places.getByRole('button', { name: 'Current is on at all of these' }).click();
    const tray = t.page.getByRole('region', { name: 'The rest of its tray' });
    await tray.getByText('K-303 (at place 7)').waitFor();
    const charges = async () =>
      Promise.all(ids.map(async (id) => (await jobOf(id)).job.state.charge));
    expect((await charges()).map((c) => [c?.mode, c?.place])).to.deep.equal([
      ['running', 1],
      ['running', 2],
      ['running', 7],
    ]);
    await tray.getByText('Pausing and ending go to all').waitFor();
    await t.press('Pause the charge');
    await t.giveReason('It is off', 'Place wiped', 'Why');
    await tray.getByText('✓ K-301, K-302, K-303').waitFor();
    expect((await charges()).map((c) => c?.mode)).to.deep.equal(['paused', 'paused', 'paused']);
    await t.leave();
  });

  it('a draft of a reading, of intake and of the rules is there after a reload, and gone once sent or thrown away', async () => {
    await bench.send(ids[0]!, { type: 'resumeCharge', stepId: 'charge', temperatureC: 21 });
    const t = await sit(`/jobs/${ids[0]}`);
    await t.field('Volts').fill('13.42');
    await t.page.reload();
    expect(await t.field('Volts').inputValue()).to.equal('13.42');
    await t.read({ Amps: '1.2', Temperature: '23' }, 'Save reading');
    await t.sees('13.42 V');
    await t.page.reload();
    await t.sees('13.42 V');
    expect(await t.field('Volts').inputValue()).to.equal('');

    await t.open('/intake');
    await t.field('Customer or machine').fill('The weather mast');
    await t.page.reload();
    await t.press('Start empty');
    expect(await t.field('Customer or machine').inputValue()).to.equal('');

    await t.open('/rules/shop');
    await t.field('Charging places').fill('11');
    await t.page.reload();
    await t.sees('What you typed before is here again');
    expect(await t.field('Charging places').inputValue()).to.equal('11');
    // Meanwhile a lead changes the same, and something else.
    const { rules, rulesVersion: version } = (await bench.get<Shop>('/api/shop')).body;
    await bench.ask('PUT', '/api/shop/rules', {
      commandId: randomUUID(),
      by: 'lea',
      version,
      rules: { ...rules, places: 14, roomC: 17 },
    });
    await t.press('Theirs: 14');
    expect(await t.field('Charging places').inputValue()).to.equal('14');
    expect(await t.field('Usual bench temperature, °C').inputValue()).to.equal('17');
    await t.leave();
  });

  it('an entry outlives a broken server and a session that ran out, and a no that nobody saw stays to be seen', async () => {
    const t = await sit(`/jobs/${ids[1]}`);
    let trouble: number | null = 500;
    await t.page.route('**/notes', (route) =>
      trouble === null || route.request().method() === 'GET'
        ? route.continue()
        : route.fulfill({
            status: trouble,
            contentType: 'application/json',
            body: '{"error":{"code":"internal","message":"Broken.","fields":{}}}',
          }),
    );
    await t.field('Note').fill('The lid is scratched');
    await t.press('Save note');
    await t.sees('It is kept here and tried again');
    await t.sees('1 entry waits here for the server');
    trouble = 401;
    await t.press('Send now');
    await t.page.waitForTimeout(200);
    await t.sees('1 entry waits here for the server');
    trouble = null;
    await t.press('Send now');
    await t.page.getByText('entry waits here').waitFor({ state: 'detached' });
    const { tag } = (await jobOf(ids[1]!)).job.battery;
    const { notes } = (await bench.get<{ notes: NoteWire[] }>(`/api/batteries/${tag}/notes`)).body;
    expect(notes.map((n) => n.text)).to.deep.equal(['The lid is scratched']);

    await t.page.evaluate(
      (path) =>
        localStorage.setItem(
          'cork-ember.outbox',
          JSON.stringify([
            {
              path,
              body: {
                commandId: crypto.randomUUID(),
                by: 'ann',
                command: { type: 'acknowledge', stepId: 'nowhere' },
              },
              what: 'K-302: step “nowhere”',
            },
          ]),
        ),
      `/api/jobs/${ids[1]}/commands`,
    );
    await t.page.reload();
    await t.sees(/Not taken, of Ann Test:/);
    await t.page.reload();
    await t.sees(/K-302: step “nowhere”. This job has no step/);
    await t.press('I have seen it');
    await t.page.getByText('Not taken, of').waitFor({ state: 'detached' });
    await t.leave();
  });

  it('a machine whose clock was set is asked about, and the answer says what it does', async () => {
    offMs = 3 * HOUR;
    bench.wall?.look();
    const before = await now();
    const t = await sit('/');
    await t.sees('This machine’s clock is 3 h ahead of the bench’s.');
    await t.press('Say which is right');
    await t.sees('Waits and charges keep what was left of them.');
    await t.press(/The machine’s clock was wrong before/);
    await t.page.getByText('This machine’s clock is').waitFor({ state: 'detached' });
    expect((await now()) - before).to.be.closeTo(3 * HOUR, 60_000);
    await t.leave();
  });
});
