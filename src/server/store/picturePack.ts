import { Sequelize, QueryTypes } from 'sequelize';
import { keptPictures, readPicture } from './pictureFiles.ts';

/**
 * A backup is one file: pictures travel inside the copy of the data, in a table of their own that no shop's file has.
 * Putting the copy back takes them out again and lays them beside it.
 */

const TABLE = 'packed_pictures';

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
