import { expect } from 'chai';
import type { JobWire, PlansWire } from '../../src/contract/wire.ts';
import { TestBench } from '../support/bench.ts';
import { Technician } from '../support/browser.ts';

describe('rehearsal', () => {
  let bench: TestBench;
  let t: Technician;
  before(async () => void (bench = await TestBench.demo()));
  after(() => bench.close());
  beforeEach(async () => void (t = await Technician.sitDown(bench)));
  afterEach(async () => {
    expect(t.complaints).to.deep.equal([]);
    await t.leave();
  });

  const way = (letter: string) => t.page.getByRole('region', { name: `Way ${letter}` });
  const takes = async (letter: string) =>
    (await way(letter).locator('dd').first().textContent()) ?? '';
  const changed = async (letter: string, before: string) => {
    for (let i = 0; i < 100 && (await takes(letter)) === before; i++)
      await t.page.waitForTimeout(50);
    return takes(letter);
  };

  it('draws three plans at once, redraws while a number is dragged or typed, and works out the odds', async () => {
    await t.open('/rehearsal');
    await t.page.locator('[data-drawn="3"]').waitFor();
    await way('A').getByText('of 40 twins').waitFor({ timeout: 60_000 });
    const before = await takes('A');
    const amps = way('A').getByRole('spinbutton', { name: 'Current, A' }).first();
    const box = (await amps.boundingBox())!;
    await t.page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
    await t.page.mouse.down();
    await t.page.mouse.move(box.x + box.width / 2 - 60, box.y + box.height / 2, { steps: 6 });
    await t.page.mouse.up();
    expect(Number(await amps.inputValue())).to.be.lessThan(6);
    const after = await changed('A', before);
    expect(after).to.not.equal(before);
    await amps.focus();
    await amps.fill('6');
    expect((await changed('A', after)).split(' min')[0]).to.equal(before.split(' min')[0]);
    await amps.press('ArrowUp');
    expect(Number(await amps.inputValue())).to.be.closeTo(6.2, 0.06);
  });

  it('says which sentence is wrong instead of drawing it', async () => {
    await t.open('/rehearsal');
    await t.page.locator('[data-drawn="3"]').waitFor();
    await way('A').getByRole('spinbutton', { name: 'Volts, V', exact: true }).fill('15.8');
    await way('A').getByText('15.80 V per 12 V battery is above the 14.80 V').waitFor();
    await t.page.locator('[data-drawn="2"]').waitFor();
    expect(await way('A').getByRole('button', { name: 'Send to a job' }).isDisabled()).to.equal(
      true,
    );
    await way('A').getByRole('button', { name: 'More for stage 2' }).click();
    await t.page.getByRole('menuitem', { name: 'Leave this stage out' }).click();
    await t.page.locator('[data-drawn="3"]').waitFor();
  });

  it('a battery described otherwise is another battery', async () => {
    await t.open('/rehearsal');
    await t.page.locator('[data-drawn="3"]').waitFor();
    const before = await takes('A');
    await t.field(/^Rest =/).fill('12,40');
    expect(await changed('A', before)).to.not.equal(before);
    await t.sees('Rest = 69 %');
    await t.field('C20').fill('700');
    await t.sees('1 to 300');
    await t.field('Family').selectOption('gel');
    expect(
      Number(
        await way('A').getByRole('spinbutton', { name: 'Volts, V', exact: true }).inputValue(),
      ),
    ).to.be.at.most(14.2);
  });

  it('a plan is kept under a name, sent to a job, and the job charges by it', async () => {
    const jobs = await bench.jobPaths();
    await t.open('/rehearsal');
    await t.field('Battery').selectOption({ label: 'LK-0404 · Hut radio, lower' });
    await way('B').getByText('of 40 twins').waitFor({ timeout: 60_000 });
    await way('B').getByRole('button', { name: 'More for stage 2' }).click();
    await t.page.getByRole('menuitem', { name: 'Add a stage after this' }).hover();
    await t.page.getByRole('menuitem', { name: 'Float', exact: true }).click();
    await way('B').getByText('Float at').waitFor();
    await way('B').getByRole('button', { name: 'More for way B' }).click();
    await t.page.getByRole('menuitem', { name: 'Keep under a name' }).click();
    await t.field('Name').fill('Overnight with float');
    await t.press('Save');
    await t.sees('“Overnight with float” is kept');
    const { body } = await bench.get<PlansWire>('/api/plans');
    expect(body.own.map((p) => [p.name, p.stages.length])).to.deep.equal([
      ['Overnight with float', 3],
    ]);
    await t.field('Plan of way B').selectOption('Overnight with float');
    await way('B').getByRole('button', { name: 'Send to a job' }).click();
    await t.press('Send it');
    await t.sees('LK-0404 charges by “Overnight with float”');
    const { body: sent } = await bench.get<{ job: JobWire }>(`/api${jobs('LK-0404')}`);
    expect(sent.job.state.chargePlan?.name).to.equal('Overnight with float');
    await t.open(jobs('LK-0404'));
    await t.page.getByRole('region', { name: 'Charge plan' }).getByText('Float at').waitFor();
  });
});
