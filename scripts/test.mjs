// `npm test`: every check, on a fresh clone too. `npm run check`: everything but the tests. Ends with one
// closing line, and a code that is not zero when anything failed.
import { spawn, spawnSync } from 'node:child_process';
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statfsSync,
} from 'node:fs';
import { constants, setPriority, tmpdir } from 'node:os';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { chromiumPath, HEADLESS_SHELL } from './chromium.mjs';
import { bin, demandNode, installPackages, ROOT } from './setup.mjs';

/** Where Linux keeps files in memory, and how much of it must be free for the tests to use it, bytes. */
const MEMORY = '/dev/shm';
const ENOUGH = 2 ** 31;

/** Lines of a failure that are told again at the end: what was expected, and where. */
const WHY_LINES = 12;

/** Two cores: two processes at a time, none of which waits for the other. */
const LANES = 2;

const { values: options } = parseArgs({ options: { checks: { type: 'boolean', default: false } } });
demandNode();
installPackages();
if (!options.checks) installChromium();

/** Where tests keep their files: in memory where there is room, so that a slow disk does not set the pace. */
const scratch = mkdtempSync(join(hasRoom(MEMORY) ? MEMORY : tmpdir(), 'cork-ember-tests-'));
process.env.CORK_EMBER_SCRATCH = scratch;
process.on('exit', () => rmSync(scratch, { recursive: true, force: true }));

let passed = 0;
/** What failed, each with why; told once more at the very end, where a long print-out is read first. */
const failures = [];
const began = performance.now();
/** @type {{ name: string, seconds: number }[]} */
const shares = [];
/** @type {{ file: string, title: string, seconds: number }[]} */
const slow = [];

/**
 * Runs a command to its end; what it printed comes in one piece, so that two at once stay readable.
 *
 * @param aside it takes only what of the machine nobody else wants
 */
function run(name, command, args, { env = {}, aside = false } = {}) {
  const from = performance.now();
  return new Promise((resolve) => {
    const child = spawn(command, args, {
      cwd: ROOT,
      env: { ...process.env, FORCE_COLOR: '0', ...env },
    });
    if (aside && child.pid) setPriority(child.pid, constants.priority.PRIORITY_LOW);
    let said = '';
    child.stdout.on('data', (part) => (said += part));
    child.stderr.on('data', (part) => (said += part));
    child.on('close', (code) => {
      const seconds = (performance.now() - from) / 1000;
      shares.push({ name, seconds });
      console.log(`\n— ${name} (${seconds.toFixed(0)} s)`);
      if (said.trim()) console.log(said.trimEnd());
      resolve(code === 0);
    });
  });
}

/** A check that passes or fails as a whole. */
const whole = (name, command, args) => async (aside) => {
  if (await run(name, command, args, { aside })) passed += 1;
  else failures.push({ title: name, why: 'what it printed stands above' });
};

/** A mocha run; its tests are counted one by one. Files run in as many processes as there are jobs, the long ones first. */
const tests =
  (name, folders, { jobs, longFirst = [], which = () => true }) =>
  async (aside = false) => {
    const report = join(ROOT, '.cache', `mocha-${name.replaceAll(/\W+/g, '-')}.json`);
    mkdirSync(join(ROOT, '.cache'), { recursive: true });
    rmSync(report, { force: true });
    const files = folders.flatMap((folder) => testsIn(folder)).filter(which);
    files.sort((a, b) => rankOf(a, longFirst) - rankOf(b, longFirst) || a.localeCompare(b));
    const parallel = jobs > 1 ? ['--parallel', '--jobs', String(jobs)] : [];
    const ok = await run(
      name,
      bin('mocha'),
      ['--reporter', './scripts/mochaReporter.mjs', ...parallel, ...files],
      { env: { MOCHA_REPORT: report }, aside },
    );
    const told = existsSync(report) ? JSON.parse(readFileSync(report, 'utf8')) : null;
    passed += told?.passes ?? 0;
    failures.push(...(told?.failures ?? []));
    slow.push(...(told?.tests ?? []));
    if (!told?.passes || (!ok && told.failures.length === 0))
      failures.push({
        title: name,
        why: 'it ended before its tests did; what it printed stands above',
      });
  };

const testsIn = (folder) =>
  readdirSync(join(ROOT, folder))
    .filter((name) => name.endsWith('.test.ts'))
    .map((name) => join(folder, name));

/** Recoveries told from the door to the verdict, and cases of the drill: the longest of the core, each beside the others. */
const isRecovery = (file) => file.includes('recoveryCases.test');
const isDrill = (file) => file.includes('core/drill.test');

