import { Sequelize, QueryTypes } from 'sequelize';
import { existsSync } from 'node:fs';
import { readFile, rm } from 'node:fs/promises';
import { drillFile } from './drillFile.ts';
import { keptPictures, readPicture } from './pictureFiles.ts';

/**
 * A backup is one file: pictures, and what the drill keeps, travel inside the copy of the data, in tables of their own that no
 * shop's file has. Putting the copy back takes them out again and lays them beside it.
 */

const TABLE = 'packed_pictures';
const DRILL = 'packed_drill';

async function withFile<T>(file: string, work: (sequelize: Sequelize) => Promise<T>): Promise<T> {
  const sequelize = new Sequelize({ dialect: 'sqlite', storage: file, logging: false });
  try {
    return await work(sequelize);
  } finally {
    await sequelize.close();
  }
}

/** Puts the pictures that lie beside a data file into a copy of it. */
export async function packPictures(file: string, copy: string): Promise<void> {
  const names = await keptPictures(file);
  if (names.length === 0) return;
  await withFile(copy, async (sequelize) => {
    await sequelize.query(`CREATE TABLE ${TABLE} (name TEXT PRIMARY KEY, data BLOB NOT NULL)`);
    for (const name of names)
      await sequelize.query(`INSERT INTO ${TABLE} VALUES (?, ?)`, {
        replacements: [name, await readPicture(file, name)],
      });
  });
}

/**
 * Takes the pictures out of a copy, one at a time; none where it was made before there were any.
 *
 * @param put is given each, and throws where it is not whole
 */
export async function unpackPictures(
  copy: string,
  put: (name: string, data: Buffer) => Promise<void>,
): Promise<void> {
  await withFile(copy, async (sequelize) => {
    const names = await sequelize
      .query<{ name: string }>(`SELECT name FROM ${TABLE} ORDER BY name`, {
        type: QueryTypes.SELECT,
      })
      .catch(() => null);
    if (!names) return;
    for (const { name } of names) {
      const [row] = await sequelize.query<{ data: Buffer }>(
        `SELECT data FROM ${TABLE} WHERE name = ?`,
        { replacements: [name], type: QueryTypes.SELECT },
      );
      await put(name, row?.data ?? Buffer.alloc(0));
    }
    await sequelize.query(`DROP TABLE ${TABLE}`);
    await sequelize.query('VACUUM');
  });
}

/** Puts a sound copy of what the drill keeps beside a data file into a copy of it, also while a server writes there. */
export async function packDrill(file: string, copy: string): Promise<void> {
  const kept = drillFile(file);
  if (!existsSync(kept)) return;
  const whole = `${copy}.drill`;
  try {
    await withFile(kept, (sequelize) =>
      sequelize.query('VACUUM INTO ?', { replacements: [whole] }),
    );
    const data = await readFile(whole);
    await withFile(copy, async (sequelize) => {
      await sequelize.query(`CREATE TABLE ${DRILL} (data BLOB NOT NULL)`);
      await sequelize.query(`INSERT INTO ${DRILL} VALUES (?)`, { replacements: [data] });
    });
  } finally {
    await rm(whole, { force: true });
  }
}

/** Takes it out again; null where the copy was made before there was a drill. */
export const unpackDrill = (copy: string): Promise<Buffer | null> =>
  withFile(copy, async (sequelize) => {
    const rows = await sequelize
      .query<{ data: Buffer }>(`SELECT data FROM ${DRILL}`, { type: QueryTypes.SELECT })
      .catch(() => null);
    if (!rows) return null;
    await sequelize.query(`DROP TABLE ${DRILL}`);
    await sequelize.query('VACUUM');
    return rows[0]?.data ?? null;
  });
