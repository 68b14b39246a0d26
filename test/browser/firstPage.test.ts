import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { TestBench } from '../support/bench.ts';
import { Technician } from '../support/browser.ts';

const PHONE = { width: 390, height: 844 };
/** Above this a page counts as one that moves under the finger. */
const MOST_SHIFT = 0.03;

/** What these views are drawn from. */
const DRAWN_FROM = /^\/api\/(shop|bench|jobs|batteries|day-plan|models|sign-in)/;

/** The views of a job and of the shop that people come to first. */
const SHOWN: readonly (readonly [name: string, at: string])[] = [
  ['the Bench', '/'],
  ['a charge', 'LK-0409'],
  ['a charge on an instrument', 'LK-0403'],
  ['a diagnosis', 'LK-0400'],
  ['checks', 'LK-0413'],
  ['a round of the shelf', '/shelf/round'],
  ['a record', '/batteries/LK-0395'],
  ['the day plan', '/plan'],
  ['intake', '/intake'],
];

describe('a first visit, its page drawn by the server', () => {
  let bench: TestBench;
  let jobPath: (tag: string) => string;
  before(async () => {
    TestBench.drawsPages = true;
    bench = await TestBench.demo();
    jobPath = await bench.jobPaths();
    await bench.drawn('/');
  });
  after(async () => {
    TestBench.drawsPages = false;
    await bench.close();
  });
  const addressOf = (at: string) => (at.startsWith('LK') ? jobPath(at) : at);

  /** Holds the scripts back that make a page work, until they are let go. */
  async function withheld(t: Technician): Promise<() => void> {
    let letGo = (): void => undefined;
    const held = new Promise<void>((go) => (letGo = go));
    await t.page.route(/assets\/first-.*\.js/, async (route) => {
      await held;
      await route.continue();
    });
    return letGo;
  }
  /** Goes there and does not wait for what is held back. */
  async function arrive(t: Technician, at: string): Promise<void> {
    await t.page.goto(bench.url + addressOf(at), { waitUntil: 'commit' });
    await t.page.locator('h1').first().waitFor();
  }
  /**
   * What of its answers a page asks for again. The bench is no such thing where the page was drawn without it: the strip above asks
   * for it first, a moment after everything else.
   */
  async function askedAgain(t: Technician): Promise<() => string[]> {
    const drawnFrom = await t.page.locator('#drawn-from').textContent();
    const withBench = drawnFrom?.includes('"queryKey":["bench"]') ?? false;
    const asked: string[] = [];
    t.page.on('request', (request) => asked.push(new URL(request.url()).pathname));
    return () =>
      asked.filter((path) => DRAWN_FROM.test(path) && (withBench || path !== '/api/bench'));
  }
  const inHand = (page: Page) => page.locator('#root:not([inert])').waitFor();

  for (const [name, at] of SHOWN) {
    it(`shows ${name} before its scripts have come, takes it in hand as it stands, and moves nothing`, async () => {
      await bench.drawn(addressOf(at));
      const t = await Technician.sitDown(bench, null, PHONE);
      await t.page.addInitScript(`
        window.moved = 0;
        new PerformanceObserver((list) => {
          for (const { value, hadRecentInput } of list.getEntries()) if (!hadRecentInput) window.moved += value;
        }).observe({ type: 'layout-shift', buffered: true });
      `);
      const letGo = await withheld(t);
      await arrive(t, at);
      const heading = await t.page.locator('h1').first().innerText();
      // Marked, so that another one in its place would be seen.
      await t.page.evaluate(() => document.querySelector('h1')?.setAttribute('data-first', ''));
      expect(await t.page.locator('#root').getAttribute('inert')).to.equal('');
      const again = await askedAgain(t);
      const clock = t.page.waitForRequest('**/api/clock');
      letGo();
      await inHand(t.page);
      await clock;
      await t.settled();
      // What it was drawn from is not asked for again: nothing has changed since.
      expect(again()).to.deep.equal([]);
      expect(await t.page.locator('h1[data-first]').innerText()).to.equal(heading);
      expect(t.complaints).to.deep.equal([]);
      expect(await t.page.evaluate('window.moved')).to.be.below(MOST_SHIFT);
      await t.leave();
    });
  }

  it('asks for nothing again that a slow phone has had for some seconds: every change is told', async () => {
    const t = await Technician.sitDown(bench, null, PHONE);
    await t.page.addInitScript(`
      window.slow = 0;
      const now = Date.now;
      Date.now = () => now() + window.slow;
    `);
    const letGo = await withheld(t);
    await arrive(t, 'LK-0413');
    const again = await askedAgain(t);
    letGo();
    await inHand(t.page);
    await t.page.evaluate('window.slow = 15_000');
    // The strip above works the bench out a moment later.
    await t.page.waitForTimeout(2500);
    await t.settled();
    // Somebody looks at it: what counts as old by now would be asked for.
    await t.page.evaluate('window.dispatchEvent(new Event("visibilitychange"))');
    await t.page.waitForTimeout(100);
    await t.settled();
    // The day plan is made for its hour.
    expect(again().filter((path) => path !== '/api/day-plan')).to.deep.equal([]);
    await t.leave();
  });

  it('takes nothing that is typed or pressed before it is in hand, and everything after', async () => {
    const t = await Technician.sitDown(bench, null);
    const letGo = await withheld(t);
    await arrive(t, 'LK-0409');
    const field = t.page.locator('main input[inputmode=decimal]').first();
    await field.evaluate((input: HTMLInputElement) => input.focus());
    await t.page.keyboard.type('12.6');
    expect(await field.inputValue()).to.equal('');
    letGo();
    await inHand(t.page);
    await field.fill('14.2');
    expect(await field.inputValue()).to.equal('14.2');
    await t.leave();
  });

  it('shows what has changed since it was drawn as soon as it hears of changes', async () => {
    const t = await Technician.sitDown(bench, null);
    const letGo = await withheld(t);
    await arrive(t, 'LK-0413');
    const id = jobPath('LK-0413').split('/')[2] as string;
    const { status } = await bench.send(id, { type: 'note', text: 'its box was wet' }, 'ilse');
    expect(status).to.be.below(300);
    const paused = await bench.send(id, { type: 'pause', reason: 'waits for the maker' }, 'ilse');
    expect(paused.status).to.be.below(300);
    letGo();
    await t.sees(/waits for the maker/);
    await bench.send(id, { type: 'resume' }, 'ilse');
    await t.page
      .getByText(/waits for the maker/)
      .first()
      .waitFor({ state: 'detached' });
    await t.leave();
  });

  it('is drawn anew where this browser keeps something: who signs here, how much time is shown', async () => {
    const t = await Technician.sitDown(bench, 'ilse');
    await t.page.addInitScript(() => localStorage.setItem('cork-ember.range', 'week'));
    await t.load('/');
    await inHand(t.page);
    await t.page.getByRole('button', { name: /Ilse .* signs here/ }).waitFor();
    expect(await t.page.getByLabel('Week').isChecked()).to.equal(true);
    expect(t.complaints).to.deep.equal([]);
    await t.leave();
  });

  it('can be read where its scripts never come', async () => {
    const t = await Technician.sitDown(bench, null, PHONE);
    await t.page.route(/assets\/(first|job|parts)-.*\.js/, (route) => route.abort());
    await arrive(t, 'LK-0409');
    await t.sees('Initial charge');
    await t.leave();
  });
});
