import { randomUUID } from 'node:crypto';
import { expect } from 'chai';
import type { DayPlanWire } from '../../src/contract/dayPlanWire.ts';
import { TestBench } from '../support/bench.ts';
import { Technician } from '../support/browser.ts';

describe('the day plan of the demo', () => {
  let bench: TestBench;
  let t: Technician;

  /** The plan once it is made as good as it gets. */
  const plan = async () => {
    for (;;) {
      const { body } = await bench.get<DayPlanWire>('/api/day-plan');
      if (body.standing === 'settled') return body.plan!;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
  };

  before(async () => {
    TestBench.plansInThread = true;
    bench = await TestBench.demo();
    t = await Technician.sitDown(bench, 'greta');
  });
  after(async () => {
    TestBench.plansInThread = false;
    await t.leave();
    await bench.close();
  });

  it('says what is safe, what is not, and what is to be done before leaving; a bar leads to its battery', async () => {
    await t.open('/plan');
    await t.sees(/\d+ of \d+ promises safe/);
    const said = await plan();
    const late = said.works.find((w) => w.kept !== null && w.kept < 0.1)!;
    await t.page
      .getByRole('listitem')
      .filter({ hasText: late.tag })
      .getByText('hardly any')
      .waitFor();
    await t.page.getByRole('heading', { name: 'Before you leave' }).waitFor();
    await t.press('3 days');
    await t.sees('Thu 12');
    const bar = said.works.find((w) =>
      w.tasks.some((task) => task.run?.postId && task.from <= 0 && task.run.connect === null),
    )!;
    await t.page
      .getByRole('link', { name: new RegExp(`^${bar.tag}, `) })
      .first()
      .press('Enter');
    await t.page.getByRole('heading', { level: 1, name: bar.tag }).waitFor();
  });

  it('is one number everywhere: the Bench and the job say the hour the plan says', async () => {
    const said = await plan();
    const work = said.works.find((w) => w.tag === 'LK-0411')!;
    const clock = new Date(said.from + work.ready!.middle * 60_000).toISOString().slice(11, 16);
    await t.open(`/jobs/${work.id}`);
    await t.page
      .getByText(new RegExp(`${clock}$`))
      .first()
      .waitFor();
    await t.open('/');
    await t.page
      .getByRole('listitem')
      .filter({ hasText: work.tag })
      .getByText(new RegExp(clock))
      .first()
      .waitFor();
  });

  it('is moved by hand: by keys with what it does to the promises, by dragging, and left to itself again', async () => {
    const work = (await plan()).works.find((w) => w.tag === 'LK-0417')!;
    const run = work.tasks.find((task) => task.run)!.run!;
    const [other] = run.mayAt.filter((id) => id !== run.postId);
    await t.open('/plan');
    const bar = t.page.getByRole('button', { name: new RegExp(`^Move ${work.tag}, `) }).first();
    await bar.focus();
    await t.page.keyboard.press('Enter');
    const dialog = t.page.getByRole('dialog');
    await dialog.getByLabel('Where').selectOption(other!);
    await dialog
      .getByRole('region', { name: 'What that does' })
      .getByText(/^Ready /)
      .waitFor();
    await dialog.getByRole('button', { name: 'Keep' }).click();
    await t.sees(`${work.tag}: the day plan is made anew.`);
    const after = (await plan()).works.find((w) => w.id === work.id)!;
    expect(after.set?.postId).to.equal(other);
    expect(after.tasks.find((task) => task.run)!.run!.postId).to.equal(other);

    // Dragged two hours to the right it does not begin before.
    await bar.scrollIntoViewIfNeeded();
    const box = (await bar.boundingBox())!;
    await t.page.mouse.move(box.x + 12, box.y + box.height / 2);
    await t.page.mouse.down();
    await t.page.mouse.move(box.x + 40, box.y + box.height / 2, { steps: 4 });
    await t.page.mouse.move(box.x + 72, box.y + box.height / 2, { steps: 4 });
    await t.page.mouse.up();
    await dialog.getByRole('group', { name: 'Not before' }).waitFor();
    await dialog.getByRole('button', { name: 'Keep' }).click();
    await dialog.waitFor({ state: 'detached' });
    const later = (await plan()).works.find((w) => w.id === work.id)!;
    const begins = (w: typeof later) => w.tasks.find((task) => task.run)!.from;
    expect(begins(later)).to.be.at.least(begins(after) + 60);

    await bar.click();
    await dialog.getByRole('button', { name: 'Let the plan choose again' }).click();
    await dialog.waitFor({ state: 'detached' });
    expect((await plan()).works.find((w) => w.id === work.id)!.set).to.equal(null);
  });

  it('shows a second plan beside the first: a day closed costs promises, and nothing is kept until it is taken', async () => {
    const before = await plan();
    await t.open('/plan');
    await t.press(/^What if/);
    const dialog = t.page.getByRole('dialog');
    await dialog.getByLabel('Suppose').selectOption({ label: 'The shop is closed for a day' });
    await dialog.getByLabel(/^Day/).selectOption({ index: 1 });
    await dialog.getByRole('button', { name: 'Show the second plan' }).click();
    const second = t.page.getByRole('region', { name: 'Second plan' });
    await second.getByText('This is not the plan.').waitFor();
    await second
      .getByText(/→ hardly any/)
      .first()
      .waitFor();
    expect(await t.page.getByRole('button', { name: /^Move / }).count()).to.equal(0);
    await second.getByRole('button', { name: 'Back to the plan' }).click();
    await second.waitFor({ state: 'detached' });
    expect((await plan()).people).to.deep.equal(before.people);
  });

  it('finds what would help a promise that is not safe, and puts a battery first when that is taken', async () => {
    await t.open('/plan');
    await t.press('What would help?');
    await t.sees(/(before everything else|one more|hour longer|Say so today)/);
    await t.press(/^What if/);
    const dialog = t.page.getByRole('dialog');
    const which = dialog.getByLabel('Which battery');
    const tag = (await which.locator('option').first().innerText()).split(',')[0]!;
    await dialog.getByRole('button', { name: 'Show the second plan' }).click();
    await t.page.getByRole('button', { name: 'Put it first' }).click();
    await t.sees('The day plan is made anew.');
    await t.page.getByRole('region', { name: 'Second plan' }).waitFor({ state: 'detached' });
    const first = (await plan()).works.find((w) => w.tag === tag)!;
    expect(first.set).to.include({ rush: true });
  });

  it('reaches a week ahead, by place and by battery, with what the shelf wants', async () => {
    const said = await plan();
    expect(new Set(said.works.map((w) => w.of))).to.include.all.keys('job', 'recharge', 'round');
    await t.open('/plan');
    await t.press('Week');
    await t.page.getByText('Mon 16', { exact: true }).waitFor();
    await t.press('By battery');
    const work = said.works.find((w) => w.of === 'recharge')!;
    await t.page.getByRole('link', { name: work.tag, exact: true }).click();
    await t.page.getByRole('heading', { level: 1, name: work.tag }).waitFor();
  });

  it('compares what was said of promises with what came', async () => {
    await plan();
    await t.open('/records/promises');
    await t.sees('No promise has come yet');
    await t.later(40 * 3_600_000);
    await t.load('/records/promises');
    await t.sees(/^0 of \d+$/);
    await t.sees('not ready yet');
    await t.later(-40 * 3_600_000);
  });

  it('plans anew when a charger breaks: nothing is put on it, and its row says so', async () => {
    const before = await plan();
    const onBlue = before.works
      .flatMap((w) => w.tasks)
      .some(
        (task) =>
          before.posts.find((p) => p.id === task.run?.postId)?.name === 'E · recovery' &&
          task.from > 0,
      );
    expect(onBlue).to.equal(true);
    await t.open('/chargers');
    await t.page.getByRole('button', { name: 'Out of order E · recovery' }).click();
    await t.page.getByRole('button', { name: 'Ready again E · recovery' }).waitFor();
    const after = await plan();
    const broken = after.posts.find((p) => p.name === 'E · recovery')!;
    expect(broken.out).to.have.length(1);
    expect(
      after.works.flatMap((w) => w.tasks).some((task) => task.run?.postId === broken.id),
    ).to.equal(false);
    await t.open('/plan');
    await t.page.getByText('out of order').nth(1).waitFor();
  });

  it('rings for what is in danger by the plan, where that is what a screen is to tell', async () => {
    const signer = await Technician.sitDown(bench, 'tobin');
    await signer.context.grantPermissions(['notifications']);
    // In words, for the page itself: what a compiler adds to a function would be unknown there.
    await signer.page.addInitScript({
      content: `window.told = [];
        window.Notification = Object.assign(function (title, { body }) { told.push(body); }, { permission: 'granted', requestPermission: () => Promise.resolve('granted') });`,
    });
    await signer.open('/plan');
    await signer.press(/^Alerts off/);
    await signer.page.getByLabel('Show a notification').click();
    await signer.page.getByLabel(/^What the day plan gives me/).click();
    await signer.page.keyboard.press('Escape');
    await plan();
    // Nobody can have a new battery ready within the hour.
    const model = await bench.store.tables.models.findOne({ where: { code: 'LF-A18' }, raw: true });
    const { status } = await bench.post('/api/batteries', {
      commandId: randomUUID(),
      by: 'greta',
      tag: 'LK-0777',
      modelId: model!.id,
      dateCode: '2026-01',
      owner: 'In a hurry',
      promisedAt: Date.parse('2026-03-10T15:05:00Z'),
      purpose: 'commission',
    });
    expect(status).to.equal(201);
    const told = () => signer.page.evaluate<string>('window.told.join()');
    for (let i = 0; i < 100 && !/promised for/.test(await told()); i++)
      await signer.page.waitForTimeout(100);
    expect(await told()).to.include('LK-0777, promised for 15:05: hardly any by the plan');
    await signer.leave();
  });

  it('has the calls for the service of the season, and they are listed by owner', async () => {
    expect((await plan()).works.some((w) => w.of === 'services')).to.equal(true);
    await t.open('/records/services');
    const owners = t.page.getByRole('listitem').filter({ hasText: 'last here' });
    await owners.first().waitFor();
    const before = await owners.count();
    await owners
      .first()
      .getByRole('button', { name: /^Mark .* as asked/ })
      .click();
    await t.sees(`${before - 1} owners to ask, March`);
    expect(await owners.count()).to.equal(before - 1);
  });

  it('goes by hours and absences: somebody who is away does nothing', async () => {
    await t.open('/rules/hours');
    await t.page.getByLabel('Ilse Marrowby is away from: day').fill('11');
    await t.page.getByLabel('Ilse Marrowby is away from: month').selectOption('03');
    await t.page.getByLabel('Ilse Marrowby is away from: year').fill('2026');
    await t.page
      .locator('section')
      .filter({ has: t.page.getByRole('heading', { name: 'Ilse Marrowby' }) })
      .getByRole('button', { name: 'Add an absence' })
      .click();
    await t.sees('Away 11 Mar 2026');
    await t.press('Save changes');
    await t.sees('House rules changed');
    const said = await plan();
    const wednesday = (at: number) =>
      new Date(said.from + at * 60_000).toISOString().startsWith('2026-03-11');
    const ilse = said.people.find((p) => p.id === 'ilse')!;
    expect(ilse.there.some((s) => wednesday(s.from))).to.equal(false);
    expect(said.walks.some((w) => w.personId === 'ilse' && wednesday(w.from))).to.equal(false);
  });

  it('is asked before anything is promised: three honest hours, and what a time that is not safe would cost', async () => {
    await t.open('/intake');
    await t.field('Model').selectOption({ label: 'LF-A18 · Ridge 18 · 12 V 18 Ah' });
    for (const chance of ['even chance', '8 in 10', '19 in 20']) await t.sees(`Ready, ${chance}`);
    await t.press('Promise the first half hour that is safe');
    await t.sees(/Promised for .*: (8 in 10|9 in 10|19 in 20|almost sure)/);
    await t.field(/^Promised for.*day$/).fill('10');
    await t.sees(/Promised for .*: hardly any/);
  });

  it('hangs on the wall without anything to press, and is printed for everybody or for one', async () => {
    const wall = await Technician.sitDown(bench, null, { width: 1920, height: 1080 });
    await wall.open('/wall');
    for (const name of ['Next', 'Promised'])
      await wall.page.getByRole('heading', { name }).waitFor();
    await wall.sees(/^Closing /);
    expect(await wall.page.getByRole('listitem').count()).to.be.within(6, 12);
    expect(await wall.page.locator('button, a, input').count()).to.equal(0);
    expect(
      await wall.page.evaluate('document.documentElement.scrollHeight - window.innerHeight'),
    ).to.be.at.most(0);
    expect(wall.complaints).to.deep.equal([]);
    await wall.leave();
    for (const query of ['', '?person=tobin']) {
      const response = await fetch(`${bench.url}/api/day-plan/day.pdf${query}`);
      expect(response.status).to.equal(200);
      const bytes = Buffer.from(await response.arrayBuffer());
      expect(bytes.subarray(0, 5).toString()).to.equal('%PDF-');
      expect(bytes.length).to.be.greaterThan(5000);
    }
  });

  it('is a list of tasks on a phone, in order of time for each', async () => {
    const phone = await Technician.sitDown(bench, 'tobin', { width: 390, height: 844 });
    await phone.open('/plan');
    await phone.page.getByRole('heading', { name: 'Tobin Ashgrale' }).waitFor();
    const times = await phone.page
      .locator('section')
      .filter({ has: phone.page.getByRole('heading', { name: 'Tobin Ashgrale' }) })
      .locator('li b:first-child')
      .allInnerTexts();
    expect(times.length).to.be.greaterThan(2);
    expect(await phone.page.evaluate('document.documentElement.scrollWidth')).to.equal(390);
    await phone.leave();
  });
});
