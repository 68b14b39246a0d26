import { readFile } from 'node:fs/promises';
import { fileURLToPath } from 'node:url';
import { transform } from 'esbuild';

/** Loads a file of TypeScript as a module of JavaScript. */
export async function load(url, context, next) {
  const loader = /\.(tsx?)$/.exec(url)?.[1];
  if (!loader) return next(url, context);
  const path = fileURLToPath(url);
  const { code } = await transform(await readFile(path, 'utf8'), {
    loader,
    format: 'esm',
    target: 'node20',
    jsx: 'automatic',
    sourcemap: 'inline',
    sourcefile: path,
    sourcesContent: false,
  });
  return { format: 'module', source: code, shortCircuit: true };
}
