import {
  createReadStream,
  createWriteStream,
  openSync,
  closeSync,
  readFileSync,
  writeSync,
} from 'node:fs';
import { mkdtemp, open, rm, stat } from 'node:fs/promises';
import { once } from 'node:events';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { createInterface } from 'node:readline';
import { AsyncUnzipInflate, Unzip, Zip, ZipDeflate } from 'fflate';
import { QueryTypes, type Sequelize } from 'sequelize';
import { csvLine } from '../../core/exchange/csv.ts';
import { FileRefused, idOf, writeMarker } from '../store/fileFaults.ts';
import { lockFolder } from '../store/lock.ts';
import { openStore, type Store, VERSION } from '../store/store.ts';
import { verifyShop } from '../verify/verify.ts';

/**
 * The whole shop as one zip that other programs can read: each table as JSON by a published schema and as CSV, and a
 * page that explains them. It goes back into an empty shop.
 */

const FORMAT = 'cork-ember-shop';
const MANIFEST = 'manifest.json';
/** Rows read or written at a time. */
const PAGE = 1000;

/** What is kept of each table, in the order in which it goes back: what refers to something comes after it. */
const TABLES: readonly {
  name: string;
  holds: string;
  without?: readonly string[];
  json?: readonly string[];
  /** Its order, where it has no row numbers. */ key?: readonly string[];
}[] = [
  { name: 'settings', holds: 'House rules and the like, by key.', json: ['value'] },
  {
    name: 'people',
    holds: 'Who signs, or has signed. PINs and calendar addresses are left out: they are set anew.',
    without: ['pinHash', 'calendarToken'],
  },
  { name: 'models', holds: 'The catalogue of battery models.' },
  { name: 'batteries', holds: 'Every battery on record.' },
  {
    name: 'procedures',
    holds: 'Procedures that jobs follow, each kept once by its content.',
    json: ['body'],
  },
  {
    name: 'jobs',
    holds: 'Every job: its plan as it began, and its state as its events tell it.',
    json: ['plan', 'state'],
  },
  {
    name: 'readings',
    holds: 'Every reading, corrected ones too: V, A, °C, SG, mΩ, g.',
    json: ['values', 'cells', 'marks'],
  },
  {
    name: 'events',
    holds: 'Everything that happened, in order. The rest follows from it.',
    json: ['data'],
  },
  {
    name: 'charges',
    holds: 'Charges on instruments: plan, how far it came, what was expected.',
    json: ['plan', 'run', 'trip', 'guess', 'expected', 'stretches'],
  },
  {
    name: 'samples',
    holds: 'Fresh samples of charges: ms since its start, mV, mA, hundredths of a °C.',
    key: ['charge', 't'],
  },
  {
    name: 'sample_blocks',
    holds: 'Older samples as blocks of lowest, mean and highest.',
    key: ['charge', 't'],
  },
  { name: 'recovery_summaries', holds: 'What each recovery brought, summed up.', json: ['body'] },
  { name: 'sheets', holds: 'Sheets as they were when their jobs closed.', json: ['body'] },
  { name: 'charge_plans', holds: 'Charge plans the shop keeps.', json: ['body'] },
  { name: 'stock', holds: 'What stands on the shelf.', json: ['readings'] },
  { name: 'battery_sets', holds: 'Matched sets.', json: ['members'] },
  { name: 'lots', holds: 'Electrolyte in stock.' },
  { name: 'lot_uses', holds: 'What was taken from it, mL.' },
  { name: 'charge_logs', holds: 'Logs brought in from other devices.', json: ['body'] },
];

export interface Manifest {
  format: typeof FORMAT;
  /** Number of the file's layout. */
  version: number;
  tables: { name: string; rows: number }[];
}

interface Column {
  name: string;
  type: string;
  notnull: number;
}

type Row = Record<string, string | number | null>;

async function columnsOf(
  sequelize: Sequelize,
  table: string,
  without: readonly string[] = [],
): Promise<Column[]> {
  const columns = await sequelize.query<Column>(`PRAGMA table_info(${table})`, {
    type: QueryTypes.SELECT,
  });
  return columns.filter((c) => !without.includes(c.name));
}

/** JSON Schema of what an archive holds, a definition for each table; made from the tables themselves. */
export async function archiveSchema(sequelize: Sequelize): Promise<object> {
  const definitions: Record<string, unknown> = {};
  for (const { name, holds, without, json = [] } of TABLES) {
    const columns = await columnsOf(sequelize, name, without);
    const typeOf = ({ name: column, type, notnull }: Column): unknown => {
      if (json.includes(column)) return { description: 'JSON' };
      const kind = /INT/i.test(type)
        ? 'integer'
        : /REAL|DOUBLE|FLOAT/i.test(type)
          ? 'number'
          : /TEXT|CHAR/i.test(type)
            ? 'string'
            : null;
      return kind ? { type: notnull ? kind : [kind, 'null'] } : {};
    };
    definitions[name] = {
      type: 'array',
      description: holds,
      items: {
        type: 'object',
        properties: Object.fromEntries(columns.map((c) => [c.name, typeOf(c)])),
        required: columns.map((c) => c.name),
        additionalProperties: false,
      },
    };
  }
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    title:
      'A shop: one definition for each file under tables/. Moments are ms since 1970 in UTC; SI units, °C.',
    $defs: definitions,
  };
}

