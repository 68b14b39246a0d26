// `npm run answers`: makes the published schemas of the API's answers from the types the code uses.
// With --check it says whether they are up to date, and changes nothing.
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import * as TJS from 'typescript-json-schema';
import { ROOT } from './setup.mjs';

const FILE = join(ROOT, 'src/contract/answers.schema.json');

// The contract knows neither Node nor a browser: half of what a program usually reads is of no use here.
const { compilerOptions } = JSON.parse(readFileSync(join(ROOT, 'tsconfig.json'), 'utf8')) as {
  compilerOptions: TJS.CompilerOptions;
};
const program = TJS.getProgramFromFiles([join(ROOT, 'src/contract/answers.ts')], {
  ...compilerOptions,
  lib: ['ES2023'],
  types: [],
});
const schema = TJS.generateSchema(program, 'Answers', {
  required: true,
  noExtraProps: true,
  strictNullChecks: true,
  ignoreErrors: true,
});
if (!schema) throw new Error('No schema could be made of the answers.');
const text = `${JSON.stringify(schema, null, 1)}\n`;

if (!process.argv.includes('--check')) writeFileSync(FILE, text);
else if (!existsSync(FILE) || readFileSync(FILE, 'utf8') !== text) {
  console.error('The published answers are not those of the types: run `npm run answers`.');
  process.exit(1);
}
