import { randomUUID } from 'node:crypto';
import { expect } from 'chai';
import ICAL from 'ical.js';
import { extractText } from 'unpdf';
import { ENDPOINTS } from '../../src/contract/endpoints.ts';
import { schemaReader } from '../support/published.ts';
import type { ChargeWire } from '../../src/contract/chargeWire.ts';
import type { BenchWire, RecordWire } from '../../src/contract/wire.ts';
import { readChargeLog } from '../../src/core/exchange/chargeLog.ts';
import { parseTable } from '../../src/contract/parseTable.ts';
import { BY_KIND, PLAIN } from '../support/battery.ts';
import { feedFile } from '../../src/server/resources/calendar/feedFile.ts';
import { TestBench } from '../support/bench.ts';

describe('what goes out', () => {
  let bench: TestBench;
  before(async () => void (bench = await TestBench.demo()));
  after(() => bench.close());

  it('is every battery of the shop by its published schema, as a reader of schemas reads it', async () => {
    const { body: schema } = await bench.get<{ $schema: string; properties: object }>(
      '/api/schemas/battery.json',
    );
    expect(schema.$schema).to.equal('https://json-schema.org/draft/2020-12/schema');
    const validate = schemaReader().compile(schema);
    const { body: found } = await bench.get<{ batteries: { tag: string }[] }>(
      '/api/batteries?limit=200',
    );
    expect(found.batteries.length).to.be.greaterThan(80);
    const outcomes = new Set<unknown>();
    for (const { tag } of found.batteries) {
      const { body } = await bench.get<{
        jobs: { figures: Record<string, object>; outcome: unknown }[];
      }>(`/api/batteries/${tag}/export.json`);
      expect(validate(body), `${tag}: ${JSON.stringify(validate.errors)}`).to.equal(true);
      for (const job of body.jobs) {
        expect(Object.keys(job.figures).length, tag).to.be.greaterThan(3);
        outcomes.add(job.outcome);
      }
    }
    expect([...outcomes]).to.include.members([null, 'passed', 'claim', 'recycle']);
    // And it says no: a schema that takes everything would have passed all of them.
    const { body: one } = await bench.get<{ battery: object; jobs: object[] }>(
      '/api/batteries/LK-0409/export.json',
    );
    for (const wrong of [
      { ...one, colour: 'red' },
      { ...one, battery: { ...one.battery, promisedAt: 'soon' } },
      {
        ...one,
        jobs: [
          {
            ...one.jobs[0],
            figures: {
              chargeA: { label: 'Charge current', value: 'much', unit: 'A', origin: 'default' },
            },
          },
        ],
      },
    ])
      expect(validate(wrong)).to.equal(false);
  });

  it('is described whole: every operation says what it answers, and every schema can be compiled', async () => {
    type Operation = {
      operationId: string;
      responses: Record<string, { content: Record<string, { schema: Record<string, unknown> }> }>;
    };
    const { body } = await bench.get<{
      paths: Record<string, Record<string, Operation>>;
      components: { schemas: Record<string, object> };
    }>('/api/openapi.json');
    const reader = schemaReader();
    reader.addSchema(body, 'document');
    for (const name of Object.keys(body.components.schemas)) {
      expect(name).to.match(/^[A-Za-z0-9._-]+$/);
      expect(reader.getSchema(`document#/components/schemas/${name}`), name).to.be.a('function');
    }
    const operations = Object.values(body.paths).flatMap((path) => Object.values(path));
    expect(operations.length).to.equal(Object.keys(ENDPOINTS).length);
    for (const { operationId, responses } of operations) {
      const content = Object.entries(responses).flatMap(([status, r]) =>
        status === '4XX' ? [] : Object.entries(r.content),
      );
      expect(content, operationId).to.have.length(1);
      const [type, { schema }] = content[0]!;
      expect(Object.keys(schema).length, operationId).to.be.greaterThan(0);
      // What answers in JSON says which, but for the two documents that are schemas themselves.
      if (type === 'application/json' && !['openapi', 'exportBattery'].includes(operationId))
        expect(schema, operationId).to.satisfy(
          (s: object) => 'properties' in s || '$ref' in s || 'items' in s,
        );
    }
  });

  it('is its readings as a table, cells and corrections with them', async () => {
    const { body } = await bench.get<string>('/api/batteries/LK-0409/readings.csv');
    const { headings, rows } = parseTable(new TextEncoder().encode(body), 100);
    expect(headings).to.include.members(['Voltage / V', 'Surface Temperature T1 / degC', 'Remark']);
    expect(rows.map((r) => r[headings.indexOf('Remark')])).to.include.members([
      'corrected',
      'correction',
    ]);
  });
  it('is a live charge in the columns of the Battery Data Format, and comes in again as a log', async () => {
    const { body: bench2 } = await bench.get<BenchWire>('/api/bench');
    const live = bench2.jobs.find((j) => j.battery.tag === 'LK-0403');
    const id = live?.state.charge?.live?.chargeId ?? '';
    const { body } = await bench.get<string>(`/api/charges/${id}/samples.csv`);
    const { headings, rows } = parseTable(new TextEncoder().encode(body), 100_000);
    expect(headings).to.deep.equal([
      'Test Time / s',
      'Voltage / V',
      'Current / A',
      'Surface Temperature T1 / degC',
    ]);
    const log = readChargeLog(
      rows,
      {
        time: { column: 0, unit: 's' },
        voltage: { column: 1, unit: 'V' },
        current: { column: 2, unit: 'A', reversed: false },
        temperature: { column: 3, unit: 'C' },
      },
      { timeZone: 'Europe/London' },
    );
    const { body: charge } = await bench.get<ChargeWire>(`/api/charges/${id}`);
    expect(log.ahIn).to.be.closeTo(charge.run.ahIn, 0.05 * charge.run.ahIn);
    const kept = await bench.post<{ id: string }>('/api/batteries/LK-0219/logs', {
      commandId: randomUUID(),
      by: 'ilse',
      name: 'rack.csv',
      log,
    });
    expect(kept.status).to.equal(201);
    const { body: record } = await bench.get<RecordWire>('/api/batteries/LK-0219');
    expect(record.logs[0]?.log.ahIn).to.be.closeTo(log.ahIn, 1e-9);
    // No row of it says when that was, and nobody knew: when it came is not when it began.
    expect(record.logs[0]?.log.startedAt).to.equal(null);
    expect(record.logs[0]?.addedAt).to.equal(bench.now);
    expect(
      (await bench.get<string>(`/api/logs/${kept.body.id}/samples.csv`)).body.split('\r\n').length,
    ).to.equal(log.seconds.length + 2);
  });
  it('papers say their language and title, and are told in structure: headings, tables, pictures with words', async () => {
    const jobs = await bench.jobPaths();
    for (const [path, parts] of [
      [
        `/api${jobs('LK-0409')}/sheet.pdf`,
        ['Document', 'H1', 'H2', 'Table', 'TR', 'TH', 'TD', 'Figure'],
      ],
      ['/api/batteries/LK-0409/tag.pdf', ['H1', 'Figure']],
      ['/api/shelf/list.pdf', ['H1', 'Table', 'TR', 'TD']],
      ['/api/tags/sheet.pdf?tags=LK-0409,LK-0410&code=qr', ['H2', 'Figure']],
    ] as const) {
      const pdf = Buffer.from(await (await fetch(bench.url + path)).arrayBuffer()).toString(
        'latin1',
      );
      expect(pdf, path)
        .to.include('/Lang (en-GB)')
        .and.include('/StructTreeRoot')
        .and.match(/\/Marked true/);
      expect(pdf, path).to.match(/\/DisplayDocTitle true/);
      for (const part of parts)
        expect(pdf.includes(`/S /${part}\n`), `${part} in ${path}`).to.equal(true);
      // Code 128 and QR say in words what they hold.
      if (parts.some((part) => part === 'Figure'))
        expect(pdf, path).to.match(/\/Alt \((Code 128|QR): LK-0409\)/);
    }
  });
  it('prints every letter there is, as a reader of papers reads it', async () => {
    const printed = async (path: string, at = bench): Promise<string> => {
      const file = await fetch(at.url + path);
      expect(file.headers.get('content-type'), path).to.equal('application/pdf');
      const { text } = await extractText(new Uint8Array(await file.arrayBuffer()), {
        mergePages: true,
      });
      return text.replaceAll(/\s+/g, ' ');
    };
    // A unit, on the sheet of a battery whose resistance was measured.
    const jobs = await bench.jobPaths();
    expect(await printed(`/api${jobs('LK-0399')}/sheet.pdf`)).to.match(
      /Resistance by load step \d+\.\d mΩ before, \d+\.\d mΩ after/,
    );
    // Names of three alphabets, right-aligned, wrapped and cut short.
    const owner = 'Żółć Łukasz, Борис Ψαράς, čerň & Søn: H₂SO₄ → 2 ≈ ½';
    const other = await TestBench.open();
    const jobId = await other.takeIn(await other.addModel(), 'LK-7001', null, owner);
    expect(await printed(`/api/jobs/${jobId}/sheet.pdf`, other)).to.include(`For ${owner} ·`);
    // Accents typed by themselves, as some systems keep them in the names of files.
    const apart = 'Ilse Mořská, Zürich'.normalize('NFD');
    const another = await other.takeIn(
      await other.addModel({ code: 'AP-1' }),
      'LK-7002',
      null,
      apart,
    );
    expect(await printed(`/api/jobs/${another}/sheet.pdf`, other)).to.include(
      'For Ilse Mořská, Zürich ·',
    );
    expect(await printed('/api/batteries/LK-7001/tag.pdf', other)).to.match(/Żółć Łukasz, Бор.*…/);
    await other.close();
  });
  it('keeps a calendar’s words whole, whatever letters they have', () => {
    const name = 'Lake; ice, and “Föhn” \\ Sons: to do';
    const summary = 'Ölstand 🔋, prüfen; dann melden. '.repeat(12).trim();
    const file = feedFile({ name }, [{ id: 'one', start: new Date(0), summary }]);
    for (const line of file.split('\r\n')) expect(Buffer.byteLength(line), line).to.be.at.most(75);
    const read = new ICAL.Component(ICAL.parse(file) as never);
    // Both are texts (RFC 7986, 5.1); this reader does not know them, and hands them on as they stand.
    for (const property of ['name', 'x-wr-calname'])
      expect(read.getFirstPropertyValue(property)).to.equal(
        String.raw`Lake\; ice\, and “Föhn” \\ Sons: to do`,
      );
    expect(new ICAL.Event(read.getFirstSubcomponent('vevent')!).summary).to.equal(summary);
  });
  it('is what is due, as a calendar can read it', async () => {
    const { body } = await bench.post<{ path: string }>('/api/calendar/address', {
      commandId: randomUUID(),
      by: 'ilse',
      renew: false,
    });
    const { body: feed } = await bench.get<string>(body.path);
    expect(feed).to.match(/^BEGIN:VCALENDAR\r\n/);
    expect(feed).to.match(/SUMMARY:LK-04\d\d: /);
    // Lines longer than 75 octets are folded (RFC 5545, 3.1).
    for (const line of feed.split('\r\n')) expect(Buffer.byteLength(line), line).to.be.at.most(75);
    // Read by somebody else's reader, not by what wrote it.
    const events = new ICAL.Component(ICAL.parse(feed) as never)
      .getAllSubcomponents('vevent')
      .map((v) => new ICAL.Event(v));
    expect(events.length).to.be.greaterThan(15);
    expect(new Set(events.map((e) => e.uid)).size).to.equal(events.length);
    for (const { component, summary } of events) {
      const url = String(component.getFirstPropertyValue('url'));
      expect(url, summary).to.match(
        new RegExp(`^${bench.url}/(jobs/[0-9a-f-]{36}|shelf(/round)?)$`),
      );
      if (url.includes('/jobs/'))
        expect((await bench.get(`/api${url.slice(bench.url.length)}`)).status, summary).to.equal(
          200,
        );
      const alarm = component.getFirstSubcomponent('valarm');
      expect(
        [alarm?.getFirstPropertyValue('action'), alarm?.getFirstPropertyValue('description')],
        summary,
      ).to.deep.equal(['DISPLAY', summary]);
      expect(alarm?.getFirstPropertyValue('trigger')).to.be.instanceOf(ICAL.Duration);
    }
    const promise = events.find((e) => e.summary.includes('promised to'))!;
    expect(
      promise.component
        .getFirstSubcomponent('valarm')
        ?.getFirstPropertyValue('trigger')
        ?.toString(),
    ).to.equal('-PT2H');
    // The shelf is one event a day, on the shop's own date.
    const shelf = events.filter((e) => e.summary.startsWith('Shelf: '));
    expect(shelf.length).to.be.greaterThan(1);
    for (const e of shelf)
      expect([e.startDate.isDate, e.startDate.toString()]).to.deep.equal([
        true,
        e.uid.replace(/^shelf-(read|recharge)-/, ''),
      ]);
    expect(
      shelf.some((e) => e.summary.includes('recharge') && /LK-\d{4}/.test(e.description)),
    ).to.equal(true);
  });
});

