import { expect } from 'chai';
import fc from 'fast-check';
import { STANDARD_PLANS } from '../../src/core/charging/chargePlan.ts';
import { type FittedPlan, fitPlan } from '../../src/core/charging/fitPlan.ts';
import { EMPTY_WINDOW, remember, watch } from '../../src/core/charging/liveGuards.ts';
import {
  advancePlan,
  demandOf,
  PLAN_START,
  type PlanRun,
  stageOf,
} from '../../src/core/charging/runPlan.ts';
import { rehearse } from '../../src/core/rehearsal/rehearse.ts';
import { DESIGNS } from '../../src/core/simulation/design.ts';
import { makeTwins } from '../../src/core/simulation/twins.ts';
import { tripText } from '../../src/core/charging/tripWords.ts';

const battery = { chemistry: 'flooded' as const, cells: 6, c20Ah: 60 };
const PLANS: FittedPlan[] = STANDARD_PLANS.flatMap((plan) => fitPlan(plan, battery).fitted ?? []);

const sample = fc.record({
  dtS: fc.oneof(fc.constant(1), fc.double({ min: 0, max: 900, noNaN: true })),
  voltageV: fc.double({ min: -30, max: 60, noNaN: true }),
  currentA: fc.double({ min: -100, max: 100, noNaN: true }),
  temperatureC: fc.double({ min: -40, max: 90, noNaN: true }),
});

describe('whatever an instrument says', () => {
  it('a plan stays in order: stages go up one at a time, hours add up, its demand stays within its limits', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...PLANS),
        fc.array(sample, { maxLength: 200 }),
        (plan, samples) => {
          let run: PlanRun = PLAN_START;
          let hours = 0;
          let ah = 0;
          for (const s of samples) {
            const before = run;
            const demand = demandOf(plan, run, s.temperatureC);
            const stage = stageOf(plan, run);
            expect(Math.abs(demand.currentA)).to.be.at.most(Math.abs(stage?.currentA ?? 0));
            if (stage && stage.do !== 'discharge')
              expect(demand.limitV).to.be.at.most(stage.limitV + 0.003 * 6 * 15 + 1e-9);
            run = advancePlan(plan, run, s);
            if (!before.finished) {
              hours += s.dtS;
              ah += (s.currentA * s.dtS) / 3600;
            }
            expect(run.stage - before.stage).to.be.within(0, 1);
            expect(run.totalS).to.be.closeTo(hours, 1e-6);
            expect(run.ahIn).to.be.closeTo(ah, 1e-6);
            expect(run.ended.length).to.equal(run.finished ? plan.stages.length : run.stage);
            if (before.finished) expect(run).to.equal(before);
          }
        },
      ),
      { numRuns: 150 },
    );
  });

  it('the guards answer with a sentence or with nothing, never with a fault', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...PLANS),
        fc.array(sample, { minLength: 1, maxLength: 120 }),
        (plan, samples) => {
          let window = EMPTY_WINDOW;
          let atS = 0;
          for (const s of samples) {
            atS += s.dtS;
            window = remember(window, { ...s, atS, askedA: 6 });
            const trip = watch(window, {
              plan,
              stage: plan.stages[0]!,
              run: PLAN_START,
              ambientC: 20,
              missingAh: 40,
              nowS: atS,
              everyS: 1,
            });
            if (trip) {
              expect(tripText(trip, 'C')).to.match(/[.]$/);
              expect(tripText(trip, 'F')).to.not.contain('NaN');
            }
          }
          expect(window.minutes.length).to.be.at.most(182);
        },
      ),
      { numRuns: 80 },
    );
  });

  it('a healthy battery charged slowly trips next to nothing, whatever its parameters within their spread', () => {
    for (const id of ['first-slow', 'slow-restore']) {
      const plan = PLANS.find((p) => p.planId === id)!;
      const twins = makeTwins(
        DESIGNS.flooded,
        battery,
        { charge: 0.5, temperatureC: 20 },
        20,
        25,
        5,
      );
      const tripped = twins
        .map((twin) => rehearse(twin, plan, 30).summary.trip)
        .filter((trip) => trip !== null);
      expect(tripped.length, `${id}: ${tripped.map((t) => t.key).join(', ')}`).to.be.at.most(2);
    }
  });
});
