import { spawnSync } from 'node:child_process';
import {
  copyFile,
  mkdir,
  mkdtemp,
  readdir,
  readFile,
  rename,
  rm,
  stat,
  truncate,
  utimes,
  writeFile,
} from 'node:fs/promises';
import { join } from 'node:path';
import { expect } from 'chai';
import { Sequelize } from 'sequelize';
import { backUp, backUpInto, newestBackup, restore } from '../../src/server/store/backups.ts';
import { contentsOf, fileFault, readMarker } from '../../src/server/store/fileFaults.ts';
import { FILE_FAULT, fileStanding, LAST_WRITE } from '../../src/server/store/fileStanding.ts';
import { lockFolder } from '../../src/server/store/lock.ts';
import { migrate, type Migration } from '../../src/server/store/migrating.ts';
import {
  openKnownStore,
  openStore,
  type Store,
  wholeFileFault,
} from '../../src/server/store/store.ts';
import { steadyWall } from '../../src/server/clock.ts';
import { scratch } from '../support/scratch.ts';

const said = (work: Promise<unknown>): Promise<string> =>
  work.then(
    () => 'nothing was wrong',
    (error: Error) => `${error.name}: ${error.message}`,
  );

/** As SQLite makes files, bytes. */
const PAGE = 4096;

let entries = 0;
/** Writes entries as a shop's day does. */
async function live(store: Store, count: number): Promise<void> {
  for (let i = 0; i < count; i++)
    await store.write((transaction) =>
      store.tables.events.create(
        {
          at: 1e12 + entries++,
          by: 'ann',
          batteryId: null,
          jobId: null,
          commandId: `${entries}`,
          type: 'x',
          data: { n: i, fill: 'x'.repeat(900) },
        },
        { transaction },
      ),
    );
}

/** Copies the files as a power cut leaves them: the server is still running, and nothing is closed. */
async function powerCut(file: string, to: string): Promise<string> {
  await mkdir(to, { recursive: true });
  for (const end of ['', '-wal'])
    await copyFile(`${file}${end}`, join(to, `bench.sqlite${end}`)).catch(() => undefined);
  await copyFile(join(file, '..', 'bench.json'), join(to, 'bench.json'));
  const main = join(to, 'bench.sqlite');
  const { mtime } = await stat(file);
  await utimes(main, mtime, mtime);
  return main;
}