/** Place of a file among the long ones; the others come after them. */
function rankOf(file, longFirst) {
  const place = longFirst.findIndex((part) => file.includes(part));
  return place < 0 ? longFirst.length : place;
}

function hasRoom(folder) {
  try {
    const { bavail, bsize } = statfsSync(folder);
    return bavail * bsize >= ENOUGH;
  } catch {
    return false;
  }
}

/** Takes the jobs in turn, so many at once. */
async function inLanes(jobs) {
  const waiting = [...jobs];
  const lane = async () => {
    for (let job = waiting.shift(); job; job = waiting.shift()) await job(false);
  };
  await Promise.all(Array.from({ length: LANES }, lane));
}

/** Takes the jobs one after the other in what time the lanes leave: they wait for a disk, a guard or a page now and then. */
async function aside(jobs) {
  for (const job of jobs) await job(true);
}

const node = (...args) => [process.execPath, ['--import', './scripts/typescript.mjs', ...args]];
const checks = [
  // One reading of everything for both: the compiler's own complaints, and the rules that need types.
  whole('types and lint', bin('oxlint'), ['--type-aware', '--type-check', '--deny-warnings', '.']),
  whole('format', bin('oxfmt'), ['--check', 'src', 'test', 'scripts']),
  whole('published answers', ...node('scripts/answers.ts', '--check')),
  whole('compiled kernel', ...node('scripts/kernel.ts', '--check')),
  whole('layers', bin('depcruise'), [
    'src',
    '--config',
    '.dependency-cruiser.cjs',
    '--output-type',
    'err',
  ]),
  whole('unused code', bin('knip'), ['--no-config-hints']),
];

if (options.checks) {
  await inLanes(checks);
} else {
  // What nothing else waits for.
  const besides = aside([
    ...checks,
    tests('telling cases', ['test/core'], { jobs: 1, which: isRecovery }),
    tests('drill', ['test/core'], { jobs: 1, which: isDrill }),
  ]);
  // The longest first, so that both lanes end at about the same time.
  await inLanes([
    tests('core and pages', ['test/core', 'test/web'], {
      jobs: 1,
      which: (f) => !isRecovery(f) && !isDrill(f),
    }),
    whole('pages and programs, built', process.execPath, ['scripts/build.mjs']),
    whole('demo, seeded once', ...node('test/support/makeDemo.ts')),
  ]);
  // The server's first, on a real file: what there goes by the second is not kept waiting by a browser, and waits beside what computes.
  await tests('server and browser', ['test/server', 'test/browser'], {
    jobs: LANES,
    longFirst: [
      'server/durability',
      'server/oldFiles',
      'server/attack',
      'server/live',
      'server/hostile',
      'server/drawnPages',
      'server/',
      'browser/emptyShop',
      'browser/drill',
      'browser/views.test',
      'browser/shop',
      'browser/dayplan',
      'browser/recovery.test',
      'browser/viewsOfJobs',
      'browser/papers',
      'browser/job',
      'browser/everywhere',
      'browser/exceptions',
    ],
  })();
  await besides;
}

const total = (performance.now() - began) / 1000;
console.log(
  `\n${shares.map(({ name, seconds }) => `${name} ${seconds.toFixed(0)} s`).join(' · ')}; in all ${total.toFixed(0)} s, ${LANES} at a time`,
);
for (const { file, title, seconds } of slow.toSorted((a, b) => b.seconds - a.seconds).slice(0, 10))
  console.log(`  ${seconds.toFixed(1).padStart(6)} s  ${file}: ${title}`);
for (const { title, why } of failures)
  console.log(`\n✗ ${title}\n  ${why.split('\n').slice(0, WHY_LINES).join('\n  ')}`);
console.log(`\n${passed} passed, ${failures.length} failed`);
process.exit(failures.length === 0 ? 0 : 1);

function installChromium() {
  if (chromiumPath()) return;
  console.log('Installing Chromium for the browser tests.');
  const asRoot = process.getuid?.() === 0;
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const apt = (...args) =>
    spawnSync('apt-get', ['-qq', ...args], { stdio: ['ignore', 'ignore', 'inherit'], env })
      .status === 0;
  const installs = (name) => apt('install', '-y', '--no-install-recommends', name);
  if (asRoot && apt('update') && (installs(HEADLESS_SHELL) || installs('chromium'))) return;
  console.error(
    `The browser tests need Chromium: install the Debian package “${HEADLESS_SHELL}” (or “chromium”) as root, then run npm test again.`,
  );
  process.exit(1);
}
