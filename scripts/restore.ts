// `npm run restore -- --from FILE [--shop] [--data DIR]`: puts a copy in the place of the data. What is there is set aside.
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { restore } from '../src/server/store/backups.ts';
import { FileRefused } from '../src/server/store/fileFaults.ts';
import { FolderInUse } from '../src/server/store/lock.ts';
import { ROOT } from './setup.mjs';

const { values } = parseArgs({
  options: {
    from: { type: 'string' },
    shop: { type: 'boolean', default: false },
    data: { type: 'string', default: 'data' },
  },
});
const file = join(resolve(ROOT, values.data), values.shop ? 'shop' : 'demo', 'bench.sqlite');
if (!values.from) {
  console.error('Say which copy: --from FILE.');
  process.exit(2);
}
try {
  const { aside, lastSeq } = await restore(file, resolve(values.from));
  console.log(
    `Put back: ${file} holds ${lastSeq.toLocaleString('en-GB')} entries.${aside ? ` What was there lies at ${aside}.` : ''}`,
  );
} catch (error) {
  if (!(error instanceof FileRefused) && !(error instanceof FolderInUse)) throw error;
  console.error(error.message);
  process.exit(1);
}
