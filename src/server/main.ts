import { rm } from 'node:fs/promises';
import { readFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import pino from 'pino';
import { createApp } from './app.ts';
import { type BenchClock, demoClock, shopClock } from './clock.ts';
import { type Context, readRules } from './context.ts';
import { demoStart, seedDemo } from './demo/seed.ts';
import { plugInRack, seedLive, StandInRack } from './demo/standInRack.ts';
import { Changes } from './http/changes.ts';
import { isLoopback } from './http/doors.ts';
import { Instruments } from './instruments/channel.ts';
import { Forecaster } from './live/forecaster.ts';
import { LiveBench } from './live/liveBench.ts';
import { readJob } from './resources/jobs/jobs.ts';
import { catchUpSummaries } from './resources/recoveries/recoveries.ts';
import { SESSION_MS, somebodyCanSignIn } from './resources/people/signIn.ts';
import { tidy } from './store/housekeeping.ts';
import { openStore, type Store, wholeFileFault } from './store/store.ts';

const ROOT = fileURLToPath(new URL('../../', import.meta.url));
const DEMO_FOLDER = new URL('../../demo/', import.meta.url);
const DEMO_CLOCK = 'demoClock';
/** The demo's time is written down this often, so that it goes on where it stopped. */
const CLOCK_SAVE_MS = 5000;
const TIDY_FIRST_MS = 60_000;
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
  },
});

const port = Number(options.port);
if (!Number.isInteger(port) || port < 0 || port > 65_535) {
  console.error(`--port takes a number from 0 to 65535, not “${options.port}”.`);
  process.exit(2);
}
const host = options.host;
const log = pino({ level: process.env['LOG_LEVEL'] ?? 'warn' });
const version = (JSON.parse(readFileSync(join(ROOT, 'package.json'), 'utf8')) as { version: string }).version;

/** The demo and a shop never share a file: each has its own folder. */
const STOPPED_CLOCK: BenchClock = { now: () => 0, rate: 1, demo: true, setRate: () => undefined };
const folder = resolve(ROOT, options.data, options.shop ? 'shop' : 'demo');
if (options.fresh && !options.shop) await rm(folder, { recursive: true, force: true });
const file = join(folder, 'bench.sqlite');
const store = await openStore(file);
const rack = options.rack && !options.shop ? new StandInRack(Number(options.rack)) : null;
if (rack && !(await rack.ready())) log.error('the stand-ins do not answer');
const context: Context = { store, changes: new Changes(), clock: STOPPED_CLOCK };
const live = new LiveBench(context, new Instruments(), log, rack?.clipOn);
const forecaster = new Forecaster(context, live, log);
const seeded = !options.shop && (await store.tables.people.count()) === 0;
if (seeded) await seedPast();
const clock = options.shop ? await openShopClock(store) : await openDemoClock(store);
context.clock = rack ? withRack(clock, rack) : clock;
context.live = live;
if (rack) {
  await plugInRack(context, rack);
  context.clock.setRate(clock.rate);
}
// A demo that was made a moment ago has its charges in hand already.
if (!seeded) await live.restore();
lookAgain();
await catchUpSummaries(store, (id) => readJob(store, id));
keepTidy();

const wide = !isLoopback(host);
if (wide && !(await somebodyCanSignIn(store))) {
  console.error('Before other machines may reach it, a lead needs a PIN: start without --host, and set it under House rules, People.');
  await live.close();
  await store.close();
  process.exit(1);
}
const app = createApp(context, { log, version, pages: join(ROOT, 'dist/web'), live, wide });
const server = app.listen(port, host);
server.on('listening', () => {
  const address = server.address();
  const actual = typeof address === 'object' && address ? address.port : port;
  const shown = host.includes(':') ? `[${host}]` : host;
  console.log(`Cork Ember, ${options.shop ? 'your shop' : 'the demo shop'}: http://${shown}:${actual}${wide ? ' (signing in with a PIN)' : ''}`);
});
server.on('error', (error: NodeJS.ErrnoException) => {
  console.error(error.code === 'EADDRINUSE' ? `Port ${port} is in use. Try --port ${port + 1}.` : error.message);
  process.exit(1);
});

async function openShopClock(from: Store): Promise<BenchClock> {
  return shopClock(await latestMoment(from));
}

/** First start: seeds the demo and begins at its own hour. Later: goes on where it stopped. */
async function openDemoClock(from: Store): Promise<BenchClock> {
  const { settings } = from.tables;
  const saved = (await settings.findByPk(DEMO_CLOCK))?.value as { now: number; rate: number } | undefined;
  const start = saved ? Math.max(saved.now, await latestMoment(from)) : await demoStart(DEMO_FOLDER);
  const demo = demoClock(start, Number(options.rate ?? saved?.rate ?? 1));
  const save = () => from.write((transaction) => settings.upsert({ key: DEMO_CLOCK, value: { now: demo.now(), rate: demo.rate } }, { transaction }));
  const timer = setInterval(() => void save().catch((error: unknown) => log.error({ error }, 'demo clock not saved')), CLOCK_SAVE_MS);
  timer.unref();
  return demo;
}

/** The demo's past: its stories, and what its instruments did meanwhile. */
async function seedPast(): Promise<void> {
  const stories = await seedDemo(store, DEMO_FOLDER);
  if (!rack) return;
  const start = await demoStart(DEMO_FOLDER);
  await plugInRack(context, rack);
  await seedLive(stories, rack, live, { set: (at) => (context.clock = { ...STOPPED_CLOCK, now: () => at }) }, start);
}

/** Whoever changes the demo's speed changes that of its stand-ins. */
function withRack(demo: BenchClock, standIns: StandInRack): BenchClock {
  return {
    now: () => demo.now(),
    get rate() {
      return demo.rate;
    },
    demo: true,
    setRate(rate) {
      demo.setRate(rate);
      void standIns.setRate(rate).catch((error: unknown) => log.error({ error }, 'the stand-ins did not take the speed'));
    },
  };
}

/** A look at the live charges each second; four times as often where bench time runs fast. */
function lookAgain(): void {
  const look = async (): Promise<void> => {
    await live.tick();
    forecaster.tick();
    lookAgain();
  };
  setTimeout(() => void look(), context.clock.rate > 1 ? 250 : 1000).unref();
}

/** Soon after the start, when nobody waits for a page, and then a few times a day. */
function keepTidy(): void {
  const work = async () => {
    const { samplesYears } = await readRules(store);
    const fault = await wholeFileFault(file);
    if (fault) log.fatal({ fault }, 'the data file is damaged: make a backup of it now, stop, and put a sound one in its place');
    await tidy(store, { now: context.clock.now(), sessionsBefore: Date.now() - SESSION_MS, samplesYears });
  };
  const run = () => void work().catch((error: unknown) => log.error({ error }, 'what is old was not taken out'));
  setTimeout(run, TIDY_FIRST_MS).unref();
  setInterval(run, TIDY_EVERY_MS).unref();
}

/** Events are logged as they happen, so the latest moment is among the last of them. */
async function latestMoment(from: Store): Promise<number> {
  const last = await from.tables.events.findAll({ attributes: ['at'], order: [['seq', 'DESC']], limit: 1000, raw: true });
  return Math.max(0, ...last.map((e) => e.at));
}

let closing = false;
async function close(): Promise<void> {
  if (closing) return;
  closing = true;
  server.closeAllConnections();
  server.close();
  await live.switchOff();
  await forecaster.close();
  await live.close();
  await store.close();
  process.exit(0);
}
process.on('SIGINT', () => void close());
process.on('SIGTERM', () => void close());