describe('what comes in', () => {
  let bench: TestBench;
  const signed = () => ({ commandId: randomUUID(), by: 'lea' });
  const battery = (tag: string, change: object = {}) => ({
    tag,
    modelCode: 'T-12',
    dateCode: '2026-01',
    owner: 'Shelf',
    restV: 12.8,
    readAt: null,
    chargedAt: null,
    ...change,
  });
  const bring = (batteries: object[]) =>
    bench.post<{ added: number; error: { fields: Record<string, string>; message: string } }>(
      '/api/import/batteries',
      { ...signed(), batteries },
    );

  before(async () => {
    bench = await TestBench.open();
    await bench.post('/api/import/models', { ...signed(), models: [PLAIN, BY_KIND.gel] });
  });
  after(() => bench.close());

  it('is many models, or none of them with a fault for each row', async () => {
    const before = await bench.rowCounts();
    const bad = await bench.post('/api/import/models', {
      ...signed(),
      models: [
        { ...PLAIN, code: 'N-1' },
        { ...PLAIN, code: 'N-2', cells: 3 },
        PLAIN,
        { ...PLAIN, code: 'N-1' },
      ],
    });
    expect(bad.status).to.equal(422);
    expect(Object.keys(bad.body.error.fields)).to.deep.equal(['1', '2', '3']);
    expect(await bench.rowCounts()).to.deep.equal(before);
    expect(
      (
        await bench.post('/api/import/models', {
          ...signed(),
          models: [{ ...PLAIN, code: 'N-3', kind: 'lithium' }],
        })
      ).body.error.fields['0'],
    ).to.include('not lead-acid');
  });
  it('is many batteries, or none of them, whatever is wrong with one', async () => {
    const before = await bench.rowCounts();
    const { status, body } = await bring([
      battery('I-001'),
      battery('I-002', { modelCode: 'none' }),
      battery('I-003', { restV: 8 }),
      battery('I-004', { restV: null, chargedAt: bench.now - 1000 }),
      battery('I-005', { readAt: bench.now + 86_400_000 }),
      battery('I-006', { readAt: bench.now - 2000, chargedAt: bench.now - 1000 }),
    ]);
    expect(status).to.equal(422);
    expect(Object.keys(body.error.fields)).to.deep.equal(['1', '2', '3', '4', '5']);
    expect(body.error.message).to.include('Nothing was imported');
    expect(await bench.rowCounts()).to.deep.equal(before);
    expect((await bring([battery('I-001'), battery('I-001')])).status).to.equal(400);
    expect((await bring([battery('I-001', { owner: '=1+1' })])).status).to.equal(400);
    expect((await bring([battery('I-001')])).body.added).to.equal(1);
    expect((await bring([battery('I-001')])).status).to.equal(422);
  });
  it('is bounded: two thousand rows at once, and no more', async () => {
    const many = Array.from({ length: 2000 }, (_, i) =>
      battery(`M-${String(i + 1000)}`, { restV: i % 2 ? 12.7 : null }),
    );
    const began = performance.now();
    expect((await bring(many)).body.added).to.equal(2000);
    expect(performance.now() - began).to.be.below(5000);
    expect((await bring([...many, battery('M-9001')])).status).to.equal(413);
  });
  it('is a log only with columns of one length and time that runs forwards', async () => {
    const log = {
      seconds: [0, 60, 120],
      voltageV: [12, 13, 14],
      currentA: [1, 1, 1],
      temperatureC: null,
      rows: 3,
      leftOut: [],
      leftOutCount: 0,
      gaps: [],
      startedAt: null,
      ahIn: 0.03,
      ahOut: 0,
      notices: [],
    };
    const keep = (change: object) =>
      bench.post('/api/batteries/I-001/logs', {
        ...signed(),
        name: 'meter.csv',
        log: { ...log, ...change },
      });
    expect((await keep({})).status).to.equal(201);
    expect((await keep({ voltageV: [12] })).status).to.equal(422);
    expect((await keep({ seconds: [0, 60, 60] })).status).to.equal(422);
    expect((await keep({ gaps: 'none' })).status).to.equal(400);
  });
});
