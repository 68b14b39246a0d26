import { expect } from 'chai';
import { auditViews, axeFaults } from '../support/audit.ts';
import { TestBench } from '../support/bench.ts';
import { OTHER_VIEWS, RULE_VIEWS } from '../support/views.ts';
import { Technician } from '../support/browser.ts';

auditViews('every other view', [...OTHER_VIEWS, ...RULE_VIEWS]);

describe('dialogs', () => {
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
