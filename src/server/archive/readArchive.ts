import { createReadStream, openSync, closeSync, readFileSync, writeSync } from 'node:fs';
import { mkdtemp, readFile, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, dirname, join } from 'node:path';
import { createInterface } from 'node:readline';
import { AsyncUnzipInflate, Unzip } from 'fflate';
import { QueryTypes } from 'sequelize';
import { FileRefused, idOf, writeMarker } from '../store/fileFaults.ts';
import { lockFolder } from '../store/lock.ts';
import { openStore, type Store, VERSION } from '../store/store.ts';
import { verifyShop } from '../verify/verify.ts';
import { isWhole, pictureFolder, putPicture } from '../store/pictureFiles.ts';
import { TABLES, columnsOf, type Manifest, MANIFEST, FORMAT, PICTURES } from './archive.ts';

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
      await putPictures(file, folder, manifest, from);
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
      await rm(pictureFolder(file), { recursive: true, force: true });
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
    const to = wanted.get(entry.name) ?? placeOfPicture(entry.name, folder);
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

/** Where a picture of an archive is unpacked to; nowhere for any other name. */
const placeOfPicture = (name: string, folder: string): string | undefined =>
  new RegExp(`^${PICTURES}[0-9a-f]{64}(\\.small)?\\.jpg$`).test(name)
    ? join(folder, name.slice(PICTURES.length))
    : undefined;

/** Puts the pictures beside the new data file. @throws FileRefused where one is missing or is not what its name says */
async function putPictures(
  file: string,
  folder: string,
  { pictures }: Manifest,
  from: string,
): Promise<void> {
  for (const name of pictures) {
    const data = await readFile(join(folder, basename(name))).catch(() => null);
    if (!data || !isWhole(name, data))
      throw new FileRefused(`${from} is not whole: the picture ${name} is missing or damaged.`);
    await putPicture(file, basename(name), data);
  }
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
