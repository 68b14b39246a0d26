// `npm run backup -- --to FILE [--shop] [--data DIR]`: a sound copy of the data, also while the server runs.
import { existsSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { openStore } from '../src/server/store/store.ts';
import { ROOT } from './setup.mjs';

const { values } = parseArgs({ options: { to: { type: 'string' }, shop: { type: 'boolean', default: false }, data: { type: 'string', default: 'data' } } });
const file = join(resolve(ROOT, values.data), values.shop ? 'shop' : 'demo', 'bench.sqlite');
const to = values.to && resolve(values.to);
if (!to || !existsSync(file) || existsSync(to)) {
  console.error(!to ? 'Say where: --to FILE.' : existsSync(to) ? `${to} is there already; a backup overwrites nothing.` : `There is no data at ${file}.`);
  process.exit(2);
}
const store = await openStore(file);
await store.sequelize.query('VACUUM INTO ?', { replacements: [to] });
await store.close();
console.log(`Copied to ${to}.`);
