// The server with the demo shop, and what a page feels of it.
import { randomUUID } from 'node:crypto';
import {
  closeSync,
  fsyncSync,
  openSync,
  readdirSync,
  readFileSync,
  rmSync,
  writeSync,
} from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { performance } from 'node:perf_hooks';
import { gzipSync } from 'node:zlib';
import autocannon from 'autocannon';
import type { BenchWire } from '../../src/contract/wire.ts';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';
import { jobPlan } from '../../src/core/plan/plan.ts';
import { settle } from '../../src/core/steps/settle.ts';
import { timeline } from '../../src/core/watch/timeline.ts';
import { Driver, PLAIN } from '../../test/support/battery.ts';
import type { TestBench } from '../../test/support/bench.ts';
import type { Technician } from '../../test/support/browser.ts';
import { ROOT } from '../setup.mjs';
import { measure, ms, say, spreadOf, title } from './figures.ts';

export async function benchServer(bench: TestBench, t: Technician): Promise<void> {
  title('Server and pages, with the demo shop');
  const { body } = await bench.get<BenchWire>('/api/bench');
  const running = body.jobs.find((j) => j.battery.tag === 'LK-0398');

  // The core alone, beside parsing the same job from JSON.
  const driver = new Driver().to('verdict');
  const text = JSON.stringify(driver.job);
  const yard = await measure(2000, () => JSON.parse(text));
  const plan = await measure(2000, () => jobPlan(PLAIN, DEFAULT_RULES));
  const line = await measure(2000, () => timeline(settle(driver.job, driver.now), driver.now));
  say(
    'plan of a battery, p50',
    ms(plan.p50),
    `${(plan.p50 / yard.p50).toFixed(1)} × parsing a job from JSON`,
  );
  say(
    'ribbon of a job, p50',
    ms(line.p50),
    `${(line.p50 / yard.p50).toFixed(1)} × parsing a job from JSON`,
  );

  // Reads under load, beside a bare HTTP server.
  const bare = createServer((_request, response) => response.end('{}')).listen(0, '127.0.0.1');
  await new Promise((resolve) => bare.once('listening', resolve));
  const bareUrl = `http://127.0.0.1:${(bare.address() as AddressInfo).port}`;
  const load = (url: string) => autocannon({ url, connections: 4, duration: 4 });
  const bareLoad = await load(bareUrl);
  for (const path of [
    '/api/bench',
    '/api/batteries?q=hut',
    `/api/batteries/${running?.battery.tag}`,
  ]) {
    const result = await load(bench.url + path);
    say(
      `GET ${path}, 4 at once, p50 / p97.5`,
      `${result.latency.p50} / ${result.latency.p97_5} ms`,
      `${(bareLoad.requests.average / result.requests.average).toFixed(0)} × fewer a second than a bare server`,
    );
  }
  bare.close();

  // A reading to its acknowledgment, beside an fsync of the same bytes.
  const scratch = join(bench.folder, 'yardstick');
  const file = openSync(scratch, 'w');
  const sync = await measure(100, () => {
    writeSync(file, text.slice(0, 4096));
    fsyncSync(file);
  });
  closeSync(file);
  rmSync(scratch);
  const post = await measure(100, (i) =>
    bench.send(
      running?.id ?? '',
      { type: 'read', role: 'spot', values: { voltageV: 12 + i / 1000 } },
      'ilse',
      randomUUID(),
    ),
  );
  say(
    'reading posted to acknowledged, p50',
    ms(post.p50),
    `${(post.p50 / sync.p50).toFixed(1)} × an fsync (${ms(sync.p50)})`,
  );
  say(
    'reading posted to acknowledged, p95',
    ms(post.p95),
    `${(post.p95 / sync.p95).toFixed(1)} × an fsync (${ms(sync.p95)})`,
  );

  // What a first visit to the bench loads.
  const loaded = new Set<string>();
  t.page.on('response', (r) => void loaded.add(new URL(r.url()).pathname));
  const began = performance.now();
  await t.open('/');
  await t.sees('in process');
  const shown = performance.now() - began;
  await t.page.waitForLoadState('networkidle').catch(() => undefined);
  const assets = join(ROOT, 'dist/web/assets');
  const bytes = (pattern: RegExp) =>
    readdirSync(assets)
      .filter((f) => pattern.test(f) && loaded.has(`/assets/${f}`))
      .reduce(
        (sum, f) =>
          sum +
          (/\.woff2?$/.test(f)
            ? readFileSync(join(assets, f)).length
            : gzipSync(readFileSync(join(assets, f))).length),
        0,
      ) / 1000;
  say(
    'first load, script and style, gzip',
    `${bytes(/\.(js|css)$/).toFixed(0)} kB`,
    'aim ≤ 250 kB',
  );
  say('first load, fonts', `${bytes(/\.woff2?$/).toFixed(0)} kB`);
  say('Bench shown, from address to rows', ms(shown));

  // From click to answer, inside the page: a step command of each kind that a job sends most.
  const clean = body.jobs.find((j) => j.battery.tag === 'LK-0409');
  await t.open(`/jobs/${clean?.id}`);
  await t.page.evaluate(`
    addEventListener('click', () => (window.clicked = performance.now()), true);
    new MutationObserver(() => { if (window.wanted && document.body.textContent.includes(window.wanted)) { window.answered ??= performance.now(); } }).observe(document.body, { childList: true, subtree: true, characterData: true });
  `);
  const answers: Record<string, number[]> = {
    'reading kept': [],
    'charge paused': [],
    'charge resumed': [],
  };
  const timed = async (what: string, wanted: string, act: () => Promise<unknown>) => {
    await t.page.evaluate(`window.answered = undefined; window.wanted = ${JSON.stringify(wanted)}`);
    await act();
    // The page's own policy forbids scripts made from text, so it is asked instead of told to wait.
    while (!(await t.page.evaluate('window.answered !== undefined')))
      await t.page.waitForTimeout(10);
    answers[what]?.push(Number(await t.page.evaluate('window.answered - window.clicked')));
  };
  for (let i = 0; i < 12; i++) {
    const volts = (14 + i / 100).toFixed(2);
    await timed('reading kept', `${volts} V · 0.90 A · 24 °C`, () =>
      t.read({ Volts: volts, Amps: '0.9', Temperature: '24' }),
    );
    await t.press('Pause the charge');
    await t.field('Why').fill('Checking the leads');
    await timed('charge paused', 'Paused. Checking the leads', () => t.press('It is off'));
    await t.field('Temperature now').fill('23');
    await timed('charge resumed', 'Next reading', () => t.press('Cool: current on again'));
  }
  for (const [what, took] of Object.entries(answers)) {
    const { p50, p95 } = spreadOf(took);
    say(
      `click to answer, ${what}, p50 / p95`,
      `${p50.toFixed(0)} / ${p95.toFixed(0)} ms`,
      'aim ≤ 100 ms',
    );
  }
}
