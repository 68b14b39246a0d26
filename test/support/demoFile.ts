import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { copyFile, cp, mkdir, mkdtemp, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { type LiveStory, seedDemo } from '../../src/server/demo/seed.ts';
import { pictureFolder } from '../../src/server/store/pictureFiles.ts';
import { openStore } from '../../src/server/store/store.ts';
import { scratch } from './scratch.ts';

export const DEMO = new URL('../../demo/', import.meta.url);
const ROOT = fileURLToPath(new URL('../../', import.meta.url));
const CACHE = join(ROOT, '.cache');
/** Whatever the seeded file follows from. */
const INPUTS = ['demo', 'src/core', 'src/contract', 'src/server'];

function fingerprint(): string {
  const hash = createHash('sha256');
  for (const folder of INPUTS) {
    const entries = readdirSync(join(ROOT, folder), {
      recursive: true,
      withFileTypes: true,
    }).filter((e) => e.isFile());
    const paths = entries.map((e) => join(e.parentPath, e.name)).sort();
    for (const path of paths) hash.update(path.slice(ROOT.length)).update(readFileSync(path));
  }
  return hash.digest('hex').slice(0, 16);
}

/**
 * The demo's year as one seeded file, made once for the code and stories as they stand, and the charges
 * that its instruments are still to run. Two processes that make it at once each make a whole one.
 */
export async function seededDemo(): Promise<{ file: string; stories: LiveStory[] }> {
  const folder = join(CACHE, `demo-${fingerprint()}`);
  if (!existsSync(folder)) await seed(folder);
  return {
    file: join(folder, 'bench.sqlite'),
    stories: JSON.parse(await readFile(join(folder, 'stories.json'), 'utf8')) as LiveStory[],
  };
}

async function seed(folder: string): Promise<void> {
  await mkdir(CACHE, { recursive: true });
  for (const old of readdirSync(CACHE))
    if (old.startsWith('demo-')) await rm(join(CACHE, old), { recursive: true, force: true });
  const made = await mkdtemp(join(scratch(), 'seeding-'));
  const store = await openStore(join(made, 'bench.sqlite'), { waitsForDisk: false });
  const stories = await seedDemo(store, DEMO);
  await store.sequelize.query('PRAGMA wal_checkpoint(TRUNCATE)');
  await store.close();
  await writeFile(join(made, 'stories.json'), JSON.stringify(stories));
  const making = await mkdtemp(join(CACHE, 'seeding-'));
  await cp(made, making, { recursive: true });
  await rm(made, { recursive: true, force: true });
  await rename(making, folder).catch(async (error: unknown) => {
    // Somebody else was first; theirs is as good.
    if (!existsSync(folder)) throw error;
    await rm(making, { recursive: true, force: true });
  });
}

/** A copy of the seeded demo at `to`. */
export async function copyDemo(to: string): Promise<LiveStory[]> {
  const { file, stories } = await seededDemo();
  await copyFile(file, to);
  await cp(pictureFolder(file), pictureFolder(to), { recursive: true });
  return stories;
}
