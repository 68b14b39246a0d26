// `npm run archive -- --to FILE.zip [--shop] [--data DIR]`: the whole shop as files that other programs read.
// `npm run archive -- --from FILE.zip --shop --data DIR`: back into an empty shop.
import { existsSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { type Manifest, writeArchive } from '../src/server/archive/archive.ts';
import { readArchive } from '../src/server/archive/readArchive.ts';
import { FileRefused } from '../src/server/store/fileFaults.ts';
import { FolderInUse } from '../src/server/store/lock.ts';
import { joinStore } from '../src/server/store/store.ts';
import { ROOT } from './setup.mjs';

const { values } = parseArgs({
  options: {
    to: { type: 'string' },
    from: { type: 'string' },
    shop: { type: 'boolean', default: false },
    data: { type: 'string', default: 'data' },
  },
});
const file = join(resolve(ROOT, values.data), values.shop ? 'shop' : 'demo', 'bench.sqlite');
if ((values.to === undefined) === (values.from === undefined)) {
  console.error('Say where to (--to FILE.zip) or where from (--from FILE.zip).');
  process.exit(2);
}
const rows = ({ tables }: Manifest): string =>
  tables.reduce((sum, t) => sum + t.rows, 0).toLocaleString('en-GB');
try {
  if (values.from)
    console.log(
      `Brought in: ${rows(await readArchive(resolve(values.from), file))} rows; the log tells what is stored.`,
    );
  else {
    if (!existsSync(file)) throw new FileRefused(`There is no data at ${file}.`);
    const store = await joinStore(file);
    console.log(
      `Written to ${values.to}: ${rows(await writeArchive(store, resolve(values.to as string)))} rows.`,
    );
    await store.close();
  }
} catch (error) {
  if (!(error instanceof FileRefused) && !(error instanceof FolderInUse)) throw error;
  console.error(error.message);
  process.exit(1);
}