describe('a data file that is not what it was', () => {
  let folder: string;
  let file: string;
  beforeEach(async () => {
    folder = await mkdtemp(join(scratch(), 'cork-ember-file-'));
    file = join(folder, 'bench.sqlite');
  });
  afterEach(() => rm(folder, { recursive: true, force: true }));

  const opened = async (asItIs = false) => {
    const { store, mark } = await openKnownStore(file, asItIs);
    return { store, mark };
  };
  const reopen = async (asItIs = false): Promise<string> =>
    said(
      opened(asItIs).then(async ({ store }) => {
        await store.close();
      }),
    );

  it('closed in good order it is whole by itself: no log of writes stays beside it', async () => {
    for (let time = 0; time < 60; time++) {
      const { store } = await opened();
      await live(store, 3);
      await store.close();
      expect(await readdir(folder), `time ${time}`).not.to.include('bench.sqlite-wal');
    }
  });

  it('emptied, gone, a folder, something else, cut short: each is told, with what helps, and nothing is begun anew', async () => {
    const { store, mark } = await opened();
    await live(store, 5);
    await mark();
    await store.close();
    const whole = await readFile(file);
    const cases: [string, () => Promise<unknown>, RegExp][] = [
      [
        'empty',
        () => truncate(file, 0),
        /FileRefused: .+ is empty\. On .+ it held 5 entries\. Put a copy back with: npm run restore/,
      ],
      ['gone', () => rm(file), /is gone\. On .+ it held 5 entries\. Put a copy back/],
      [
        'folder',
        () => rm(file).then(() => mkdir(file)),
        /is a folder, where the data file should be/,
      ],
      [
        'something else',
        () => writeFile(file, 'a letter to somebody, and long enough'),
        /is not a data file, or its beginning is destroyed/,
      ],
      ['cut short', () => truncate(file, whole.length / 2), /is damaged/],
    ];
    for (const [name, spoil, sentence] of cases) {
      await spoil();
      expect(await reopen(), name).to.match(sentence);
      await rm(file, { recursive: true, force: true });
      await writeFile(file, whole);
    }
    expect(await reopen()).to.equal('nothing was wrong');
  });

  it('damaged where the shop is written down is refused; in its samples it is found soon after, and told', async () => {
    const { store } = await opened();
    const spoiltAtEnd = async (name: string): Promise<string> => {
      await store.sequelize.query('PRAGMA wal_checkpoint(TRUNCATE)');
      const bytes = await readFile(file);
      const spoilt = join(folder, name, 'bench.sqlite');
      await mkdir(join(folder, name));
      // Whatever was written last fills the last pages; the very last one still grows.
      await writeFile(spoilt, bytes.fill(0x5a, bytes.length - 8 * PAGE, bytes.length - 6 * PAGE));
      return spoilt;
    };
    await live(store, 300);
    const log = await spoiltAtEnd('log');
    const values = Array.from(
      { length: 3000 },
      (_, i) => `(1, ${30_000 * i}${', 12000'.repeat(9)})`,
    );
    await store.sequelize.query('PRAGMA foreign_keys = OFF');
    await store.sequelize.query(`INSERT INTO sample_blocks VALUES ${values.join(',')}`);
    const samples = await spoiltAtEnd('samples');
    await store.close();

    expect(await said(openStore(log))).to.match(/FileRefused: .+ is damaged/);
    expect(await wholeFileFault(file)).to.equal(null);
    const fault = await wholeFileFault(samples);
    expect(fault).to.be.a('string');
    const damaged = await openStore(samples);
    const value = fault;
    await damaged.write((transaction) =>
      damaged.tables.settings.upsert({ key: FILE_FAULT, value }, { transaction }),
    );
    const standing = await fileStanding(damaged, samples, false);
    expect(standing.ok).to.equal(false);
    expect(standing.warnings[0]).to.match(
      /^A part of the data file cannot be read\. Stop the server/,
    );
    expect(standing.warnings[0]).to.contain(`(${fault})`);
    await damaged.close();
  });

  it('an empty file that nobody knows is no new shop either', async () => {
    await writeFile(file, '');
    expect(await reopen()).to.match(/is empty\. .+ To begin a new shop there, remove it first/);
    await rm(file);
    expect(await reopen()).to.equal('nothing was wrong');
  });

  it('whose log of writes was removed has lost entries: that is told, and gone on with only when a person says so', async () => {
    const { store, mark } = await opened();
    await live(store, 100);
    await store.sequelize.query('PRAGMA wal_checkpoint(TRUNCATE)');
    await live(store, 144);
    await mark();
    const cut = await powerCut(file, join(folder, 'cut'));
    await store.close();
    await rm(`${cut}-wal`);
    file = cut;
    expect(await reopen()).to.match(
      /has lost entries: it ends at number 100\. On .+ it held 244 entries\..+--as-it-is/,
    );
    expect(await reopen(true)).to.equal('nothing was wrong');
    expect(await reopen(), 'known as it is from now on').to.equal('nothing was wrong');
  });

  it('left as a power cut leaves it is whole, to the last entry', async () => {
    const { store, mark } = await opened();
    for (let round = 0; round < 6; round++) {
      await live(store, 40);
      if (round % 2 === 0) await mark();
      // Between two marks the file may have been written from its log.
      if (round % 3 === 1) await store.sequelize.query('PRAGMA wal_checkpoint(PASSIVE)');
      const cut = await powerCut(file, join(folder, `cut-${round}`));
      const known = file;
      file = cut;
      expect(await reopen(), `round ${round}`).to.equal('nothing was wrong');
      expect((await contentsOf(cut)).lastSeq).to.equal(40 * (round + 1));
      file = known;
    }
    await store.close();
  });

  it('put over another one whose log of writes was left there is refused, untouched; restore brings it in', async () => {
    const { store, mark } = await opened();
    await live(store, 60);
    const backup = join(folder, 'yesterday.sqlite');
    expect((await backUp(file, backup)).lastSeq).to.equal(60);
    await live(store, 300);
    await store.sequelize.query('PRAGMA wal_checkpoint(TRUNCATE)');
    await live(store, 80);
    await mark();
    const cut = await powerCut(file, join(folder, 'killed'));
    await store.close();

    // By hand, as anybody would.
    await copyFile(backup, cut);
    file = cut;
    const spoilt = [await readFile(cut), await readFile(`${cut}-wal`)];
    expect(await reopen()).to.match(/bench\.sqlite-wal beside .+ belongs to another file/);
    expect(
      [await readFile(cut), await readFile(`${cut}-wal`)].every((bytes, i) =>
        bytes.equals(spoilt[i]!),
      ),
    ).to.equal(true);

    // As it is meant.
    const { aside, lastSeq } = await restore(cut, backup);
    expect(lastSeq).to.equal(60);
    expect((await readdir(aside!)).sort()).to.include.members(['bench.sqlite', 'bench.sqlite-wal']);
    expect(await reopen()).to.equal('nothing was wrong');
    expect((await contentsOf(cut)).lastSeq).to.equal(60);
  });

  it('is not restored under a running server, nor from what is no whole file; then nothing is changed', async () => {
    const { store } = await opened();
    await live(store, 10);
    await store.close();
    const backup = join(folder, 'copy.sqlite');
    await backUp(file, backup);
    const unlock = await lockFolder(folder);
    expect(await said(restore(file, backup))).to.match(/FolderInUse: .+ is in use/);
    await unlock();
    const before = await readFile(file);
    for (const spoil of [
      () => writeFile(join(folder, 'bad.sqlite'), 'nothing'),
      () =>
        readFile(backup).then((bytes) =>
          writeFile(join(folder, 'bad.sqlite'), bytes.subarray(0, 8192)),
        ),
    ]) {
      await spoil();
      expect(await said(restore(file, join(folder, 'bad.sqlite')))).to.match(/FileRefused/);
    }
    expect(await said(restore(file, join(folder, 'nowhere.sqlite')))).to.match(
      /There is no file at/,
    );
    expect((await readFile(file)).equals(before)).to.equal(true);
    expect((await readdir(folder)).filter((n) => n.startsWith('set-aside'))).to.deep.equal([]);
  });

  it('the commands say what they did, and what they would not', async () => {
    const shop = join(folder, 'shop');
    await mkdir(shop);
    const store = await openStore(join(shop, 'bench.sqlite'));
    await live(store, 3);
    await store.sequelize.query(`INSERT INTO settings VALUES ('fileId', '"abc"')`);
    const run = (script: string, ...more: string[]) =>
      spawnSync(
        process.execPath,
        [
          '--import',
          './scripts/typescript.mjs',
          `scripts/${script}.ts`,
          '--shop',
          '--data',
          folder,
          ...more,
        ],
        { encoding: 'utf8' },
      );
    const copy = join(folder, 'copy.sqlite');
    expect(run('backup', '--to', copy).stdout).to.match(/3 entries, opened and found whole/);
    await store.close();
    const back = run('restore', '--from', copy);
    expect(back.stdout).to.match(
      /Put back: .+ holds 3 entries\. What was there lies at .+set-aside-/,
    );
    expect(run('restore').stderr).to.include('Say which copy');
    expect(run('restore', '--from', join(folder, 'no.sqlite')).stderr).to.include(
      'There is no file',
    );
  });

  it('another shop’s file in its place is told from its own', async () => {
    const { store, mark } = await opened();
    await live(store, 3);
    await mark();
    await store.close();
    const mine = await readMarker(file);
    await rename(file, join(folder, 'mine.sqlite'));
    await rm(join(folder, 'bench.json'));
    expect(await reopen()).to.equal('nothing was wrong');
    await writeFile(join(folder, 'bench.json'), JSON.stringify(mine));
    expect(await reopen()).to.match(/is the file of another shop/);
  });

  it('what SQLite says of a disk is told in words', () => {
    for (const [code, words] of [
      ['SQLITE_READONLY', 'cannot be written'],
      ['SQLITE_FULL', 'its disk is full'],
      ['SQLITE_CANTOPEN', 'cannot be opened'],
      ['SQLITE_IOERR', 'reports an error'],
    ] as const)
      expect(
        (fileFault('/d/bench.sqlite', Object.assign(new Error('x'), { parent: { code } })) as Error)
          .message,
      ).to.include(words);
    const other = new Error('something else');
    expect(fileFault('/d/bench.sqlite', other)).to.equal(other);
  });
});

