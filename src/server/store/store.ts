import { mkdir } from 'node:fs/promises';
import { existsSync } from 'node:fs';
import { dirname } from 'node:path';
import { Mutex } from 'async-mutex';
import { type DatabaseError, QueryTypes, Sequelize, Transaction } from 'sequelize';
import { up as firstLight } from './migrations/001-first-light.ts';
import { up as liveCharges } from './migrations/002-live-charges.ts';
import { up as wholeShop } from './migrations/003-whole-shop.ts';
import { up as sets } from './migrations/004-sets.ts';
import { up as keptSmall } from './migrations/005-kept-small.ts';
import { up as door } from './migrations/006-door.ts';
import { up as wholeTruth } from './migrations/007-whole-truth.ts';
import { up as otherRatings } from './migrations/008-other-ratings.ts';
import {
  compareWithMarker,
  fileFault,
  FileRefused,
  idOf,
  inspectFile,
  readMarker,
  writeMarker,
} from './fileFaults.ts';
import { up as resultsTellTheirKind } from './migrations/009-results-tell-their-kind.ts';
import { up as chargers } from './migrations/010-chargers.ts';
import { up as noLabelAndPlaces } from './migrations/011-no-label-and-places.ts';
import { up as papers } from './migrations/012-papers.ts';
import { up as promises } from './migrations/013-promises.ts';
import { manageConnections } from './connections.ts';
import { migrate } from './migrating.ts';
import { bindTables, type Tables } from './tables.ts';

/** Ordered; a migration once released is never edited. */
const MIGRATIONS = [
  { name: '001-first-light', up: firstLight },
  { name: '002-live-charges', up: liveCharges },
  { name: '003-whole-shop', up: wholeShop },
  { name: '004-sets', up: sets },
  { name: '005-kept-small', up: keptSmall },
  { name: '006-door', up: door },
  { name: '007-whole-truth', up: wholeTruth },
  { name: '008-other-ratings', up: otherRatings },
  { name: '009-results-tell-their-kind', up: resultsTellTheirKind },
  { name: '010-chargers', up: chargers },
  { name: '011-no-label-and-places', up: noLabelAndPlaces },
  { name: '012-papers', up: papers },
  { name: '013-promises', up: promises },
];

/** Number of the layout of a data file that this version writes. */
export const VERSION = MIGRATIONS.length;

const pragmas = (waitsForDisk: boolean): string =>
  `PRAGMA synchronous = ${waitsForDisk ? 'FULL' : 'OFF'}; PRAGMA busy_timeout = 5000; PRAGMA foreign_keys = ON;`;

/** A way in to one SQLite file. */
export interface Store {
  /** Where it lies; what stands beside it is found from there. */
  file: string;
  tables: Tables;
  sequelize: Sequelize;
  /** Runs a write alone: one transaction, all or nothing, one writer at a time. */
  write<T>(work: (transaction: Transaction) => Promise<T>): Promise<T>;
  close(): Promise<void>;
}

/**
 * Opens a data file: checks it, migrates it (with a copy put aside first), and holds it in WAL mode
 * with full sync, so that what was acknowledged is on the disk.
 *
 * @param waitsForDisk false only where nothing outlives the process anyhow: a write is then safe from its death, not from a power cut
 * @throws FileRefused when it is damaged, of a newer version, or cannot be used; nothing is changed then
 */
export async function openStore(file: string, { waitsForDisk = true } = {}): Promise<Store> {
  await mkdir(dirname(file), { recursive: true });
  const existed = existsSync(file);
  const sequelize = new Sequelize({ dialect: 'sqlite', storage: file, logging: false });
  const layoutStands = manageConnections(sequelize, pragmas(waitsForDisk));
  try {
    const fault = await faultAtStart(sequelize);
    if (fault)
      throw new FileRefused(
        `The data file ${file} is damaged: ${fault}. Put a copy back with: npm run restore -- --from FILE`,
      );
    await sequelize.query('PRAGMA journal_mode = WAL');
    await migrate(sequelize, file, MIGRATIONS, existed);
    layoutStands();
    return storeOf(file, sequelize);
  } catch (error) {
    await sequelize.close();
    throw fileFault(file, error);
  }
}

