import { rm } from 'node:fs/promises';
import { readFileSync } from 'node:fs';
import { isIP } from 'node:net';
import { join, resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import { parseArgs } from 'node:util';
import pino from 'pino';
import { Answering } from './answering.ts';
import {
  type BenchClock,
  demoClock,
  shopClock,
  type SteadyClock,
  steadyWall,
  WallWatch,
} from './clock.ts';
import { type Context, readRules } from './context.ts';
import { demoStart, seedDemo } from './demo/seed.ts';
import { plugInRack, seedLive, StandInRack } from './demo/standInRack.ts';
import { certificateOf, ownNames, reachableAddresses } from './door/certificate.ts';
import { Changes } from './http/changes.ts';
import { isLoopback } from './http/doors.ts';
import { Instruments } from './instruments/channel.ts';
import type { ClockStanding } from './live/deskLine.ts';
import { LiveBench } from './live/liveBench.ts';
import { readJob } from './resources/jobs/jobs.ts';
import { catchUpSummaries } from './resources/recoveries/recoveries.ts';
import { SESSION_MS } from './door/sessions.ts';
import { somebodyCanSignIn } from './resources/people/people.ts';
import { backupFolder, backUpInto, newestBackup } from './store/backups.ts';
import { FILE_FAULT, LAST_WRITE } from './store/fileStanding.ts';
import { sweepHalfWritten } from './store/pictureFiles.ts';
import { tidy } from './store/housekeeping.ts';
import { FolderInUse, lockFolder } from './store/lock.ts';
import { latestMoment } from './store/latestMoment.ts';
import { ROOT } from './place.ts';
import { FileRefused } from './store/fileFaults.ts';
import { openKnownStore, type Store, wholeFileFault } from './store/store.ts';
import { terminalQr } from './door/trustPage.ts';

/**
 * The process that holds the data folder, keeps the clock and watches the charges. Requests are answered by another
 * one, which this starts and starts again: nothing that a request does can keep it from its looks.
 */

const DEMO_FOLDER = pathToFileURL(join(ROOT, 'demo/'));
const DEMO_CLOCK = 'demoClock';
/** The demo's time is written down this often, so that it goes on where it stopped. */
const CLOCK_SAVE_MS = 5000;
const WALL_LOOK_MS = 1000;
const TIDY_FIRST_MS = 60_000;
const MARK_EVERY_MS = 5000;
const BACKUP_EVERY_MS = 24 * 3_600_000;
const BACKUP_LOOK_MS = 15 * 60_000;
const BACKUPS_KEPT = 14;
const TIDY_EVERY_MS = 6 * 3_600_000;

const { values: options } = parseArgs({
  options: {
    shop: { type: 'boolean', default: false },
    fresh: { type: 'boolean', default: false },
    data: { type: 'string', default: 'data' },
    port: { type: 'string', default: '4700' },
    host: { type: 'string', default: '127.0.0.1' },
    rate: { type: 'string' },
    rack: { type: 'string' },
    'as-it-is': { type: 'boolean', default: false },
    name: { type: 'string', multiple: true, default: [] },
    cert: { type: 'string' },
    key: { type: 'string' },
  },
});

const port = Number(options.port);
if (!Number.isInteger(port) || port < 0 || port > 65_535) {
  console.error(`--port takes a number from 0 to 65535, not “${options.port}”.`);
  process.exit(2);
}
const host = options.host;
if ((options.cert === undefined) !== (options.key === undefined)) {
  console.error('--cert and --key go together: the certificate and its key, in PEM.');
  process.exit(2);
}
const names = [...new Set([...options.name.map((n) => n.toLowerCase()), ...ownNames()])];
const log = pino({ level: process.env['LOG_LEVEL'] ?? 'warn' });
const version = (
  JSON.parse(readFileSync(join(ROOT, 'package.json'), 'utf8')) as { version: string }
).version;

/** The demo and a shop never share a file: each has its own folder. */
const STOPPED_CLOCK: BenchClock = {
  now: () => 0,
  passed: () => 0,
  rate: 1,
  demo: true,
  setRate: () => undefined,
};
const folder = resolve(ROOT, options.data, options.shop ? 'shop' : 'demo');
const file = join(folder, 'bench.sqlite');

let closing = false;
let unlock = await lockFolder(folder).catch(endUnlessOurs);
if (options.fresh && !options.shop) {
  await unlock();
  await rm(folder, { recursive: true, force: true });
  unlock = await lockFolder(folder).catch(endUnlessOurs);
}
// It reads its programs while the file is looked through.
const answering = new Answering(log);
const { store, mark } = await openKnownStore(file, options['as-it-is']).catch(
  async (error: unknown) => {
    if (error instanceof FileRefused) console.error(error.message);
    else log.fatal({ err: error }, 'the data file cannot be opened');
    await unlock();
    process.exit(1);
  },
);
const rack = options.rack && !options.shop ? new StandInRack(Number(options.rack)) : undefined;
if (rack && !(await rack.ready())) log.error('the stand-ins do not answer');
const context: Context = { store, changes: new Changes(), clock: STOPPED_CLOCK };
const live = new LiveBench(context, new Instruments(), log, rack);
const seeded = !options.shop && (await store.tables.people.count()) === 0;
if (seeded) await seedPast();
const clock = options.shop ? shopClock(await latestMoment(store)) : await openDemoClock(store);
const wall = options.shop ? new WallWatch(clock) : null;
if (wall) live.keepTime(clock, wall);
context.clock = clock;
clock.onSet(() => answering.tellClock());
context.changes.listen((notice) => answering.notice(notice));
if (rack) {
  await plugInRack(context, rack);
  await live.setRate(clock.rate);
}
// A demo that was made a moment ago has its charges in hand already.
if (!seeded) await live.restore();
live.watchOver();
watchWall();
await catchUpSummaries(store, (id) => readJob(store, id));
keepTidy();
keepMarked();

const wide = !isLoopback(host);
if (wide && !(await somebodyCanSignIn(store))) {
  console.error(
    'Before other machines may reach it, a lead needs a PIN: start without --host, and set it under House rules, People.',
  );
  await close(1);
}
try {
  const tls = wide
    ? await certificateOf(
        folder,
        names,
        options.cert && options.key ? { cert: options.cert, key: options.key } : null,
      )
    : null;
  const [reachable] = reachableAddresses();
  const trust =
    tls?.root && reachable
      ? {
          root: tls.root,
          fingerprint: tls.fingerprint,
          address: `https://${isIP(host) === 4 && host !== '0.0.0.0' ? host : reachable}:${port}`,
        }
      : null;
  const beginning = {
    file,
    host,
    port,
    wide,
    names,
    tls,
    trust,
    demo: !options.shop,
    version,
    pages: join(ROOT, 'dist/web'),
  };
  const actual = await answering.begin(live, beginning, clockStanding);
  const shown = host.includes(':') ? `[${host}]` : host;
  console.log(
    `Cork Ember, ${options.shop ? 'your shop' : 'the demo shop'}: ${tls ? 'https' : 'http'}://${shown}:${actual}${wide ? ' (signing in with a PIN)' : ''}`,
  );
  if (tls)
    console.log(
      `${tls.fresh ? 'A certificate was made for it. ' : ''}Its fingerprint, to compare with what the browser shows: ${tls.fingerprint}`,
    );
  if (trust) {
    const page = `${trust.address.replace('https:', 'http:')}/trust`;
    console.log(`For a phone: ${page}\n${terminalQr(page)}`);
  }
} catch (error) {
  console.error((error as Error).message);
  await close(1);
}

function endUnlessOurs(error: unknown): never {
  if (!(error instanceof FolderInUse)) throw error;
  console.error(error.message);
  process.exit(1);
}

function clockStanding(): ClockStanding {
  return { anchor: clock.anchor, machine: wall?.standing() ?? null };
}

/** First start: seeds the demo and begins at its own hour. Later: goes on where it stopped. */
async function openDemoClock(from: Store): Promise<SteadyClock> {
  const { settings } = from.tables;
  const saved = (await settings.findByPk(DEMO_CLOCK))?.value as
    | { now: number; rate: number }
    | undefined;
  const start = saved
    ? Math.max(saved.now, await latestMoment(from))
    : await demoStart(DEMO_FOLDER);
  const demo = demoClock(start, Number(options.rate ?? saved?.rate ?? 1));
  const save = () =>
    from.write((transaction) =>
      settings.upsert(
        { key: DEMO_CLOCK, value: { now: demo.now(), rate: demo.rate } },
        { transaction },
      ),
    );
  const timer = setInterval(
    () => void save().catch((err: unknown) => log.error({ err }, 'demo clock not saved')),
    CLOCK_SAVE_MS,
  );
  timer.unref();
  return demo;
}

/** The demo's past: its stories, and what its instruments did meanwhile. */
async function seedPast(): Promise<void> {
  const stories = await seedDemo(store, DEMO_FOLDER);
  if (!rack) return;
  const start = await demoStart(DEMO_FOLDER);
  await plugInRack(context, rack);
  const set = (at: number) =>
    (context.clock = { ...STOPPED_CLOCK, now: () => at, passed: () => at });
  await seedLive(stories, rack, live, { set }, start);
}

/** Holds bench time against the machine's clock, and tells where they part. */
function watchWall(): void {
  if (!wall) return;
  setInterval(() => {
    const ahead = wall.look();
    answering.tellClock();
    if (ahead === null) return;
    log.warn(
      { aheadMs: ahead },
      ahead === 0
        ? "the machine's clock agrees with the bench again"
        : "the machine's clock was set, or it slept",
    );
    context.changes.announce({ topic: 'clock' });
  }, WALL_LOOK_MS).unref();
}

/** What is known of the file, and that it can be written, is renewed all the time; a backup is made each day. */
function keepMarked(): void {
  const write = async () => {
    await keepSetting(LAST_WRITE, Math.round(steadyWall()));
    await mark();
  };
  setInterval(
    () => void write().catch((err: unknown) => log.error({ err }, 'the file cannot be written')),
    MARK_EVERY_MS,
  ).unref();
  if (!options.shop) return;
  const backUpToday = async () => {
    const newest = await newestBackup(backupFolder(file));
    if (!newest || Date.now() - newest.at > BACKUP_EVERY_MS)
      await backUpInto(file, backupFolder(file), BACKUPS_KEPT, Date.now());
  };
  const run = () =>
    void backUpToday().catch((err: unknown) => log.error({ err }, 'no backup could be made'));
  setTimeout(run, TIDY_FIRST_MS).unref();
  setInterval(run, BACKUP_LOOK_MS).unref();
}

const keepSetting = (key: string, value: unknown): Promise<unknown> =>
  store.write((transaction) => store.tables.settings.upsert({ key, value }, { transaction }));

/** Soon after the start, when nobody waits for a page, and then a few times a day. */
function keepTidy(): void {
  const work = async () => {
    const { samplesYears } = await readRules(store);
    const fault = await wholeFileFault(file);
    if (fault) log.fatal({ fault }, 'the data file is damaged');
    await keepSetting(FILE_FAULT, fault);
    await sweepHalfWritten(file);
    await tidy(store, {
      now: context.clock.now(),
      sessionsBefore: steadyWall() - SESSION_MS,
      samplesYears,
    });
  };
  const run = () =>
    void work().catch((err: unknown) => log.error({ err }, 'what is old was not taken out'));
  setTimeout(run, TIDY_FIRST_MS).unref();
  setInterval(run, TIDY_EVERY_MS).unref();
}

async function close(code = 0): Promise<void> {
  if (closing) return;
  closing = true;
  // Current first; who asks meanwhile finds everything off.
  await live.switchOff();
  await answering.leave();
  await live.close();
  await mark().catch(() => undefined);
  await store.close();
  await unlock();
  process.exit(code);
}
process.on('SIGINT', () => void close());
process.on('SIGTERM', () => void close());
