import { randomUUID } from 'node:crypto';
import type { EventEmitter } from 'node:events';
import { expect } from 'chai';
import { QueryTypes, type Transaction } from 'sequelize';
import type {
  BenchWire,
  ChangeNotice,
  Clock,
  JobWire,
  RecordWire,
  Shop,
} from '../../src/contract/wire.ts';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';
import { HOUR, MINUTE, PLAIN, START } from '../support/battery.ts';
import { TestBench } from '../support/bench.ts';

describe('the server', () => {
  let bench: TestBench;
  let modelId: string;
  let tagNumber = 100;
  const nextTag = () => `T-${(tagNumber += 1)}`;
  const takenIn = () => ({
    commandId: randomUUID(),
    by: 'ann',
    tag: nextTag(),
    modelId,
    dateCode: '2026-01',
    owner: 'Test',
    promisedAt: null as number | null,
  });

  before(async () => {
    bench = await TestBench.open({ waitsForDisk: true });
    modelId = await bench.addModel();
  });
  after(() => bench.close());

  it('is up, sound, in WAL mode with full sync', async () => {
    expect((await bench.get<{ ok: boolean }>('/api/health')).body.ok).to.equal(true);
    const [mode] = await bench.store.sequelize.query<{ journal_mode: string }>(
      'PRAGMA journal_mode',
      { type: QueryTypes.SELECT },
    );
    const [sync] = await bench.store.sequelize.query<{ synchronous: number }>(
      'PRAGMA synchronous',
      { type: QueryTypes.SELECT },
    );
    expect([mode?.journal_mode, sync?.synchronous]).to.deep.equal(['wal', 2]);
  });

  it('keeps full sync inside a transaction too', async () => {
    const sync = await bench.store.write(
      async (transaction) =>
        (
          await bench.store.sequelize.query<{ synchronous: number }>('PRAGMA synchronous', {
            type: QueryTypes.SELECT,
            transaction,
          })
        )[0]?.synchronous,
    );
    expect(sync).to.equal(2);
  });

  it('one connection serves one write after the other, after a failed one too; two at once have one each', async () => {
    const { store } = bench;
    const { settings } = store.tables;
    const used = (transaction: Transaction): unknown =>
      (transaction as unknown as { connection: unknown }).connection;
    const first = await store.write(async (t) => used(t));
    const failed = await store
      .write(async (transaction) => {
        await settings.create({ key: 'never', value: '1' }, { transaction });
        throw new Error('Half way');
      })
      .catch((error: Error) => error.message);
    expect(failed).to.equal('Half way');
    const third = await store.write(async (transaction) => {
      expect(await settings.findByPk('never', { transaction })).to.equal(null);
      return used(transaction);
    });
    expect(third).to.equal(first);
    const atOnce = await store.write(async (one) =>
      store.sequelize.transaction(async (two) => [used(one), used(two)]),
    );
    expect(atOnce[0]).to.equal(first);
    expect(atOnce[1]).not.to.equal(first);
    expect(await store.write(async (t) => used(t))).to.equal(atOnce[1]);
  });

  it('a read is one question to the file, and one that fails says where it was asked', async () => {
    const { store } = bench;
    const { people, settings } = store.tables;
    const asked = await store.write(async (transaction) => {
      await people.findAll({ transaction });
      const { connection } = transaction as unknown as { connection: EventEmitter };
      const said: string[] = [];
      const hear = (sql: string): void => void said.push(sql);
      connection.on('trace', hear);
      await people.findAll({ transaction });
      await settings.findByPk('never', { transaction, raw: true });
      // What is heard comes a moment after the answer.
      await store.sequelize.query('SELECT 1', { transaction });
      connection.off('trace', hear);
      return said.filter((sql) => sql !== 'SELECT 1');
    });
    expect(asked.map((sql) => /FROM `(\w+)`/.exec(sql)?.[1])).to.deep.equal(['people', 'settings']);
    const failed = await people.create({ id: 'ann' } as never).catch((error: Error) => error);
    expect((failed as Error).stack)
      .to.contain('SequelizeUniqueConstraintError')
      .and.contain('api.test.ts');
    const refused = await store.sequelize.query('SELECT 1 FROM nowhere').catch((e: Error) => e);
    expect((refused as Error).stack).to.match(/^SequelizeDatabaseError: .*no such table: nowhere/);
    expect((refused as Error).stack).to.contain('api.test.ts');
  });

  describe('taking in', () => {
    it('opens a job with its plan and says which tag comes next', async () => {
      const body = takenIn();
      const { status, body: answer } = await bench.post<{ jobId: string; tag: string }>(
        '/api/batteries',
        body,
      );
      expect(status).to.equal(201);
      const { body: record } = await bench.get<RecordWire>(`/api/batteries/${answer.tag}`);
      expect(record.jobs[0]?.plan.figures.fillMl?.value).to.equal(660);
      expect(record.events[0]?.event).to.deep.include({ type: 'battery.taken-in', tag: body.tag });
      expect((await bench.get<{ tag: string }>('/api/tags/next')).body.tag).to.equal(
        `T-${tagNumber + 1}`,
      );
    });

    it('writes once however often it is sent', async () => {
      const body = takenIn();
      const first = await bench.post<{ jobId: string }>('/api/batteries', body);
      const counts = await bench.rowCounts();
      const again = await bench.post<{ jobId: string }>('/api/batteries', body);
      expect(again.body.jobId).to.equal(first.body.jobId);
      expect(await bench.rowCounts()).to.deep.equal(counts);
      const other = await bench.post('/api/batteries', { ...body, owner: 'Somebody else' });
      expect([other.status, other.body.error.code]).to.deep.equal([409, 'conflict']);
    });

    it('keeps the plan it began with when the house rules change', async () => {
      const jobId = await bench.takeIn(modelId, nextTag());
      const rules = { ...DEFAULT_RULES, schools: { ...DEFAULT_RULES.schools, passLine: 'strict' } };
      const version = async () => (await bench.get<Shop>('/api/shop')).body.rulesVersion;
      const change = async (by: string) =>
        bench.ask('PUT', '/api/shop/rules', {
          commandId: randomUUID(),
          by,
          version: await version(),
          rules,
        });
      expect((await change('ann')).status).to.equal(403);
      expect((await change('lea')).status).to.equal(200);
      const later = await bench.takeIn(modelId, nextTag());
      const passOf = async (id: string) =>
        (
          await bench.get<{
            job: { plan: { figures: { passV: { value: number; origin: string } } } };
          }>(`/api/jobs/${id}`)
        ).body.job.plan.figures.passV;
      expect(await passOf(jobId)).to.include({ value: 12.6, origin: 'default' });
      expect(await passOf(later)).to.include({ value: 12.8, origin: 'house' });
      await bench.ask('PUT', '/api/shop/rules', {
        commandId: randomUUID(),
        by: 'lea',
        version: await version(),
        rules: DEFAULT_RULES,
      });
    });
  });

  describe('bad input', () => {
    const bodies: [
      string,
      (b: ReturnType<typeof takenIn>) => Record<string, unknown>,
      number,
      string,
    ][] = [
      ['a missing field', ({ owner: _, ...b }) => b, 400, 'owner'],
      ['an unknown key', (b) => ({ ...b, colour: 'red' }), 400, 'colour'],
      ['markup in a name', (b) => ({ ...b, owner: '<img src=x>' }), 400, 'owner'],
      ['a formula in a name', (b) => ({ ...b, owner: '=HYPERLINK("x")' }), 400, 'owner'],
      ['a formula in a date code', (b) => ({ ...b, dateCode: '@SUM(1)' }), 400, 'dateCode'],
      ['a tag that is none', (b) => ({ ...b, tag: 'cork' }), 400, 'tag'],
      ['an id that is none', (b) => ({ ...b, modelId: '1 OR 1=1' }), 400, 'modelId'],
      ['an unknown model', (b) => ({ ...b, modelId: randomUUID() }), 422, 'modelId'],
      ['a promise in the past', (b) => ({ ...b, promisedAt: START - HOUR }), 422, 'promisedAt'],
      ['a promise in words', (b) => ({ ...b, promisedAt: 'soon' }), 400, 'promisedAt'],
      ['nobody to sign', (b) => ({ ...b, by: 'nobody' }), 422, 'by'],
      ['a name without end', (b) => ({ ...b, owner: 'x'.repeat(61) }), 400, 'owner'],
      ['a command id that is none', (b) => ({ ...b, commandId: 'again' }), 400, 'commandId'],
    ];
    for (const [what, change, status, field] of bodies) {
      it(`turns ${what} away, names the field and leaves nothing`, async () => {
        const counts = await bench.rowCounts();
        const answer = await bench.post('/api/batteries', change(takenIn()));
        expect(answer.status).to.equal(status);
        expect(Object.keys(answer.body.error.fields)).to.include(field);
        expect(answer.body.error.message).to.not.equal('');
        expect(await bench.rowCounts()).to.deep.equal(counts);
      });
    }

    it('turns a duplicate tag away', async () => {
      const body = takenIn();
      await bench.post('/api/batteries', body);
      const again = await bench.post('/api/batteries', { ...body, commandId: randomUUID() });
      expect([again.status, again.body.error.fields['tag']]).to.deep.equal([
        409,
        `${body.tag} is on another battery.`,
      ]);
    });

    it('turns lithium and contradictory models away', async () => {
      const add = (model: object) =>
        bench.post('/api/models', {
          commandId: randomUUID(),
          by: 'ann',
          model: { ...PLAIN, code: `M-${randomUUID().slice(0, 4)}`, ...model },
        });
      const lithium = await add({ kind: 'lithium' });
      expect([
        lithium.status,
        lithium.body.error.fields['kind']?.includes('not lead-acid'),
      ]).to.deep.equal([422, true]);
      expect((await add({ cells: 3 })).body.error.fields).to.have.property('cells');
      expect((await add({ c20Ah: -5 })).body.error.fields).to.have.property('model.c20Ah');
      expect((await add({ c20Ah: 1e9 })).status).to.equal(400);
      expect((await add({ c20Ah: '12' })).status).to.equal(400);
      expect((await add({ code: 'T-12' })).status).to.equal(409);
    });

    it('turns away what is too large, not JSON, or at no address', async () => {
      expect(
        (await bench.post('/api/batteries', { ...takenIn(), owner: 'x'.repeat(100_000) })).status,
      ).to.equal(413);
      expect((await bench.post('/api/batteries', '{"tag": ')).status).to.equal(400);
      expect(
        (await bench.get<{ error: { code: string } }>('/api/nothing')).body.error.code,
      ).to.equal('not-found');
      expect((await bench.get('/api/jobs/not-an-id')).status).to.equal(400);
      expect((await bench.get(`/api/jobs/${randomUUID()}`)).status).to.equal(404);
      expect((await bench.get('/api/batteries/T-99999')).status).to.equal(404);
      expect((await bench.get('/api/batteries?limit=100000')).status).to.equal(400);
    });

    it('turns away writes that another site makes a browser send, and names that point here', async () => {
      expect(
        (await bench.post('/api/batteries', takenIn(), { Origin: 'http://elsewhere.example' }))
          .status,
      ).to.equal(403);
      expect(
        (await bench.post('/api/batteries', takenIn(), { Origin: 'null' })).status,
      ).to.be.within(400, 499);
    });
  });

  describe('a job', () => {
    it('refuses steps out of order, values out of reason, and times to come, and leaves nothing', async () => {
      const jobId = await bench.takeIn(modelId, nextTag());
      const counts = await bench.rowCounts();
      const cases: [Record<string, unknown>, number, string][] = [
        [{ type: 'giveVerdict', stepId: 'verdict' }, 409, 'stepId'],
        [{ type: 'handOver', stepId: 'handover', destination: 'shelf' }, 409, 'stepId'],
        [{ type: 'dance' }, 400, 'command.type'],
        [{ type: 'acknowledge' }, 400, 'command.stepId'],
        [{ type: 'acknowledge', stepId: 'safe', extra: 1 }, 400, 'command.extra'],
        [
          { type: 'answerChecks', stepId: 'identify', answers: { label: 'yes' } },
          400,
          'command.answers.label',
        ],
        [
          { type: 'read', role: 'spot', values: { voltageV: 'much' } },
          400,
          'command.values.voltageV',
        ],
        [
          { type: 'read', role: 'spot', values: { voltageV: 12.5 }, takenAt: START + HOUR },
          422,
          'takenAt',
        ],
        [{ type: 'read', role: 'spot', values: { voltageV: 700 } }, 422, 'voltageV'],
        [{ type: 'read', role: 'spot', values: { voltageV: 3 } }, 422, 'voltageV'],
        [{ type: 'note', text: '' }, 400, 'command.text'],
        [{ type: 'cutWait', stepId: 'soak', reason: ' ' }, 400, 'command.reason'],
      ];
      for (const [command, status, field] of cases) {
        const answer = await bench.send(jobId, command);
        expect([JSON.stringify(command), answer.status]).to.deep.equal([
          JSON.stringify(command),
          status,
        ]);
        expect(Object.keys(answer.body.error.fields)).to.include(field);
      }
      expect(await bench.rowCounts()).to.deep.equal(counts);
    });

    it('asks once about an unlikely value', async () => {
      const jobId = await bench.takeIn(modelId, nextTag());
      const command = { type: 'read', role: 'spot', values: { voltageV: 3.2 } };
      expect((await bench.send(jobId, command)).body.error.code).to.equal('ask');
      const sure = await bench.send(jobId, { ...command, sure: true });
      expect(sure.body.job.state.readings[0]?.marks).to.deep.equal(['confirmed']);
    });

    it('ends a wait at its own moment when the next command comes later, and logs it so', async () => {
      const tag = nextTag();
      const jobId = await bench.takeIn(modelId, tag);
      for (const command of [
        {
          type: 'answerChecks',
          stepId: 'identify',
          answers: { label: true, case: true, posts: true },
        },
        { type: 'answerChecks', stepId: 'foil', answers: { foil: true } },
        { type: 'matchPack', stepId: 'pack', code: 'E-66', lot: 'L1' },
        { type: 'acknowledge', stepId: 'safe' },
        { type: 'confirmDone', stepId: 'fill', temperatureC: 21 },
        { type: 'answerPorts', stepId: 'bubbles', ports: Array(6).fill('bubbling') },
      ])
        expect((await bench.send(jobId, command)).status, JSON.stringify(command)).to.equal(200);
      const due = bench.now + 30 * MINUTE;
      bench.now += 50 * MINUTE;
      await bench.send(jobId, {
        type: 'answerPorts',
        stepId: 'lift',
        ports: Array(6).fill('empty'),
      });
      const { body } = await bench.get<RecordWire>(`/api/batteries/${tag}`);
      expect(body.events.find((e) => e.by === 'clock')?.at).to.equal(due);
      expect(body.jobs[0]?.state.current?.stepId).to.equal('soak');
      bench.now = START;
    });

    it('gives each charging place to one battery at a time', async () => {
      const start = async () => {
        const jobId = await bench.takeIn(modelId, nextTag());
        const { body } = await bench.get<{ job: JobWire }>(`/api/jobs/${jobId}`);
        const state = {
          ...body.job.state,
          current: {
            stepId: 'charge',
            attempt: 1,
            startedAt: START,
            dueAt: null,
            endedAt: null,
            by: null,
            end: null,
            result: null,
          },
        };
        await bench.store.tables.jobs.update({ state: state as never }, { where: { id: jobId } });
        return bench.send(jobId, {
          type: 'startCharge',
          stepId: 'charge',
          place: 4,
          setA: 1.2,
          setV: 14.7,
        });
      };
      expect((await start()).status).to.equal(200);
      const second = await start();
      expect([second.status, second.body.error.message]).to.deep.equal([422, 'Place 4 is taken.']);
    });

    it('takes many readings at once without losing or doubling any', async () => {
      const jobId = await bench.takeIn(modelId, nextTag());
      const ids = Array.from({ length: 40 }, () => randomUUID());
      const read = (id: string, i: number) =>
        bench.send(
          jobId,
          { type: 'read', role: 'spot', values: { voltageV: 12 + i / 100 } },
          'ann',
          id,
        );
      const answers = await Promise.all([...ids.map(read), ...ids.map(read)]);
      expect(answers.map((a) => a.status)).to.deep.equal(Array(80).fill(200));
      const kept = await bench.store.tables.readings.findAll({ where: { jobId }, raw: true });
      expect(kept.map((r) => r.id).sort()).to.deep.equal(ids.toSorted());
    });
  });

  describe('what it shows', () => {
    it('never lets an event or a reading be changed or taken out', async () => {
      for (const table of ['events', 'readings']) {
        for (const sql of [`UPDATE ${table} SET at = 0`, `DELETE FROM ${table}`]) {
          const error = await bench.store.sequelize.query(sql).then(
            () => null,
            (e: Error & { parent?: Error }) => e.parent ?? e,
          );
          expect(error?.message).to.include('append-only');
        }
      }
    });

    it('shows the bench: what is in process and what ended within a day', async () => {
      const { body } = await bench.get<BenchWire>('/api/bench');
      expect(body.jobs.length).to.be.greaterThan(3);
      expect(Object.keys(body.procedures)).to.include(body.jobs[0]?.procedureId);
      bench.now = START + 40 * HOUR;
      const refused = await bench.takeIn(modelId, nextTag());
      await bench.send(refused, {
        type: 'answerChecks',
        stepId: 'identify',
        answers: { case: false },
      });
      expect((await bench.get<BenchWire>('/api/bench')).body.jobs.map((j) => j.id)).to.include(
        refused,
      );
      bench.now += 25 * HOUR;
      expect((await bench.get<BenchWire>('/api/bench')).body.jobs.map((j) => j.id)).to.not.include(
        refused,
      );
    });

    it('finds by tag, owner and model, and takes wildcards for letters', async () => {
      const find = async (q: string) =>
        (
          await bench.get<{ total: number; batteries: { tag: string }[] }>(
            `/api/batteries?q=${encodeURIComponent(q)}`,
          )
        ).body;
      expect((await find('T-101')).batteries.map((b) => b.tag)).to.deep.equal(['T-101']);
      expect((await find('Plain 12')).total).to.be.greaterThan(5);
      expect((await find('no such owner')).total).to.equal(0);
      expect((await find("'; DROP TABLE batteries; --")).total).to.equal(0);
    });

    it('prints sheet and tag', async () => {
      const { body } = await bench.get<BenchWire>('/api/bench');
      const job = body.jobs[0];
      const pdf = async (path: string) =>
        Buffer.from(await (await fetch(bench.url + path)).arrayBuffer());
      expect((await pdf(`/api/jobs/${job?.id}/sheet.pdf`)).subarray(0, 5).toString()).to.equal(
        '%PDF-',
      );
      expect((await pdf(`/api/batteries/${job?.battery.tag}/tag.pdf`)).length).to.be.greaterThan(
        2000,
      );
      const svg = await bench.get<unknown>(`/api/batteries/${job?.battery.tag}/tag.svg`);
      expect(svg.status).to.equal(200);
    });

    it('describes itself from the schemas it checks with', async () => {
      const { body } = await bench.get<{
        openapi: string;
        paths: Record<
          string,
          Record<
            string,
            { requestBody?: { content: Record<string, { schema: { required: string[] } }> } }
          >
        >;
      }>('/api/openapi.json');
      expect(body.openapi).to.equal('3.1.0');
      expect(
        body.paths['/api/batteries']?.['post']?.requestBody?.content['application/json']?.schema
          .required,
      ).to.include.members(['tag', 'dateCode', 'owner']);
      expect(body.paths).to.have.property('/api/jobs/{id}/commands');
    });
  });

  it('runs its demo clock at the three speeds and no other', async () => {
    expect((await bench.ask<Clock>('PUT', '/api/clock', { rate: 600 })).body.rate).to.equal(600);
    expect((await bench.ask('PUT', '/api/clock', { rate: 7 })).status).to.equal(400);
  });

  it('tells open pages what changed, after it is on the disk', async () => {
    const stop = new AbortController();
    const stream = await fetch(`${bench.url}/api/stream`, { signal: stop.signal });
    const reader = stream.body?.getReader();
    const jobId = await bench.takeIn(modelId, nextTag());
    await bench.send(jobId, { type: 'note', text: 'Seen' });
    let heard = '';
    while (!heard.includes(jobId))
      heard += Buffer.from((await reader?.read())?.value ?? []).toString();
    stop.abort();
    expect(heard).to.include('"topic":"bench"');
  });

  it('tells whoever begins to listen, or does again, what has changed since; or that it cannot say', async () => {
    /** What a line says at its beginning. */
    const begun = async (query: string, headers: Record<string, string> = {}) => {
      const stop = new AbortController();
      const { body } = await fetch(`${bench.url}/api/stream${query}`, {
        signal: stop.signal,
        headers,
      });
      const reader = body!.getReader();
      let said = '';
      // It ends with where it stands, and nothing to that.
      while (!/id: \S+\n\n$/.test(said))
        said += Buffer.from((await reader.read()).value ?? []).toString();
      stop.abort();
      const notices = [...said.matchAll(/^data: (.*)$/gm)].map(
        ([, json]) => JSON.parse(json!) as ChangeNotice,
      );
      return { notices, at: /id: (\S+)\n\n$/.exec(said)![1]! };
    };
    const latest = async () => (await fetch(`${bench.url}/api/shop`)).headers.get('Last-Change')!;
    const before = await latest();
    expect((await begun(`?since=${before}`)).notices).to.deep.equal([]);

    const tag = nextTag();
    const jobId = await bench.takeIn(modelId, tag);
    await bench.send(jobId, { type: 'note', text: 'Seen' });
    const { notices, at } = await begun(`?since=${before}`);
    expect(notices.map(({ topic }) => topic))
      .to.include('bench')
      .and.not.include('anew');
    expect(notices.find((n) => n.jobId === jobId)).to.have.property('seq');
    expect(at)
      .to.equal(await latest())
      .and.not.equal(before);
    // A line that opens again says itself what it heard last, whatever its address says.
    expect((await begun(`?since=${before}`, { 'Last-Event-ID': at })).notices).to.deep.equal([]);
    expect((await begun('')).notices).to.deep.equal([]);

    // The same thing is told once, however often it changed.
    for (let i = 0; i < 30; i++) bench.advance(0);
    expect((await begun(`?since=${at}`)).notices).to.deep.equal([{ topic: 'clock' }]);

    // Another start of the server, a page kept from another day, nonsense, and more than is kept.
    for (const unknown of ['another.3', 'kept', `${at}9`, at.replace(/\d+$/, '-1'), '.'])
      expect((await begun(`?since=${unknown}`)).notices, unknown).to.deep.equal([
        { topic: 'anew' },
      ]);
    const then = await latest();
    for (let i = 0; i < 21; i++) await bench.takeIn(modelId, nextTag());
    expect((await begun(`?since=${then}`)).notices, 'many things').to.deep.equal([
      { topic: 'anew' },
    ]);
    for (let i = 0; i < 1001; i++) bench.advance(0);
    expect((await begun(`?since=${at}`)).notices, 'long ago').to.deep.equal([{ topic: 'anew' }]);
    expect((await begun(`?since=${await latest()}`)).notices).to.deep.equal([]);
  });

  it('begins a new shop with its lead, who alone adds the others', async () => {
    const empty = await TestBench.empty();
    const add = (by: string | null, person: object) =>
      empty.post<{ id: string; error: { code: string } }>('/api/people', {
        commandId: randomUUID(),
        by,
        person,
      });
    expect((await add(null, { name: 'Tech', initials: 'T', role: 'technician' })).status).to.equal(
      422,
    );
    const lead = await add(null, { name: 'Lead', initials: 'L', role: 'lead' });
    expect(lead.status).to.equal(201);
    expect((await add(null, { name: 'Second', initials: 'S', role: 'lead' })).status).to.equal(403);
    expect(
      (await add(lead.body.id, { name: 'Second', initials: 'L', role: 'technician' })).status,
    ).to.equal(409);
    expect(
      (await add(lead.body.id, { name: 'Second', initials: 'S', role: 'technician' })).status,
    ).to.equal(201);
    await empty.close();
  });
});
