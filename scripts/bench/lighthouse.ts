// Every main view as Lighthouse sees it: its mobile preset (a slow phone on a slow line) and its desktop one.
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import lighthouse, { desktopConfig } from 'lighthouse';
import { chromium } from 'playwright-core';
import type { BenchWire } from '../../src/contract/wire.ts';
import { startServer } from '../../test/support/serverProcess.ts';
import { CHROMIUM_FLAGS, chromiumPath } from '../chromium.mjs';
import { title } from './figures.ts';

const PORT = 47_222;
/** The thread that draws first pages has read them by then, ms. */
const READY_MS = 4000;

/**
 * @param only views whose name holds this word; all without it
 * @param times each view is visited so often: machines differ from one minute to the next
 */
export async function benchLighthouse(only = '', times = 1): Promise<void> {
  const folder = await mkdtemp(join(tmpdir(), 'cork-ember-lighthouse-'));
  // As it runs in a shop: in processes of its own.
  const server = await startServer(['--data', join(folder, 'data'), '--port', '0']);
  const bench = (await (await fetch(`${server.url}/api/bench`)).json()) as BenchWire;
  const job = (tag: string) => `/jobs/${bench.jobs.find((j) => j.battery.tag === tag)?.id}`;
  await new Promise((ready) => setTimeout(ready, READY_MS));
  const views: [string, string][] = [
    ['Bench and to-do list', '/'],
    ['Job, charge', job('LK-0409')],
    ['Job, diagnosis', job('LK-0400')],
    ['Shelf round', '/shelf/round'],
    ['Shelf', '/shelf'],
    ['Intake', '/intake'],
    ['Wet room', '/wet-room'],
    ['Rehearsal', '/rehearsal'],
    ['Records', '/records'],
    ['Record', '/batteries/LK-0395'],
    ['Sets', '/shelf/sets'],
    ['House rules', '/rules'],
  ];
  const browser = await chromium.launchPersistentContext(join(folder, 'profile'), {
    executablePath: chromiumPath(),
    args: [...CHROMIUM_FLAGS, `--remote-debugging-port=${PORT}`],
  });
  title(
    'Lighthouse: points, first and largest paint, blocking, layout shift, bytes; accessibility',
  );
  for (const [preset, config] of [
    ['mobile', undefined],
    ['desktop', desktopConfig],
  ] as const)
    for (const [name, path] of views
      .filter(([view]) => view.toLowerCase().includes(only.toLowerCase()))
      .flatMap((view) => Array.from({ length: times }, () => view))) {
      const run = await lighthouse(
        server.url + path,
        {
          port: PORT,
          logLevel: 'error',
          onlyCategories: ['performance', 'accessibility'],
          maxWaitForLoad: 60_000,
        },
        config,
      );
      if (!run) throw new Error(`Lighthouse gave no answer for ${path}.`);
      const { audits, categories } = run.lhr;
      const value = (audit: string) => audits[audit]?.numericValue ?? NaN;
      const points = (category: string) =>
        String(Math.round(100 * (categories[category]?.score ?? NaN))).padStart(3);
      console.log(
        [
          `${preset} ${name}`.padEnd(32),
          points('performance'),
          `${(value('first-contentful-paint') / 1000).toFixed(1)} s`.padStart(8),
          `${(value('largest-contentful-paint') / 1000).toFixed(1)} s`.padStart(8),
          `${(value('total-blocking-time') / 1000).toFixed(2)} s`.padStart(8),
          value('cumulative-layout-shift').toFixed(3).padStart(7),
          `${(value('total-byte-weight') / 1000).toFixed(0)} kB`.padStart(9),
          points('accessibility'),
        ].join(' '),
      );
    }
  await browser.close();
  server.process.kill();
  await rm(folder, { recursive: true, force: true });
}
