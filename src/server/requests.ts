import type { AddressInfo } from 'node:net';
import pino from 'pino';
import type { MachineClock } from '../contract/wire.ts';
import { createApp } from './app.ts';
import { SteadyClock } from './clock.ts';
import type { Context } from './context.ts';
import { Changes } from './http/changes.ts';
import { plainServer, tlsServer } from './http/listen.ts';
import {
  type Beginning,
  type ClockStanding,
  DeskLine,
  type ToBench,
  type ToRequests,
} from './live/deskLine.ts';
import { Forecaster } from './live/forecaster.ts';
import { openApiDocument } from './http/openapi.ts';
import { loadPackages } from './packages.ts';
import { joinStore } from './store/store.ts';
import { answerTrust } from './door/trustPage.ts';

/**
 * The process that answers requests. It looks after no charge: what it asks of them goes over the line to the
 * process that started it, and it may be stopped, starved or killed without a look being late.
 */

/** What the first requests do not need is loaded so long after them, ms. */
const LOAD_AFTER_MS = 5000;

const log = pino({ level: process.env['LOG_LEVEL'] ?? 'warn' });
const tell = (message: ToBench): void => void process.send?.(message);
const line = new DeskLine(tell);
const changes = new Changes();
let clock: SteadyClock | undefined;
let machine: MachineClock | null = null;
let leave: () => Promise<void> = () => Promise.resolve();

process.on('message', (message: ToRequests) => {
  line.hear(message);
  if (message.type === 'begin') void begin(message.beginning, message.clock);
  if (message.type === 'clock') follow(message.clock);
  if (message.type === 'notice') changes.announce(message.notice);
  if (message.type === 'leave') void leave().finally(() => process.exit(0));
});
// Whoever watches the charges is gone: nothing is left to ask.
process.on('disconnect', () => process.exit(0));
// A key pressed in a terminal reaches both processes; this one is told by the other when it is time.
process.on('SIGINT', () => undefined);

function follow(standing: ClockStanding): void {
  clock?.follow(standing.anchor);
  machine = standing.machine;
}

async function begin(
  { file, host, port, wide, names, tls, trust, demo, version, pages }: Beginning,
  standing: ClockStanding,
): Promise<void> {
  const store = await joinStore(file);
  clock = new SteadyClock(standing.anchor, demo);
  machine = standing.machine;
  const context: Context = { store, clock, changes, live: line.desk, machineClock: () => machine };
  const forecaster = new Forecaster(context, log);
  const app = createApp(context, {
    log,
    version,
    file,
    pages,
    live: line.desk,
    wide,
    names,
    secure: tls !== null,
    trust,
  });
  const { server, dropAll } = tls
    ? tlsServer(app, tls, (request, response) => answerTrust(request, response, trust))
    : plainServer(app);
  server.listen(port, host);
  server.on('listening', () => {
    tell({ type: 'listening', port: (server.address() as AddressInfo).port });
    const laterUses = () => loadPackages().then(() => openApiDocument(version));
    setTimeout(() => void laterUses(), LOAD_AFTER_MS).unref();
    forecaster.begin();
  });
  server.on('error', (error: NodeJS.ErrnoException) => {
    tell({
      type: 'unable',
      message:
        error.code === 'EADDRINUSE'
          ? `Port ${port} is in use. Try --port ${port + 1}.`
          : error.message,
    });
  });
  leave = async () => {
    server.close();
    dropAll();
    await forecaster.close();
    await store.close();
  };
}
