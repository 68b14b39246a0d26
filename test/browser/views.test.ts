import { expect } from 'chai';
import { auditViews, axeFaults } from '../support/audit.ts';
import { TestBench } from '../support/bench.ts';
import { OTHER_VIEWS } from '../support/views.ts';
import { Technician } from '../support/browser.ts';

auditViews('every other view', OTHER_VIEWS);

describe('dialogs', function () {
  this.timeout(60_000);
  it('no serious fault found by axe', async () => {
    const bench = await TestBench.demo();
    const t = await Technician.sitDown(bench, null);
    await t.open('/intake');
    await t.press('Add a model');
    expect(await axeFaults(t.page)).to.deep.equal([]);
    await t.page.keyboard.press('Escape');
    await t.page.keyboard.press('/');
    await t.page.getByPlaceholder('Tag, owner, model or place').waitFor();
    expect(await axeFaults(t.page)).to.deep.equal([]);
    await t.leave();
    await bench.close();
  });
});

describe('a new shop', function () {
  this.timeout(60_000);
  it('says at each place what belongs there, and begins with its lead', async () => {
    const bench = await TestBench.empty();
    const t = await Technician.sitDown(bench, null);
    await t.page.goto(bench.url);
    await t.sees('The bench is empty');
    expect(await axeFaults(t.page)).to.deep.equal([]);
    await t.page.goto(`${bench.url}/records`);
    await t.sees('No battery on record yet');
    await t.page.goto(`${bench.url}/intake`);
    await t.sees('The catalogue is empty');
    await t.page.goto(`${bench.url}/rules`);
    await t.field('Name').last().fill('Runa Oakley');
    await t.field('Initials').fill('ro');
    await t.press('Begin with this lead');
    await t.page
      .getByRole('listitem')
      .filter({ hasText: 'Runa Oakley' })
      .getByText('lead')
      .waitFor();
    expect(t.complaints).to.deep.equal([]);
    await t.leave();
    await bench.close();
  });
});
