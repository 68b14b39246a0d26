import { expect } from 'chai';
import { TestBench } from '../support/bench.ts';
import { Technician } from '../support/browser.ts';

describe('a charge that watches itself', () => {
  let bench: TestBench;
  let path: (tag: string) => string;
  before(async () => {
    bench = await TestBench.demo();
    path = await bench.jobPaths();
  });
  after(() => bench.close());

  it('shows live numbers on the bench, and asks there for what a guard has stopped', async () => {
    const t = await Technician.sitDown(bench);
    await t.open('/');
    await t.sees('No current: look, then answer');
    await bench.pass(3);
    await t.page
      .getByRole('listitem')
      .filter({ hasText: 'LK-0403' })
      .first()
      .getByText(/[01]\.\d\d A · 2\d °C/)
      .waitFor();
    await t.leave();
  });

  it('is refused at the clips with the reason, then runs, trips, is answered and goes on, and closes its step', async () => {
    const t = await Technician.sitDown(bench);
    const rack = bench.rack!;
    await t.open(path('LK-0404'));
    await t.page.getByRole('button', { name: '3 with a charger', exact: true }).click();
    const { clipOn } = rack;
    Object.assign(rack, {
      clipOn: async (...args: Parameters<typeof clipOn>) => {
        await clipOn(...args);
        rack.rack.setMischief(3, 'reversed', true);
      },
    });
    await bench.stop();
    await bench.start();
    await t.open(path('LK-0404'));
    await t.page.getByRole('button', { name: '3 with a charger', exact: true }).click();
    await t.press('Check the clips and start');
    await t.sees('plus and minus are swapped');
    Object.assign(rack, { clipOn });
    await bench.stop();
    await bench.start();
    await t.open(path('LK-0404'));
    await t.page.getByRole('button', { name: '3 with a charger', exact: true }).click();
    await t.press('Check the clips and start');
    await t.page.getByRole('button', { name: 'Pause', exact: true }).waitFor();
    await bench.pass(40);
    await t.sees('flowing');
    await t.page.getByLabel(/^Volts: measured/).waitFor();

    rack.rack.setMischief(3, 'lead-off', true);
    await bench.pass(15);
    await t.sees('A lead is off, or a joint is open');
    await t.press('Go on from the same stage');
    await t.sees('no battery on them');
    rack.rack.setMischief(3, 'lead-off', false);
    await t.press('Go on from the same stage');
    await t.page.getByRole('button', { name: 'Pause', exact: true }).waitFor();

    await t.press('Pause');
    await t.field('Why').fill('Feel the case');
    await t.press('Switch off and pause');
    await t.button('Go on from the same stage').waitFor();
    await t.sees('Feel the case');
    expect(rack.rack.places[2]!.output.on).to.equal(false);
    await t.press('Go on from the same stage');
    await t.page.getByRole('button', { name: 'Pause', exact: true }).waitFor();
    expect(rack.rack.places[2]!.output.on).to.equal(true);

    await bench.pass(12 * 3600, 60);
    await t.step('Charger off, let the gas clear');
    await t.open(`${path('LK-0404')}/sheet`);
    await t.page
      .getByRole('heading', { name: 'Charge by plan: First charge of this job' })
      .waitFor();
    await t.sees(/It ended when the current had tailed off/);
    await t.open('/batteries/LK-0404');
    await t.sees(/samples kept/);
    expect(t.complaints).to.deep.equal([]);
    await t.leave();
  });

  it('takes a reading from the bench meter instead of typing it', async () => {
    const t = await Technician.sitDown(bench);
    await t.open(path('LK-0403'));
    await t.press('More');
    await t.press('Take a reading in between');
    await t.press('Take it from the analyser');
    // The analyser takes its moment; its answer fills the field.
    const resistance = t.page.getByLabel(/^Resistance/).and(t.page.locator('input'));
    await t.page.waitForFunction(
      (field) => (field as HTMLInputElement).value !== '',
      await resistance.elementHandle(),
    );
    expect(Number(await t.page.getByLabel(/^Resistance/).inputValue())).to.be.within(1, 60);
    await t.press('Save');
    await t.sees(/mΩ · CCA/);
    await t.leave();
  });

  it('an instrument is added, tried and kept in the house rules', async () => {
    const t = await Technician.sitDown(bench, 'greta');
    const { port } = bench.rack!.settings()[0]!;
    await t.open('/rules/instruments');
    await t.press('Add an instrument');
    await t.page.getByLabel('Port', { exact: true }).fill('9');
    await t.page.getByRole('button', { name: 'Try connection' }).last().click();
    await t.sees('No instrument answers at 127.0.0.1:9.');
    await t.page.getByLabel('Port', { exact: true }).fill(String(port));
    await t.page.getByRole('button', { name: 'Try connection' }).last().click();
    await t.sees('It has a watchdog of its own.');
    await t.field('First place').fill('12');
    await t.press('Save changes');
    await t.sees('House rules changed');
    await t.sees('Charger or supply at 127.0.0.1');
    await t.leave();
  });
});
