import { TestBench } from '../test/support/bench.ts';
import { launch, Technician } from '../test/support/browser.ts';
import { buildPages } from './setup.mjs';
buildPages();
const bench = await TestBench.demo();
const browser = await launch();
const job = await bench.jobPaths();
const go = async (name: string, path: string, size = { width: 1280, height: 800 }, first?: (t: Technician) => Promise<unknown>) => {
  const t = await Technician.sitDown(browser, bench, 'ilse', size);
  await t.open(path);
  await t.page.waitForTimeout(900);
  if (first) await first(t).catch((e) => console.log(name, String(e).slice(0, 200)));
  await t.page.screenshot({ path: `/tmp/s/${name}.png` });
  console.log(name, t.complaints);
  await t.leave();
};
const what = process.argv.slice(2);
const shots: Record<string, () => Promise<void>> = {
  hold: () => go('hold', job('LK-0399')),
  diag: () =>
    go('diag', job('LK-0400'), undefined, async (t) => {
      const began = Date.now();
      await t.sees(/First answer|Settled/);
      console.log('first', Date.now() - began);
      await t.sees(/^Settled/);
      console.log('settled', Date.now() - began);
    }),
  diagphone: () =>
    go('diagphone', job('LK-0400'), { width: 390, height: 844 }, async (t) => {
      await t.sees(/^Settled/);
      await t.page.mouse.wheel(0, 500);
    }),
  diagtablet: () =>
    go('diagtablet', job('LK-0400'), { width: 820, height: 1180 }, async (t) => {
      await t.sees(/^Settled/);
    }),
  rules: () =>
    go('rules', '/rules#experience', undefined, async (t) => {
      await t.page.locator('#experience').scrollIntoViewIfNeeded();
      await t.page.waitForTimeout(600);
    }),
  stakes: () =>
    go('stakes', '/rules', undefined, async (t) => {
      await t.page
        .getByText(/What time is worth|worth/i)
        .first()
        .scrollIntoViewIfNeeded();
      await t.page.waitForTimeout(500);
    }),
  record: () =>
    go('record', '/batteries/LK-0395', undefined, async (t) => {
      await t.page.getByRole('region', { name: 'Before and after' }).scrollIntoViewIfNeeded();
    }),
  sets: () =>
    go('sets', '/shelf/sets', undefined, async (t) => {
      await t.page.waitForTimeout(1500);
    }),
  bench: () => go('bench', '/'),
};
for (const w of what) await shots[w]!();
await browser.close();
await bench.close();
process.exit(0);
