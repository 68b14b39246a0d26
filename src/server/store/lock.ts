import { readFileSync } from 'node:fs';
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { QueryTypes, Sequelize } from 'sequelize';

/** One server a folder. The folder is in use already; by whom, where that is known. */
export class FolderInUse extends Error {
  override readonly name = 'FolderInUse';
}

interface Owner {
  pid: number;
  since: string;
}

/**
 * Takes a data folder for this process alone. The lock is the operating system's, on a small file beside the data:
 * it ends with the process however that ends, so that none is ever left behind.
 *
 * @returns gives the folder back
 * @throws FolderInUse when another process has it
 */
export async function lockFolder(folder: string): Promise<() => Promise<void>> {
  await mkdir(folder, { recursive: true });
  const told = join(folder, 'owner.json');
  const sequelize = new Sequelize({
    dialect: 'sqlite',
    storage: join(folder, 'owner.sqlite'),
    logging: false,
    pool: { max: 1, idle: 2 ** 31 - 1 },
  });
  try {
    await sequelize.query('PRAGMA busy_timeout = 0');
    await sequelize.query('PRAGMA locking_mode = EXCLUSIVE', { type: QueryTypes.SELECT });
    await sequelize.query('CREATE TABLE IF NOT EXISTS owner (pid INTEGER)');
    await sequelize.query('DELETE FROM owner');
    await sequelize.query(`INSERT INTO owner VALUES (${process.pid})`);
  } catch (error) {
    await sequelize.close();
    if (!/SQLITE_BUSY|locked/.test((error as Error).message)) throw error;
    const owner = readOwner(told);
    const who = owner
      ? `the server with process number ${owner.pid}, started ${owner.since}`
      : 'another server';
    throw new FolderInUse(
      `The folder ${folder} is in use by ${who}. Stop that one first, or give this one another folder with --data.`,
    );
  }
  await writeFile(
    told,
    JSON.stringify({ pid: process.pid, since: new Date().toISOString() } satisfies Owner),
  );
  return () => sequelize.close();
}

function readOwner(file: string): Owner | null {
  try {
    return JSON.parse(readFileSync(file, 'utf8')) as Owner;
  } catch {
    return null;
  }
}
