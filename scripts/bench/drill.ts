import { CASES } from '../../src/core/drill/cases/catalogue.ts';
import { DrillBench, playCase } from '../../src/core/drill/drillBench.ts';
import { generatedCase, newCode } from '../../src/core/drill/generate.ts';
import { goodTechnician } from '../../src/core/drill/goodTechnician.ts';
import { lookBack } from '../../src/core/drill/lookBack.ts';
import { markCase } from '../../src/core/drill/marks.ts';
import { seeded } from '../../src/core/simulation/random.ts';
import { say, title } from './figures.ts';

const DRAWN = 60;

const ms = (work: () => unknown): number => {
  const began = performance.now();
  work();
  return performance.now() - began;
};
const middle = (values: readonly number[]): string =>
  (values.toSorted((a, b) => a - b)[Math.floor(values.length / 2)] ?? 0).toFixed(0);
const most = (values: readonly number[]): string => Math.max(...values).toFixed(0);

/** How long a case takes to open, to jump six hours, to be taken up again and to be looked back on. */
export function benchDrill(): void {
  title(`the drill: ${CASES.length} written cases`);
  const opens = CASES.map((c) => ms(() => new DrillBench(c)));
  say('a case opens', `${middle(opens)} ms`, `at most ${most(opens)}; aim under 1000`);
  const goods = CASES.map((c) => goodTechnician(c));
  const jumps = goods.flatMap((good) => {
    // Six hours from the moment its first charge has begun.
    const began = good.acts.findIndex(
      (a) => a.do === 'command' && a.command.type === 'startCharge',
    );
    if (began < 0) return [];
    const bench = playCase(good.drillCase, good.acts.slice(0, began + 1));
    return [ms(() => bench.do({ do: 'wait', seconds: 6 * 3600, alert: false }))];
  });
  say('six hours on charge', `${middle(jumps)} ms`, `at most ${most(jumps)}; aim under 1000`);
  const again = goods.map((good) => ms(() => playCase(good.drillCase, good.acts)));
  say('taken up again, all acts done anew', `${middle(again)} ms`, `at most ${most(again)}`);
  const back = goods.map((good) => ms(() => lookBack(good.drillCase, good.acts)));
  say('looked back on', `${middle(back)} ms`, `at most ${most(back)}; in a worker`);
  const random = seeded(20);
  for (const level of [1, 2, 3, 4] as const) {
    const cases = Array.from({ length: DRAWN }, () => newCode(level, random.even));
    const draws = cases.map((code) => ms(() => generatedCase(code)));
    const passed = cases.filter((code) => {
      const drawn = generatedCase(code);
      if (!drawn) return false;
      const good = goodTechnician(drawn);
      return markCase(good, good).passed;
    }).length;
    say(
      `${DRAWN} drawn, level ${level}`,
      `${((100 * passed) / DRAWN).toFixed(0)} % passed by a good technician`,
      `drawn in ${middle(draws)} ms, at most ${most(draws)}`,
    );
  }
}