/**
 * Opens the data file of a server, and holds it against what is known of it from beside.
 *
 * @param asItIs a person has said that it is to be used though it is another, or has lost entries
 * @throws FileRefused where it is not what was there before
 */
export async function openKnownStore(
  file: string,
  asItIs: boolean,
): Promise<{ store: Store; mark: () => Promise<void> }> {
  await inspectFile(file);
  const store = await openStore(file);
  try {
    const id = await idOf(store.sequelize);
    const lastSeq = async () => Number((await store.tables.events.max('seq')) ?? 0);
    if (!asItIs) compareWithMarker(file, { id, lastSeq: await lastSeq() }, await readMarker(file));
    const mark = async () => writeMarker(file, { id, lastSeq: await lastSeq() });
    await mark();
    return { store, mark };
  } catch (error) {
    await store.close();
    throw error;
  }
}

/** Another way in to a data file that {@link openStore} has opened: checked and migrated already. */
export async function joinStore(file: string): Promise<Store> {
  const sequelize = new Sequelize({ dialect: 'sqlite', storage: file, logging: false });
  const layoutStands = manageConnections(sequelize, pragmas(true));
  await sequelize.query('SELECT 1');
  layoutStands();
  return storeOf(file, sequelize);
}

function storeOf(file: string, sequelize: Sequelize): Store {
  const writer = new Mutex();
  return {
    file,
    tables: bindTables(sequelize),
    sequelize,
    write: (work) =>
      writer.runExclusive(() => sequelize.transaction({ type: Transaction.TYPES.IMMEDIATE }, work)),
    close: () => writer.runExclusive(() => sequelize.close()),
  };
}

/** Most rows of an old file, and nothing is decided by them: a start reads where the next ones go, and no more. */
const SAMPLES = 'sample_blocks';

/**
 * Every page and every tree of what a shop decides by; of ten years in a second. Samples, and the slower comparison of indexes
 * with their tables, follow in idle time ({@link wholeFileFault}).
 */
async function faultAtStart(sequelize: Sequelize): Promise<string | null> {
  const tables = await sequelize.query<{ name: string }>(
    `SELECT name FROM sqlite_schema WHERE type = 'table'`,
    { type: QueryTypes.SELECT },
  );
  for (const { name } of tables) {
    if (name === SAMPLES)
      await sequelize.query(`SELECT n FROM ${SAMPLES} ORDER BY charge DESC, t DESC LIMIT 1`);
    else {
      const fault = await faultIn(sequelize, `quick_check(${sequelize.escape(name)})`);
      if (fault) return fault;
    }
  }
  return null;
}

/** @param check of what, as SQLite names it */
async function faultIn(sequelize: Sequelize, check: string): Promise<string | null> {
  const found = await sequelize.query<Record<string, string>>(`PRAGMA ${check}`, {
    type: QueryTypes.SELECT,
  });
  const said = Object.values(found[0] ?? {})[0] ?? 'nothing was said';
  return said === 'ok' ? null : said;
}

/**
 * Checks the whole of a data file, indexes against their tables too, on a connection of its own, so that nobody
 * waits for it.
 *
 * @returns what is wrong, or null
 */
export async function wholeFileFault(file: string): Promise<string | null> {
  const sequelize = new Sequelize({ dialect: 'sqlite', storage: file, logging: false });
  try {
    return await faultIn(sequelize, 'integrity_check(1)');
  } catch (error) {
    // What cannot even be read to its end is damaged, too; what cannot be asked at all says nothing of it.
    const { code } = (error as DatabaseError).parent as Error & { code?: string };
    if (code !== 'SQLITE_CORRUPT' && code !== 'SQLITE_NOTADB') throw error;
    return (error as Error).message;
  } finally {
    await sequelize.close();
  }
}