describe('backups', () => {
  let folder: string;
  let store: Store;
  before(async () => {
    folder = await mkdtemp(join(scratch(), 'cork-ember-backups-'));
    store = await openStore(join(folder, 'bench.sqlite'));
    await live(store, 20);
  });
  after(async () => {
    await store.close();
    await rm(folder, { recursive: true, force: true });
  });

  it('are made while the server writes, opened, and so many kept', async () => {
    const file = join(folder, 'bench.sqlite');
    const into = join(folder, 'backups');
    await writeFile(join(folder, 'letter.txt'), 'stays');
    for (let day = 0; day < 5; day++) {
      const [backup] = await Promise.all([
        backUpInto(file, into, 3, Date.UTC(2026, 2, 10 + day, 3)),
        live(store, 3),
      ]);
      expect(backup.lastSeq).to.be.at.least(20 + 3 * day);
    }
    expect((await readdir(into)).sort()).to.deep.equal([
      'bench-2026-03-12T030000Z.sqlite',
      'bench-2026-03-13T030000Z.sqlite',
      'bench-2026-03-14T030000Z.sqlite',
    ]);
    expect((await newestBackup(into))?.at).to.equal(Date.UTC(2026, 2, 14, 3));
    expect(await newestBackup(join(folder, 'nowhere'))).to.equal(null);
  });

  it('and the file’s standing are told: last write, room, what a person should see to', async () => {
    const file = join(folder, 'bench.sqlite');
    await store.write((transaction) =>
      store.tables.settings.upsert({ key: LAST_WRITE, value: steadyWall() }, { transaction }),
    );
    const now = await fileStanding(store, file, true);
    expect(now.ok).to.equal(true);
    expect(now.freeBytes).to.be.greaterThan(0);
    expect(now.warnings.join(' ')).to.match(/The last backup is \d+ days old/);
    expect(
      (await fileStanding(store, file, false)).warnings.filter((w) => w.includes('backup')),
    ).to.deep.equal([]);
    await store.write((transaction) =>
      store.tables.settings.upsert(
        { key: LAST_WRITE, value: steadyWall() - 300_000 },
        { transaction },
      ),
    );
    const late = await fileStanding(store, file, false);
    expect([late.ok, late.warnings[0]]).to.deep.equal([
      false,
      'Nothing could be written for 300 s. Look at the disk.',
    ]);
    const gone = await fileStanding(store, join(folder, 'elsewhere', 'bench.sqlite'), false);
    expect(gone.ok).to.equal(false);
    expect(gone.warnings[0]).to.match(/The data file is gone from its folder/);
  });
});

