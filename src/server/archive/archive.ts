import { createWriteStream } from 'node:fs';
import { open } from 'node:fs/promises';
import { once } from 'node:events';
import { Zip, ZipDeflate, ZipPassThrough } from 'fflate';
import { QueryTypes, type Sequelize } from 'sequelize';
import { csvLine } from '../../core/exchange/csv.ts';
import { FileRefused } from '../store/fileFaults.ts';
import { keptPictures, readPicture } from '../store/pictureFiles.ts';
import { type Store, VERSION } from '../store/store.ts';

/**
 * The whole shop as one zip that other programs can read: each table as JSON by a published schema and as CSV, and a
 * page that explains them. It goes back into an empty shop.
 */

export const FORMAT = 'cork-ember-shop';
export const MANIFEST = 'manifest.json';
export const PICTURES = 'pictures/';
/** Rows read or written at a time. */
const PAGE = 1000;

/** What is kept of each table, in the order in which it goes back: what refers to something comes after it. */
export const TABLES: readonly {
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
  { name: 'chargers', holds: 'The shop’s chargers.', json: ['body'] },
  { name: 'lots', holds: 'Electrolyte in stock.' },
  { name: 'lot_uses', holds: 'What was taken from it, mL.' },
  {
    name: 'claims',
    holds: 'What was asked of whoever sold a battery, and what became of it.',
    json: ['body', 'history'],
  },
  {
    name: 'notes',
    holds: 'Notes and pictures; a picture is a file of that name under pictures/.',
    json: ['picture', 'takenBack'],
  },
  { name: 'holds', holds: 'Models and lots on hold, and those that were.' },
  { name: 'commission_summaries', holds: 'How each commissioning ended.', json: ['body'] },
  { name: 'charge_logs', holds: 'Logs brought in from other devices.', json: ['body'] },
];

export interface Manifest {
  format: typeof FORMAT;
  /** Number of the file's layout. */
  version: number;
  tables: { name: string; rows: number }[];
  /** Names of the pictures under `pictures/`. */
  pictures: string[];
}

interface Column {
  name: string;
  type: string;
  notnull: number;
}

type Row = Record<string, string | number | null>;

export async function columnsOf(
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
    'pictures/*     photographs, each named by the SHA-256 of what is in it; *.small.jpg its small one.',
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
  const pictures = await keptPictures(store.file);
  for (const name of pictures) {
    // Pressed already: stored as they are.
    const entry = new ZipPassThrough(`${PICTURES}${name}`);
    zip.add(entry);
    entry.push(await readPicture(store.file, name), true);
    await drained();
  }
  const manifest: Manifest = { format: FORMAT, version: VERSION, tables, pictures };
  await text(MANIFEST, JSON.stringify(manifest, null, 2));
  await text('schema.json', JSON.stringify(await archiveSchema(store.sequelize), null, 2));
  await text('README.txt', readme(manifest));
  const closed = once(out, 'close');
  zip.end();
  await closed;
  return manifest;
}
