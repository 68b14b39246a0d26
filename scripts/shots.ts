// `npm run shots`: one picture of each main view, from the demo data at its own hour.
import { mkdirSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { TestBench } from '../test/support/bench.ts';
import type { DrillCase } from '../src/core/drill/case.ts';
import { caseByCode } from '../src/core/drill/cases/catalogue.ts';
import { goodTechnician } from '../src/core/drill/goodTechnician.ts';
import { Technician } from '../test/support/browser.ts';
import { putAttempt } from '../test/support/drillAttempts.ts';
import { buildPages } from './setup.mjs';

const FOLDER = fileURLToPath(new URL('../docs/screenshots/', import.meta.url));

interface Shot {
  name: string;
  path: string;
  size?: { width: number; height: number };
  first?: (t: Technician) => Promise<unknown>;
}

buildPages();
mkdirSync(FOLDER, { recursive: true });
TestBench.plansInThread = true;
const bench = await TestBench.demo();
const job = await bench.jobPaths();

const shots: Shot[] = [
  { name: 'bench', path: '/' },
  { name: 'guide', path: '/guide' },
  { name: 'bench-phone', path: '/', size: { width: 390, height: 844 } },
  {
    name: 'intake',
    path: '/intake',
    first: async (t) => {
      await t.field('Model').selectOption({ label: 'LF-A18 · Ridge 18 · 12 V 18 Ah' });
      await t.field('Date code').fill('2026-01');
      await t.field('Customer or machine').fill('Ridge repeater');
      await t.sees('Ready, 8 in 10');
      await t.press('Promise the first half hour that is safe');
      await t.sees(/Promised for /);
      await t.page.evaluate('scrollTo(0, 0)');
    },
  },
  {
    name: 'job-ports',
    path: job('LK-0412'),
    first: async (t) => {
      await t.press('Bubbling in all the others');
      await t.press(/^Port 3/);
    },
  },
  {
    name: 'job-tray',
    path: job('LK-0414'),
    first: async (t) => {
      await t.page.getByLabel(/Step all 4 together/).check();
      await t.press('At the mark in all the others');
      await t.press(/^Port 2/);
    },
  },
  { name: 'shelf', path: '/shelf' },
  { name: 'wet-room', path: '/wet-room' },
  { name: 'chargers', path: '/chargers' },
  { name: 'day-plan', path: '/plan', first: (t) => t.page.waitForTimeout(4000) },
  { name: 'job-charge', path: job('LK-0420') },
  { name: 'job-live', path: job('LK-0403'), first: () => bench.pass(40) },
  { name: 'job-asks', path: job('LK-0406') },
  {
    name: 'rehearsal',
    path: '/rehearsal',
    first: (t) => t.page.getByText('of 40 twins').nth(2).waitFor(),
  },
  { name: 'recovery', path: job('LK-0400'), first: (t) => t.sees(/^Settled/) },
  {
    name: 'sets',
    path: '/shelf/sets',
    first: async (t) => {
      await t.page.getByRole('button', { name: '2', exact: true }).click();
      await t.sees('No other partition is better: proven.');
    },
  },
  { name: 'record', path: '/batteries/LK-0395' },
  {
    name: 'drill',
    path: '/drill',
    first: async (t) => {
      const { acts, drillCase } = goodTechnician(caseByCode('R-01') as DrillCase);
      const charging = acts.findIndex(
        (a) => a.do === 'command' && a.command.type === 'startCharge',
      );
      const id = await putAttempt(t, drillCase.code, acts.slice(0, charging + 5));
      await t.open(`/drill/case/${id}`);
      await t.page.getByRole('button', { name: 'Measure', exact: true }).click();
    },
  },
  { name: 'sheet', path: `${job('LK-0402')}/sheet` },
];

for (const { name, path, size, first } of shots) {
  const t = await Technician.sitDown(bench, 'ilse', size);
  await t.open(path);
  await first?.(t);
  await t.page.evaluate('document.fonts.ready');
  // The top strip counts the bench a moment after any other view has come.
  await t.page.waitForTimeout(2200);
  await t.page.screenshot({ path: `${FOLDER}${name}.png` });
  await t.leave();
  console.log(`${name}.png`);
}
await bench.close();
process.exit(0);
