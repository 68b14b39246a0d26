import { expect } from 'chai';
import { strayUnits } from '../support/strayUnits.ts';
import { OTHER_UNITS } from '../support/audit.ts';
import { TestBench } from '../support/bench.ts';
import { Technician } from '../support/browser.ts';

describe('in a shop of °F, ounces, pounds, am and pm, and the month first', () => {
  let bench: TestBench;
  let t: Technician;
  let jobPath: (tag: string) => string;
  before(async () => {
    bench = await TestBench.demo();
    await bench.changeRules(OTHER_UNITS);
    jobPath = await bench.jobPaths();
    t = await Technician.sitDown(bench, 'greta');
  });
  after(async () => {
    await t.leave();
    await bench.close();
  });

  it('what is typed of a new model, and of a battery without a label, is asked in them', async () => {
    await t.open('/intake');
    await t.press('Add a model');
    await t.field('Electrolyte in all, fl oz').fill('22.3');
    expect(strayUnits(await t.everyWord())).to.deep.equal([]);
    await t.page.keyboard.press('Escape');
    await t.page.getByText('No readable label', { exact: true }).click();
    await t.field('Weight, lb').fill('9');
    // Nine pounds are four kilograms: a small battery, not one of nine.
    await t.sees(/most likely 12\.5 Ah, from 9\.\d+ lb/);
    expect(strayUnits(await t.everyWord())).to.deep.equal([]);
    await t.field('Weight, lb').fill('400');
    expect(strayUnits(await t.everyWord())).to.deep.equal([]);
    await t.page.getByText('In the catalogue', { exact: true }).click();
  });

  it('a promise is typed by the shop’s own clock, month first, and half of one is asked about', async () => {
    await t.open('/intake');
    await t.field('Model').selectOption({ label: 'LF-A18 · Ridge 18 · 12 V 18 Ah' });
    await t.field('Date code').fill('2026-01');
    await t.field('Customer or machine').fill('Ridge repeater');
    const promise = t.page.getByRole('group', { name: /^Promised for/ });
    const parts = await promise
      .locator('input, select')
      .evaluateAll((fields) => fields.map((f) => f.getAttribute('aria-label')?.split(': ').at(-1)));
    expect(parts).to.deep.equal(['month', 'day', 'year', 'time']);
    await t.press('Tomorrow');
    await t.press('Take it in and open the job');
    await t.sees('Say the day and the time, or leave all of it empty.');
    await promise.getByLabel(/time$/).fill('5 pm');
    await t.sees('Wed Mar 11');
    await t.press('Take it in and open the job');
    await t.page.getByRole('region', { name: 'Step in hand' }).waitFor();
    await t.sees('Wed Mar 11 5:00 pm');
  });

  it('whoever is not shown how keeps two lines, another person is shown; each chooses', async () => {
    await t.open(jobPath('LK-0407'));
    await t.press('Show less');
    await t.button('Show me how').waitFor();
    await t.page.reload();
    await t.button('Show me how').waitFor();
    expect(await t.page.locator('svg[data-scene]').count()).to.equal(0);
    const other = await Technician.sitDown(bench, 'tobin');
    await other.open(jobPath('LK-0407'));
    await other.page.locator('svg[data-scene]').waitFor();
    await other.leave();
  });
});
