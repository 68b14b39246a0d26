import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { controlServer } from './control.ts';
import { Rack } from './rack.ts';
import { serveRack } from './servers.ts';

/** The stand-ins of the demo as a process of their own: page on --port, instruments on the ports after it. */
const { values: options } = parseArgs({
  options: {
    port: { type: 'string', default: '4710' },
    file: { type: 'string' },
    places: { type: 'string', default: '8' },
  },
});

const TICK_MS = 200;
const SAVE_MS = 5000;
const port = Number(options.port);
const file = options.file ? resolve(options.file) : null;

let anchor = { bench: Date.now(), machine: performance.now(), rate: 1 };
const bench = (): number => anchor.bench + (performance.now() - anchor.machine) * anchor.rate;
const rack = new Rack(Number(options.places), { bench, machine: () => performance.now() });
if (file && existsSync(file)) {
  try {
    rack.restore(JSON.parse(readFileSync(file, 'utf8')));
  } catch {
    console.error('The stand-ins begin with an empty rack: their file could not be read.');
  }
}
const servers = await serveRack(rack, port + 1).catch(inUse);
const control = controlServer({
  rack,
  servers,
  setRate: (rate) =>
    (anchor = {
      bench: bench(),
      machine: performance.now(),
      rate: Math.min(3600, Math.max(0, rate)),
    }),
  advance: (seconds) => {
    anchor = { ...anchor, bench: anchor.bench + Math.min(3600, Math.max(0, seconds)) * 1000 };
    rack.advance();
  },
});
control.on('error', inUse);
control.listen(port, '127.0.0.1');
setInterval(() => rack.advance(), TICK_MS);
if (file) setInterval(save, SAVE_MS);
console.log(`Stand-in instruments: http://127.0.0.1:${port}`);

function inUse(error: NodeJS.ErrnoException): never {
  console.error(
    error.code === 'EADDRINUSE'
      ? `The stand-ins find a port from ${port} to ${port + 6} in use. Another demo runs nearby: give this one a --port at least twenty away.`
      : error.message,
  );
  process.exit(1);
}

function save(): void {
  if (!file) return;
  mkdirSync(dirname(file), { recursive: true });
  writeFileSync(`${file}.new`, JSON.stringify(rack.save()));
  renameSync(`${file}.new`, file);
}
for (const signal of ['SIGINT', 'SIGTERM'] as const) {
  process.on(signal, () => {
    save();
    process.exit(0);
  });
}
