import { constants } from 'node:fs';
import {
  access,
  copyFile,
  mkdir,
  open,
  readdir,
  rename,
  rm,
  stat,
  writeFile,
} from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { Sequelize } from 'sequelize';
import { drillFile } from './drillFile.ts';
import { contentsOf, FileRefused, fileFault, readMarker, writeMarker } from './fileFaults.ts';
import { lockFolder } from './lock.ts';
import { isWhole, putPicture } from './pictureFiles.ts';
import { packDrill, packPictures, unpackDrill, unpackPictures } from './picturePack.ts';

/** A copy of the data, opened once to see that it is one. */
export interface Backup {
  file: string;
  /** ISO 8601. */
  at: string;
  bytes: number;
  /** Number of the last entry in it. */
  lastSeq: number;
}

const NAME = /^bench-\d{4}-\d{2}-\d{2}T\d{6}Z\.sqlite$/;

/**
 * Makes a sound copy of a data file, also while a server writes it, and opens it to see that it is whole.
 *
 * @throws FileRefused where there is no data, where the copy would overwrite something, or where it is not sound
 */
export async function backUp(file: string, to: string): Promise<Backup> {
  if (!(await exists(file))) throw new FileRefused(`There is no data at ${file}.`);
  if (await exists(to))
    throw new FileRefused(`${to} is there already; a backup overwrites nothing.`);
  await mkdir(dirname(to), { recursive: true });
  const sequelize = new Sequelize({ dialect: 'sqlite', storage: file, logging: false });
  try {
    await sequelize.query('VACUUM INTO ?', { replacements: [to] });
    await packPictures(file, to);
    await packDrill(file, to);
  } catch (error) {
    await rm(to, { force: true });
    throw fileFault(file, error);
  } finally {
    await sequelize.close();
  }
  const found = await contentsOf(to).catch((error: unknown) =>
    Promise.reject(fileFault(to, error) as Error),
  );
  if (!found.whole)
    throw new FileRefused(
      `The copy at ${to} is not sound. Look at the disk, and at the data file.`,
    );
  await flush(to);
  return {
    file: to,
    at: new Date().toISOString(),
    bytes: (await stat(to)).size,
    lastSeq: found.lastSeq,
  };
}

/**
 * One more backup in a folder of them; the oldest go where there are more than `keep`.
 *
 * @param now ms, for the name of the copy
 */
export async function backUpInto(
  file: string,
  folder: string,
  keep: number,
  now: number,
): Promise<Backup> {
  const stamp = new Date(now).toISOString().replace(/\.\d+/, '').replaceAll(':', '');
  const backup = await backUp(file, join(folder, `bench-${stamp}.sqlite`));
  const names = (await readdir(folder)).filter((name) => NAME.test(name)).sort();
  for (const old of names.slice(0, Math.max(0, names.length - keep))) await rm(join(folder, old));
  return backup;
}

/** The newest verified backup in a folder, by its name; null where there is none. */
export async function newestBackup(folder: string): Promise<{ file: string; at: number } | null> {
  const names = (await readdir(folder).catch(() => [])).filter((name) => NAME.test(name)).sort();
  const name = names.at(-1);
  if (!name) return null;
  const [, day, h, m, s] = /^bench-(.{10})T(\d\d)(\d\d)(\d\d)Z/.exec(name) ?? [];
  return { file: join(folder, name), at: Date.parse(`${day}T${h}:${m}:${s}Z`) };
}

/** Where a server keeps its own backups. */
export const backupFolder = (file: string): string => join(dirname(file), 'backups');

/**
 * Puts a copy in the place of a data file. What lies there is set aside, never deleted; the copy is verified before
 * and after.
 *
 * @returns where the present files were set aside, null where there were none
 * @throws FileRefused where a server has the folder, or the copy is no sound data file: nothing is changed then
 */
export async function restore(
  file: string,
  from: string,
): Promise<{ aside: string | null; lastSeq: number }> {
  const unlock = await lockFolder(dirname(file));
  try {
    const before = await contentsOf(await readable(from)).catch((error: unknown) =>
      Promise.reject(fileFault(from, error) as Error),
    );
    if (!before.whole || before.id === null)
      throw new FileRefused(`${from} is not a whole data file. Nothing was changed.`);
    const fresh = `${file}.restoring`;
    await rm(fresh, { force: true });
    await copyFile(from, fresh);
    // Named by what is in them, they overwrite nothing, whatever becomes of the rest.
    await unpackPictures(fresh, async (name, data) => {
      if (!isWhole(name, data))
        throw new FileRefused(
          `${from} holds a damaged picture, ${name}. The data was not changed.`,
        );
      await putPicture(file, name, data);
    });
    const drill = await unpackDrill(fresh);
    await flush(fresh);
    const copied = await contentsOf(fresh);
    if (!copied.whole || copied.lastSeq !== before.lastSeq)
      throw new FileRefused(`${from} could not be copied whole. Nothing was changed.`);
    // A copy of before there was a drill leaves what it keeps where it lies.
    const aside = await setAside(file, drill ? [drillFile(file)] : []);
    await rename(fresh, file);
    if (drill) {
      await writeFile(drillFile(file), drill);
      await flush(drillFile(file));
    }
    await flush(dirname(file));
    const after = await contentsOf(file);
    if (!after.whole || after.lastSeq !== before.lastSeq)
      throw new FileRefused(
        `The copy does not read back whole at ${file}. What was there lies at ${aside ?? 'nowhere'}.`,
      );
    await writeMarker(file, { id: before.id, lastSeq: before.lastSeq });
    return { aside, lastSeq: before.lastSeq };
  } finally {
    await unlock();
  }
}

async function readable(file: string): Promise<string> {
  await access(file, constants.R_OK).catch(() =>
    Promise.reject(new FileRefused(`There is no file at ${file}, or it cannot be read.`)),
  );
  return file;
}

async function setAside(file: string, beside: readonly string[]): Promise<string | null> {
  const parts = [file, `${file}-wal`, `${file}-shm`, ...beside];
  const there = (
    await Promise.all(parts.map(async (part) => ((await exists(part)) ? part : null)))
  ).filter((part) => part !== null);
  if (there.length === 0) return null;
  const marker = await readMarker(file);
  const aside = join(
    dirname(file),
    `set-aside-${new Date().toISOString().replaceAll(/[:.]/g, '')}`,
  );
  await mkdir(aside);
  for (const part of there) await rename(part, join(aside, basename(part)));
  if (marker) await writeFile(join(aside, 'bench.json'), JSON.stringify(marker));
  return aside;
}

const exists = (path: string): Promise<boolean> =>
  stat(path).then(
    () => true,
    () => false,
  );

/** Onto the disk, not only into its cache. */
async function flush(path: string): Promise<void> {
  const handle = await open(path, 'r');
  try {
    await handle.sync();
  } finally {
    await handle.close();
  }
}