const readme = (manifest: Manifest): string =>
  [
    'A whole shop, as Cork Ember wrote it.',
    '',
    `${MANIFEST}  which tables, and how many rows of each (layout ${manifest.version}).`,
    'schema.json    JSON Schema of the files below, a definition for each.',
    'tables/*.json  a table as a JSON array, a row a line. Moments are ms since 1970 in UTC.',
    'tables/*.csv   the same for spreadsheets; what is JSON in a column stands there as text.',
    '',
    ...TABLES.map(({ name, holds }) => `${`${name}:`.padEnd(20)} ${holds}`),
    '',
    'PINs, sessions and remembered devices are not in it.',
    'Back into an empty shop: npm run archive -- --from THIS-FILE --shop --data FOLDER',
    '',
  ].join('\n');

/** Writes the archive. @throws FileRefused where something lies at `to` already */
export async function writeArchive(store: Store, to: string): Promise<Manifest> {
  const handle = await open(to, 'wx').catch(() =>
    Promise.reject(
      new FileRefused(
        `${to} is there already, or cannot be written; an archive overwrites nothing.`,
      ),
    ),
  );
  await handle.close();
  const out = createWriteStream(to);
  let full = false;
  const zip = new Zip((error, chunk, final) => {
    if (error) out.destroy(error);
    else full = !out.write(chunk);
    if (final) out.end();
  });
  const drained = async (): Promise<void> => {
    if (full) await once(out, 'drain');
    full = false;
  };
  const encoder = new TextEncoder();
  const file = async (name: string, parts: AsyncIterable<string>): Promise<void> => {
    const entry = new ZipDeflate(name, { level: 6 });
    zip.add(entry);
    for await (const part of parts) {
      entry.push(encoder.encode(part));
      await drained();
    }
    entry.push(new Uint8Array(0), true);
  };
  const text = async (name: string, whole: string) =>
    file(
      name,
      (async function* () {
        yield await Promise.resolve(whole);
      })(),
    );

  const tables: Manifest['tables'] = [];
  // One snapshot for all of it: whatever is written meanwhile is in none of the tables, or in all.
  await store.sequelize.transaction(async (transaction) => {
    for (const { name, without, json = [], key = ['rowid'] } of TABLES) {
      const columns = (await columnsOf(store.sequelize, name, without)).map((c) => c.name);
      let rows = 0;
      const pages = async function* (): AsyncGenerator<Row[]> {
        const keys = key.map((k, i) => `${k} AS key${i}`).join(', ');
        const order = key.join(', ');
        for (let after = key.map(() => -1); ;) {
          const page = await store.sequelize.query<Row>(
            `SELECT ${keys}, ${columns.map((c) => `"${c}"`).join(', ')} FROM ${name} WHERE (${order}) > (:after) ORDER BY ${order} LIMIT :page`,
            { replacements: { after, page: PAGE }, type: QueryTypes.SELECT, transaction },
          );
          yield page;
          const last = page.at(-1);
          if (!last || page.length < PAGE) return;
          after = key.map((_, i) => last[`key${i}`] as number);
        }
      };
      const asJson = async function* (): AsyncGenerator<string> {
        yield '[';
        for await (const page of pages())
          for (const row of page) {
            const whole = Object.fromEntries(
              columns.map((c) => [
                c,
                json.includes(c) && typeof row[c] === 'string'
                  ? (JSON.parse(row[c]) as unknown)
                  : row[c],
              ]),
            );
            yield `${rows === 0 ? '\n' : ',\n'}${JSON.stringify(whole)}`;
            rows += 1;
          }
        yield '\n]\n';
      };
      const asCsv = async function* (): AsyncGenerator<string> {
        yield csvLine(columns);
        for await (const page of pages())
          yield page.map((row) => csvLine(columns.map((c) => row[c]))).join('');
      };
      await file(`tables/${name}.json`, asJson());
      await file(`tables/${name}.csv`, asCsv());
      tables.push({ name, rows });
    }
  });
  const manifest: Manifest = { format: FORMAT, version: VERSION, tables };
  await text(MANIFEST, JSON.stringify(manifest, null, 2));
  await text('schema.json', JSON.stringify(await archiveSchema(store.sequelize), null, 2));
  await text('README.txt', readme(manifest));
  const closed = once(out, 'close');
  zip.end();
  await closed;
  return manifest;
}

/**
 * Puts an archive into an empty shop.
 *
 * @throws FileRefused where there is data already, or the archive is none, of another layout, or not whole: nothing is left then
 */
