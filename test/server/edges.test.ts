import { spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { expect } from 'chai';
import fc from 'fast-check';
import { ENDPOINTS } from '../../src/contract/endpoints.ts';
import { commandSchemas } from '../../src/contract/commandSchemas.ts';
import { openStore } from '../../src/server/store/store.ts';
import { TestBench } from '../support/bench.ts';

describe('the edges of the server', () => {
  let bench: TestBench;
  let jobId: string;
  before(async () => {
    bench = await TestBench.open();
    jobId = await bench.takeIn(await bench.addModel(), 'T-100');
  });
  after(() => bench.close());

  /** Nothing here is charged on an instrument, brought in, on a tray, or in a set, claimed or photographed; a sheet of tags wants tags; signing out wants nothing. */
  const ANSWERS: Readonly<Record<string, number>> = {
    charge: 404,
    samplesCsv: 404,
    logCsv: 404,
    trayPdf: 404,
    setPdf: 404,
    tagSheetPdf: 400,
    picture: 400,
    claimPdf: 404,
    signOut: 200,
  };

  it('answer every address they list, and list every one in the document', async () => {
    const { body } = await bench.get<{
      paths: Record<string, object>;
      components: { schemas: object };
    }>('/api/openapi.json');
    for (const [name, endpoint] of Object.entries(ENDPOINTS)) {
      expect(body.paths[endpoint.path.replaceAll(/:(\w+)/g, '{$1}')], name).to.have.property(
        endpoint.method,
      );
      if (name === 'stream') continue;
      const path = endpoint.path.replace(':id', jobId).replace(':tag', 'T-100');
      const { status } = await bench.ask(
        endpoint.method.toUpperCase(),
        path,
        endpoint.method === 'get' ? undefined : {},
      );
      expect(status, `${endpoint.method} ${path}`).to.equal(
        ANSWERS[name] ?? (endpoint.method === 'get' ? 200 : 'lead' in endpoint ? 403 : 400),
      );
    }
    expect(Object.keys(body.components.schemas)).to.include.members(
      Object.keys(commandSchemas).map((type) => `command.${type}`),
    );
  });

  it('never answer with a fault of their own, whatever JSON is sent', async () => {
    const counts = await bench.rowCounts();
    const paths = Object.values(ENDPOINTS).filter((e) => 'body' in e);
    await fc.assert(
      fc.asyncProperty(fc.constantFrom(...paths), fc.jsonValue(), async (endpoint, body) => {
        const { status } = await bench.ask(
          endpoint.method.toUpperCase(),
          endpoint.path.replace(':id', jobId),
          JSON.stringify(body),
        );
        expect(status).to.be.within(400, 499);
      }),
      { numRuns: 150 },
    );
    expect(await bench.rowCounts()).to.deep.equal(counts);
  });

  it('never answer with a fault of their own to a command that is nearly right', async () => {
    const junk = fc.oneof(
      fc.string(),
      fc.double(),
      fc.boolean(),
      fc.constant(null),
      fc.array(fc.string(), { maxLength: 3 }),
      fc.dictionary(fc.string(), fc.integer(), { maxKeys: 3 }),
    );
    const types = Object.keys(commandSchemas);
    const command = fc
      .tuple(
        fc.constantFrom(...types),
        fc.dictionary(
          fc.constantFrom(
            'stepId',
            'reason',
            'answers',
            'values',
            'role',
            'place',
            'ports',
            'sure',
            'text',
          ),
          junk,
        ),
      )
      .map(([type, rest]) => ({ ...rest, type }));
    await fc.assert(
      fc.asyncProperty(command, async (c) => {
        const { status } = await bench.send(jobId, c);
        // Some junk is a fine note or a fine reason; none of it may be a fault of the server.
        expect(status).to.be.below(500);
      }),
      { numRuns: 150 },
    );
  });

  it('find a battery by whatever is typed without ever failing', async () => {
    await fc.assert(
      fc.asyncProperty(fc.string({ maxLength: 60 }), async (q) => {
        const { status } = await bench.get(`/api/batteries?q=${encodeURIComponent(q)}`);
        expect(status).to.equal(200);
      }),
      { numRuns: 60 },
    );
  });

  it('give a retry its first answer after a restart too', async () => {
    const body = { commandId: randomUUID(), by: 'ann', command: { type: 'note', text: 'Once' } };
    await bench.post(`/api/jobs/${jobId}/commands`, body);
    await bench.stop();
    await bench.start();
    const counts = await bench.rowCounts();
    expect((await bench.post(`/api/jobs/${jobId}/commands`, body)).status).to.equal(200);
    expect(await bench.rowCounts()).to.deep.equal(counts);
  });

  it('send pages with a policy that runs no script from text, and no word of what serves them', async () => {
    const response = await fetch(`${bench.url}/`);
    expect(response.headers.get('content-security-policy')).to.include("script-src 'self'");
    expect(response.headers.get('x-powered-by')).to.equal(null);
    expect(response.headers.get('x-content-type-options')).to.equal('nosniff');
    await response.text();
  });

  it('copy the data soundly while the server runs, and overwrite nothing', async () => {
    const shop = join(bench.folder, 'shop');
    const store = await openStore(join(shop, 'bench.sqlite'));
    await store.write((transaction) =>
      store.tables.people.bulkCreate(
        [
          {
            id: 'a',
            name: 'A',
            initials: 'A',
            role: 'lead',
            active: true,
            pinHash: null,
            calendarToken: null,
          },
        ],
        { transaction },
      ),
    );
    const copy = join(bench.folder, 'copy.sqlite');
    const backup = (...more: string[]) =>
      spawnSync(
        process.execPath,
        [
          '--import',
          './scripts/typescript.mjs',
          'scripts/backup.ts',
          '--shop',
          '--data',
          bench.folder,
          ...more,
        ],
        { encoding: 'utf8' },
      );
    expect(backup().stderr).to.include('Say where');
    expect(backup('--to', copy).stdout).to.include('Copied');
    expect(existsSync(copy)).to.equal(true);
    expect(backup('--to', copy).stderr).to.include('overwrites nothing');
    await store.close();
    const copied = await openStore(copy);
    expect(await copied.tables.people.count()).to.equal(1);
    await copied.close();
  });
});

describe('the start command', () => {
  const start = (...args: string[]) =>
    spawnSync(process.execPath, ['scripts/start.mjs', ...args], { encoding: 'utf8' });
  it('explains itself', () => {
    const { stdout, status } = start('--help');
    expect(status).to.equal(0);
    for (const word of ['--shop', '--data', '--port', '--host', '--fresh'])
      expect(stdout).to.include(word);
  });
  it('turns away what it does not know, and never throws a shop away', () => {
    expect(start('--demo')).to.include({ status: 2 });
    expect(start('--shop', '--fresh').stderr).to.include('never thrown away');
  });
});
