// `npm run kernel`: compiles the arithmetic of the battery model, kernel/, to WebAssembly. What it shares with
// src/core/simulation (where numbers lie, and constants) is written from there into kernel/numbers.ts.
// With --check it says whether the compiled one was made of what stands there now, by the marks it carries, and changes nothing.
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { DESIGN_KEYS } from '../src/core/simulation/design.ts';
import {
  BLOCK,
  BLOCK_NUMBERS,
  CASE,
  CASE_SIZE,
  CELL,
  CELL_SIZE,
  LINEAR,
  LINEAR_SIZE,
  MAKE,
  MAKE_SIZE,
  MOST_CELLS,
} from '../src/core/simulation/layout.ts';
import { CONSTANTS } from '../src/core/simulation/constants.ts';
import { ROOT } from './setup.mjs';

const NUMBERS = join(ROOT, 'kernel/numbers.ts');
const BYTES = join(ROOT, 'src/core/simulation/kernelBytes.ts');

const places = (letter: string, places: Readonly<Record<string, number>>): string[] =>
  Object.entries(places).map(
    ([name, place]) => `export const ${letter}_${name}: usize = ${8 * place};`,
  );
const number = (value: number): string => (Number.isInteger(value) ? `${value}.0` : String(value));
const numbers = [
  '// Made by `npm run kernel` from src/core/simulation; never edited by hand.',
  ...places('S', CELL),
  ...places('C', CASE),
  ...places('M', MAKE),
  ...places('L', LINEAR),
  ...places('B', BLOCK),
  ...DESIGN_KEYS.map((key, i) => `export const D_${key}: usize = ${8 * i};`),
  `export const CELL_BYTES: usize = ${8 * CELL_SIZE};`,
  `export const CASE_BYTES: usize = ${8 * CASE_SIZE};`,
  `export const MAKE_BYTES: usize = ${8 * MAKE_SIZE};`,
  `export const LINEAR_BYTES: usize = ${8 * LINEAR_SIZE};`,
  `export const STATE_BYTES: i32 = ${8 * (MOST_CELLS * CELL_SIZE + CASE_SIZE)};`,
  `export const BLOCK_BYTES: i32 = ${8 * BLOCK_NUMBERS};`,
  ...Object.entries(CONSTANTS).map(
    ([name, value]) => `export const ${name}: f64 = ${number(value)};`,
  ),
  '',
].join('\n');

const OPTIONS = [
  ...['--optimizeLevel', '3', '--shrinkLevel', '1', '--converge', '--noAssert'],
  ...['--runtime', 'stub', '--memoryBase', '64'],
];

/** What the compiled kernel follows from: its sources as they would be written, the compiler and how it is asked. */
function markOfSources(): string {
  const hash = createHash('sha256').update(numbers).update(OPTIONS.join(' '));
  const compiler = join(ROOT, 'node_modules/assemblyscript/package.json');
  hash.update((JSON.parse(readFileSync(compiler, 'utf8')) as { version: string }).version);
  const names = readdirSync(join(ROOT, 'kernel')).filter(
    (name) => join('kernel', name) !== 'kernel/numbers.ts',
  );
  for (const name of names.toSorted())
    hash.update(name).update(readFileSync(join(ROOT, 'kernel', name)));
  return hash.digest('hex').slice(0, 32);
}

/** The module that carries the compiled kernel, with the marks of what it was made of and of itself. */
function moduleOf(base64: string): string {
  const itself = createHash('sha256').update(base64).digest('hex').slice(0, 32);
  const lines = base64.match(/.{1,150}/g) ?? [];
  return [
    '/**',
    ' * The arithmetic of kernel/ as WebAssembly, base64. Made by `npm run kernel`; never edited by hand.',
    ` * Made of ${markOfSources()}; is ${itself}.`,
    ' */',
    'export const KERNEL =',
    `${lines.map((line, i) => `  ${i === 0 ? '' : '  '}'${line}'`).join(' +\n')};`,
    '',
  ].join('\n');
}

/** The compiled kernel, from the sources as they would be written. */
async function compiled(): Promise<Uint8Array> {
  const { default: asc } = await import('assemblyscript/asc');
  let binary: Uint8Array | null = null;
  const { error, stderr } = await asc.main(
    ['kernel/step.ts', '--baseDir', ROOT, ...OPTIONS, '--outFile', 'kernel.wasm'],
    {
      readFile: (name, base) => {
        const path = join(base, name);
        return path === NUMBERS ? numbers : existsSync(path) ? readFileSync(path, 'utf8') : null;
      },
      writeFile: (_name, contents) => {
        if (typeof contents !== 'string') binary = contents;
      },
      listFiles: () => [],
    },
  );
  if (error || !binary) throw new Error(`The kernel does not compile.\n${String(stderr)}`);
  return binary;
}

/** The kernel that stands in its module, base64. */
const standing = (module: string): string =>
  [...module.matchAll(/'([A-Za-z0-9+/=]+)'/g)].map((m) => m[1]).join('');

if (process.argv.includes('--check')) {
  const module = existsSync(BYTES) ? readFileSync(BYTES, 'utf8') : '';
  if (module !== moduleOf(standing(module)) || readFileSync(NUMBERS, 'utf8') !== numbers) {
    console.error('The compiled kernel is not that of kernel/: run `npm run kernel`.');
    process.exit(1);
  }
} else {
  const bytes = await compiled();
  writeFileSync(NUMBERS, numbers);
  writeFileSync(BYTES, moduleOf(Buffer.from(bytes).toString('base64')));
  console.log(`${(bytes.length / 1024).toFixed(1)} kB`);
}