export async function readArchive(from: string, file: string): Promise<Manifest> {
  const unlock = await lockFolder(dirname(file));
  const folder = await mkdtemp(join(tmpdir(), 'cork-ember-archive-'));
  try {
    if (await stat(file).catch(() => null))
      throw new FileRefused(`There is data at ${file}. An archive goes into an empty shop only.`);
    await unpack(from, folder);
    const manifest = readManifest(folder, from);
    const store = await openStore(file);
    try {
      await fill(store, folder, manifest);
      const { differences } = await verifyShop(store);
      if (differences[0])
        throw new FileRefused(
          `What ${from} holds does not agree with itself: ${differences[0].what}, ${differences[0].where}.`,
        );
      const lastSeq = Number((await store.tables.events.max('seq')) ?? 0);
      const id = await idOf(store.sequelize);
      await store.close();
      await writeMarker(file, { id, lastSeq });
    } catch (error) {
      await store.close().catch(() => undefined);
      for (const end of ['', '-wal', '-shm']) await rm(`${file}${end}`, { force: true });
      throw error;
    }
    return manifest;
  } finally {
    await rm(folder, { recursive: true, force: true });
    await unlock();
  }
}

/** Only the files that are looked for, each at its own place: no name in an archive leads anywhere else. */
async function unpack(from: string, folder: string): Promise<void> {
  const wanted = new Map([
    [MANIFEST, join(folder, MANIFEST)],
    ...TABLES.map(({ name }) => [`tables/${name}.json`, join(folder, `${name}.json`)] as const),
  ]);
  const failures: Error[] = [];
  const done: Promise<void>[] = [];
  const unzip = new Unzip((entry) => {
    const to = wanted.get(entry.name);
    if (!to) return;
    const out = openSync(to, 'w');
    done.push(
      new Promise((resolve) => {
        entry.ondata = (error, chunk, final) => {
          if (error) failures.push(error);
          else writeSync(out, chunk);
          if (!error && !final) return;
          closeSync(out);
          resolve();
        };
      }),
    );
    entry.start();
  });
  unzip.register(AsyncUnzipInflate);
  try {
    for await (const chunk of createReadStream(from)) unzip.push(chunk as Uint8Array);
    unzip.push(new Uint8Array(0), true);
    await Promise.all(done);
  } catch (error) {
    throw new FileRefused(`${from} cannot be read as an archive: ${(error as Error).message}.`);
  }
  if (failures[0]) throw new FileRefused(`${from} is not whole: ${failures[0].message}.`);
}

function readManifest(folder: string, from: string): Manifest {
  let manifest: Manifest;
  try {
    manifest = JSON.parse(readFileSync(join(folder, MANIFEST), 'utf8')) as Manifest;
  } catch {
    throw new FileRefused(`${from} is no archive of a shop: it has no ${MANIFEST}.`);
  }
  if (manifest.format !== FORMAT) throw new FileRefused(`${from} is no archive of a shop.`);
  if (manifest.version !== VERSION)
    throw new FileRefused(
      `${from} is of layout ${manifest.version}; this version reads ${VERSION}. Bring it in with the version that wrote it, and let this one take over its data.`,
    );
  return manifest;
}

async function fill(store: Store, folder: string, manifest: Manifest): Promise<void> {
  const { sequelize } = store;
  await store.write(async (transaction) => {
    // What a new file has of its own makes room for what comes.
    await sequelize.query('DELETE FROM settings', { transaction });
    for (const { name, without, json = [] } of TABLES) {
      const columns = (await columnsOf(sequelize, name, without)).map((c) => c.name);
      const places = columns.map(() => '?').join(', ');
      const insert = `INSERT INTO ${name} (${columns.map((c) => `"${c}"`).join(', ')}) VALUES (${places})`;
      let rows = 0;
      for await (const line of createInterface({
        input: createReadStream(join(folder, `${name}.json`)),
      })) {
        const text = line.replace(/,$/, '');
        if (!text.startsWith('{')) continue;
        const row = JSON.parse(text) as Record<string, unknown>;
        const values = columns.map((c) =>
          json.includes(c) && row[c] !== null && row[c] !== undefined
            ? JSON.stringify(row[c])
            : (row[c] ?? null),
        );
        await sequelize.query(insert, { replacements: values, transaction });
        rows += 1;
      }
      const told = manifest.tables.find((t) => t.name === name)?.rows;
      if (told !== rows)
        throw new FileRefused(
          `${name} has ${rows} rows where ${told ?? 'none'} are told. The archive is not whole.`,
        );
    }
    const broken = await sequelize.query('PRAGMA foreign_key_check', {
      type: QueryTypes.SELECT,
      transaction,
    });
    if (broken.length > 0)
      throw new FileRefused(
        'Some of its rows refer to what is not in it. The archive is not whole.',
      );
  });
}
