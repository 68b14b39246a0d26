// `npm run backup -- --to FILE [--shop] [--data DIR]`: a sound copy of the data, also while the server runs.
// `npm run backup -- --into FOLDER --every 24h [--keep 14]`: one now and then again, the last of them kept.
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { type Backup, backUp, backUpInto } from '../src/server/store/backups.ts';
import { FileRefused } from '../src/server/store/fileFaults.ts';
import { ROOT } from './setup.mjs';

const HELP = 'Say where: --to FILE, or --into FOLDER with --every 24h (and --keep 14).';
const UNITS: Readonly<Record<string, number>> = { m: 60_000, h: 3_600_000, d: 86_400_000 };

const { values } = parseArgs({
  options: {
    to: { type: 'string' },
    into: { type: 'string' },
    every: { type: 'string' },
    keep: { type: 'string', default: '14' },
    shop: { type: 'boolean', default: false },
    data: { type: 'string', default: 'data' },
  },
});
const file = join(resolve(ROOT, values.data), values.shop ? 'shop' : 'demo', 'bench.sqlite');
const [, count, unit] = /^(\d+)([mhd])$/.exec(values.every ?? '') ?? [];
const everyMs = Number(count) * (UNITS[unit ?? ''] ?? Number.NaN);
const keep = Number(values.keep);
if (
  (!values.to && !values.into) ||
  (values.every !== undefined && !(everyMs >= 60_000)) ||
  !(keep >= 1)
) {
  console.error(HELP);
  process.exit(2);
}
const say = ({ file: to, bytes, lastSeq }: Backup): void =>
  console.log(
    `Copied to ${to}: ${(bytes / 1024 / 1024).toFixed(1)} MB, ${lastSeq.toLocaleString('en-GB')} entries, opened and found whole.`,
  );
const one = () =>
  values.into
    ? backUpInto(file, resolve(values.into), keep, Date.now())
    : backUp(file, resolve(values.to as string));
try {
  say(await one());
} catch (error) {
  if (!(error instanceof FileRefused)) throw error;
  console.error(error.message);
  process.exit(2);
}
if (values.into && values.every)
  setInterval(() => void one().then(say, (error: Error) => console.error(error.message)), everyMs);
