import { expect } from 'chai';
import { CHEMISTRIES } from '../../src/core/batteries/chemistry.ts';
import { STANDARD_PLANS } from '../../src/core/charging/chargePlan.ts';
import { fitPlan } from '../../src/core/charging/fitPlan.ts';
import { bestGuesses, type Comparison, TwinRun } from '../../src/core/rehearsal/compare.ts';
import {
  chargeByEvidence,
  conditionOf,
  type DescribedCondition,
  missingAh,
} from '../../src/core/rehearsal/condition.ts';
import { thinTrace } from '../../src/core/rehearsal/rehearse.ts';
import { makeBattery } from '../../src/core/simulation/battery.ts';
import { viewBattery } from '../../src/core/simulation/view.ts';
import { DESIGNS } from '../../src/core/simulation/design.ts';

const flooded = CHEMISTRIES.flooded;
const described = (change: Partial<DescribedCondition> = {}): DescribedCondition => ({
  charge: { by: 'volts', restV: 12.24 },
  sulfation: 'none',
  fault: 'none',
  temperatureC: 25,
  ...change,
});

describe('a condition as it was measured', () => {
  it('volts, SG and percent say the same of a healthy battery', () => {
    expect(chargeByEvidence({ by: 'volts', restV: 12.24 }, 6, flooded)).to.be.closeTo(0.5, 1e-9);
    expect(chargeByEvidence({ by: 'volts', restV: 6.12 }, 3, flooded)).to.be.closeTo(0.5, 1e-9);
    expect(chargeByEvidence({ by: 'sg', sg: 1.19 }, 6, flooded)).to.be.within(0.4, 0.6);
    expect(chargeByEvidence({ by: 'percent', percent: 50 }, 6, flooded)).to.equal(0.5);
    expect(chargeByEvidence({ by: 'nothing' }, 6, flooded)).to.equal(null);
    expect(missingAh(described(), { cells: 6, c20Ah: 60 }, flooded)).to.be.closeTo(30, 1e-9);
    expect(
      missingAh(described({ charge: { by: 'nothing' } }), { cells: 6, c20Ah: 60 }, flooded),
    ).to.equal(null);
  });

  it('the twin made from it rests at the volts that were measured, sulfated or not', () => {
    for (const sulfation of ['none', 'light', 'heavy'] as const) {
      const twin = makeBattery(
        DESIGNS.flooded,
        { c20Ah: 60, cells: 6 },
        conditionOf(described({ sulfation }), 6, flooded),
      );
      expect(viewBattery(twin).openV, sulfation).to.be.closeTo(12.24, 0.06);
    }
  });

  it('what is not known widens the band of what comes of it', () => {
    const plans = [
      fitPlan(STANDARD_PLANS[0], { chemistry: 'flooded', cells: 6, c20Ah: 60 }).fitted!,
    ];
    const band = (condition: DescribedCondition) => {
      const comparison: Comparison = {
        battery: { chemistry: 'flooded', cells: 6, c20Ah: 60 },
        condition: conditionOf(condition, 6, flooded),
        ambientC: 20,
        missingAh: null,
        plans,
      };
      const run = new TwinRun(comparison, 30);
      while (run.next());
      expect(run.done).to.equal(30);
      const { low, high } = run.odds()[0]!.hours;
      return high - low;
    };
    expect(band(described({ charge: { by: 'nothing' } }))).to.be.greaterThan(
      1.5 * band(described({ charge: { by: 'percent', percent: 50 } })),
    );
  });

  it('a shorted cell keeps a plan from ending by itself; plans are tried on copies', () => {
    const plans = ['first-c10', 'slow-restore'].map(
      (id) =>
        fitPlan(
          STANDARD_PLANS.find((p) => p.id === id)!,
          { chemistry: 'flooded', cells: 6, c20Ah: 60 },
        ).fitted!,
    );
    const comparison = (fault: DescribedCondition['fault']): Comparison => ({
      battery: { chemistry: 'flooded', cells: 6, c20Ah: 60 },
      condition: conditionOf(described({ fault }), 6, flooded),
      ambientC: 20,
      missingAh: 30,
      plans,
    });
    const sound = bestGuesses(comparison('none'));
    expect(sound.map((r) => r.summary.finished)).to.deep.equal([true, true]);
    expect(sound[0]!.summary.hardBefore).to.equal(sound[1]!.summary.hardBefore);
    const [short] = bestGuesses(comparison('short'));
    expect(short!.summary.finished).to.equal(false);
    expect(bestGuesses(comparison('none'))[0]!.summary).to.deep.equal(sound[0]!.summary);
  });

  it('a thinned trace keeps its ends', () => {
    const [r] = bestGuesses({
      battery: { chemistry: 'agm', cells: 6, c20Ah: 12 },
      condition: conditionOf(described(), 6, CHEMISTRIES.agm),
      ambientC: 20,
      missingAh: null,
      plans: [fitPlan(STANDARD_PLANS[0], { chemistry: 'agm', cells: 6, c20Ah: 12 }).fitted!],
    });
    const thin = thinTrace(r!.trace, 20);
    expect(thin.hours.length).to.be.at.most(22);
    expect([thin.hours[0], thin.hours.at(-1)]).to.deep.equal([
      r!.trace.hours[0],
      r!.trace.hours.at(-1),
    ]);
    expect(thin.waterG.at(-1)).to.equal(r!.trace.waterG.at(-1));
  });
});
