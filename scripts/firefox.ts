// `npm run firefox`: the main walk once in a stock Firefox, box to charge, with every console error and page error kept.
// Needs Debian's firefox-esr.
import { existsSync } from 'node:fs';
import puppeteer, { type Page } from 'puppeteer-core';
import { TestBench } from '../test/support/bench.ts';
import { buildPages } from './setup.mjs';

const FIREFOX = '/usr/bin/firefox-esr';
if (!existsSync(FIREFOX)) {
  console.error(
    'Firefox is missing: install the Debian package “firefox-esr”, then run this again.',
  );
  process.exit(1);
}
buildPages();
// First pages come drawn, as in a shop.
TestBench.drawsPages = true;
const bench = await TestBench.demo();
const jobPath = await bench.jobPaths();
const browser = await puppeteer.launch({
  browser: 'firefox',
  executablePath: FIREFOX,
  headless: true,
});
const page = await browser.newPage();
await page.setViewport({ width: 1280, height: 800 });
const complaints: string[] = [];
const hear = (at: Page): void => {
  at.on('pageerror', (error) => complaints.push(String(error)));
  at.on('console', (message) => message.type() === 'error' && complaints.push(message.text()));
};
hear(page);
await page.evaluateOnNewDocument(() => {
  // The blank page before the first has no storage.
  if (location.protocol === 'http:') localStorage.setItem('cork-ember.person', 'ilse');
});

let passed = 0;
let failed = 0;
async function step(name: string, work: () => Promise<void>): Promise<void> {
  try {
    await work();
    passed += 1;
    console.log(`  ✔ ${name}`);
  } catch (error) {
    failed += 1;
    console.log(`  ✕ ${name}: ${(error as Error).message}`);
    if (process.env['SHOTS'])
      await page.screenshot({ path: `${process.env['SHOTS']}/firefox-failure-${failed}.png` });
  }
}

const open = async (path: string) => {
  await page.goto(bench.url + path);
  await page.waitForSelector('h1');
};
const button = (name: string) =>
  page.locator(`::-p-aria([name="${name}"][role="button"])`).setTimeout(10_000);
/** Whatever page is there by then: a view that is gone to takes what was waiting on the one before with it. */
const sees = async (text: string) => {
  for (const began = performance.now(); performance.now() - began < 10_000;) {
    const told = await page.evaluate(() => document.body.innerText).catch(() => '');
    if (told.includes(text)) return;
    await new Promise((later) => setTimeout(later, 50));
  }
  throw new Error(`“${text}” is not shown`);
};
const field = async (label: string, text: string) =>
  page.locator(`::-p-aria([name="${label}"][role="textbox"])`).setTimeout(10_000).fill(text);

/** Nothing reaches over the side of the page, and nothing of it is blank where a chart should be. */
async function fits(at: Page): Promise<void> {
  const over = await at.evaluate(
    () => document.documentElement.scrollWidth - document.documentElement.clientWidth,
  );
  if (over > 0) throw new Error(`${over} px reach over the side`);
}

await step('Bench shows what is in process', async () => {
  await open('/');
  await sees('in process');
  await fits(page);
});
await step('a battery is taken in, looked over and its pack matched', async () => {
  await open('/intake');
  // The catalogue comes a moment after the form.
  const option = await page.waitForFunction(
    () =>
      [...document.querySelectorAll('option')].find((o) => o.textContent?.includes('LF-A12'))
        ?.value,
  );
  const value = (await option.jsonValue()) as string;
  await page.select('select:has(option)', value);
  await field('Date code', '2026-02');
  await field('Customer or machine', 'Rescue sledge');
  await button('Take it in and open the job').click();
  await sees('Look the battery over');
  for (const word of ['It does', 'Whole', 'Tight']) await button(word).click();
  await button('Checked').click();
  await sees('Check the foil over the ports');
  await button('Whole').click();
  await button('Checked').click();
  await sees('Match the electrolyte pack');
});
await step('a charge reading is typed as it is said, with a comma', async () => {
  await open(jobPath('LK-0398'));
  await field('Volts', '14,58');
  await field('Amps', '0.61');
  await field('Temperature', '24');
  await button('Save reading').click();
  await sees('14.58 V · 0.61 A · 24 °C');
});
await step('a live charge is shown with its numbers', async () => {
  await open(jobPath('LK-0403'));
  await bench.pass(3);
  await sees('flowing');
  await fits(page);
});
await step('Rehearsal draws three plans; its charts fill their frame', async () => {
  await open('/rehearsal');
  await page.waitForSelector('[data-drawn="3"]', { timeout: 30_000 });
  // A scroll bar that takes room must not stand as a white strip beside what it scrolls.
  const white = await page.evaluate(
    () =>
      [...document.querySelectorAll('main *')]
        .filter(
          (e) =>
            e.scrollHeight > e.clientHeight + 1 &&
            /auto|scroll/.test(getComputedStyle(e).overflowY),
        )
        .filter((e) => !getComputedStyle(e).scrollbarColor.endsWith('rgba(0, 0, 0, 0)')).length,
  );
  if (white > 0) throw new Error(`${white} scroll bars have a track of their own colour`);
  await fits(page);
});
await step('a tag typed after / opens with Enter', async () => {
  await open('/records');
  await page.keyboard.press('/');
  await page.keyboard.type('LK-0395');
  await page.keyboard.press('Enter');
  await page.waitForFunction(() => document.querySelector('h1')?.textContent === 'LK-0395', {
    timeout: 10_000,
  });
});
for (const path of [
  '/shelf',
  '/shelf/round',
  '/shelf/sets',
  '/wet-room',
  '/rules',
  `${jobPath('LK-0402')}/sheet`,
])
  await step(`${path.replace(/[0-9a-f-]{36}/, ':id')} is drawn whole`, async () => {
    await open(path);
    await fits(page);
  });
for (const path of ['/', jobPath('LK-0400'), jobPath('LK-0409'), '/shelf/round', '/plan'])
  await step(
    `${path.replace(/[0-9a-f-]{36}/, ':id')} comes drawn, is taken in hand and follows what changes`,
    async () => {
      await bench.drawn(path);
      const visitor = await (await browser.createBrowserContext()).newPage();
      hear(visitor);
      await visitor.setViewport({ width: 390, height: 844 });
      await visitor.goto(bench.url + path);
      const since = await visitor.$eval('#root', (root) => root.getAttribute('data-since'));
      if (!since) throw new Error('It did not come drawn');
      await visitor.waitForSelector('#root:not([inert]) h1');
      await fits(visitor);
      const told = visitor.waitForResponse((response) => response.url().endsWith('/api/clock'));
      bench.advance(0);
      await told;
      await visitor.browserContext().close();
    },
  );
await step('nothing complained in the console', () =>
  complaints.length === 0 ? Promise.resolve() : Promise.reject(new Error(complaints.join('; '))),
);
if (process.env['SHOTS']) {
  await open('/rehearsal');
  await page.waitForSelector('[data-drawn="3"]');
  await page.screenshot({ path: `${process.env['SHOTS']}/firefox-rehearsal.png` });
}
console.log(`\n${passed} passed, ${failed} failed`);
await browser.close();
await bench.close();
process.exit(failed === 0 ? 0 : 1);
