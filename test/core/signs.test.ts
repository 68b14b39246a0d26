import { expect } from 'chai';
import { drawArrived, drawCharged } from '../../scripts/bench/chargedHidden.ts';
import type { ReadBattery } from '../../scripts/bench/judges.ts';
import { FAMILY_KEYS, type FamilyKey } from '../../src/core/diagnosis/practice/families.ts';
import { featuresOf } from '../../src/core/diagnosis/practice/features.ts';
import { practiceOdds } from '../../src/core/diagnosis/practice/judge.ts';
import { pooledFamilies, saidOf } from '../../src/core/diagnosis/practice/pooled.ts';
import { signOdds, signsOf } from '../../src/core/diagnosis/practice/signs.ts';
import { SIGNS } from '../../src/core/diagnosis/practice/signWeights.ts';
import { seeded } from '../../src/core/simulation/random.ts';
import { fieldBattery, type Habits } from '../support/fieldBattery.ts';

type Ranked = (battery: ReadBattery) => FamilyKey[];

const bySigns: Ranked = (b) => {
  const odds = signOdds(b, b.features);
  return FAMILY_KEYS.toSorted((x, y) => (odds[y] ?? 0) - (odds[x] ?? 0));
};
const byPractice: Ranked = (b) => {
  const { families } = practiceOdds(b, b.features);
  return FAMILY_KEYS.toSorted((x, y) => families[y] - families[x]);
};
const together =
  (charged: boolean): Ranked =>
  (b) =>
    pooledFamilies(
      { practice: practiceOdds(b, b.features), signs: signOdds(b, b.features), causes: null },
      charged,
    ).map((f) => f.family);

/** How many of these it names, and how many among its first two; shares. */
const named = (batteries: readonly ReadBattery[], rank: Ranked) => ({
  first: batteries.filter((b) => rank(b)[0] === b.family).length / batteries.length,
  two: batteries.filter((b) => rank(b).slice(0, 2).includes(b.family)).length / batteries.length,
});

/** Batteries of the field, read. */
function field(seed: number, count: number, habits: Habits): ReadBattery[] {
  const random = seeded(seed);
  return Array.from({ length: count }, () => {
    const b = fieldBattery(random, habits);
    const sound = { chemistry: b.chemistry, cells: 6, c20Ah: b.c20Ah, milliohm: b.soundMilliohm };
    return { ...b, features: featuresOf(sound, b.evidence, b.after) };
  });
}

describe('signs of simulated batteries', () => {
  // Draws that no weight has seen.
  const arrived = drawArrived(seeded(31), 600);
  const halfRead = drawCharged(seeded(32), 400, [0.5, 0.5]);
  const allRead = drawCharged(seeded(33), 400, [1, 1]);

  it('have a weight for each sign, and odds that add up to one', () => {
    for (const moment of ['arrived', 'charged'] as const) {
      const [battery] = moment === 'arrived' ? arrived : allRead;
      const signs = signsOf(SIGNS[moment], battery!, battery!.features);
      for (const weights of Object.values(SIGNS[moment].weights))
        expect(weights).to.have.length(signs.length);
      const odds = Object.values(signOdds(battery!, battery!.features));
      expect(odds.reduce((a, b) => a + b, 0)).to.be.closeTo(1, 1e-9);
    }
  });

  it('lie between two knots, and stay at the outermost', () => {
    const { volts } = SIGNS.arrived.knots;
    const told = { chemistry: 'agm', story: 'parked', standingDays: null, ageYears: null } as const;
    const sharesOf = (value: number): number[] =>
      signsOf({ knots: { volts: volts! } }, told, [{ key: 'volts', value, from: 0 }]).slice(
        -volts!.length,
      );
    const [low, next] = [volts![1]!, volts![2]!];
    const shares = sharesOf((3 * low + next) / 4);
    expect(shares[1]).to.be.closeTo(0.75, 1e-9);
    expect(shares[2]).to.be.closeTo(0.25, 1e-9);
    expect(sharesOf(-20)).to.deep.equal(sharesOf(volts![0]!));
    expect(sharesOf(99)).to.deep.equal(sharesOf(volts!.at(-1)!));
    expect(signsOf({ knots: { volts: volts! } }, told, []).slice(-volts!.length)).to.deep.equal(
      volts!.map(() => 0),
    );
  });

  it('name what they have not seen: two of three on arrival, four of five once it has been charged', () => {
    expect(named(arrived, bySigns).first).to.be.at.least(0.6);
    expect(named(arrived, bySigns).two).to.be.at.least(0.82);
    expect(named(halfRead, bySigns).first).to.be.at.least(0.75);
    expect(named(allRead, bySigns).first).to.be.at.least(0.82);
    expect(named(allRead, bySigns).two).to.be.at.least(0.94);
  });

  it('lift the odds of practice where batteries are simulated, and leave enough of the field named', () => {
    for (const [batteries, charged] of [
      [arrived, false],
      [halfRead, true],
      [allRead, true],
    ] as const)
      expect(named(batteries, together(charged)).first).to.be.above(
        named(batteries, byPractice).first + 0.05,
      );
    const came = field(34, 800, { charged: false, takes: 0.7 });
    expect(named(came, together(false)).first).to.be.at.least(0.75);
    expect(named(came, together(false)).two).to.be.at.least(0.9);
    const rested = field(35, 800, { charged: true, takes: 0.5 });
    expect(named(rested, together(true)).first).to.be.at.least(0.84);
    expect(named(rested, together(true)).two).to.be.at.least(0.94);
    expect(named(halfRead, together(true)).first).to.be.at.least(0.75);
    expect(named(halfRead, together(true)).two).to.be.at.least(0.9);
    expect(named(allRead, together(true)).first).to.be.at.least(0.79);
    expect(named(allRead, together(true)).two).to.be.at.least(0.93);
  });

  it('say nothing of what was never simulated, and what each says is told', () => {
    const [battery] = arrived;
    const practice = practiceOdds(battery!, battery!.features);
    const signs = signOdds(battery!, battery!.features);
    expect(signs.never).to.equal(undefined);
    expect(saidOf('never', { practice, signs, causes: null })).to.deep.equal({
      practice: practice.families.never,
      signs: null,
      simulated: null,
    });
  });
});
