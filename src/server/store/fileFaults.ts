import { copyFile, mkdtemp, open, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { QueryTypes, Sequelize } from 'sequelize';

/** The data cannot be used as it lies there. The message says what happened and which command helps. */
export class FileRefused extends Error {
  override readonly name = 'FileRefused';
}

/** What is known of a data file from beside it, so that one that was lost, emptied or mixed up is noticed. */
export interface Marker {
  /** The file's own id; a copy of it has the same. */
  id: string;
  /** Number of the last entry that was certainly on the disk. */
  lastSeq: number;
  /** When that was, ISO 8601. */
  at: string;
  /** The main file as the server left it: another size or moment means that somebody else has written it. */
  main: { bytes: number; changedMs: number };
}

const HEADER = 'SQLite format 3\0';
const markerOf = (file: string): string => join(dirname(file), 'bench.json');
const RESTORE =
  'Put a copy back with: npm run restore -- --from FILE (with --shop and --data as at the start).';

export async function readMarker(file: string): Promise<Marker | null> {
  try {
    return JSON.parse(await readFile(markerOf(file), 'utf8')) as Marker;
  } catch {
    return null;
  }
}

/** Writes down what is known of the file now: whole, or not at all. */
export async function writeMarker(
  file: string,
  { id, lastSeq }: { id: string; lastSeq: number },
): Promise<void> {
  const { size, mtimeMs } = await stat(file);
  const marker: Marker = {
    id,
    lastSeq,
    at: new Date().toISOString(),
    main: { bytes: size, changedMs: mtimeMs },
  };
  const fresh = `${markerOf(file)}.new`;
  await writeFile(fresh, JSON.stringify(marker));
  await rename(fresh, markerOf(file));
}

const known = (marker: Marker | null): string =>
  marker
    ? ` On ${marker.at.slice(0, 16).replace('T', ' ')} UTC it held ${marker.lastSeq.toLocaleString('en-GB')} entries.`
    : '';

/**
 * Looks at a data file before anything opens it.
 *
 * @throws FileRefused where it is gone, empty, none, or beside a log of writes that belongs to another
 */
export async function inspectFile(file: string): Promise<void> {
  const marker = await readMarker(file);
  const wal = await stat(`${file}-wal`).catch(() => null);
  const main = await stat(file).catch((error: NodeJS.ErrnoException) => {
    if (error.code !== 'ENOENT')
      throw new FileRefused(`The data file ${file} cannot be looked at: ${error.message}.`);
    return null;
  });
  if (!main) {
    if (marker || wal)
      throw new FileRefused(`The data file ${file} is gone.${known(marker)} ${RESTORE}`);
    return;
  }
  if (main.isDirectory())
    throw new FileRefused(
      `${file} is a folder, where the data file should be. Move it away, or give another place with --data.`,
    );
  if (main.size === 0)
    throw new FileRefused(
      `The data file ${file} is empty.${known(marker)} ${marker ? RESTORE : `${RESTORE} To begin a new shop there, remove it first.`}`,
    );
  if (!(await beginsWith(file, HEADER)))
    throw new FileRefused(
      `${file} is not a data file, or its beginning is destroyed.${known(marker)} ${RESTORE}`,
    );
  if (
    wal &&
    wal.size > 0 &&
    (!marker || marker.main.bytes !== main.size || marker.main.changedMs !== main.mtimeMs)
  )
    await inspectWal(file, marker);
}

async function beginsWith(file: string, text: string): Promise<boolean> {
  const handle = await open(file, 'r');
  try {
    const { buffer } = await handle.read(Buffer.alloc(text.length), 0, text.length, 0);
    return buffer.toString('latin1') === text;
  } finally {
    await handle.close();
  }
}

/** The file has changed since it was last known: does its log of writes still belong to it? Tried on copies, so that nothing is spoilt. */
async function inspectWal(file: string, marker: Marker | null): Promise<void> {
  const folder = await mkdtemp(join(dirname(file), 'looking-'));
  try {
    const copy = join(folder, basename(file));
    await copyFile(file, copy);
    await copyFile(`${file}-wal`, `${copy}-wal`);
    const found = await contentsOf(copy).catch(() => null);
    const sound =
      found !== null &&
      found.whole &&
      (!marker || (found.id === marker.id && found.lastSeq >= marker.lastSeq));
    if (sound) return;
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
  throw new FileRefused(
    `${basename(file)}-wal beside ${file} belongs to another file: the data file was put there by hand.${known(marker)} Nothing has been changed. Move the file you put there away, and bring it in with: npm run restore -- --from THAT-FILE`,
  );
}

interface Contents {
  id: string | null;
  lastSeq: number;
  /** Every page is sound and no entry is missing between the first and the last. */
  whole: boolean;
}

/** What a data file holds. @throws whatever SQLite says of one that it cannot read */
export async function contentsOf(file: string): Promise<Contents> {
  const sequelize = new Sequelize({ dialect: 'sqlite', storage: file, logging: false });
  try {
    const [check] = await sequelize.query<Record<string, string>>('PRAGMA quick_check(1)', {
      type: QueryTypes.SELECT,
    });
    const [events] = await sequelize.query<{ last: number | null; count: number }>(
      'SELECT MAX(seq) AS last, COUNT(*) AS count FROM events',
      {
        type: QueryTypes.SELECT,
      },
    );
    const lastSeq = events?.last ?? 0;
    return {
      id: await fileId(sequelize),
      lastSeq,
      whole: check?.['quick_check'] === 'ok' && events?.count === lastSeq,
    };
  } finally {
    await sequelize.close();
  }
}

const FILE_ID = 'fileId';
async function fileId(sequelize: Sequelize): Promise<string | null> {
  const [row] = await sequelize.query<{ value: string }>(
    `SELECT value FROM settings WHERE key = '${FILE_ID}'`,
    { type: QueryTypes.SELECT },
  );
  return row ? (JSON.parse(row.value) as string) : null;
}

/** The id of an open file; given to it the first time. */
export async function idOf(sequelize: Sequelize): Promise<string> {
  await sequelize.query(
    `INSERT OR IGNORE INTO settings (key, value) VALUES ('${FILE_ID}', '"' || lower(hex(randomblob(12))) || '"')`,
  );
  return (await fileId(sequelize)) as string;
}

/**
 * Holds an opened file against what was known of it.
 *
 * @throws FileRefused where it is another one, or has lost entries
 */
export function compareWithMarker(
  file: string,
  found: { id: string; lastSeq: number },
  marker: Marker | null,
): void {
  if (!marker) return;
  const accept = 'Or, to go on with it as it is, start once with --as-it-is.';
  if (found.id !== marker.id)
    throw new FileRefused(
      `${file} is the file of another shop than the one that was here.${known(marker)} ${RESTORE} ${accept}`,
    );
  if (found.lastSeq < marker.lastSeq)
    throw new FileRefused(
      `${file} has lost entries: it ends at number ${found.lastSeq.toLocaleString('en-GB')}.${known(marker)} A log of writes (-wal) was removed, or an older copy put in its place. ${RESTORE} ${accept}`,
    );
}

const SAID: Readonly<Record<string, string>> = {
  SQLITE_NOTADB: 'is not a data file, or was encrypted or overwritten',
  SQLITE_CORRUPT: 'is damaged',
  SQLITE_READONLY: 'cannot be written: it, its folder or its disk is read-only for this user',
  SQLITE_CANTOPEN: 'cannot be opened: look at who may read and write it and its folder',
  SQLITE_PERM: 'cannot be opened: look at who may read and write it and its folder',
  SQLITE_FULL: 'cannot be opened: its disk is full. Make room first',
  SQLITE_IOERR: 'cannot be read or written: its disk reports an error',
  SQLITE_BUSY: 'is in use by another program',
};

/** What SQLite says of a file, in a sentence with what to do; other errors stay what they are. */
export function fileFault(file: string, error: unknown): unknown {
  const { message, parent } = error as Error & { parent?: { code?: string } };
  const code = parent?.code ?? /SQLITE_\w+/.exec(message)?.[0] ?? '';
  const said = SAID[code];
  return said
    ? new FileRefused(
        `The data file ${file} ${said}. ${['SQLITE_NOTADB', 'SQLITE_CORRUPT'].includes(code) ? RESTORE : ''}`.trim(),
      )
    : error;
}
