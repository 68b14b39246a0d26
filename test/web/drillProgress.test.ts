import { expect } from 'chai';
import { CASES } from '../../src/core/drill/cases/catalogue.ts';
import { MARK_KEYS } from '../../src/core/drill/case.ts';
import type { Attempt } from '../../src/web/sandbox/attempts.ts';
import { nextCase, progressOf, topicOf } from '../../src/web/sandbox/progress.ts';

const DAY = 86_400_000;
const FIRST = Date.UTC(2026, 2, 2);
const went = (code: string, day: number, points: number): Attempt => {
  const all = <T>(value: T) =>
    Object.fromEntries(MARK_KEYS.map((key) => [key, value])) as Record<
      (typeof MARK_KEYS)[number],
      T
    >;
  return {
    id: `${code} ${day}`,
    code,
    personId: 'ann',
    startedAt: FIRST + day * DAY,
    endedAt: FIRST + day * DAY + 1,
    acts: [],
    result: {
      decision: 'passed',
      handsMin: 40,
      hours: 8,
      passed: points >= 60,
      points: all(points),
      passes: all(points >= 60),
    },
  };
};
const progress = (attempts: Attempt[], day: number) => progressOf(attempts, FIRST + day * DAY);

describe('progress at the drill', () => {
  it('counts by fault, what is likeliest forgotten first; cases that were left count nothing', () => {
    const left = { ...went('R-16', 1, 0), endedAt: null, result: null };
    const told = progress([went('R-01', 0, 100), went('R-06', 0, 30), left], 3);
    expect(told.map((p) => [p.topic, p.done, p.passed])).to.deep.equal([
      ['bad-cell', 1, 0],
      ['flat', 1, 1],
    ]);
    expect(told[0]!.recall).to.be.below(told[1]!.recall);
    expect(told[1]!.goes).to.deep.equal([{ points: 100, passed: true }]);
  });

  it('what was failed is due within days, what was passed twice with ease in weeks', () => {
    const [failed] = progress([went('R-06', 0, 30)], 0);
    const [eased] = progress([went('R-01', 0, 100), went('R-08', 14, 100)], 14);
    expect(failed!.dueAt).to.be.at.most(FIRST + 3 * DAY);
    expect(eased!.dueAt).to.be.above(FIRST + 28 * DAY);
    const chance = (day: number) => progress([went('R-01', 0, 80)], day)[0]!.recall;
    expect(chance(40)).to.be.below(chance(4));
  });

  it('next is a weak spot that is due, else the ladder, else what is likeliest forgotten', () => {
    const next = (attempts: Attempt[], day: number) =>
      nextCase(CASES, attempts, progress(attempts, day), FIRST + day * DAY);
    expect(next([], 0)).to.deep.equal({ drillCase: CASES[0], why: 'ladder' });
    const failed = [went('R-06', 0, 30)];
    expect(next(failed, 0)?.why, 'not at once').to.equal('ladder');
    const later = next(failed, 5);
    expect(later?.why).to.equal('weak');
    expect(topicOf(later!.drillCase)).to.equal('bad-cell');
    expect(later!.drillCase.code, 'another one of the kind').to.not.equal('R-06');
    const all = CASES.map((c) => went(c.code, 0, 100));
    expect(next(all, 90)?.why).to.equal('again');
  });
});
