import { rm } from 'node:fs/promises';
import { readFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import pino from 'pino';
import { createApp } from './app.ts';
import { type BenchClock, demoClock, shopClock } from './clock.ts';
import { demoStart, seedDemo } from './demo/seed.ts';
import { Changes } from './http/changes.ts';
import { isLoopback, makeKey } from './http/doors.ts';
import { openStore, type Store } from './store/store.ts';

const ROOT = fileURLToPath(new URL('../../', import.meta.url));
const DEMO_FOLDER = new URL('../../demo/', import.meta.url);
const DEMO_CLOCK = 'demoClock';
/** The demo's time is written down this often, so that it goes on where it stopped. */
const CLOCK_SAVE_MS = 5000;

const { values: options } = parseArgs({
  options: {
    shop: { type: 'boolean', default: false },
    fresh: { type: 'boolean', default: false },
    data: { type: 'string', default: 'data' },
    port: { type: 'string', default: '4700' },
    host: { type: 'string', default: '127.0.0.1' },
    rate: { type: 'string' },
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
const folder = resolve(ROOT, options.data, options.shop ? 'shop' : 'demo');
if (options.fresh && !options.shop) await rm(folder, { recursive: true, force: true });
const store = await openStore(join(folder, 'bench.sqlite'));
const clock = options.shop ? await openShopClock(store) : await openDemoClock(store);

const key = isLoopback(host) ? undefined : makeKey();
const app = createApp({ store, clock, changes: new Changes() }, { log, version, pages: join(ROOT, 'dist/web'), ...(key ? { key } : {}) });
const server = app.listen(port, host);
server.on('listening', () => {
  const address = server.address();
  const actual = typeof address === 'object' && address ? address.port : port;
  const shown = host.includes(':') ? `[${host}]` : host;
  console.log(`Cork Ember, ${options.shop ? 'your shop' : 'the demo shop'}: http://${shown}:${actual}${key ? `/?key=${key}` : ''}`);
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
  const { settings, people } = from.tables;
  if ((await people.count()) === 0) await seedDemo(from, DEMO_FOLDER);
  const saved = (await settings.findByPk(DEMO_CLOCK))?.value as { now: number; rate: number } | undefined;
  const start = saved ? Math.max(saved.now, await latestMoment(from)) : await demoStart(DEMO_FOLDER);
  const demo = demoClock(start, Number(options.rate ?? saved?.rate ?? 1));
  const save = () => from.write((transaction) => settings.upsert({ key: DEMO_CLOCK, value: { now: demo.now(), rate: demo.rate } }, { transaction }));
  const timer = setInterval(() => void save().catch((error: unknown) => log.error({ error }, 'demo clock not saved')), CLOCK_SAVE_MS);
  timer.unref();
  return demo;
}

async function latestMoment(from: Store): Promise<number> {
  return Number((await from.tables.events.max('at')) ?? 0);
}

let closing = false;
async function close(): Promise<void> {
  if (closing) return;
  closing = true;
  server.closeAllConnections();
  server.close();
  await store.close();
  process.exit(0);
}
process.on('SIGINT', () => void close());
process.on('SIGTERM', () => void close());
