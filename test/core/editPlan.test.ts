import { expect } from 'chai';
import fc from 'fast-check';
import {
  type ChargePlan,
  STAGE_NAMES,
  STANDARD_PLANS,
  type StageKind,
} from '../../src/core/charging/chargePlan.ts';
import {
  addEnd,
  endsToAdd,
  insertStage,
  moveStage,
  removeEnd,
  removeStage,
  roomForStages,
  usualStage,
} from '../../src/core/charging/editPlan.ts';
import { fitPlan } from '../../src/core/charging/fitPlan.ts';
import { sayStage, stageWords } from '../../src/core/charging/planSentences.ts';
import { firstChargePlan, planBattery } from '../../src/core/charging/jobChargePlan.ts';
import { PLAN_START } from '../../src/core/charging/runPlan.ts';
import { momentOfHoursOn } from '../../src/core/charging/progress.ts';
import { PLAIN } from '../support/battery.ts';

const KINDS = Object.keys(STAGE_NAMES) as StageKind[];
const FAMILIES = ['flooded', 'agm', 'gel'] as const;

describe('charge plans: changing their shape', () => {
  it('every usual stage fits every family as it is', () => {
    for (const chemistry of FAMILIES) {
      for (const kind of KINDS) {
        const plan: ChargePlan = {
          id: 'p',
          name: 'P',
          plain: '',
          kinds: [chemistry],
          stages: [
            usualStage('current', chemistry),
            ...(kind === 'current' ? [] : [usualStage(kind, chemistry)]),
          ],
          mostS: 60 * 3600,
        };
        expect(
          fitPlan(plan, { chemistry, cells: 6, c20Ah: 60 }).faults,
          `${chemistry} ${kind}`,
        ).to.deep.equal([]);
      }
    }
  });

  it('stages go in, move and come out; the plan they came from stays as it was', () => {
    const plan = STANDARD_PLANS[0];
    const kept = JSON.stringify(plan);
    const kinds = (p: ChargePlan) => p.stages.map((s) => s.do);
    const longer = insertStage(plan, 2, 'rest', 'agm');
    expect(kinds(longer)).to.deep.equal(['current', 'voltage', 'rest']);
    expect(kinds(moveStage(longer, 2, -1))).to.deep.equal(['current', 'rest', 'voltage']);
    expect(moveStage(longer, 0, -1)).to.equal(longer);
    expect(moveStage(longer, 2, 1)).to.equal(longer);
    expect(kinds(removeStage(longer, 0))).to.deep.equal(['voltage', 'rest']);
    expect(JSON.stringify(plan)).to.equal(kept);
  });

  it('ends are added once each, only those the stage can have, and taken away', () => {
    let plan: ChargePlan = STANDARD_PLANS[0];
    expect(endsToAdd(plan.stages[0]!)).to.deep.equal(['volts-flat', 'sg-flat', 'ah']);
    plan = addEnd(plan, 0, 'sg-flat', 'flooded');
    plan = addEnd(plan, 0, 'sg-flat', 'flooded');
    plan = addEnd(plan, 0, 'amps', 'flooded');
    expect(plan.stages[0]!.until.map((u) => u.when)).to.deep.equal(['volts', 'time', 'sg-flat']);
    expect(sayStage(plan.stages[0]!, { c20Ah: 60, cells: 6 })).to.contain(
      'or 3 SG readings an hour apart agree',
    );
    expect(removeEnd(plan, 0, 'volts').stages[0]!.until.map((u) => u.when)).to.deep.equal([
      'time',
      'sg-flat',
    ]);
  });

  it('whatever is done to a plan, it is either followed or one of its sentences says why not', () => {
    const step = fc.oneof(
      fc.record({
        op: fc.constant('insert' as const),
        at: fc.nat(6),
        kind: fc.constantFrom(...KINDS),
      }),
      fc.record({ op: fc.constant('remove' as const), at: fc.nat(6) }),
      fc.record({
        op: fc.constant('move' as const),
        at: fc.nat(6),
        by: fc.constantFrom(-1 as const, 1 as const),
      }),
    );
    fc.assert(
      fc.property(
        fc.constantFrom(...FAMILIES),
        fc.array(step, { maxLength: 12 }),
        (chemistry, steps) => {
          let plan: ChargePlan = {
            ...STANDARD_PLANS[0],
            kinds: [chemistry],
            stages: [usualStage('current', chemistry)],
          };
          for (const s of steps) {
            if (s.op === 'insert') plan = insertStage(plan, s.at, s.kind, chemistry);
            else if (s.op === 'remove') plan = removeStage(plan, s.at);
            else plan = moveStage(plan, s.at, s.by);
            plan = { ...plan, mostS: roomForStages(plan) };
          }
          const { fitted, faults } = fitPlan(plan, { chemistry, cells: 6, c20Ah: 60 });
          expect(fitted === null).to.equal(faults.length > 0);
          for (const fault of faults) expect(fault.sentence).to.match(/^[A-Z].*[.?]$/);
        },
      ),
      { numRuns: 200 },
    );
  });

  it('a guard that protects from heat or reversal cannot be softened to a pause', () => {
    const plan: ChargePlan = { ...STANDARD_PLANS[0], guards: { hot: 'pause' } };
    expect(fitPlan(plan, { chemistry: 'agm', cells: 6, c20Ah: 60 }).faults[0]?.sentence).to.contain(
      'never goes on by itself',
    );
    expect(
      fitPlan({ ...plan, guards: { hot: 'ask' } }, { chemistry: 'agm', cells: 6, c20Ah: 60 })
        .faults,
    ).to.deep.equal([]);
  });

  it('the plan of a job keeps its figures and fits its battery, for any size', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 1, max: 200, noNaN: true }),
        fc.double({ min: 0.02, max: 0.15, noNaN: true }),
        (c20Ah, cRate) => {
          const model = { ...PLAIN, c20Ah };
          const plan = firstChargePlan(model, 'agm', cRate * c20Ah, 14.7);
          const { fitted, faults } = fitPlan(plan, planBattery(model, 'agm'));
          expect(faults).to.deep.equal([]);
          expect(fitted?.stages.map((s) => s.do)).to.deep.equal(['current', 'voltage']);
          expect(fitted?.stages[1]?.limitV).to.be.closeTo(14.7, 0.001);
        },
      ),
      { numRuns: 60 },
    );
  });

  it('a running plan says of each stage how it stands', () => {
    const run = {
      ...PLAN_START,
      stage: 1,
      stageS: 5400,
      ended: [{ by: 'volts', voltageV: 14.4 }],
    } as const;
    expect(stageWords(run, 0)).to.deep.equal({
      phase: 'over',
      words: 'Over: 14.40 V was reached.',
    });
    expect(stageWords(run, 1)).to.deep.equal({ phase: 'running', words: 'For 1.5 h so far.' });
    expect(stageWords(run, 2).phase).to.equal('coming');
  });

  it('hours of charging are laid over the clock, pauses left out', () => {
    const H = 3_600_000;
    const on = [
      { from: 0, to: 2 * H },
      { from: 3 * H, to: 4 * H },
    ];
    expect([0, 1, 2, 2.5, 3, 5].map((h) => momentOfHoursOn(h, on, 6 * H) / H)).to.deep.equal([
      0, 1, 2, 3.5, 4, 8,
    ]);
    expect(momentOfHoursOn(9, [{ from: H, to: null }], 6 * H) / H).to.equal(10);
  });
});
