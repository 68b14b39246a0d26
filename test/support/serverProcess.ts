import { type ChildProcess, spawn } from 'node:child_process';
import { buildPrograms, builtFile } from '../../scripts/setup.mjs';

/** A server as `npm start` runs it, in processes of its own. */
export interface Running {
  process: ChildProcess;
  url: string;
  /** Everything it has printed. */
  said: () => string;
}

/**
 * Starts the server and waits for its address.
 *
 * @param options as on its command line
 * @throws Error with what it printed when it ends instead
 */
export function startServer(options: readonly string[]): Promise<Running> {
  buildPrograms();
  const child = spawn(process.execPath, [builtFile('server/main'), ...options], {
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  return new Promise((resolve, reject) => {
    let said = '';
    const hear = (part: Buffer): void => {
      said += part.toString();
      const url = /https?:\/\/\S+/.exec(said)?.[0];
      if (url) resolve({ process: child, url, said: () => said });
    };
    child.stdout.on('data', hear);
    child.stderr.on('data', hear);
    child.on('exit', (code) => reject(new Error(`The server ended with ${code}: ${said}`)));
  });
}

/** An empty shop on a free port. */
export const startShop = (folder: string, ...more: string[]): Promise<Running> =>
  startServer(['--shop', '--data', folder, '--port', '0', ...more]);

interface RackProcess {
  process: ChildProcess;
  port: number;
  state: () => Promise<RackState>;
}

/** How long a process of its own may take to answer on a busy machine, ms. */
const ANSWERS_MS = 30_000;

/** Stand-in instruments in a process of their own; where their ports were taken, on others. */
export async function startRack(tries = 4): Promise<RackProcess> {
  // Below the ports that the system hands out by itself.
  const port = 10_000 + Math.floor(Math.random() * 20_000);
  buildPrograms();
  const child = spawn(process.execPath, [builtFile('standins/main'), '--port', String(port)], {
    stdio: 'ignore',
  });
  const state = async () =>
    (await (await fetch(`http://127.0.0.1:${port}/state`)).json()) as RackState;
  const began = performance.now();
  while (child.exitCode === null && performance.now() - began < ANSWERS_MS) {
    const up = await state().then(
      () => true,
      () => false,
    );
    if (up) return { process: child, port, state };
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  child.kill('SIGKILL');
  if (tries <= 1) throw new Error('The stand-ins do not answer.');
  return startRack(tries - 1);
}

interface RackState {
  places: { output: { on: boolean; tripped: string | null } }[];
}

export const gone = (child: ChildProcess): Promise<unknown> =>
  new Promise((resolve) =>
    child.exitCode !== null || child.signalCode !== null
      ? resolve(null)
      : child.once('exit', resolve),
  );
