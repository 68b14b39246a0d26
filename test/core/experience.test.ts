import { expect } from 'chai';
import type { FamilyKey } from '../../src/core/diagnosis/practice/families.ts';
import {
  type Experience,
  experienceOf,
  type FoundHere,
  learntFor,
  PRACTICE_WORTH,
  type YieldHere,
} from '../../src/core/diagnosis/practice/experience.ts';
import { practiceOdds } from '../../src/core/diagnosis/practice/judge.ts';
import { calibration } from '../../src/core/results/calibration.ts';
import { seeded } from '../../src/core/simulation/random.ts';

const ALL = { asOf: 1e15, since: null };
const told = { chemistry: 'flooded', story: 'parked', standingDays: 60, ageYears: 3 } as const;
const found = (family: FamilyKey, at = 1): FoundHere => ({ ...told, found: family, at });
const timesOf = (experience: Experience, family: FamilyKey): number =>
  experience.families.find((f) => f.family === family)!.times;
const oddsWith = (experience: Experience) =>
  practiceOdds(told, [], learntFor(experience, 'flooded')?.times).families;

describe('what a shop’s own batteries teach', () => {
  it('is nothing without any, and next to nothing where they are as practice has them', () => {
    const none = experienceOf([], [], ALL);
    expect(none.families.every((f) => f.times === 1)).to.equal(true);
    expect(learntFor(none, 'flooded')).to.equal(null);
    const before = oddsWith(none);
    const random = seeded(4);
    // A thousand drawn as practice says they are met.
    const keys = Object.keys(before) as FamilyKey[];
    const drawn = Array.from({ length: 1000 }, () => {
      let at = random.even();
      return found(keys.find((k) => (at -= before[k]) < 0) ?? 'flat');
    });
    const after = oddsWith(experienceOf(drawn, [], ALL));
    for (const key of keys) expect(after[key], key).to.be.closeTo(before[key], 0.04);
  });

  it('weighs a battery as one beside the forty that practice is worth', () => {
    const before = oddsWith(experienceOf([], [], ALL)).worn;
    const own = Array.from({ length: PRACTICE_WORTH }, () => found('worn'));
    // As many as practice is worth, all of them worn, would be half way; a few of them are taken to be wrong.
    const half = 0.5 * before + 0.5 * (0.95 + 0.05 * before);
    const after = timesOf(experienceOf(own, [], ALL), 'worn') * before;
    expect(after).to.be.within(Math.min(half, 4 * before) - 0.02, half + 0.02);
    const few = timesOf(experienceOf([found('worn'), found('worn')], [], ALL), 'worn') * before;
    expect(few).to.be.within(before, before + 0.06);
  });

  it('is hardly moved by a few wrong records, and never beyond its bounds', () => {
    const good = [
      ...Array.from({ length: 20 }, () => found('flat')),
      ...Array.from({ length: 18 }, () => found('sulfated')),
    ];
    const wrong = [...good, ...Array.from({ length: 3 }, () => found('never'))];
    const [a, b] = [good, wrong].map((cases) => oddsWith(experienceOf(cases, [], ALL))) as [
      Record<FamilyKey, number>,
      Record<FamilyKey, number>,
    ];
    expect(Math.abs(a.sulfated - b.sulfated)).to.be.below(0.05);
    expect(b.never).to.be.below(0.06);
    const many = experienceOf(
      Array.from({ length: 900 }, () => found('never')),
      [],
      ALL,
    );
    for (const { times } of many.families) expect(times).to.be.within(0.25, 4);
  });

  it('counts from where a lead began anew, and an old diagnosis is read with what was known then', () => {
    const cases = [found('worn', 10), found('worn', 20), found('worn', 30)];
    expect(experienceOf(cases, [], { asOf: 25, since: null }).of).to.equal(2);
    expect(experienceOf(cases, [], { asOf: 99, since: 20 }).of).to.equal(2);
    expect(experienceOf(cases, [], { asOf: 99, since: 31 }).of).to.equal(0);
  });

  it('shifts what a route leaves by what it left here, the more the more were tested', () => {
    const yielded = (came: number): YieldHere => ({
      route: 'slow-restore',
      chemistry: 'flooded',
      said: 0.7,
      came,
      at: 1,
    });
    const gain = (all: YieldHere[]): number =>
      learntFor(experienceOf([], all, ALL), 'flooded')!.gains['slow-restore']!;
    expect(gain([yielded(0.6)])).to.be.closeTo(-0.1 / 11, 1e-9);
    expect(gain(Array.from({ length: 10 }, () => yielded(0.6)))).to.be.closeTo(-0.05, 1e-9);
    // One on the wrong load counts as far off, and no farther.
    expect(gain([yielded(0.02)])).to.be.closeTo(-0.25 / 11, 1e-9);
    expect(learntFor(experienceOf([], [yielded(0.6)], ALL), 'agm')!.gains).to.deep.equal({});
  });
});

describe('what was said, beside what was found', () => {
  const said = (family: FamilyKey, chance: number) => [
    { family, chance },
    { family: 'flat' as const, chance: 1 - chance },
  ];
  it('is counted by how surely it was said, and by family', () => {
    const cases = Array.from({ length: 25 }, (_, i) => ({
      tag: `T-${i}`,
      said: said('sulfated', 0.67),
      found: (i < 17 ? 'sulfated' : 'flat') as FamilyKey,
    }));
    const { right, bySureness, byFamily } = calibration(cases);
    expect([right.hits, right.of]).to.deep.equal([17, 25]);
    expect(bySureness.map((r) => [r.from, r.right.hits, r.right.of])).to.deep.equal([
      [0.6, 17, 25],
    ]);
    const row = byFamily.find((r) => r.family === 'sulfated')!;
    expect([row.right.hits, row.right.of, row.found]).to.deep.equal([17, 25, 17]);
    expect(row.expected).to.be.closeTo(16.75, 1e-9);
    expect(byFamily.find((r) => r.family === 'flat')).to.deep.include({ found: 8 });
    expect(calibration([]).bySureness).to.deep.equal([]);
  });
});
