import { expect } from 'chai';
import type { RecordWire } from '../../src/contract/wire.ts';
import { HOUR } from '../support/battery.ts';
import { TestBench } from '../support/bench.ts';
import { Technician } from '../support/browser.ts';
import { runsWith } from '../../src/core/job/job.ts';

describe('when the day does not go by the plan', () => {
  let bench: TestBench;
  let jobPath: (tag: string) => string;
  const record = async (tag: string) => (await bench.get<RecordWire>(`/api/batteries/${tag}`)).body;
  before(async () => {
    bench = await TestBench.demo();
    jobPath = await bench.jobPaths();
  });
  after(() => bench.close());

  it('a load test that is skipped leaves nothing to judge; it is made after all, fails, and the charge is repeated', async () => {
    const t = await Technician.sitDown(bench, 'tobin');
    await t.open(jobPath('LK-0401'));
    await t.press('More for this job');
    await t.press('Skip this step');
    await t.giveReason('Skip it', 'Tester is at the mill');
    await t.step('Verdict');
    await t.sees('Nothing to judge yet');
    await t.sees(/Neither a load test/);
    expect(await t.button(/^Sign/).count()).to.equal(0);
    await t.press('Make the load test');
    await t.giveReason('Reopen it', 'Tester is back', 'Why it was left out');
    await t.step('Load test at 60 A for 15 s');
    await t.read({ 'Volts at 15 s': '9.2', Temperature: '20' });
    await t.sees('Below the line: charge and test again');
    await t.press('Charge and test again');
    await t.sees('Now, attempt 2');
    await t.step('Initial charge at 2.0 A');
    const { jobs: now } = await record('LK-0401');
    expect(now[0]?.state.deviations.map((d) => d.what)).to.deep.equal([
      { kind: 'step-skipped' },
      { kind: 'step-reopened' },
    ]);
    await t.leave();
  });

  it('a taken place is not offered, and more current than planned wants a reason', async () => {
    const t = await Technician.sitDown(bench, 'tobin');
    await t.open(jobPath('LK-0401'));
    await t.step('Initial charge at 2.0 A');
    expect(await t.button(/^9 taken$/).isDisabled()).to.equal(true);
    await t.press('Charge by hand here instead');
    await t.page.getByText(/another charger$/).click();
    await t.page.getByRole('radio', { name: /not on the wall/ }).check();
    await t.field('Ceiling set to').fill('15.2');
    await t.press('Current is on');
    await t.sees(/above the ceiling of 14.70 V/);
    await t.field('Ceiling set to').fill('14.7');
    await t.field('Charger set to').fill('2,5');
    await t.press('Current is on');
    await t.field('Reason, for the sheet').fill('Only the large charger is free');
    await t.press('Current is on');
    await t.sees('No reading yet.');
    expect((await record('LK-0401')).jobs[0]?.state.charge).to.include({
      setA: 2.5,
      mode: 'running',
    });
    await t.leave();
  });

  it('a charge that is ended early says so on the sheet', async () => {
    const t = await Technician.sitDown(bench);
    await t.open(jobPath('LK-0398'));
    await t.press('End the charge early');
    await t.giveReason('End it', 'Groomer must go out');
    await t.step('Charger off, let the gas clear');
    await t.page.getByRole('link', { name: 'Sheet and tag' }).first().click();
    await t.sees(/Charge ended before the numbers agreed/);
    await t.sees(/Groomer must go out/);
    await t.leave();
  });

  it('a warm battery is let go on when it is cool, and its pause shows', async () => {
    const t = await Technician.sitDown(bench);
    await t.open(jobPath('LK-0408'));
    await t.sees('31 °C is 11 °C over the room');
    await t.later(HOUR);
    await t.field('Temperature now').fill('29');
    await t.press('Cool: current on again');
    await t.sees('29 °C is not cool yet');
    await t.field('Temperature now').fill('23');
    await t.press('Cool: current on again');
    await t.sees('Next reading');
    expect((await record('LK-0408')).jobs[0]?.state.charge?.on).to.have.length(2);
    await t.leave();
  });

  it('a step behind is opened again with a reason, and what was entered stays', async () => {
    const t = await Technician.sitDown(bench);
    await t.open(jobPath('LK-0412'));
    await t.step('Bubbles from every tube?');
    await t.page
      .getByRole('complementary', { name: 'Steps' })
      .getByRole('button', { name: /Match the electrolyte pack/ })
      .click();
    await t.giveReason('Open it again', 'Lot number was misread');
    await t.step('Match the electrolyte pack');
    const runs = runsWith((await record('LK-0412')).jobs[0]!.state, 'pack');
    expect(runs.filter((r) => r.result.lot === 'L-2602')).to.have.length(1);
    await t.leave();
  });

  it('a job that is paused calls nobody, and one tap resumes it', async () => {
    const t = await Technician.sitDown(bench, 'tobin');
    await t.open(jobPath('LK-0413'));
    await t.press('More for this job');
    await t.press('Pause the job');
    await t.giveReason('Pause', 'Waiting for the owner', 'Why');
    await t.sees('Waiting for the owner');
    await t.open('/');
    await t.page
      .getByRole('region', { name: 'Waiting' })
      .getByText('Paused: Waiting for the owner')
      .waitFor();
    await t.page
      .getByRole('region', { name: 'Waiting' })
      .getByRole('link', { name: 'Resume' })
      .click();
    await t.press('Resume');
    await t.step('Check the foil over the ports');
    await t.leave();
  });

  it('a battery handed to the lead stands still until the lead lets it go on', async () => {
    const t = await Technician.sitDown(bench);
    await t.open(jobPath('LK-0407'));
    await t.press('More for this job');
    await t.press('Hand it to the lead');
    await t.giveReason('Hand it over', 'Smells of acid', 'Why');
    await t.step('Smells of acid');
    await t.press('Change who is at the bench');
    await t.signAs(/Greta Hollinsea/);
    await t.press('Go on with the step in hand');
    await t.press('Decide');
    await t.giveReason('Sign it', 'Old spill on the bench');
    await t.step('Let it soak');
    await t.leave();
  });

  it('house rules take no nonsense, and only from a lead', async () => {
    const t = await Technician.sitDown(bench);
    await t.open('/rules/shop');
    await t.field('Charging places').fill('14');
    await t.press('Save changes');
    await t.sees('Only a lead changes the house rules.');
    await t.press(/signs here/);
    await t.signAs(/Greta Hollinsea/);
    await t.field('Charging places').fill('none');
    await t.press('Save changes');
    await t.sees('This must be a number.');
    await t.field('Charging places').fill('14');
    await t.field('Time zone').fill('Moon/Crater');
    await t.press('Save changes');
    await t.sees('No such time zone.');
    await t.field('Time zone').fill('Europe/London');
    await t.field('Temperatures in').selectOption('F');
    await t.press('Save changes');
    await t.sees('Jobs under way keep the rules they began with.');
    await t.open(jobPath('LK-0409'));
    await t.page.getByRole('cell', { name: '14.21 V · 1.20 A · 79 °F' }).waitFor();
    await t.leave();
  });

  it('a duplicate tag and a name with markup are said at their fields', async () => {
    const t = await Technician.sitDown(bench);
    await t.open('/intake');
    await t.field('Model').selectOption({ index: 1 });
    await t.field('Tag').fill('LK-0409');
    await t.field('Date code').fill('2026-01');
    await t.field('Customer or machine').fill('<b>Bold</b>');
    await t.press('Take it in and open the job');
    await t.sees('No < or >, and no =, +, - or @ at the beginning.');
    await t.field('Customer or machine').fill('Hut');
    await t.press('Take it in and open the job');
    await t.sees('On another battery.');
    expect(t.page.url()).to.match(/\/intake$/);
    await t.leave();
  });

  it('records are found as they are typed', async () => {
    const t = await Technician.sitDown(bench);
    await t.open('/records');
    await t.page.getByRole('searchbox').fill('hut bank');
    await t.page.getByText('3 batteries').waitFor();
    await t.page.getByRole('searchbox').fill('nothing like it');
    await t.sees('Nothing on record matches');
    await t.leave();
  });
});
