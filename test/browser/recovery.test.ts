import { expect } from 'chai';
import type { RecordWire } from '../../src/contract/wire.ts';
import { HOUR, MINUTE } from '../support/battery.ts';
import { TestBench } from '../support/bench.ts';
import { Technician } from '../support/browser.ts';
import { takeIn, throughTheDoor } from '../support/recoveryWalk.ts';

describe('a recovery, as a technician makes it', () => {
  let bench: TestBench;
  before(async () => void (bench = await TestBench.demo()));
  after(() => bench.close());
  const shot = async (t: Technician, name: string) => {
    if (process.env['SHOTS'])
      await t.page.screenshot({ path: `${process.env['SHOTS']}/${name}.png` });
  };
  const outcomeOf = async (tag: string) =>
    (await bench.get<RecordWire>(`/api/batteries/${tag}`)).body.jobs.at(-1)!.state;

  it('long parked at 7.9 V: woken beside a donor, restored, tested, held for a week, returned', async () => {
    const t = await Technician.sitDown(bench);
    const tag = await takeIn(t, /LF-S60/);
    await throughTheDoor(t, { story: 'Parked for months', days: '20', years: '2.5' });
    await t.read({ Volts: '7.9', Temperature: '19' });
    await t.page.getByRole('button', { name: 'Yes, save it' }).click();
    await t.step('What is wrong with it, and what to try');
    await t.page.getByRole('region', { name: 'Routes' }).waitFor();
    await t.sees(/^Settled/);
    await shot(t, 'diagnose-first');
    await t.press(/^(CCA|Volts, CCA)/);
    await t.read({ CCA: '210' }, 'Save');
    await t.sees(/^Settled/);
    await t.sees('A charger would refuse it. How is it woken?');
    await shot(t, 'diagnose');
    await t.page.getByRole('radio', { name: /Top up and slow restore/ }).click();
    await t.button('Take this route: Top up and slow restore').waitFor();
    // Another route than the proposed one asks why; which is proposed, its odds decide.
    await t.sends(() => t.press(/^Take this route/), 'Take it', 'A place is free for two days');
    await t.step('Wake it');
    await t.field('Donor reads').fill('12.1');
    await t.page.getByLabel('Its copper').selectOption('2.5');
    await t.page.getByLabel('Each lead, m').fill('0.5');
    await t.sees(/Up to \d+ A may rush through the leads/);
    expect(await t.button('Clips on, charger on').isDisabled()).to.equal(true);
    await t.page.getByLabel('Its copper').selectOption('35');
    await t.page.getByLabel('Each lead, m').fill('2');
    await t.sees('It sparks when the last clip goes on');
    // What starts at 2 V is no choice beside a donor that reads less, chosen before or not.
    const charger = t.page.getByRole('combobox', { name: /^Charger/ });
    const taper = charger.locator('option', { hasText: 'I · old needle' });
    await charger.selectOption(await taper.getAttribute('value'));
    await t.field('Donor reads').fill('1.5');
    await taper.waitFor({ state: 'detached' });
    expect(await charger.inputValue()).to.equal('');
    await t.field('Donor reads').fill('12.1');
    await taper.waitFor({ state: 'attached' });
    expect(await charger.inputValue(), 'nothing chosen comes back by itself').to.equal('');
    await t.sees('It sparks when the last clip goes on');
    await shot(t, 'wake');
    await t.press('Clips on, charger on');
    await t.step('Let it take current for an hour');
    await t.later(HOUR + MINUTE);
    await t.step('Is it awake? Read the volts, feel every cell');
    await t.page.getByLabel('Cell 2: cool').click();
    await shot(t, 'wake-check');
    await t.field('Volts now').fill('11.4');
    await t.press('Save');
    await t.step('Charge by the route');
    await shot(t, 'charge');
    await t.press('Charge by hand here instead');
    await t.bringsOwnCharger();
    await t.press('Current is on');
    for (const [volts, amps, hours] of [
      ['13.2', '3.0', 2],
      ['14.1', '3.0', 12],
      ['14.7', '0.5', 8],
      ['14.7', '0.4', 2],
      ['14.7', '0.4', 1],
    ] as const) {
      await t.later(hours * HOUR);
      await t.read({ Volts: volts, Amps: amps, Temperature: '23' });
      await t.page
        .getByText(`${volts === '14.7' ? '14.70' : Number(volts).toFixed(2)} V`)
        .first()
        .waitFor();
    }
    await t.press('Charger off: end the charge');
    await t.step('Charger off, let the gas clear');
    await t.later(6 * MINUTE);
    await t.step('Rest with the leads off');
    await t.later(24 * HOUR);
    await t.step('Measure the rest voltage');
    await t.read({ Volts: '12.88' });
    await t.step(/^Load test/);
    await t.read({ 'Volts at 15 s': '10.6', Temperature: '20' });
    await t.step('Capacity: what does it really hold?');
    await t.field('Its temperature').fill('21');
    await shot(t, 'capacity');
    await t.press('Load is on, clock runs');
    await t.sees('On load for');
    await t.later(4 * HOUR);
    await shot(t, 'capacity-running');
    await t.press('It fell to the cut-off, load off');
    await t.step('Charge it full again');
    await t.press('Charge by hand here instead');
    await t.bringsOwnCharger();
    await t.press('Current is on');
    for (const [volts, amps, hours] of [
      ['14.7', '0.5', 18],
      ['14.7', '0.4', 1],
      ['14.7', '0.4', 1],
    ] as const) {
      await t.later(hours * HOUR);
      await t.read({ Volts: volts, Amps: amps, Temperature: '23' });
      await t.page.waitForTimeout(200);
    }
    await t.press('Charger off: end the charge');
    await t.step('Charger off, let the gas clear');
    await t.later(6 * MINUTE);
    await t.step(/^Hold: a week/);
    await t.later(7 * 24 * HOUR);
    await t.step('Measure it after the hold');
    await t.read({ Volts: '12.84', 'It stood at': '18' });
    await t.step('Verdict');
    await t.sees('Return to service');
    await shot(t, 'outcome');
    await t.press('Sign: return to service');
    await t.step('Tag it and hand it over');
    await t.press(/^Handed to/);
    await t.sees('Passed');
    const state = await outcomeOf(tag);
    expect(state.outcome).to.equal('passed');
    expect(state.recovery?.routes[0]).to.deep.include({ route: 'slow-restore', wake: 'parallel' });
    expect(state.recovery?.routes[0]?.forecast?.capacity.middle).to.be.within(0, 1.2);
    await t.page.getByRole('link', { name: 'Sheet and tag' }).first().click();
    await t.sees('Capacity of rating');
    await shot(t, 'sheet');
    expect(t.complaints).to.deep.equal([]);
    await t.leave();
  });

  it('reversed: said at once, no route is offered, and it goes to the recycler with its acid counted', async () => {
    const t = await Technician.sitDown(bench, 'tobin');
    const tag = await takeIn(t, /LF-C14/);
    await throughTheDoor(t, { story: 'Nobody knows', years: '2.5' });
    await t.read({ Volts: '-11.6' });
    await t.page.getByRole('button', { name: 'Yes, save it' }).click();
    await t.sees(/No route/);
    await t.sees(/wrong way round/);
    await t.sees('No route is open for it: sign it off for the recycler.');
    await shot(t, 'reversed');
    expect(await t.button(/^Take this route/).count()).to.equal(0);
    await t.press('To the recycler');
    await t.page
      .getByRole('dialog')
      .getByLabel('Reason, for the sheet')
      .fill('Reversed, read twice');
    await t.page.getByRole('dialog').getByRole('button', { name: 'Sign it off' }).click();
    await t.step('To the recycler');
    const state = await outcomeOf(tag);
    expect(state.outcome).to.equal('recycle');
    expect(state.recovery?.outcomes[0]).to.deep.include({ found: 'bad-cell' });
    expect(state.recovery?.outcomes[0]?.disposal?.acidL).to.be.greaterThan(0.5);
    await t.leave();
  });

  it('recovered batteries on the shelf are matched into a set, proven best, and kept together', async () => {
    const t = await Technician.sitDown(bench);
    await t.open('/shelf/sets');
    await t.page.getByRole('button', { name: '3', exact: true }).click();
    await t.page.getByRole('region', { name: 'Left over' }).waitFor();
    await t.sees(/a set takes 3/);
    await t.page.getByRole('button', { name: '2', exact: true }).click();
    await t.sees('No other partition is better: proven.');
    await t.press('Keep this set');
    await t.sees('Sets that are kept together');
    await t.sees(/set of 2/);
    await t.press('Take it apart');
    await t.page.getByText('Sets that are kept together').waitFor({ state: 'detached' });
    expect(t.complaints).to.deep.equal([]);
    await t.leave();
  });

  it('the house rules tell what each route has brought, and how the forecasts held', async () => {
    const t = await Technician.sitDown(bench, 'greta');
    await t.open('/rules/experience');
    const section = t.page.getByRole('region', { name: 'Results so far' });
    await section
      .getByText(/Returned \d of \d/)
      .first()
      .waitFor();
    await section.getByText(/Capacity within its band of 8 in 10/).waitFor();
    const learnt = t.page.getByRole('region', { name: 'What the diagnosis has learnt here' });
    const ofThisShop = async (count: RegExp) =>
      learnt.getByText(new RegExp(`From this shop: ${count.source}`)).waitFor();
    await ofThisShop(/1\d\./);
    await t.press('Learn anew from today');
    await ofThisShop(/0, counted since/);
    await t.press('Count all recoveries again');
    await ofThisShop(/1\d\./);
    await t.open('/records/recoveries');
    const held = t.page.getByRole('region', { name: 'Predicted and actual' });
    await held.getByText(/named what it was in 1\d of 1\d/).waitFor();
    await t.press('By what it was');
    await t.page.getByRole('cell', { name: 'Sulfated' }).first().waitFor();
    await t.open('/rules/money');
    await t.field('Work, per hour').fill('0');
    await t.press('Save changes');
    await t.sees('House rules changed. Jobs under way keep the rules they began with.');
    await t.leave();
  });
});
