import { mkdtemp, readFile, rm, truncate, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { expect } from 'chai';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import Papa from 'papaparse';
import { QueryTypes } from 'sequelize';
import { readArchive } from '../../src/server/archive/readArchive.ts';
import { writeArchive } from '../../src/server/archive/archive.ts';
import { idOf } from '../../src/server/store/fileFaults.ts';
import { openKnownStore, openStore, type Store } from '../../src/server/store/store.ts';
import { verifyShop } from '../../src/server/verify/verify.ts';
import { copyDemo } from '../support/demoFile.ts';
import { scratch } from '../support/scratch.ts';

describe('the whole shop as files', () => {
  let folder: string;
  let zip: string;
  let store: Store;
  before(async () => {
    folder = await mkdtemp(join(scratch(), 'cork-ember-archive-'));
    await copyDemo(join(folder, 'bench.sqlite'));
    store = await openStore(join(folder, 'bench.sqlite'));
    await store.tables.people.update(
      { pinHash: 'salt.secret', calendarToken: 'token' },
      { where: { id: 'greta' } },
    );
    await idOf(store.sequelize);
    zip = join(folder, 'shop.zip');
    await writeArchive(store, zip);
  });
  after(async () => {
    await store.close();
    await rm(folder, { recursive: true, force: true });
  });
  const countsOf = async (s: Store) => {
    const tables = await s.sequelize.query<{ name: string }>(
      `SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite%' ORDER BY name`,
      {
        type: QueryTypes.SELECT,
      },
    );
    const counts: Record<string, number> = {};
    for (const { name } of tables)
      counts[name] = (
        await s.sequelize.query<{ n: number }>(`SELECT COUNT(*) AS n FROM ${name}`, {
          type: QueryTypes.SELECT,
        })
      )[0]!.n;
    return counts;
  };
  const said = (work: Promise<unknown>) =>
    work.then(
      () => 'nothing was wrong',
      (error: Error) => `${error.name}: ${error.message}`,
    );

  it('is what its own schema says, read by somebody else’s readers, and holds no secret', async () => {
    const files = unzipSync(new Uint8Array(await readFile(zip)));
    const text = (name: string) => strFromU8(files[name]!);
    const schema = JSON.parse(text('schema.json')) as { $defs: Record<string, object> };
    const ajv = new Ajv2020({ allErrors: true, allowUnionTypes: true });
    for (const [table, definition] of Object.entries(schema.$defs)) {
      const rows = JSON.parse(text(`tables/${table}.json`)) as Record<string, unknown>[];
      const check = ajv.compile(definition);
      expect(check(rows), `${table}: ${ajv.errorsText(check.errors)}`).to.equal(true);
      const { data, errors } = Papa.parse<Record<string, string>>(text(`tables/${table}.csv`), {
        header: true,
        skipEmptyLines: true,
      });
      expect(errors, table).to.deep.equal([]);
      expect(data.length, table).to.equal(rows.length);
      expect(text('README.txt')).to.include(`${table}:`);
    }
    expect(text('tables/people.json')).to.not.match(/secret|token/i);
    expect(Object.keys(files).some((name) => /session|device|command/.test(name))).to.equal(false);
    expect(await said(writeArchive(store, zip))).to.include('overwrites nothing');
  });

  it('goes back into an empty shop, the same to the last row', async () => {
    const back = join(folder, 'back', 'bench.sqlite');
    const manifest = await readArchive(zip, back);
    const { store: again } = await openKnownStore(back, false);
    const [before, after] = [await countsOf(store), await countsOf(again)];
    for (const { name, rows } of manifest.tables)
      expect([name, after[name]]).to.deep.equal([name, rows]);
    for (const left of ['sessions', 'devices', 'commands']) before[left] = after[left] = 0;
    expect(after).to.deep.equal(before);
    const [told, was] = [await verifyShop(again), await verifyShop(store)];
    expect(told).to.deep.equal(was);
    expect(told.differences).to.deep.equal([]);
    const states = async (s: Store) =>
      (await s.tables.jobs.findAll({ order: [['id', 'ASC']], raw: true })).map(
        ({ id, plan, state }) => [
          id,
          JSON.parse(plan as never) as unknown,
          JSON.parse(state as never) as unknown,
        ],
      );
    expect(await states(again)).to.deep.equal(await states(store));
    await again.close();
    expect(await said(readArchive(zip, back))).to.include('into an empty shop only');
  });

  it('that is cut, changed, of another layout or something else is refused, and nothing is left of it', async () => {
    const bytes = new Uint8Array(await readFile(zip));
    const files = unzipSync(bytes);
    const changed = (change: (files: Record<string, Uint8Array>) => void) => {
      const copy = { ...files };
      change(copy);
      return zipSync(copy, { level: 1 });
    };
    const less = (name: string) =>
      strToU8(
        strFromU8(files[name]!)
          .split('\n')
          .filter((_, i) => i !== 2)
          .join('\n'),
      );
    const cases: [string, Uint8Array, RegExp][] = [
      ['a letter', strToU8('Dear shop,'), /no archive of a shop|cannot be read/],
      [
        'one row less',
        changed((f) => (f['tables/readings.json'] = less('tables/readings.json'))),
        /readings has \d+ rows where \d+ are told/,
      ],
      [
        'another layout',
        changed(
          (f) =>
            (f['manifest.json'] = strToU8(
              strFromU8(f['manifest.json']!).replace(/"version": \d+/, '"version": 99'),
            )),
        ),
        /is of layout 99/,
      ],
      [
        'a state that its events do not tell',
        changed(
          (f) =>
            (f['tables/jobs.json'] = strToU8(
              strFromU8(f['tables/jobs.json']!).replace('"attempt":1', '"attempt":9'),
            )),
        ),
        /does not agree with itself/,
      ],
    ];
    for (const [what, content, sentence] of cases) {
      const bad = join(folder, 'bad.zip');
      await writeFile(bad, content);
      const to = join(folder, `refused-${what.length}`, 'bench.sqlite');
      expect(await said(readArchive(bad, to)), what).to.match(sentence);
      expect(await said(readFile(to))).to.match(/ENOENT/);
    }
    await truncate(zip, Math.floor(bytes.length / 2));
    expect(await said(readArchive(zip, join(folder, 'cut', 'bench.sqlite')))).to.match(
      /^FileRefused/,
    );
  });
});
