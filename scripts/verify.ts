// `npm run verify -- [--shop] [--data DIR]`: tells the shop anew from its log of events, and compares that with what is stored.
import { existsSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { joinStore } from '../src/server/store/store.ts';
import { verifyShop } from '../src/server/verify/verify.ts';
import { ROOT } from './setup.mjs';

const { values } = parseArgs({
  options: { shop: { type: 'boolean', default: false }, data: { type: 'string', default: 'data' } },
});
const file = join(resolve(ROOT, values.data), values.shop ? 'shop' : 'demo', 'bench.sqlite');
if (!existsSync(file)) {
  console.error(`There is no data at ${file}.`);
  process.exit(2);
}
const store = await joinStore(file);
const { differences, ...counts } = await verifyShop(store);
await store.close();
const n = (count: number) => count.toLocaleString('en-GB');
console.log(
  `${n(counts.events)} entries tell ${n(counts.jobs)} jobs, ${n(counts.readings)} readings, ${n(counts.lots)} lots, ${n(counts.shelf)} on the shelf, ${n(counts.sets)} sets.`,
);
for (const { what, where } of differences) console.error(`✕ ${what}: ${where}`);
console.log(
  differences.length === 0
    ? 'All of it is stored as it is told.'
    : `${n(differences.length)} are stored otherwise than they are told.`,
);
process.exit(differences.length === 0 ? 0 : 1);
