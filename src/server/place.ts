import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { type ResourceLimits, Worker } from 'node:worker_threads';

const HERE = fileURLToPath(import.meta.url);

/** The package's folder, the same for the sources and for what is built of them. */
export const ROOT = above(HERE);

function above(path: string): string {
  const folder = dirname(path);
  if (existsSync(join(folder, 'package.json'))) return folder;
  if (folder === path) throw new Error('No package.json stands above the server.');
  return above(folder);
}

/** The file of a program of this package, built or as it is written, as this one is. */
export const programFile = (name: string): string =>
  HERE.endsWith('.ts') ? join(ROOT, 'src', `${name}.ts`) : join(ROOT, 'dist', 'node', `${name}.js`);

/**
 * Starts a program of this package as a thread; what reads this file for Node reads that one too.
 *
 * @param told what it is to know from the start
 * @param limits of its memory; what needs more ends
 */
export const startThread = (name: string, told?: unknown, limits?: ResourceLimits): Worker =>
  new Worker(programFile(name), {
    workerData: told,
    ...(limits ? { resourceLimits: limits } : {}),
  });
