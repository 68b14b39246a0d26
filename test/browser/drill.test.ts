import { expect } from 'chai';
import type { DrillAct } from '../../src/core/drill/acts.ts';
import { caseByCode } from '../../src/core/drill/cases/catalogue.ts';
import type { DrillCase } from '../../src/core/drill/case.ts';
import { goodTechnician } from '../../src/core/drill/goodTechnician.ts';
import { axeFaults, settledOverflow } from '../support/audit.ts';
import { TestBench } from '../support/bench.ts';
import { Technician } from '../support/browser.ts';
import { putAttempt } from '../support/drillAttempts.ts';

const caseOf = (code: string): DrillCase => caseByCode(code) as DrillCase;
const isCommand = (act: DrillAct, type: string): boolean =>
  act.do === 'command' && act.command.type === type;

describe('the drill', () => {
  let bench: TestBench;
  before(async () => {
    bench = await TestBench.demo();
  });
  after(() => bench.close());

  const looks = async (t: Technician, ...names: string[]): Promise<void> => {
    await t.page.getByRole('button', { name: 'Look', exact: true }).click();
    for (const name of names) {
      const seen = t.page.getByRole('region', { name: 'What you have seen' });
      const before = await seen.innerText();
      await t.page
        .getByRole('complementary', { name: 'At the battery' })
        .getByRole('button', { name, exact: true })
        .click();
      await t.page.waitForFunction(
        (old) =>
          document.querySelector<HTMLElement>('[aria-label="What you have seen"]')?.innerText !==
          old,
        before,
      );
    }
  };
  const begins = async (t: Technician, title: string): Promise<void> => {
    await t.open('/drill');
    await t.press(`Begin: ${title}`);
    await t.page.waitForURL('**/drill/case/**');
    await t.page.locator('h1').first().waitFor();
  };

  it('a case of a torn foil: looked at, refused, looked back on, passed; and the shop has heard nothing of it', async () => {
    const t = await Technician.sitDown(bench);
    const asked: string[] = [];
    const counts = async () => ({
      bench: (await bench.get<{ jobs: unknown[] }>('/api/bench')).body.jobs.length,
      recoveries: (await bench.get('/api/recoveries')).body,
      shelf: (await bench.get('/api/shelf')).body,
      experience: (await bench.get('/api/experience')).body,
      rows: await bench.rowCounts(),
    });
    await begins(t, 'A dented box');
    const before = await counts();
    t.page.on('request', (request) => {
      if (request.url().includes('/api/')) asked.push(`${request.method()} ${request.url()}`);
    });
    await looks(t, 'The label', 'The case', 'The posts');
    for (const yes of ['It does', 'Whole', 'Tight'])
      await t.page.getByRole('button', { name: yes, exact: true }).click();
    await t.press('Checked');
    await t.step('Check the foil over the ports');
    await looks(t, 'The foil');
    await t.sees('The foil is torn over port 5.');
    await t.page.getByRole('button', { name: 'Broken', exact: true }).click();
    await t.press('Refuse this battery');
    await t.press('Refuse it');
    await t.sees('The case is over.');
    expect(asked, 'a case asks no server').to.deep.equal([]);
    await t.press('Look back');
    await t.page.waitForURL('**/drill/back/**');
    await t.sees('✓ Passed');
    expect(await t.page.getByRole('region', { name: 'Marks' }).innerText()).to.match(
      /Record\s+100/,
    );
    expect(await counts()).to.deep.equal(before);
    expect(asked.filter((a) => !a.startsWith('GET'))).to.deep.equal([]);
    await t.open('/drill');
    await t.sees('1 of 35 cases passed');
    await t.leave();
  });

  it('a recovery: measured, entered in the job’s own fields, kept through a reload, and ended', async () => {
    const t = await Technician.sitDown(bench);
    const good = goodTechnician(caseOf('R-01'));
    const arrival = good.acts.findIndex((a) => isCommand(a, 'tellStory')) + 1;
    await t.open('/drill');
    const id = await putAttempt(t, 'R-01', good.acts.slice(0, arrival));
    await t.page.goto(`${bench.url}/drill/case/${id}`);
    await t.step('Rest voltage on arrival');
    await t.page.getByRole('button', { name: 'Measure', exact: true }).click();
    const seen = t.page.getByRole('region', { name: 'What you have seen' });
    let volts = '';
    while (volts === '') {
      await t.page.getByRole('button', { name: /^Voltage/ }).click();
      await seen
        .getByText(/Voltage/)
        .first()
        .waitFor();
      const line = await seen.locator('li').first().innerText();
      // A clip that sits badly is taken anew.
      volts = line.includes('stand still') ? '' : (/([\d.]+) V/.exec(line)?.[1] ?? '');
    }
    await t.page.getByRole('button', { name: /^Temperature/ }).click();
    await seen.getByText(/°C/).first().waitFor();
    await t.read({ Volts: volts, Temperature: '20' });
    await t.step('What is wrong with it, and what to try');
    await t.page.reload();
    await t.step('What is wrong with it, and what to try');
    await t.sees(`${volts} V`);
    expect(Number(volts)).to.be.within(11.9, 12.3);
    await t.leave();
  });

  it('six tubes, from the box to the counter, by hand: one stands still and is tapped; every reading is taken, and it passes', async () => {
    const t = await Technician.sitDown(bench);
    const { page } = t;
    const hands = page.getByRole('complementary', { name: 'At the battery' });
    const newest = hands.locator('li').first();
    const tab = (name: string) => hands.getByRole('button', { name, exact: true }).click();
    /** Takes a reading, anew where it will not stand still. @returns the line it shows */
    const takes = async (name: RegExp): Promise<string> => {
      await tab('Measure');
      for (;;) {
        const before = await hands.innerText();
        await hands.getByRole('button', { name }).click();
        await page.waitForFunction(
          (old) =>
            document.querySelector<HTMLElement>('[aria-label="At the battery"]')?.innerText !== old,
          before,
        );
        const line = await newest.innerText();
        if (!line.includes('stand still')) return line;
      }
    };
    /** Enters a reading; the form is empty, or gone, when it is kept. */
    const enters = async (values: Record<string, string>): Promise<void> => {
      const form = page
        .locator('form')
        .filter({ has: t.button('Save reading') })
        .last();
      const [first = ''] = Object.keys(values);
      const field = form.getByLabel(first);
      for (const [label, text] of Object.entries(values)) await form.getByLabel(label).fill(text);
      await form.getByRole('button', { name: 'Save reading' }).click();
      for (let i = 0; i < 100; i++) {
        if ((await field.count()) === 0 || (await field.inputValue().catch(() => '')) === '')
          return;
        await page.waitForTimeout(20);
      }
    };
    const number = (line: string, unit: string): string =>
      new RegExp(`([\\d.]+) ${unit}`).exec(line)?.[1] ?? '';
    const waits = async (name: string | RegExp): Promise<void> => {
      await tab('Let time pass');
      await hands.getByRole('button', { name }).click();
    };
    await begins(t, 'Six tubes');
    await looks(t, 'The label', 'The case', 'The posts');
    for (const yes of ['It does', 'Whole', 'Tight'])
      await page.getByRole('button', { name: yes, exact: true }).click();
    await t.press('Checked');
    await t.step('Check the foil over the ports');
    await looks(t, 'The foil');
    await page.getByRole('button', { name: 'Whole', exact: true }).click();
    await t.press('Checked');
    await t.step('Match the electrolyte pack');
    await looks(t, 'The packs on the shelf');
    await t.sees('Code QE-66, lot Q-311.');
    await t.field('Code on the pack').fill('QE-66');
    await t.field('Lot').fill('Q-311');
    await t.press('Match');
    await t.step('Make the place safe');
    await t.press('All of it is in place');
    await t.step('Fill 660 mL from the pack');
    await t.field('Battery and pack').fill(number(await takes(/^Temperature/), '°C'));
    await t.press('Filled');
    await t.step('Bubbles from every tube?');
    await looks(t, 'The tubes');
    await t.sees('No bubbles in tube 4.');
    await t.press('Tap tube 4');
    await looks(t, 'The tubes');
    await t.sees('Bubbles rise in every tube.');
    await t.press('Bubbling in all the others');
    await t.press('Checked');
    await t.step('Leave the pack on');
    await waits(/^Until it is due/);
    await t.step('Every tube empty? Lift the pack');
    await t.press('Empty in all the others');
    await t.press('Checked');
    await t.step('Let it soak');
    await waits(/^Until it is due/);
    await t.step('Initial charge at 1.2 A');
    await t.press('Current is on');
    await t.button('Save reading').first().waitFor();
    for (let looked = 0; looked < 14; looked++) {
      await waits(/^1 h$/);
      const amps = number(await takes(/^Current/), 'A');
      const volts = number(await takes(/^Voltage/), 'V');
      const celsius = number(await takes(/^Temperature/), '°C');
      await enters({ Volts: volts, Amps: amps, Temperature: celsius });
      if (await t.button('Charger off: end the charge').first().isVisible()) break;
    }
    await t.press('Charger off: end the charge');
    await t.step('Charger off, let the gas clear');
    await waits(/^Until it is due/);
    await t.step('Press the cap strip flush');
    await t.press('Closed');
    await t.step('Rest with the leads off');
    await waits(/^Until it is due/);
    await t.step('Measure the rest voltage');
    await enters({ Volts: number(await takes(/^Voltage/), 'V') });
    const surface = page.getByText('above any rested battery of this kind: surface charge').last();
    for (let again = 0; again < 5 && (await surface.isVisible()); again++) {
      await waits(/^1 h$/);
      await enters({ Volts: number(await takes(/^Voltage/), 'V') });
    }
    await t.step('Load test at 36 A for 15 s');
    const load = await takes(/^Load test Load tester/);
    await enters({
      'Volts at 15 s': number(load, 'V under load'),
      Temperature: number(load, '°C'),
    });
    await t.step('Verdict');
    await t.press('Sign: it passes');
    await t.step('Tag it and hand it over');
    await t.press(/^Handed to/);
    await t.sees('The case is over.');
    await t.press('Look back');
    await t.sees('✓ Passed');
    const marks = await page.getByRole('region', { name: 'Marks' }).innerText();
    expect(marks).to.match(/Safety\s+100/);
    expect(marks).to.match(/Record\s+100/);
    expect(t.complaints).to.deep.equal([]);
    await t.leave();
  });

  it('the last step of a case in the browser is marked as in the core, an unsafe act with why', async () => {
    const t = await Technician.sitDown(bench);
    await t.open('/drill');
    const good = goodTechnician(caseOf('N-10'));
    const clear = good.acts.findIndex((a) => isCommand(a, 'endCharge'));
    const id = await putAttempt(t, 'N-10', good.acts.slice(0, clear + 1));
    await t.page.goto(`${bench.url}/drill/case/${id}`);
    await t.step('Charger off, let the gas clear');
    await t.page.getByRole('button', { name: 'Measure', exact: true }).click();
    await t.page.getByRole('button', { name: 'Load test Load tester' }).click();
    await t.sees(/under load/);
    await t.page.getByRole('link', { name: 'Leave, go on later' }).click();
    await t.page.waitForURL('**/drill');
    await t.sees('Begun and not ended');
    // What it was shows at its end, and not before.
    await t.page.goto(`${bench.url}/drill/back/${id}`);
    await t.sees('This case has not ended');
    expect(await t.page.getByText(/Not passed|surface charge|Five marks/).count()).to.equal(0);
    await t.page.getByRole('link', { name: 'Go on with it' }).click();
    await t.press('Give up');
    await t.page.getByRole('dialog').getByRole('button', { name: 'Give up and look back' }).click();
    await t.page.waitForURL('**/drill/back/**');
    await t.sees('✕ Not passed');
    await t.sees('The case was left before its end.');
    await t.sees(/The load tester went on .* gas still stood over the cells/);
    await t.sees('What a good technician did');
    expect(await axeFaults(t.page)).to.deep.equal([]);
    for (const width of [1280, 820, 390]) {
      await t.page.setViewportSize({ width, height: 844 });
      expect(await settledOverflow(t.page), `at ${width}`).to.be.at.most(0);
    }
    expect(t.complaints).to.deep.equal([]);
    await t.leave();
  });

  it('nobody is at the battery from closing until the shop opens; the hands stay in use beside a dialog', async () => {
    const t = await Technician.sitDown(bench);
    await begins(t, 'Three in the afternoon');
    const hands = t.page.getByRole('complementary', { name: 'At the battery' });
    await t.sees('The shop closes at');
    await hands.getByRole('button', { name: 'Let time pass' }).click();
    await hands.getByRole('button', { name: '6 h', exact: true }).click();
    await t.sees('The shop is closed; nobody is at the battery.');
    await hands.getByRole('button', { name: 'Look', exact: true }).click();
    await hands.getByRole('button', { name: 'The case' }).click();
    await hands.getByText('Let time pass until it opens').waitFor();
    await hands.getByRole('button', { name: 'Let time pass' }).click();
    await hands.getByRole('button', { name: 'Until it opens: 11 h' }).click();
    await t.sees('Tue 3, 08:00');

    await t.open('/drill');
    const good = goodTechnician(caseOf('R-14'));
    const chosen = good.acts.findIndex((a) => isCommand(a, 'chooseRoute'));
    const id = await putAttempt(t, 'R-14', good.acts.slice(0, chosen));
    await t.page.goto(`${bench.url}/drill/case/${id}`);
    await t.step('What is wrong with it, and what to try');
    await t.page
      .getByRole('region', { name: 'Measure next' })
      .getByRole('button', { name: /^Load test/ })
      .click();
    const dialog = t.page.getByRole('dialog');
    await dialog.waitFor();
    await hands.getByRole('button', { name: 'Measure', exact: true }).click();
    await hands.getByRole('button', { name: 'Load test Load tester' }).click();
    const shown = await t.page
      .getByRole('region', { name: 'What you have seen' })
      .getByText(/V under load/)
      .first()
      .innerText();
    // Elsewhere a tap closes it, as everywhere.
    await t.page.getByRole('heading', { name: 'What is wrong with it' }).click();
    await dialog.waitFor({ state: 'detached' });
    await t.page
      .getByRole('region', { name: 'Measure next' })
      .getByRole('button', { name: /^Load test/ })
      .click();
    const volts = dialog.getByLabel('Volts at 15 s');
    await volts.fill(/([\d.]+) V under/.exec(shown)![1]!);
    // The diagnosis settles behind it and names its readings anew; what is typed stays.
    await t.sees(/simulated for this one/);
    expect(await volts.inputValue()).to.match(/^1\d\.\d/);
    await dialog.getByLabel('Temperature').fill('20');
    await dialog.getByRole('button', { name: 'Save', exact: true }).click();
    await dialog.waitFor({ state: 'detached' });
    expect(t.complaints).to.deep.equal([]);
    await t.leave();
  });

  it('serves on a phone and by keyboard: hands below, folded away until they are wanted', async () => {
    const t = await Technician.sitDown(bench, 'ilse', { width: 390, height: 844 });
    await begins(t, 'From the box to the counter');
    expect(await axeFaults(t.page)).to.deep.equal([]);
    const hands = t.page.getByRole('complementary', { name: 'At the battery' });
    expect(await hands.getByRole('button', { name: 'The case' }).count()).to.equal(0);
    await hands.getByRole('button', { name: 'Look', exact: true }).focus();
    await t.page.keyboard.press('Enter');
    await hands.getByRole('button', { name: 'The case' }).focus();
    await t.page.keyboard.press('Enter');
    await t.sees('The case is whole and its sides are flat.');
    expect(await settledOverflow(t.page)).to.be.at.most(0);
    await t.leave();
  });

  it('goes on without the server after the first visit', async () => {
    const t = await Technician.sitDown(
      bench,
      'ilse',
      { width: 390, height: 844 },
      { keepsPages: true },
    );
    await t.open('/drill');
    await t.page.evaluate('navigator.serviceWorker.ready');
    await t.page.waitForFunction(
      async () => {
        const kept = await caches.keys();
        const sizes = await Promise.all(
          kept.map(async (name) => (await (await caches.open(name)).keys()).length),
        );
        return sizes.some((n) => n > 60);
      },
      null,
      { timeout: 60_000 },
    );
    await t.page.reload();
    await t.context.setOffline(true);
    await t.press('Begin: A wet corner');
    await t.page.waitForURL('**/drill/case/**');
    await t.step('Look it over: is it safe to work on?');
    await looks(t, 'The case');
    await t.sees('A crack at the lower corner, wet.');
    await t.context.setOffline(false);
    await t.leave();
  });

  it('a lead makes a case of a finished recovery, tries it, and gives it out; who gets it begins it', async () => {
    const lead = await Technician.sitDown(bench, 'greta');
    await lead.open('/drill/write');
    await lead.field('Title').fill('Out of the hut');
    await lead.field('What its owner says').fill('It stood all winter.');
    await lead.field('What it truly is').selectOption('light');
    await lead.field('What is to be taken from it').fill('Slow beats fast.');
    expect(await lead.button('Save case').isDisabled()).to.equal(true);
    await lead.press('Test run');
    await lead.sees(/A good technician decides: .*It can be passed/);
    expect(await axeFaults(lead.page)).to.deep.equal([]);
    await lead.press('Save case');
    await lead.page.waitForURL('**/drill');
    await lead.sees('Cases of this shop');
    await lead.open('/drill/write');
    await lead.field('Job type').selectOption('commission');
    await lead.field('Title').fill('Torn');
    await lead.field('How it comes in').fill('From the depot, in a wet box.');
    await lead.field('What is not as it should be').selectOption('foil');
    await lead.field('What is to be taken from it').fill('Look before you fill.');
    await lead.press('Test run');
    await lead.sees(/Right: refused. A good technician decides: refused.*It can be passed/);
    await lead.press('Save case');
    await lead.page.waitForURL('**/drill');
    await lead.sees('From the depot, in a wet box.');
    await lead.field('Give a case to').selectOption({ label: 'Tobin Ashgrale' });
    await lead.field('Its code').fill('s-01');
    await lead.press('Give it out');
    await lead.sees('S-01 is given out.');
    const tobin = await Technician.sitDown(bench, 'tobin');
    await tobin.open('/drill');
    await tobin.press('Begin S-01, given to you');
    await tobin.page.waitForURL('**/drill/case/**');
    await tobin.step('Look it over: is it safe to work on?');
    await tobin.sees('Out of the hut');
    await lead.leave();
    await tobin.leave();
  });
});