describe('bringing a file to a newer version', () => {
  let folder: string;
  let file: string;
  let sequelize: Sequelize;
  const first: Migration = {
    name: '001-first',
    up: async (s) => {
      await s.query('CREATE TABLE events (seq INTEGER PRIMARY KEY AUTOINCREMENT, at INTEGER)');
      await s.query('CREATE TABLE settings (key TEXT PRIMARY KEY, value TEXT)');
    },
  };
  const second: Migration = {
    name: '002-second',
    up: async (s) => void (await s.query('ALTER TABLE events ADD COLUMN b TEXT')),
  };
  const broken: Migration = {
    name: '002-second',
    up: async (s) => {
      await s.query('ALTER TABLE events ADD COLUMN b TEXT');
      await s.query('DELETE FROM events');
      await s.query('THIS IS NO SQL');
    },
  };
  beforeEach(async () => {
    folder = await mkdtemp(join(scratch(), 'cork-ember-migrate-'));
    file = join(folder, 'bench.sqlite');
    sequelize = new Sequelize({ dialect: 'sqlite', storage: file, logging: false });
    await migrate(sequelize, file, [first], false);
    await sequelize.query('INSERT INTO events (at) VALUES (1), (2)');
  });
  afterEach(async () => {
    await sequelize.close();
    await rm(folder, { recursive: true, force: true });
  });
  const copies = async () => (await readdir(folder)).filter((n) => n.includes('.before-')).sort();

  it('puts a verified copy aside, overwrites none, and keeps five', async () => {
    await writeFile(`${file}.before-002-second`, 'the only good copy there is');
    await migrate(sequelize, file, [first, second], true);
    expect(await copies()).to.deep.equal([
      'bench.sqlite.before-002-second',
      'bench.sqlite.before-002-second-2',
    ]);
    expect(await readFile(`${file}.before-002-second`, 'utf8')).to.equal(
      'the only good copy there is',
    );
    expect((await contentsOf(`${file}.before-002-second-2`)).lastSeq).to.equal(2);
    let all = [first, second];
    for (let n = 3; n < 12; n++) {
      all = [
        ...all,
        { name: `0${n}-more`, up: async (s) => void (await s.query(`CREATE TABLE t${n} (a)`)) },
      ];
      await migrate(sequelize, file, all, true);
    }
    expect(await copies()).to.have.length(5);
    const [[version]] = (await sequelize.query('PRAGMA user_version')) as [
      [{ user_version: number }],
      unknown,
    ];
    expect(version.user_version).to.equal(11);
  });

  it('that fails leaves nothing of itself, and says which copy to put back', async () => {
    expect(await said(migrate(sequelize, file, [first, broken], true))).to.match(
      /FileRefused: .+ could not be updated to this version: .+ What was begun was taken back\. .+npm run restore -- --from .+before-002-second/,
    );
    const [rows] = await sequelize.query('SELECT * FROM events');
    expect(rows).to.deep.equal([
      { seq: 1, at: 1 },
      { seq: 2, at: 2 },
    ]);
    await migrate(sequelize, file, [first, second], true);
    expect(await copies()).to.have.length(2);
  });

  it('that is killed half way leaves the file as it was', async () => {
    const cut = join(folder, 'cut.sqlite');
    const killed: Migration = {
      name: '002-second',
      up: async (s) => {
        await s.query('ALTER TABLE events ADD COLUMN b TEXT');
        await s.query('DELETE FROM events');
        // The files as they lie on the disk at this moment.
        await copyFile(file, cut);
        await copyFile(`${file}-wal`, `${cut}-wal`).catch(() => undefined);
        await copyFile(`${file}-journal`, `${cut}-journal`).catch(() => undefined);
        throw new Error('killed');
      },
    };
    await said(migrate(sequelize, file, [first, killed], true));
    const after = new Sequelize({ dialect: 'sqlite', storage: cut, logging: false });
    const [rows] = await after.query('SELECT * FROM events');
    expect(rows).to.have.length(2);
    await migrate(after, cut, [first, second], true);
    await after.close();
  });

  it('is refused for a file that a newer version has written', async () => {
    await migrate(sequelize, file, [first, second], true);
    expect(await said(migrate(sequelize, file, [first], true))).to.match(
      /was written by a newer version of Cork Ember \(it knows “002-second”\)/,
    );
    await sequelize.query('PRAGMA user_version = 99');
    expect(await said(migrate(sequelize, file, [first, second], true))).to.match(
      /was written by a newer version/,
    );
  });
});
