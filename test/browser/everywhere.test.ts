import { expect } from 'chai';
import { HOUR } from '../support/battery.ts';
import { TestBench } from '../support/bench.ts';
import { Technician } from '../support/browser.ts';

describe('what holds everywhere', () => {
  let bench: TestBench;
  let jobPath: (tag: string) => string;
  before(async () => {
    bench = await TestBench.demo();
    jobPath = await bench.jobPaths();
  });
  after(() => bench.close());

  it('Bench: names what is overdue, opens a battery with one tap, and counts hands in the title', async () => {
    const t = await Technician.sitDown(bench);
    await t.open('/');
    const overdue = t.page.getByRole('region', { name: 'Overdue' });
    await overdue.getByText('Every tube empty? Lift the pack').waitFor();
    expect(await t.page.title()).to.match(/^\(\d+\) to do/);
    await overdue.getByRole('link', { name: 'Check' }).click();
    await t.step('Every tube empty? Lift the pack');
    await t.leave();
  });

  it('Bench: joins readings that fall due together into one walk', async () => {
    const t = await Technician.sitDown(bench);
    await t.open('/');
    await t.later(HOUR);
    await t.sees(': one walk');
    await t.leave();
  });

  it('an open page follows what another one does', async () => {
    const [here, there] = [
      await Technician.sitDown(bench),
      await Technician.sitDown(bench, 'tobin'),
    ];
    await here.open(jobPath('LK-0407'));
    await there.open(jobPath('LK-0407'));
    await there.field('Note').fill('<b>Bold</b> =1+1 claim');
    await there.press('Save note');
    await here.sees('<b>Bold</b> =1+1 claim');
    await here.leave();
    await there.leave();
  });

  it('a page is told by the answer what its own command has changed, and asks for nothing', async () => {
    const t = await Technician.sitDown(bench);
    await t.open(jobPath('LK-0398'));
    await t.settled();
    const asked: string[] = [];
    t.page.on('request', (request) => asked.push(request.url()));
    await t.read({ Volts: '14.55', Amps: '0.62', Temperature: '24' });
    await t.page.getByRole('cell', { name: '14.55 V · 0.62 A · 24 °C' }).waitFor();
    // What comes after it has been told to every page that follows.
    const told = t.page.waitForResponse('**/api/clock');
    bench.advance(0);
    await told;
    expect(asked.filter((url) => url.endsWith('/commands'))).to.have.length(1);
    expect(
      asked.filter((url) => url.includes('/api/jobs/') && !url.endsWith('/commands')),
    ).to.deep.equal([]);
    await t.leave();
  });

  it('keyboard: finds by /, types a tag anywhere, leaves a field as it was when a tag is scanned into it', async () => {
    const t = await Technician.sitDown(bench);
    await t.open('/');
    await t.page.keyboard.press('/');
    await t.page.keyboard.type('rope');
    await t.page.getByRole('option', { name: /LK-0409/ }).waitFor();
    await t.page.getByRole('option', { name: /LK-0409/ }).click();
    await t.page.waitForURL('**/batteries/LK-0409');
    await t.open('/records');
    const search = t.page.getByRole('searchbox');
    await search.fill('hut');
    await search.press('End');
    await t.page.waitForTimeout(120);
    // What is in process opens where it is worked on.
    // As quick as a scanner: no key waits for the one before it to be answered for.
    await Promise.all([...'LK-0407', 'Enter'].map((key) => t.page.keyboard.press(key)));
    await t.page.waitForURL(`**${jobPath('LK-0407')}`);
    await t.open('/');
    await t.page.waitForTimeout(120);
    await t.page.keyboard.type('LK-0219');
    await t.page.keyboard.press('Enter');
    // The shelf wants that one charged: it opens where that is seen.
    await t.page.waitForURL('**/shelf/round?tag=LK-0219');
    await t.leave();
  });

  it('search: a tag typed whole, or its digits, opens with Enter, as quickly as it is typed', async () => {
    const t = await Technician.sitDown(bench);
    for (const [words, tag] of [
      ['LK-0395', 'LK-0395'],
      ['lk-0219', 'LK-0219'],
      ['0398', 'LK-0398'],
    ] as const)
      for (const delay of [0, 70]) {
        await t.open('/records/import');
        await t.page.keyboard.press('/');
        await t.page.getByPlaceholder('Tag, owner, model or place').waitFor();
        await t.page.keyboard.type(words, { delay });
        await t.page.keyboard.press('Enter');
        // Keys as quick as a scanner's open what is due for it; slower ones its record or its job.
        await t.page.getByRole('heading', { name: tag }).first().waitFor();
      }
    await t.open('/records');
    await t.page.getByRole('searchbox').pressSequentially('LK-0396', { delay: 70 });
    await t.page.keyboard.press('Enter');
    await t.page.waitForURL(`**${jobPath('LK-0396')}`);
    await t.leave();
  });

  it('keyboard: a charge reading is typed and kept without the mouse', async () => {
    const t = await Technician.sitDown(bench);
    await t.open(jobPath('LK-0398'));
    await t.field('Volts').waitFor();
    await t.field('Volts').focus();
    for (const text of ['14,58', '0.61', '24']) {
      await t.page.keyboard.type(text, { delay: 60 });
      await t.page.keyboard.press('Enter');
    }
    await t.page.getByRole('cell', { name: '14.58 V · 0.61 A · 24 °C' }).waitFor();
    await t.leave();
  });

  it('a reading in between takes SG as it is said', async () => {
    const t = await Technician.sitDown(bench);
    await t.open(jobPath('LK-0407'));
    await t.press('More for this job');
    await t.press('Take a reading in between');
    await t.read({ 'SG (if read)': '1265', 'Temperature (if read)': '80f' }, 'Save');
    await t.page.getByRole('cell', { name: 'SG 1.265 · 27 °C' }).waitFor();
    await t.leave();
  });

  it('House rules: a lead changes a school, and the next plan says it is a house rule', async () => {
    const t = await Technician.sitDown(bench, 'greta');
    await t.open('/rules/judging');
    await t.page.getByRole('radio', { name: /12.80 V/ }).check();
    await t.press('Save changes');
    await t.sees('Jobs under way keep the rules they began with.');
    await t.open('/intake');
    await t.field('Model').selectOption({ label: 'LF-A8 · Sluice 8 · 12 V 8 Ah' });
    await t.page.getByRole('button', { name: /Pass line at rest 12.80 V/ }).waitFor();
    await t.sees('House rule');
    await t.leave();
  });

  it('an unreachable server is said, and asked again', async () => {
    const t = await Technician.sitDown(bench);
    await t.page.route('**/api/bench', (route) =>
      route.fulfill({
        status: 500,
        json: {
          error: { code: 'internal', message: 'Something went wrong in the server.', fields: {} },
        },
      }),
    );
    await t.open('/');
    await t.sees('This could not be fetched');
    await t.page.unroute('**/api/bench');
    await t.press('Try again');
    await t.sees('in process');
    await t.leave();
  });
});
