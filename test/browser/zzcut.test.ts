import type { Page } from 'playwright-core';
import { TestBench } from '../support/bench.ts';
import { Technician } from '../support/browser.ts';
import { JOB_VIEWS, OTHER_VIEWS, RULE_VIEWS } from '../support/views.ts';
const cut = (page: Page): Promise<string[]> =>
  page.evaluate(() => {
    const out = new Set<string>();
    const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
    const range = document.createRange();
    for (let n = walker.nextNode(); n; n = walker.nextNode()) {
      const el = n.parentElement!;
      if (!n.textContent?.trim() || el.closest('script,style,noscript,option,.sr-only')) continue;
      if (!el.checkVisibility({ visibilityProperty: true, opacityProperty: true })) continue;
      range.selectNodeContents(n);
      const r = range.getBoundingClientRect();
      if (r.width < 1 || r.height < 1) continue;
      for (let a: Element | null = el; a && a !== document.body; a = a.parentElement) {
        const s = getComputedStyle(a);
        if (s.display === 'inline' || (a instanceof SVGElement && a.tagName !== 'svg')) continue;
        if (s.overflowX === 'visible') continue;
        const b = a.getBoundingClientRect();
        const l = b.left - r.left,
          rt = r.right - b.right;
        if (l > 1 || rt > 1) {
          if (s.textOverflow === 'ellipsis') break;
          out.add(
            `${s.overflowX} ${a.tagName}.${(a.getAttribute('class') ?? '').slice(0, 40)}: “${n.textContent.trim().slice(0, 50)}” l${l.toFixed(0)} r${rt.toFixed(0)}`,
          );
          break;
        }
      }
      if (r.right > innerWidth + 1 || r.left < -1)
        out.add(`PAGE “${n.textContent.trim().slice(0, 50)}”`);
    }
    return [...out];
  });
describe('cut', () => {
  it('all', async () => {
    const bench = await TestBench.demo();
    const jobPath = await bench.jobPaths();
    const t = await Technician.sitDown(bench, 'greta');
    for (const [name, path] of [...JOB_VIEWS, ...OTHER_VIEWS, ...RULE_VIEWS]) {
      await t.page.setViewportSize({ width: 1280, height: 800 });
      await t.open(path(jobPath));
      await t.page.getByText('Fetching from the bench').waitFor({ state: 'detached' });
      for (const width of [1280, 820, 390]) {
        await t.page.setViewportSize({ width, height: 6000 });
        await t.page.waitForTimeout(name.includes('diagnosis') ? 6000 : 900);
        for (const c of await cut(t.page)) console.log(`${name} @${width}: ${c}`);
      }
    }
    await bench.close();
  });
});
