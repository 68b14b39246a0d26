import { constants } from 'node:fs';
import { copyFile, readdir, rm, stat } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { QueryTypes, type Sequelize } from 'sequelize';
import type { MigrationParams, UmzugStorage } from 'umzug';
import { contentsOf, FileRefused } from './fileFaults.ts';

export interface Migration {
  name: string;
  up: (sequelize: Sequelize) => Promise<void>;
}

/** Copies from before a migration that are kept; older ones go. */
const COPIES_KEPT = 5;

/**
 * Brings a file up to this version: each migration is one transaction together with the note that it was done, so
 * that a stop in between leaves the file as it was. A verified copy is put aside first, and none is ever overwritten.
 *
 * @param existed false for a file that was made just now: there is nothing to copy
 * @throws FileRefused where the file is of a newer version, or a migration fails: then it is as it was before
 */
export async function migrate(
  sequelize: Sequelize,
  file: string,
  migrations: readonly Migration[],
  existed: boolean,
): Promise<void> {
  const done = await executed(sequelize);
  const unknown = done.filter((name) => !migrations.some((m) => m.name === name));
  const [version] = await sequelize.query<{ user_version: number }>('PRAGMA user_version', {
    type: QueryTypes.SELECT,
  });
  if (unknown.length > 0 || (version?.user_version ?? 0) > migrations.length)
    throw new FileRefused(
      `The data file ${file} was written by a newer version of Cork Ember${unknown[0] ? ` (it knows “${unknown[0]}”)` : ''}. Start that version, or put back a copy from before: npm run restore -- --from FILE`,
    );
  const pending = migrations.filter((m) => !done.includes(m.name));
  if (pending.length > 0) await bringUp(sequelize, file, migrations, existed ? pending[0] : null);
  // Files of earlier versions carry no number yet.
  await sequelize.query(`PRAGMA user_version = ${migrations.length}`);
}

/** @param aside the migration before which a copy is put aside; null where there is nothing to copy */
async function bringUp(
  sequelize: Sequelize,
  file: string,
  migrations: readonly Migration[],
  aside: Migration | null | undefined,
): Promise<void> {
  // Most starts have nothing to bring up, and loading it takes a quarter of one.
  const { Umzug } = await import('umzug');
  const umzug = new Umzug({
    migrations: migrations.map(({ name, up }) => ({
      name,
      up: async () => {
        await sequelize.query('BEGIN IMMEDIATE');
        await up(sequelize);
      },
    })),
    storage: storageIn(sequelize, migrations),
    logger: undefined,
  });
  const copy = aside ? await putAside(sequelize, file, aside.name) : null;
  try {
    await umzug.up();
  } catch (error) {
    await sequelize.query('ROLLBACK').catch(() => undefined);
    if (!copy) throw error;
    throw new FileRefused(
      `The data file ${file} could not be updated to this version: ${(error as Error).message}. What was begun was taken back. A copy from before lies at ${copy}: npm run restore -- --from ${copy}`,
    );
  }
}

async function executed(sequelize: Sequelize): Promise<string[]> {
  await sequelize.query(
    'CREATE TABLE IF NOT EXISTS SequelizeMeta (name VARCHAR(255) NOT NULL UNIQUE PRIMARY KEY)',
  );
  const rows = await sequelize.query<{ name: string }>(
    'SELECT name FROM SequelizeMeta ORDER BY name',
    { type: QueryTypes.SELECT },
  );
  return rows.map((r) => r.name);
}

/** The note that a migration was done closes its transaction. */
function storageIn(sequelize: Sequelize, migrations: readonly Migration[]): UmzugStorage {
  return {
    executed: () => executed(sequelize),
    logMigration: async ({ name }: MigrationParams<unknown>) => {
      await sequelize.query('INSERT INTO SequelizeMeta (name) VALUES (?)', {
        replacements: [name],
      });
      await sequelize.query(
        `PRAGMA user_version = ${migrations.findIndex((m) => m.name === name) + 1}`,
      );
      await sequelize.query('COMMIT');
    },
    unlogMigration: () => Promise.reject(new Error('A migration is never taken back.')),
  };
}

/** A copy of the whole file as it is, opened once to see that it is one. @returns where it lies */
async function putAside(sequelize: Sequelize, file: string, before: string): Promise<string> {
  await sequelize.query('PRAGMA wal_checkpoint(TRUNCATE)');
  const first = `${file}.before-${before}`;
  let copy = first;
  for (let n = 2; ; n++) {
    try {
      await copyFile(file, copy, constants.COPYFILE_EXCL);
      break;
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
      copy = `${first}-${n}`;
    }
  }
  const found = await contentsOf(copy).catch(() => null);
  if (!found?.whole)
    throw new FileRefused(
      `A copy of ${file} was put aside before bringing it to this version, and it is not sound. Nothing was changed. Look at the disk.`,
    );
  await dropOldCopies(file);
  return copy;
}

async function dropOldCopies(file: string): Promise<void> {
  const folder = dirname(file);
  const names = (await readdir(folder)).filter(
    (name) => name.startsWith(`${basename(file)}.before-`) && !/-(wal|shm)$/.test(name),
  );
  const dated = await Promise.all(
    names.map(async (name) => ({
      path: join(folder, name),
      at: (await stat(join(folder, name))).mtimeMs,
    })),
  );
  dated.sort((a, b) => b.at - a.at);
  for (const { path } of dated.slice(COPIES_KEPT)) await rm(path);
}
