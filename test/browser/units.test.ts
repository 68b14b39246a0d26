import { expect } from 'chai';
import { strayUnits } from '../support/strayUnits.ts';
import { TestBench } from '../support/bench.ts';
import { Technician } from '../support/browser.ts';
import { JOB_VIEWS, OTHER_VIEWS, RULE_VIEWS } from '../support/views.ts';

describe('in a shop of °F, ounces, pounds, am and pm, and the month first', function () {
  this.timeout(180_000);
  let bench: TestBench;
  let t: Technician;
  let jobPath: (tag: string) => string;
  before(async () => {
    bench = await TestBench.demo();
    await bench.changeRules({
      temperatureUnit: 'F',
      volumeUnit: 'oz',
      clock: '12h',
      dateOrder: 'month-first',
      sgReferenceC: 26.7,
    });
    jobPath = await bench.jobPaths();
    t = await Technician.sitDown(bench, 'greta');
  });
  after(async () => {
    await t.leave();
    await bench.close();
  });

  for (const [name, path] of [...JOB_VIEWS, ...OTHER_VIEWS, ...RULE_VIEWS])
    it(`${name}: no °C, no millilitre, no gram, no 24-hour time, no day before its month`, async () => {
      await t.open(path(jobPath));
      await t.page.getByText('Fetching from the bench').waitFor({ state: 'detached' });
      await t.page.waitForLoadState('networkidle');
      expect(strayUnits(await t.everyWord())).to.deep.equal([]);
    });
});
