// How soon three long plans are drawn after a change, and whether typing waits while thousands of twins run.
import { randomUUID } from 'node:crypto';
import type { ChargePlan } from '../../src/core/charging/chargePlan.ts';
import type { TestBench } from '../../test/support/bench.ts';
import { type Technician } from '../../test/support/browser.ts';
import { say, spreadOf, title } from './figures.ts';

const HOUR = 3600;
const LONG: ChargePlan[] = [
  {
    name: 'Long hold',
    stages: [
      {
        do: 'current',
        cRate: 0.05,
        until: [
          { when: 'volts', perCell: 2.42 },
          { when: 'time', s: 20 * HOUR },
        ],
      },
      { do: 'voltage', perCell: 2.42, cRate: 0.05, until: [{ when: 'time', s: 62 * HOUR }] },
    ],
  },
  {
    name: 'Long pulse',
    stages: [
      {
        do: 'current',
        cRate: 0.05,
        until: [
          { when: 'volts', perCell: 2.38 },
          { when: 'time', s: 20 * HOUR },
        ],
      },
      {
        do: 'pulse',
        cRate: 0.15,
        onS: 20,
        offS: 40,
        perCell: 2.45,
        until: [{ when: 'time', s: 62 * HOUR }],
      },
    ],
  },
  {
    name: 'Long float',
    stages: [
      {
        do: 'current',
        cRate: 0.1,
        until: [
          { when: 'volts', perCell: 2.4 },
          { when: 'time', s: 14 * HOUR },
        ],
      },
      { do: 'float', perCell: 2.25, cRate: 0.02, until: [{ when: 'time', s: 66 * HOUR }] },
    ],
  },
].map(
  (p, i) =>
    ({ ...p, id: `long-${i}`, plain: '', kinds: ['flooded'], mostS: 90 * HOUR }) as ChargePlan,
);

const CHANGES = 24;

/** Watches the page: when a key went down, when the newest line moved, and how long a typed letter takes to be painted. */
const WATCH = `
  window.figures = { pressed: 0, drawn: 0, painted: [] };
  addEventListener('keydown', () => {
    const pressed = (window.figures.pressed = performance.now());
    requestAnimationFrame(() => requestAnimationFrame(() => window.figures.painted.push(performance.now() - pressed)));
  }, true);
  new MutationObserver(() => (window.figures.drawn = performance.now()))
    .observe(document.querySelector('[data-drawn]'), { subtree: true, attributes: true, attributeFilter: ['d'], childList: true });
`;

export async function benchRehearsal(bench: TestBench, t: Technician): Promise<void> {
  title('Rehearsal: three plans of about 72 h side by side, in Chromium');
  for (const plan of LONG)
    await bench.post('/api/plans', { commandId: randomUUID(), by: 'ilse', plan });
  await t.open('/rehearsal');
  for (const [i, letter] of ['A', 'B', 'C'].entries())
    await t.page.getByLabel(`Plan of way ${letter}`).selectOption((LONG[i] as ChargePlan).name);
  await t.page.waitForTimeout(1500);
  await t.page.evaluate(WATCH);
  /** Changes something and waits until nothing moves any more. */
  const timed = async (change: (i: number) => Promise<unknown>): Promise<string> => {
    const took: number[] = [];
    for (let i = 0; i < CHANGES; i++) {
      await t.page.evaluate('window.figures.drawn = 0');
      await change(i);
      while (!(await t.page.evaluate('window.figures.drawn > window.figures.pressed')))
        await t.page.waitForTimeout(10);
      // Whatever moves within the next moment belongs to the same change.
      await t.page.waitForTimeout(120);
      took.push(Number(await t.page.evaluate('window.figures.drawn - window.figures.pressed')));
    }
    const { p50, p95 } = spreadOf(took);
    return `${p50.toFixed(0)} / ${p95.toFixed(0)} ms`;
  };
  const turn = (i: number): string => (i % 2 === 0 ? 'ArrowUp' : 'ArrowDown');
  const volts = t.page
    .getByRole('region', { name: 'Way A' })
    .getByRole('spinbutton', { name: 'Volts, V', exact: true });
  await volts.focus();
  say(
    'a limit of one plan changed to all redrawn, p50 / p95',
    await timed((i) => volts.press(turn(i))),
    'aim ≤ 300 ms',
  );
  const sulfate = t.page.getByRole('combobox', { name: 'Hard sulfate' });
  await sulfate.focus();
  say(
    'the battery changed to three plans redrawn, p50 / p95',
    await timed((i) => sulfate.press(turn(i + 1))),
    'aim ≤ 300 ms',
  );

  const count = 2000;
  await t.page.getByLabel('Odds from').selectOption(String(count));
  const began = performance.now();
  await t.page.getByRole('progressbar', { name: 'Twins rehearsed' }).waitFor();
  await t.page.evaluate('window.figures.painted = []');
  await t.page.getByRole('combobox', { name: 'Battery' }).focus();
  for (let i = 0; i < 40; i++) {
    await t.page.keyboard.press('Shift');
    await t.page.waitForTimeout(60);
  }
  const painted = spreadOf((await t.page.evaluate('window.figures.painted')) as number[]);
  say(
    `a key to its frame while ${count} twins × 3 plans run, p50 / p95`,
    `${painted.p50.toFixed(0)} / ${painted.p95.toFixed(0)} ms`,
    'two frames are 33 ms',
  );
  const done = await t.page.getByText(/^\d+ of 2000$/).textContent();
  const rate = Number(done?.split(' ')[0]) / ((performance.now() - began) / 1000);
  say(
    'twins a second, each through three plans, in the worker',
    rate.toFixed(1),
    `${count} take ${(count / rate).toFixed(0)} s, with progress, to be cancelled at any time`,
  );
  await t.page.getByRole('button', { name: 'Enough' }).click();
}
