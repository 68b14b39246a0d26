import { TestBench } from '../test/support/bench.ts';
import { Technician } from '../test/support/browser.ts';
import { mkdirSync } from 'node:fs';
mkdirSync('/tmp/look', { recursive: true });
const bench = await TestBench.demo();
const t = await Technician.sitDown(bench, 'greta');
const shot = (n: string) => t.page.screenshot({ path: `/tmp/look/${n}.png` });
t.page.on('response', r => r.status() >= 400 && console.log(r.status(), r.url()));
t.page.on('console', m => console.log(m.text().slice(0,200)));
try {
  await t.open('/drill'); await t.page.waitForTimeout(500); await shot('ladder');
  await t.page.getByRole('button', { name: 'Begin: The cab light' }).click();
  await t.page.waitForURL('**/drill/case/**'); await t.page.locator('h1').first().waitFor(); await t.page.waitForTimeout(800);
  await shot('case');
  await t.page.getByRole('button', { name: 'The case', exact: true }).click();
  await t.page.getByRole('button', { name: 'Measure', exact: true }).first().click();
  await t.page.waitForTimeout(300); await shot('measure');
  await t.page.getByRole('button', { name: /^Voltage/ }).click();
  await t.page.waitForTimeout(400);
  await t.page.getByRole('button', { name: 'Let time pass' }).click();
  await t.page.waitForTimeout(300); await shot('wait');
} catch (e) { console.log((e as Error).message.slice(0,600)); await shot('fail'); }
console.log(t.complaints);
await bench.close(); process.exit(0);
