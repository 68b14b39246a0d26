import {
  type Browser,
  type BrowserContext,
  chromium,
  type Page,
  type Request,
} from 'playwright-core';
import { CHROMIUM_FLAGS, chromiumPath } from '../../scripts/chromium.mjs';
import { TestBench } from './bench.ts';

// A browser keeps the machine busy: stand-in instruments get longer to answer before they count as silent.
TestBench.instrumentTimeoutMs = 5000;

let opened: Promise<Browser> | undefined;
/**
 * The one browser of this process; every technician has a context of their own in it. Processes that share one are slower by a
 * quarter: whatever it says goes through one line.
 */
export const browser = (): Promise<Browser> =>
  (opened ??= chromium.launch({ executablePath: chromiumPath(), args: CHROMIUM_FLAGS }));

/** A case of the drill is a document of its own: no page of the shop leads into it, or out of it. */
const isOfACase = (address: string): boolean => address.includes('/drill/case/');

/** A view that is left has gone by then, ms. */
const LEAVES_WITHIN_MS = 2000;

/** Which view an address opens, whatever it shows there: another battery in the same view keeps its heading. */
const viewOf = (address: string): string =>
  address
    .replace(/[?#].*/, '')
    .replace(/^\/(jobs|batteries|rules|setup|records\/claims)\/[^/]+/, '/$1');

/** A page at the bench, signed by somebody, whose every console error is kept. */
export class Technician {
  readonly complaints: string[] = [];
  /** Requests under way, but for the stream of changes, which never ends. */
  readonly #asked = new Set<Request>();
  private constructor(
    readonly bench: TestBench,
    readonly context: BrowserContext,
    readonly page: Page,
  ) {}

  static async sitDown(
    bench: TestBench,
    person: string | null = 'ilse',
    viewport = { width: 1280, height: 800 },
    { keepsPages = false } = {},
  ): Promise<Technician> {
    const context = await (
      await browser()
    ).newContext({
      viewport,
      acceptDownloads: true,
      timezoneId: 'Europe/London',
      // Kept pages would answer before the server under test does.
      serviceWorkers: keepsPages ? 'allow' : 'block',
    });
    if (person)
      await context.addInitScript((id) => localStorage.setItem('cork-ember.person', id), person);
    const page = await context.newPage();
    page.setDefaultTimeout(20_000);
    const technician = new Technician(bench, context, page);
    bench.guests.push(technician);
    const answered = (request: Request) => void technician.#asked.delete(request);
    page.on(
      'request',
      (request) => request.resourceType() !== 'eventsource' && technician.#asked.add(request),
    );
    page.on('requestfinished', answered);
    page.on('requestfailed', answered);
    page.on('pageerror', (error) => technician.complaints.push(error.message));
    page.on(
      'console',
      (message) =>
        message.type() === 'error' &&
        !message.text().includes('Failed to load resource') &&
        technician.complaints.push(message.text()),
    );
    return technician;
  }

  /** Opens a page anew, as its address typed into a browser does. */
  async load(path: string): Promise<void> {
    await this.page.goto(this.bench.url + path);
    await this.page.locator('h1').first().waitFor();
  }

  /** Goes to a page: within the application where that is open, as a link in it does, so that what was fetched stays. */
  async open(path: string): Promise<void> {
    if (!this.#isOpen || isOfACase(path)) return this.load(path);
    // As the page itself knows it: what Playwright has heard of is a moment older.
    const from = await this.page.evaluate(() => location.pathname);
    const before = viewOf(from) === viewOf(path) ? null : await this.page.$('h1');
    await this.page.evaluate((to) => {
      history.pushState(null, '', to);
      dispatchEvent(new PopStateEvent('popstate'));
    }, path);
    // Until the page has been fetched and drawn, the one before stands, and hears what is typed.
    await this.settled();
    // A view that is come back to before it was left keeps its heading.
    await before
      ?.waitForElementState('hidden', { timeout: LEAVES_WITHIN_MS })
      .catch(() => undefined);
    await this.page.locator('h1').first().waitFor();
  }

  get #isOpen(): boolean {
    const address = this.page.url();
    return address.startsWith(this.bench.url) && !isOfACase(address);
  }

  /** Nothing is being fetched any more, and what came has been drawn. */
  async settled(): Promise<void> {
    do {
      while (this.#asked.size > 0) await this.page.waitForTimeout(10);
      await this.drawn();
    } while (this.#asked.size > 0);
  }

  /** The page has drawn what it knows. */
  drawn = () =>
    this.page.evaluate(
      'new Promise((drawn) => requestAnimationFrame(() => requestAnimationFrame(drawn)))',
    );

  button = (name: string | RegExp) => this.page.getByRole('button', { name });
  press = (name: string | RegExp) => this.button(name).first().click();
  field = (label: string | RegExp) =>
    this.page.getByLabel(label).and(this.page.locator('input, select, textarea'));
  sees = (text: string | RegExp) => this.page.getByText(text).first().waitFor();

  /** Every line a person can read or hear on this page: texts, names, hints, what stands in fields. */
  everyWord(): Promise<string[]> {
    return this.page.evaluate(() => {
      // Charts measure words in an element outside the page, which keeps the last of them.
      document.getElementById('recharts_measurement_span')?.remove();
      const told: string[] = document.body.innerText.split('\n');
      for (const element of document.querySelectorAll('*')) {
        for (const name of ['aria-label', 'title', 'placeholder', 'alt', 'aria-description'])
          told.push(element.getAttribute(name) ?? '');
        if (element instanceof HTMLInputElement && element.type !== 'radio')
          told.push(element.value);
        if (element instanceof SVGTextElement) told.push(element.textContent ?? '');
      }
      return told.map((line) => line.trim()).filter(Boolean);
    });
  }

  /** The step in hand, by its title. */
  step = (title: string | RegExp) =>
    this.page
      .getByRole('region', { name: 'Step in hand' })
      .getByRole('heading', { name: title })
      .waitFor();

  /** Moves bench time on; the page hears of it as it would from a fast clock. */
  async later(ms: number): Promise<void> {
    const heard = this.page.waitForResponse('**/api/clock');
    this.bench.advance(ms);
    // A page whose stream is being opened anew misses a notice; the next one reaches it.
    const again = setInterval(() => this.bench.advance(0), 2000);
    await heard.finally(() => clearInterval(again));
    // The answer has come; the page still has to read it before its clock tells the new time.
    await this.page.waitForTimeout(60);
  }

  async read(values: Record<string, string>, act: string | RegExp = 'Save reading'): Promise<void> {
    const form = this.page
      .locator('form')
      .filter({ has: this.page.getByRole('button', { name: act }) })
      .last();
    for (const [label, text] of Object.entries(values)) await form.getByLabel(label).fill(text);
    // The form is emptied when the answer has come; what is typed before that would go with it. Some are refused in the page.
    const answered = this.page
      .waitForResponse((response) => response.request().method() === 'POST', { timeout: 1500 })
      .catch(() => null);
    await form.getByRole('button', { name: act }).click();
    if (await answered) await this.drawn();
  }

  /**
   * Acts, and waits until the page has sent the command; where it asks for a reason first, gives one.
   *
   * @param confirm the button that sends it with its reason
   */
  async sends(
    act: () => Promise<void>,
    confirm: string,
    reason = 'As its owner asked',
  ): Promise<void> {
    const sent = this.page.waitForResponse(
      (response) => response.url().endsWith('/commands') && response.request().method() === 'POST',
    );
    const asked = this.page.getByRole('dialog').getByLabel('Reason, for the sheet').waitFor();
    await act();
    if (await Promise.race([asked.then(() => true), sent.then(() => false)]))
      await this.giveReason(confirm, reason);
    asked.catch(() => undefined);
    await sent;
  }

  /** Says who is at this screen now, by name. */
  async signAs(name: string | RegExp): Promise<void> {
    await this.page
      .getByRole('dialog', { name: 'Who is at the bench?' })
      .getByRole('button', { name })
      .click();
  }

  /** Fills in why, in the dialog that asks for it, and goes on by this act. */
  async giveReason(act: string, reason: string, label = 'Reason, for the sheet'): Promise<void> {
    const dialog = this.page.getByRole('dialog');
    await dialog.getByLabel(label).fill(reason);
    await dialog.getByRole('button', { name: act, exact: true }).click();
  }

  /** The charge is run by hand on a charger that is not on the shop's wall: its current is read each time. */
  async bringsOwnCharger(): Promise<void> {
    const own = this.page.getByRole('radio', { name: /^A charger that is not on the wall/ });
    if (!(await own.isVisible())) await this.page.getByText(/and another charger$/).click();
    await own.check();
  }

  leave = () => this.context.close();
}
