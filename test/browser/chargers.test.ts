import { randomUUID } from 'node:crypto';
import { expect } from 'chai';
import type { JobWire } from '../../src/contract/wire.ts';
import { BY_KIND } from '../support/battery.ts';
import { TestBench } from '../support/bench.ts';
import { Technician } from '../support/browser.ts';

/** A shop without instruments: what it charges with is written down, picked, used and seen on the wall, from a phone. */
describe('the chargers a shop has', () => {
  let bench: TestBench;
  let t: Technician;
  before(async () => {
    bench = await TestBench.open();
    t = await Technician.sitDown(bench, 'ann', { width: 390, height: 844 });
  });
  after(async () => {
    await t.leave();
    await bench.close();
  });

  /** A battery of 40 Ah, on the bench to be charged. @returns its job */
  const toCharge = async (tag: string, code: string): Promise<string> => {
    const modelId = await bench.addModel({ ...BY_KIND['agm-sealed'], code, c20Ah: 40 });
    const { body } = await bench.post<{ jobId: string }>('/api/batteries', {
      commandId: randomUUID(),
      by: 'ann',
      tag,
      modelId,
      dateCode: '2026-01',
      owner: 'Hut',
      promisedAt: null,
      purpose: 'recharge',
    });
    await bench.send(body.jobId, { type: 'read', role: 'arrival', values: { voltageV: 12.3 } });
    await bench.send(body.jobId, { type: 'acknowledge', stepId: 'safe' });
    return body.jobId;
  };

  it('are written down from a template, a minute each', async () => {
    await t.open('/chargers');
    await t.sees('No charger yet');
    for (const [template, name] of [
      ['Fixed 2 A and 10 A', 'C, on the wall'],
      ['Automatic 4 A', 'B, the blue one'],
    ] as const) {
      await t.press('Add a charger');
      await t.page.getByRole('button', { name: template }).click();
      await t.field('Name on its sticker').fill(name);
      await t.press('Save charger');
      await t.page.getByRole('heading', { name }).waitFor();
    }
    await t.sees('0 of 2 in use');
  });

  it('are offered with the best first; why another does not fit is said, and the charge stands on the wall', async () => {
    const jobId = await toCharge('P-001', 'S-40');
    await t.open(`/jobs/${jobId}`);
    const blue = t.page.getByRole('radio', { name: /B, the blue one/ });
    await blue.waitFor();
    expect(await blue.isChecked()).to.equal(true);
    expect(await t.page.getByText('shows no current').count()).to.equal(1);
    // 2 A is C/20 of it: it would do, and nothing limits its voltage.
    await t.sees('No voltage limit');
    await t.press('Current is on');
    await t.sees('Current on since');
    const job = async () => (await bench.get<{ job: JobWire }>(`/api/jobs/${jobId}`)).body.job;
    expect((await job()).state.charge).to.deep.include({ setA: 4 });
    expect((await job()).state.charge?.charger).to.include({ setting: '4 A', program: 'AGM' });
    await t.open('/chargers');
    await t.sees('1 of 2 in use');
    await t.page.getByRole('link', { name: 'P-001' }).click();
    await t.page.waitForURL(`**/jobs/${jobId}`);
  });

  it('are offered all the same where what works them out beside the page does not come', async () => {
    const jobId = await toCharge('P-002', 'S-41');
    const u = await Technician.sitDown(bench, 'ann', { width: 390, height: 844 });
    let asked = 0;
    await u.context.route(/chargers\.worker/, (route) => {
      asked += 1;
      return route.abort();
    });
    await u.open(`/jobs/${jobId}`);
    // The blue one charges the other battery.
    await u.page.getByRole('radio', { name: /C, on the wall/ }).waitFor();
    await u.page.getByText('One more, and another charger').click();
    await u.sees('On P-001.');
    expect(asked).to.be.greaterThan(0);
    await u.leave();
  });

  it('that break are out of order with one tap, and then are offered no more', async () => {
    await t.open('/chargers');
    await t.page.getByRole('button', { name: /^Out of order\s+C, on the wall/ }).click();
    await t.sees('Out of order since');
    await t.page.getByRole('button', { name: /^Ready again\s+C, on the wall/ }).click();
    await t.page.getByText('Out of order since').waitFor({ state: 'detached' });
    expect(t.complaints).to.deep.equal([]);
  });

  it('are away on days that are known, which stand on the wall', async () => {
    await t.open('/chargers');
    await t.page.getByRole('button', { name: 'Change B, the blue one' }).click();
    for (const [part, value] of [
      ['day', '3'],
      ['year', '2031'],
    ] as const)
      await t.page.getByLabel(`The charger is away from: ${part}`).fill(value);
    await t.page.getByLabel('The charger is away from: month').selectOption('04');
    await t.field('Reason').fill('at its test');
    await t.press('Add days away');
    await t.press('Save charger');
    await t.page.getByRole('dialog').waitFor({ state: 'detached' });
    await t.sees('3 Apr 2031: at its test');
  });
});
