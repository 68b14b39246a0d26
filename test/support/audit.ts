import axe from 'axe-core';
import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { TestBench } from './bench.ts';
import { Technician } from './browser.ts';
import { strayUnits } from './strayUnits.ts';

/**
 * axe reads the colour of every text and of all that lies behind it, and parses each anew: half of what contrast costs.
 * A colour it has read once is known.
 */
const COLOURS_READ_ONCE = `{
  const { prototype } = axe.commons.color.Color;
  const parse = prototype.parseString;
  const known = new Map();
  prototype.parseString = function (text) {
    const before = known.get(text);
    if (before) return Object.assign(this, before);
    parse.call(this, text);
    const { r, g, b, alpha } = this;
    known.set(text, { r, g, b, alpha });
    return this;
  };
}`;
const axeSource = `${axe.source};${COLOURS_READ_ONCE}`;

/** Serious faults of the page as it stands. axe stays in a document that is open: reading it in anew costs more than many a look. */
export async function axeFaults(page: Page): Promise<string[]> {
  if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(axeSource);
  const violations = await page.evaluate(async () => {
    const { axe: reader } = window as unknown as { axe: typeof axe };
    const found = await reader.run(document, {
      // Only what is wrong is looked at, and there are no frames: what else axe would tell costs as much again.
      resultTypes: ['violations'],
      runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'],
    });
    return found.violations;
  });
  return violations
    .filter((v) => v.impact === 'serious' || v.impact === 'critical')
    .map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join(' | ')}`);
}

/** A view's name, and its address on the demo's bench. */
export type AuditedView = readonly [
  name: string,
  path: (jobPath: (tag: string) => string) => string,
];

/** Pixels cut at the side once the page has been laid out anew; a chart may take a moment to follow its width. */
export const settledOverflow = (page: Page): Promise<number> =>
  page.evaluate(`new Promise((tell) => {
    const began = performance.now();
    const look = () => {
      const { scrollWidth, clientWidth } = document.documentElement;
      if (scrollWidth <= clientWidth || performance.now() - began > 3000) tell(scrollWidth - clientWidth);
      else requestAnimationFrame(look);
    };
    requestAnimationFrame(() => requestAnimationFrame(look));
  })`);

/** Buttons and links that can be reached only by moving a part of the page sideways. */
const actsOutOfSight = (page: Page): Promise<string[]> =>
  page.evaluate(() =>
    [...document.querySelectorAll('button, a')].flatMap((act) => {
      const frame = act.closest('.overflow-x-auto');
      if (!frame || act.getClientRects().length === 0) return [];
      const out = act.getBoundingClientRect().right - frame.getBoundingClientRect().right;
      return out > 1 ? [`${act.textContent?.trim()}, ${Math.round(out)} px`] : [];
    }),
  );

/** Words, on the page and in its drawings, that stand beyond the edge of what holds them; nobody is to move a part of a page to read. */
const cutWords = (page: Page): Promise<string[]> =>
  page.evaluate(() => {
    const cut = new Set<string>();
    const texts = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
    const range = document.createRange();
    const clipping = new Map<Element, CSSStyleDeclaration | null>();
    const clips = (element: Element): CSSStyleDeclaration | null => {
      let style = clipping.get(element);
      if (style === undefined) {
        style = getComputedStyle(element);
        const within = element instanceof SVGElement && element.tagName !== 'svg';
        if (within || style.display === 'inline' || style.overflowX === 'visible') style = null;
        clipping.set(element, style);
      }
      return style;
    };
    while (texts.nextNode()) {
      const text = texts.currentNode;
      const words = text.textContent?.trim() ?? '';
      const holder = text.parentElement;
      if (!words || !holder || holder.closest('script, style, option') || !holder.checkVisibility())
        continue;
      range.selectNodeContents(text);
      const { left, right, width, height } = range.getBoundingClientRect();
      if (width < 1 || height < 1) continue;
      for (let around: Element | null = holder; around; around = around.parentElement) {
        const style = clips(around);
        if (!style) continue;
        const edge = around.getBoundingClientRect();
        // What only a reader aloud hears; what says itself that it is cut.
        if (edge.width <= 1 || style.textOverflow === 'ellipsis') break;
        const beyond = Math.max(edge.left - left, right - edge.right);
        if (beyond > 1) cut.add(`“${words}”, ${Math.round(beyond)} px`);
      }
    }
    return [...cut];
  });

/** Units of a shop that shares none with the demo's own. */
export const OTHER_UNITS = {
  temperatureUnit: 'F',
  volumeUnit: 'oz',
  clock: '12h',
  dateOrder: 'month-first',
  sgReferenceC: 26.7,
} as const;

/**
 * Goes to each view of the demo, in a shop of °F, ounces, pounds, am and pm, and the month first, and looks for faults of access,
 * complaints in the console, anything cut at the side, and another shop's units.
 */
export function auditViews(title: string, views: readonly AuditedView[]): void {
  describe(`${title}, in a shop of °F, ounces, pounds, am and pm, and the month first`, () => {
    let bench: TestBench;
    let jobPath: (tag: string) => string;
    let t: Technician;
    before(async () => {
      bench = await TestBench.demo();
      await bench.changeRules(OTHER_UNITS);
      jobPath = await bench.jobPaths();
      t = await Technician.sitDown(bench, 'greta');
    });
    after(() => bench.close());

    for (const [name, path] of views) {
      it(`${name}: no serious fault found by axe, no complaint in the console, nothing cut at the side, no unit of another shop`, async () => {
        await t.page.setViewportSize({ width: 1280, height: 800 });
        await t.open(path(jobPath));
        await t.page.getByText('Fetching from the bench').waitFor({ state: 'detached' });
        await t.page.evaluate('document.fonts.ready');
        expect(strayUnits(await t.everyWord())).to.deep.equal([]);
        expect(await axeFaults(t.page)).to.deep.equal([]);
        for (const width of [1280, 820, 390]) {
          await t.page.setViewportSize({ width, height: width === 390 ? 844 : 800 });
          expect(await settledOverflow(t.page), `${name} at ${width}`).to.be.at.most(0);
          expect(await cutWords(t.page), `${name} at ${width}`).to.deep.equal([]);
          expect(await actsOutOfSight(t.page), `${name} at ${width}`).to.deep.equal([]);
        }
        expect(t.complaints.splice(0)).to.deep.equal([]);
      });
    }
  });
}
