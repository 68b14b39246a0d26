import { expect } from 'chai';
import { ORDINARY } from '../../scripts/bench/sizes.ts';
import { CASE_KEYS, CASES } from '../../src/core/batteries/cases.ts';
import { guessSize } from '../../src/core/batteries/guessSize.ts';
import { modelFaults, sizeWords } from '../../src/core/batteries/model.ts';
import { unlabelledModel } from '../../src/core/batteries/unlabelled.ts';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';
import { jobPlan } from '../../src/core/plan/plan.ts';
import { chargerNeed } from '../../src/core/recovery/chargerNeed.ts';
import { chargerOptions, hoursOn } from '../../src/core/chargers/fit.ts';
import { CHARGER_TEMPLATES } from '../../src/core/chargers/templates.ts';
import { subjectOf } from '../../src/core/recovery/question.ts';
import { procedureFor } from '../../src/core/catalogue/catalogue.ts';
import { openJob } from '../../src/core/steps/openJob.ts';
import { Driver } from '../support/battery.ts';
import { Refused } from '../../src/core/job/commands.ts';

const starter = { kind: 'flooded-sealed', cells: 6 } as const;

describe('a size that nobody can read', () => {
  it('lies in its band for three of four ordinary batteries, and within an eighth for most', () => {
    const guesses = ORDINARY.map(({ name, labelAh, ...clues }) => ({
      name,
      labelAh,
      ...guessSize(clues),
    }));
    const inside = guesses.filter((g) => g.labelAh >= g.low && g.labelAh <= g.high);
    const near = guesses.filter((g) => Math.abs(g.c20Ah / g.labelAh - 1) <= 0.125);
    expect(inside.length / guesses.length).to.be.at.least(0.75);
    expect(near.length / guesses.length).to.be.at.least(0.9);
  });

  it('is told narrower the more is known, and widest by its kind alone', () => {
    const width = (clues: object) => {
      const { low, high } = guessSize({ ...starter, ...clues });
      return Math.log(high / low);
    };
    const widths = [{}, { carried: 'car' as const }, { cca: 520 }, { cca: 520, massKg: 15 }].map(
      width,
    );
    expect(widths).to.deep.equal(widths.toSorted((a, b) => b - a));
    expect(guessSize(starter).said).to.deep.equal([]);
  });

  it('goes by the standard of its CCA, the family, and half the plates of 6 V', () => {
    const by = (clues: object, base: object = starter) =>
      guessSize({ ...starter, ...base, ...clues } as never).c20Ah;
    expect(by({ cca: 520 })).to.be.within(52, 62);
    // The same battery prints more by SAE, and less by DIN.
    expect(by({ cca: 541, ccaStandard: 'SAE' })).to.equal(by({ cca: 520 }));
    expect(by({ cca: 312, ccaStandard: 'DIN' })).to.equal(by({ cca: 520 }));
    expect(by({ cca: 700, build: 'starter' }, { kind: 'agm-sealed' })).to.be.within(60, 68);
    expect(by({ massKg: 10.5 }, { cells: 3 })).to.be.closeTo(2 * by({ massKg: 10.5 }), 12);
    expect(by({ reserveMin: 100 })).to.be.within(64, 67);
    expect(by({ massKg: 2.2 }, { kind: 'agm-sealed' })).to.be.within(6, 7.5);
  });

  it('asks where two clues leave nothing between them, and is then wider', () => {
    const odd = guessSize({ ...starter, cca: 520, massKg: 40 });
    expect(odd.disagree).to.deep.equal(['520 A (EN)', '40 kg']);
    const even = guessSize({ ...starter, cca: 520, massKg: 15 });
    expect(even.disagree).to.equal(null);
    expect(odd.high / odd.low).to.be.above(even.high / even.low);
  });

  it('knows cases whose ranges are ranges', () => {
    for (const key of CASE_KEYS) {
      const [low, high] = CASES[key].ah;
      expect(high / low, key).to.be.within(1.1, 1.6);
    }
  });
});

describe('a battery without a label', () => {
  const model = unlabelledModel('LK-0500', { ...starter, caps: null, cca: 520, massKg: 15 });

  it('is a model of its own, sound by the rules of models, and says that it is estimated', () => {
    expect(modelFaults(model)).to.deep.equal([]);
    expect(model.code).to.equal('No label LK-0500');
    expect(sizeWords(model)).to.match(/^about 5\d Ah \(\d\d to \d\d, estimated\)$/);
    for (const kind of ['flooded-dry', 'agm-sealed', 'gel'])
      for (const cells of [3, 6])
        expect(
          modelFaults(unlabelledModel('LK-1', { kind, cells, caps: null })),
          kind,
        ).to.deep.equal([]);
    expect(() => unlabelledModel('LK-1', { kind: 'lithium', cells: 6, caps: null })).to.throw(
      /Lithium/,
    );
  });

  it('marks what is worked out from it, and widens hours and odds', () => {
    const plan = jobPlan(model, DEFAULT_RULES, 'recover');
    const inputs = Object.values(plan.figures).flatMap((f) => f?.inputs ?? []);
    expect(inputs.filter((i) => i.label === 'C20')).to.deep.equal([]);
    expect(inputs.find((i) => i.label === 'C20, estimated')!.value).to.match(
      /from 520 A \(EN\), 15 kg/,
    );
    const known = jobPlan({ ...model, estimate: null }, DEFAULT_RULES, 'recover');
    const widthOf = (p: typeof plan) => {
      const need = chargerNeed(openJob(procedureFor(model.kind, 'recover'), p, 0, 'ann'));
      const { facts } = CHARGER_TEMPLATES.find((t) => t.key === 'automatic-10')!;
      const [option] = chargerOptions([{ ...facts, id: 'a', name: 'a', standingSince: 0 }], need);
      const { low, high } = hoursOn(option!, need);
      return high / low;
    };
    expect(widthOf(plan)).to.be.above(1.1 * widthOf(known));
    const subject = (p: typeof plan) =>
      subjectOf(openJob(procedureFor(model.kind, 'recover'), p, 0, 'ann'));
    expect(subject(plan).sizeOff).to.be.within(0.05, 0.2);
    expect(subject(known)).to.not.have.property('sizeOff');
  });

  it('goes on by a size that becomes known, and only where it was an estimate', () => {
    const d = new Driver(model, DEFAULT_RULES, 'recover');
    d.send({ type: 'tellSize', c20Ah: 70 });
    expect(d.job.plan.model).to.include({ c20Ah: 70, estimate: null });
    expect(d.job.plan.figures.loadA.value).to.equal(210);
    expect(() => d.send({ type: 'tellSize', c20Ah: 60 })).to.throw(Refused, /known by its label/);
  });
});
