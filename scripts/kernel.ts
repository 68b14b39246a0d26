// `npm run kernel`: compiles the arithmetic of the battery model, kernel/, to WebAssembly. What it shares with
// src/core/simulation (where numbers lie, and constants) is written from there into kernel/numbers.ts.
// With --check it says whether the compiled one is up to date, and changes nothing.
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import asc from 'assemblyscript/asc';
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

/** The compiled kernel, from the sources as they would be written. */
async function compiled(): Promise<Uint8Array> {
  let binary: Uint8Array | null = null;
  const { error, stderr } = await asc.main(
    [
      'kernel/step.ts',
      '--baseDir',
      ROOT,
      '--optimizeLevel',
      '3',
      '--shrinkLevel',
      '1',
      '--converge',
      '--noAssert',
      '--runtime',
      'stub',
      '--outFile',
      'kernel.wasm',
      '--memoryBase',
      '64',
    ],
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

const bytes = await compiled();
const base64 = Buffer.from(bytes).toString('base64');
const lines = base64.match(/.{1,150}/g) ?? [];
const module = [
  '/** The arithmetic of kernel/ as WebAssembly, base64. Made by `npm run kernel`; never edited by hand. */',
  'export const KERNEL =',
  `${lines.map((line, i) => `  ${i === 0 ? '' : '  '}'${line}'`).join(' +\n')};`,
  '',
].join('\n');

if (!process.argv.includes('--check')) {
  writeFileSync(NUMBERS, numbers);
  writeFileSync(BYTES, module);
  console.log(`${(bytes.length / 1024).toFixed(1)} kB`);
} else if (
  !existsSync(BYTES) ||
  readFileSync(BYTES, 'utf8') !== module ||
  readFileSync(NUMBERS, 'utf8') !== numbers
) {
  console.error('The compiled kernel is not that of kernel/: run `npm run kernel`.');
  process.exit(1);
}
