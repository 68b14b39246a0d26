// What both commands need before anything of the project's own can run: plain Node, no packages.
import { createHash } from 'node:crypto';
import { spawnSync } from 'node:child_process';
import {
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const ROOT = fileURLToPath(new URL('..', import.meta.url));
const BIN = join(ROOT, 'node_modules', '.bin');
const STAMPS = join(ROOT, '.cache');

/** Runs a command in the project; stops everything with its code when it fails. */
export function run(command, args, { quiet = false } = {}) {
  const done = spawnSync(command, args, {
    cwd: ROOT,
    stdio: quiet ? ['ignore', 'ignore', 'inherit'] : 'inherit',
  });
  if (done.status !== 0) process.exit(done.status ?? 1);
}

export const bin = (name) => join(BIN, name);

export function demandNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 19)) {
    console.error(`Cork Ember needs Node 20.19 or later; this is ${process.versions.node}.`);
    process.exit(1);
  }
}

/** Does the work unless its stamp says it was done for these very inputs. */
function unlessStamped(name, inputs, isThere, work) {
  const stamp = join(STAMPS, name);
  if (isThere && existsSync(stamp) && readFileSync(stamp, 'utf8') === inputs) return;
  work();
  mkdirSync(STAMPS, { recursive: true });
  writeFileSync(stamp, inputs);
}

export function installPackages() {
  const lock = createHash('sha256')
    .update(readFileSync(join(ROOT, 'package-lock.json')))
    .digest('hex');
  unlessStamped('packages', lock, existsSync(join(ROOT, 'node_modules', 'sqlite3')), () => {
    console.log('Installing packages; the first time takes some minutes, SQLite is compiled.');
    // Not `npm ci`: it refuses a lock file that lacks builds for platforms this registry does not carry.
    // `--no-save` keeps the lock file as it is.
    run('npm', ['install', '--no-save', '--no-audit', '--no-fund', '--loglevel=error']);
  });
}

function filesBelow(folder) {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    const path = join(folder, entry.name);
    return entry.isDirectory() ? filesBelow(path) : [path];
  });
}

/** What stands in these files and folders, as one mark that changes with any of them. */
function markOf(...paths) {
  const marks = paths
    .map((path) => join(ROOT, path))
    .flatMap((path) => (statSync(path).isDirectory() ? filesBelow(path) : [path]))
    .map((path) => `${path} ${statSync(path).size} ${statSync(path).mtimeMs}`);
  return createHash('sha256').update(marks.join('\n')).digest('hex');
}

export function buildPages() {
  unlessStamped(
    'pages',
    markOf(
      ...['src/core', 'src/contract', 'src/web', 'public'],
      ...['index.html', 'vite.config.ts', 'package-lock.json'],
    ),
    existsSync(join(ROOT, 'dist', 'web', 'index.html')),
    () => {
      console.log('Building the pages.');
      run(bin('vite'), ['build', '--logLevel', 'warn']);
      // The same for the server, which draws the page of a first visit.
      run(bin('vite'), ['build', '--ssr', 'src/web/app/drawPage.tsx', '--logLevel', 'warn']);
    },
  );
}

/** The programs that run in processes of their own, each made into plain JavaScript: they start in a third of the time. */
const PROGRAMS = [
  'server/main',
  'server/requests',
  'server/dayplan/planner',
  'server/http/drawing',
  'standins/main',
];

export function buildPrograms() {
  unlessStamped(
    'programs',
    markOf('src/core', 'src/contract', 'src/server', 'src/standins', 'package-lock.json'),
    PROGRAMS.every((name) => existsSync(builtFile(name))),
    () => {
      // Pieces of earlier builds bear other names, and would stay.
      rmSync(join(ROOT, 'dist', 'node'), { recursive: true, force: true });
      run(bin('esbuild'), [
        ...PROGRAMS.map((name) => `src/${name}.ts`),
        ...['--bundle', '--splitting', '--packages=external', '--platform=node', '--format=esm'],
        ...['--target=node20', '--sourcemap', '--outbase=src', '--outdir=dist/node'],
        '--log-level=warning',
      ]);
    },
  );
}

/** The built file of a program. */
export const builtFile = (name) => join(ROOT, 'dist', 'node', `${name}.js`);
