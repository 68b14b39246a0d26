// Every main view as Lighthouse sees it: its mobile preset (a slow phone on a slow line) and its desktop one.
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import lighthouse, { desktopConfig } from 'lighthouse';
import { chromium } from 'playwright-core';
import { TestBench } from '../../test/support/bench.ts';
import { CHROMIUM_FLAGS, chromiumPath } from '../chromium.mjs';
import { title } from './figures.ts';

const PORT = 47_222;

/** @param only views whose name holds this word; all without it */
export async function benchLighthouse(only = ''): Promise<void> {
  const bench = await TestBench.demo();
  const job = await bench.jobPaths();
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
  const profile = await mkdtemp(join(tmpdir(), 'cork-ember-lighthouse-'));
  const browser = await chromium.launchPersistentContext(profile, {
    executablePath: chromiumPath(),
    args: [...CHROMIUM_FLAGS, `--remote-debugging-port=${PORT}`],
  });
  title('Lighthouse: points, largest paint, blocking, layout shift, bytes; accessibility');
  for (const [preset, config] of [
    ['mobile', undefined],
    ['desktop', desktopConfig],
  ] as const)
    for (const [name, path] of views) {
      if (!name.toLowerCase().includes(only.toLowerCase())) continue;
      const run = await lighthouse(
        bench.url + path,
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
          `${(value('largest-contentful-paint') / 1000).toFixed(1)} s`.padStart(8),
          `${(value('total-blocking-time') / 1000).toFixed(2)} s`.padStart(8),
          value('cumulative-layout-shift').toFixed(3).padStart(7),
          `${(value('total-byte-weight') / 1000).toFixed(0)} kB`.padStart(9),
          points('accessibility'),
        ].join(' '),
      );
    }
  await browser.close();
  await bench.close();
  await rm(profile, { recursive: true, force: true });
}
