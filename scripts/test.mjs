// `npm test`: every check, on a fresh clone too. Ends with one closing line and a code that is not
// zero when anything failed.
import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { bin, buildPages, demandNode, installPackages, ROOT } from './setup.mjs';

demandNode();
installPackages();
installChromium();
buildPages();

let passed = 0;
let failed = 0;

function check(name, command, args, env = {}) {
  console.log(`\n— ${name}`);
  const { status } = spawnSync(command, args, { cwd: ROOT, stdio: 'inherit', env: { ...process.env, ...env } });
  return status === 0;
}

/** A check that passes or fails as a whole. */
function whole(name, command, args) {
  if (check(name, command, args)) passed += 1;
  else failed += 1;
}

/** A mocha run; its tests are counted one by one. */
function tests(name, files, extra = []) {
  const report = join(ROOT, '.cache', 'mocha.json');
  rmSync(report, { force: true });
  const ok = check(name, bin('mocha'), ['--reporter', './scripts/mochaReporter.mjs', ...extra, ...files], { MOCHA_REPORT: report });
  if (!existsSync(report)) {
    failed += 1;
    return;
  }
  const stats = JSON.parse(readFileSync(report, 'utf8'));
  passed += stats.passes;
  failed += stats.failures || (ok && stats.passes > 0 ? 0 : 1);
}

whole('types', bin('tsc'), ['-p', '.']);
whole('format', bin('prettier'), ['--check', '--log-level', 'warn', 'src', 'test', 'scripts']);
whole('lint', bin('eslint'), ['.', '--max-warnings', '0']);
whole('layers', bin('depcruise'), ['src', '--config', '.dependency-cruiser.cjs', '--output-type', 'err']);
whole('unused code', bin('knip'), []);
tests('core and pages', ['test/core/**/*.test.ts', 'test/web/**/*.test.ts']);
tests('server, on a real file', ['test/server/**/*.test.ts']);
tests('browser', ['test/browser/**/*.test.ts']);

console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);

function installChromium() {
  if (existsSync('/usr/bin/chromium')) return;
  console.log('Installing Chromium for the browser tests.');
  const asRoot = process.getuid?.() === 0;
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const apt = (...args) => spawnSync('apt-get', ['-qq', ...args], { stdio: ['ignore', 'ignore', 'inherit'], env }).status === 0;
  if (asRoot && apt('update') && apt('install', '-y', '--no-install-recommends', 'chromium')) return;
  console.error('The browser tests need Chromium at /usr/bin/chromium: install the Debian package “chromium” as root, then run npm test again.');
  process.exit(1);
}
