import { expect } from 'chai';
import type { BatteryModel } from '../../src/core/batteries/model.ts';
import type { FamilyKey } from '../../src/core/diagnosis/practice/families.ts';
import type { RouteKey } from '../../src/core/diagnosis/routes.ts';
import { ownerWords } from '../../src/core/paper/ownerWords.ts';
import { judgeRecovery } from '../../src/core/recovery/judging.ts';
import type { ToldStory } from '../../src/core/job/recoveryState.ts';
import { CONVENTIONAL, each, SEALED, SimulatedRecovery } from '../support/simulatedRecovery.ts';

interface Case {
  family: FamilyKey;
  model: BatteryModel;
  condition: ConstructorParameters<typeof SimulatedRecovery>[1];
  story: Partial<ToldStory>;
  missingG?: number;
  /** What it is proposed, or one of these. */
  proposed: readonly (RouteKey | null)[];
}

const CASES: readonly Case[] = [
  {
    family: 'flat',
    model: CONVENTIONAL,
    condition: { charge: 0.2 },
    story: { story: 'left-on', standingDays: 2, ageYears: 1 },
    proposed: ['recharge'],
  },
  {
    family: 'bad-cell',
    model: CONVENTIONAL,
    condition: { charge: 0.6, cells: [{}, {}, {}, { shortOhm: 0.01, behind: 0.6 }] },
    story: { story: 'weak', ageYears: 5 },
    proposed: [null],
  },
  {
    family: 'dry',
    model: SEALED,
    condition: { charge: 0.7, cells: each({ dry: 0.35 }) },
    story: { story: 'boiled', wetMassG: 20_000, ageYears: 3 },
    missingG: 1100,
    proposed: ['slow-restore', 'recharge', null],
  },
  {
    family: 'layered',
    model: CONVENTIONAL,
    condition: { charge: 0.65, layeredSg: 0.09 },
    story: { story: 'short-runs', ageYears: 1 },
    proposed: ['mix'],
  },
  {
    family: 'sulfated',
    model: CONVENTIONAL,
    condition: { charge: 0.25, cells: each({ hard: 0.3 }) },
    story: { story: 'parked', standingDays: 240, ageYears: 3 },
    proposed: ['slow-restore'],
  },
];

describe('one battery of each family, from the door to an answer', () => {
  for (const { family, model, condition, story, missingG, proposed } of CASES)
    it(`${family}: is named first, and gets its own way`, () => {
      const s = new SimulatedRecovery(model, condition).arrives(story, missingG);
      const { families, whys, trade, never } = s.diagnosis!;
      expect(families[0]!.family, JSON.stringify(families.slice(0, 3))).to.equal(family);
      expect(families.reduce((sum, f) => sum + f.chance, 0)).to.be.closeTo(1, 1e-6);
      expect(never).to.equal(false);
      expect(proposed).to.include(s.proposed);
      expect(whys.length).to.be.greaterThan(1);
      expect(whys.every((w) => Number.isFinite(w.value) && w.least < w.most)).to.equal(true);
      expect(trade.some((r) => r.key === 'reversed' && r.state === 'no')).to.equal(true);
    });

  it('reversed: a bad cell, by its rule, and nothing is proposed', () => {
    const s = new SimulatedRecovery(CONVENTIONAL, {
      charge: 0.4,
      cells: each({ reversed: true }),
    }).arrives();
    expect(s.diagnosis!.families[0]!.family).to.equal('bad-cell');
    expect(s.diagnosis!.families[0]!.chance).to.be.greaterThan(0.95);
    expect(s.proposed).to.equal(null);
  });

  it('its owner reads three sentences: what it was, what it holds now, what to do', () => {
    const s = new SimulatedRecovery(CONVENTIONAL, { charge: 0.2 }).arrives({
      story: 'left-on',
      standingDays: 2,
      ageYears: 1,
    });
    expect(ownerWords(s.d.job)).to.equal(null);
    s.takes('recharge').toVerdict('recharge');
    expect(judgeRecovery(s.d.job).suggested).to.equal('return');
    s.d.send({ type: 'giveOutcome', stepId: 'outcome', outcome: 'return' });
    const [found, came, advice] = ownerWords(s.d.job)!;
    expect(found).to.match(/^It came in at \d+\.\d\d V and was most likely only flat\.$/);
    expect(came).to.match(/^After the work it holds \d\d of its 60 Ah\.$/);
    expect(advice).to.equal('Find what emptied it: another deep discharge costs it years.');
  });

  it('what is recycled at once is told so', () => {
    const s = new SimulatedRecovery(CONVENTIONAL, {
      charge: 0.4,
      cells: each({ reversed: true }),
    }).arrives();
    s.d.send({ type: 'giveOutcome', stepId: 'diagnose', outcome: 'recycle' });
    expect(ownerWords(s.d.job)![1]).to.equal('It cannot be brought back and goes to the recycler.');
  });
});
