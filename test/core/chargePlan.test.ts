import { expect } from 'chai';
import { type ChargePlan, STANDARD_PLANS, type Stage } from '../../src/core/charging/chargePlan.ts';
import { type FittedPlan, fitPlan } from '../../src/core/charging/fitPlan.ts';
import { sayStage, stageSentence, withNumber } from '../../src/core/charging/planSentences.ts';
import {
  advancePlan,
  demandOf,
  noteSg,
  PLAN_START,
  type PlanRun,
} from '../../src/core/charging/runPlan.ts';
import { stageEndWords } from '../../src/core/charging/stageEnd.ts';

const HOUR = 3600;
const FLOODED = { chemistry: 'flooded', cells: 6, c20Ah: 60 } as const;
const plan = (stages: Stage[], rest: Partial<ChargePlan> = {}): ChargePlan => ({
  id: 'x',
  name: 'X',
  plain: '',
  kinds: ['flooded', 'agm', 'gel'],
  stages,
  mostS: 24 * HOUR,
  ...rest,
});
const faults = (stages: Stage[], battery: Parameters<typeof fitPlan>[1] = FLOODED): string[] =>
  fitPlan(plan(stages), battery).faults.map((f) => `${f.stage}:${f.part} ${f.sentence}`);
const time = (h: number) => ({ when: 'time', s: h * HOUR }) as const;

function fitted(stages: Stage[], battery: Parameters<typeof fitPlan>[1] = FLOODED): FittedPlan {
  const fit = fitPlan(plan(stages), battery);
  if (!fit.fitted) throw new Error(fit.faults.map((f) => f.sentence).join(' '));
  return fit.fitted;
}

describe('charge plans: fitting to a battery', () => {
  it('every standard plan fits every kind it is for, at 3 and at 6 cells', () => {
    for (const standard of STANDARD_PLANS) {
      for (const chemistry of standard.kinds) {
        for (const cells of [3, 6])
          expect(
            fitPlan(standard, { chemistry, cells, c20Ah: 60 }).faults,
            `${standard.id} ${chemistry}`,
          ).to.deep.equal([]);
      }
    }
  });

  it('turns shares into amps and volts of the battery, half of the volts for 6 V', () => {
    const { stages } = fitted(
      [{ do: 'voltage', perCell: 2.4, cRate: 0.1, until: [{ when: 'amps', cRate: 0.01 }] }],
      { ...FLOODED, cells: 3 },
    );
    expect(stages[0]).to.deep.include({ currentA: 6, limitV: 7.2 });
    expect(stages[0]?.until).to.deep.equal([{ when: 'amps', a: 0.6 }]);
  });

  it('keeps small sizes at 3 A and the maker’s limits, and says so', () => {
    const small = fitPlan(plan([{ do: 'current', cRate: 0.15, until: [time(5)] }]), {
      ...FLOODED,
      c20Ah: 30,
    });
    expect(small.fitted?.stages[0]?.currentA).to.equal(3);
    expect(small.notes.join()).to.contain('small sizes');
    const maker = fitPlan(plan([{ do: 'voltage', perCell: 2.45, cRate: 0.1, until: [time(5)] }]), {
      ...FLOODED,
      mostA: 4,
      mostV: 14.1,
    });
    expect(maker.fitted?.stages[0]).to.deep.include({ currentA: 4, limitV: 14.1 });
    expect(maker.notes).to.have.length(2);
  });

  it('names the sentence that cannot be followed', () => {
    expect(faults([]).join()).to.contain('at least one stage');
    expect(faults([{ do: 'current', cRate: 0.1, until: [] }])[0]).to.match(
      /^0:until .*needs an end/,
    );
    expect(faults([{ do: 'current', cRate: 0.5, until: [time(1)] }])[0]).to.match(
      /^0:cRate .*more than the 20 %/,
    );
    expect(
      faults([{ do: 'current', cRate: 0.1, until: [{ when: 'amps', cRate: 0.01 }] }])[0],
    ).to.match(/^0:until.0 .*tails off/);
    expect(
      faults([
        { do: 'voltage', perCell: 2.4, cRate: 0.1, until: [{ when: 'amps', cRate: 0.2 }] },
      ])[0],
    ).to.match(/^0:until.0 .*below the current it starts/);
    expect(faults([{ do: 'voltage', perCell: 2.05, cRate: 0.1, until: [time(1)] }])[0]).to.match(
      /^0:perCell .*rest voltage/,
    );
    expect(faults([{ do: 'rest', until: [time(1)] }]).join()).to.contain('rests alone');
    expect(faults([{ do: 'discharge', cRate: 0.05, perCell: 1.2, until: [time(1)] }])[0]).to.match(
      /^0:perCell .*cut-off/,
    );
    expect(
      faults([{ do: 'pulse', cRate: 0.1, onS: 0, offS: 5, perCell: 2.4, until: [time(1)] }])[0],
    ).to.match(/^0:onS/);
    expect(faults([{ do: 'current', cRate: 0.1, until: [{ when: 'time', s: -5 }] }])[0]).to.match(
      /^0:until.0 .*above zero/,
    );
    expect(faults([{ do: 'current', cRate: 0.1, until: [time(1), time(2)] }])[0]).to.match(
      /^0:until.1 .*twice/,
    );
    expect(
      faults([{ do: 'current', cRate: 0.1, until: [{ when: 'sg-flat', readings: 3 }] }])[0],
    ).to.contain('by hand');
  });

  it('allows 16 V to a stubborn flooded battery only at C/20 and less, and never to gel', () => {
    const high = (cRate: number): Stage[] => [
      { do: 'voltage', perCell: 2.65, cRate, until: [time(4)] },
    ];
    expect(faults(high(0.05))).to.deep.equal([]);
    expect(faults(high(0.1))[0]).to.contain('for currents of C/20 and less');
    expect(faults(high(0.03), { ...FLOODED, chemistry: 'gel' })[0]).to.contain('Gel');
  });

  it('refuses a plan for another kind, and one without an end in sight', () => {
    expect(
      fitPlan(plan([{ do: 'current', cRate: 0.1, until: [time(1)] }], { kinds: ['flooded'] }), {
        ...FLOODED,
        chemistry: 'gel',
      }).faults[0]?.part,
    ).to.equal('kinds');
    expect(
      fitPlan(plan([{ do: 'current', cRate: 0.1, until: [time(1)] }], { mostS: Infinity }), FLOODED)
        .faults[0]?.part,
    ).to.equal('mostS');
  });
});

describe('charge plans: as sentences', () => {
  it('reads as a technician would say it, in the battery’s amps and volts', () => {
    const [first, second] = STANDARD_PLANS[0].stages as [Stage, Stage];
    const scale = { c20Ah: 60, cells: 6 };
    expect(sayStage(first, scale)).to.equal(
      'Charge at 6.0 A until it reaches 14.40 V, at most 14.0 h.',
    );
    expect(sayStage(second, scale)).to.equal(
      'Hold 14.40 V with at most 6.0 A until the current is below 0.60 A, at most 14.0 h.',
    );
    expect(
      sayStage(
        { do: 'pulse', cRate: 0.15, onS: 20, offS: 40, perCell: 2.45, until: [time(40)] },
        { c20Ah: 12, cells: 3 },
      ),
    ).to.equal('Bursts of 1.80 A for 20 s with 40 s between, never above 7.35 V for 40.0 h.');
  });

  it('a changed number changes the plan and nothing else', () => {
    const before = STANDARD_PLANS[0];
    const part = stageSentence(before.stages[1] as Stage, 1, { c20Ah: 60, cells: 6 }).find(
      (p) => p.kind === 'number' && p.label === 'Volts',
    );
    if (part?.kind !== 'number') throw new Error('no volts');
    const after = withNumber(before, part, 14.7);
    expect(after.stages[1]).to.deep.include({ perCell: 14.7 / 6 });
    expect({ ...after, stages: [] }).to.deep.equal({ ...before, stages: [] });
    expect(before.stages[1]).to.deep.include({ perCell: 2.4 });
  });
});

describe('charge plans: running', () => {
  const feed = (
    p: FittedPlan,
    run: PlanRun,
    seconds: number,
    voltageV: number,
    currentA: number,
    dtS = 1,
  ): PlanRun => {
    let now = run;
    for (let t = 0; t < seconds && !now.finished; t += dtS)
      now = advancePlan(p, now, { dtS, voltageV, currentA, temperatureC: 25 });
    return now;
  };

  it('goes from constant current to the hold at the ceiling, and ends when the current has tailed off', () => {
    const p = fitted([
      { do: 'current', cRate: 0.1, until: [{ when: 'volts', perCell: 2.4 }, time(10)] },
      { do: 'voltage', perCell: 2.4, cRate: 0.1, until: [{ when: 'amps', cRate: 0.01 }, time(5)] },
    ]);
    let run = feed(p, PLAN_START, 3600, 13.5, 6);
    expect(run).to.deep.include({ stage: 0 });
    expect(run.ahIn).to.be.closeTo(6, 1e-6);
    run = feed(p, run, 3, 14.41, 6);
    expect(run.stage).to.equal(1);
    run = feed(p, run, 60, 14.4, 3);
    expect(demandOf(p, run, 25)).to.deep.include({ currentA: 6, limitV: 14.4 });
    run = feed(p, run, 1800, 14.4, 0.5);
    expect(run.finished).to.equal(false);
    run = feed(p, run, 1900, 14.4, 0.49);
    expect(run.finished).to.equal(true);
    expect(run.ended[1]?.by).to.equal('tail');
    expect(demandOf(p, run, 25).currentA).to.equal(0);
  });

  it('one outlier ends nothing, and neither does a lead that came off', () => {
    const p = fitted([
      { do: 'voltage', perCell: 2.4, cRate: 0.1, until: [{ when: 'amps', cRate: 0.01 }, time(5)] },
    ]);
    let run = feed(p, PLAN_START, 100, 14.4, 3);
    run = feed(p, run, 1, 14.4, 0.1);
    run = feed(p, run, 5, 14.4, 3);
    expect(run.finished).to.equal(false);
    run = feed(p, run, 60, 12.9, 0);
    expect(run.finished).to.equal(false);
    // An open supply shows its own ceiling.
    run = feed(p, run, 3000, 14.4, 0.01);
    expect(run.finished).to.equal(false);
    const c = fitted([
      { do: 'current', cRate: 0.1, until: [{ when: 'volts', perCell: 2.4 }, time(10)] },
    ]);
    expect(feed(c, feed(c, PLAN_START, 100, 13, 6), 60, 14.58, 0).finished).to.equal(false);
    const d = fitted([{ do: 'discharge', cRate: 0.05, perCell: 1.75, until: [time(24)] }]);
    expect(feed(d, feed(d, PLAN_START, 100, 12, -3), 60, 0, 0).finished).to.equal(false);
  });

  it('a tail that still falls by more than a tenth an hour, or rises again, is none', () => {
    const p = fitted([
      { do: 'voltage', perCell: 2.4, cRate: 0.1, until: [{ when: 'amps', cRate: 0.01 }, time(5)] },
    ]);
    const course = (perHour: number): PlanRun => {
      let run: PlanRun = PLAN_START;
      for (let s = 0; s < 3 * HOUR && !run.finished; s += 10)
        run = advancePlan(p, run, {
          dtS: 10,
          voltageV: 14.4,
          currentA: 0.4 * Math.exp((perHour * s) / HOUR),
          temperatureC: 25,
        });
      return run;
    };
    expect(course(-0.3).finished).to.equal(false);
    expect(course(0.3).finished).to.equal(false);
    expect(stageEndWords(course(-0.05).ended[0]!)).to.contain('tailed off to 0.38 A');
    // An older run, stored before it was kept how long the current stood.
    const { steadyA: _, steadyS: __, ...older } = { ...PLAN_START, steadyA: 0, steadyS: 0 };
    expect(feed(p, older, 3700, 14.4, 0.1).finished).to.equal(true);
  });

  it('pulses by the second and knows how long each phase holds', () => {
    const p = fitted([
      { do: 'pulse', cRate: 0.15, onS: 20, offS: 40, perCell: 2.4, until: [time(1)] },
    ]);
    const demandAfter = (stageS: number) => demandOf(p, { ...PLAN_START, stageS }, 25);
    expect([
      demandAfter(0).currentA,
      demandAfter(19).currentA,
      demandAfter(20).currentA,
      demandAfter(59).currentA,
      demandAfter(60).currentA,
    ]).to.deep.equal([9, 9, 0, 0, 9]);
    expect(demandAfter(5).holdsS).to.equal(15);
    expect(demandAfter(30).holdsS).to.equal(30);
  });

  it('stops a discharge at the cut-off, and lowers the ceiling for a warm battery', () => {
    const p = fitted([{ do: 'discharge', cRate: 0.05, perCell: 1.75, until: [time(24)] }]);
    expect(feed(p, PLAN_START, 7200, 12, -3).finished).to.equal(false);
    expect(feed(p, feed(p, PLAN_START, 7200, 12, -3), 3, 10.49, -3).finished).to.equal(true);
    const c = fitted([{ do: 'current', cRate: 0.1, until: [time(24)] }]);
    expect(demandOf(c, PLAN_START, 35).limitV).to.be.closeTo(
      demandOf(c, PLAN_START, 25).limitV - 0.18,
      1e-6,
    );
    expect(demandOf(c, PLAN_START, 80).limitV).to.be.closeTo(
      demandOf(c, PLAN_START, 40).limitV,
      1e-6,
    );
  });

  it('volts that stand still end a stage; volts that creep or sink do not', () => {
    const p = fitted([
      { do: 'current', cRate: 0.03, until: [{ when: 'volts-flat', overS: 2 * HOUR }, time(30)] },
    ]);
    let [still, creeping, sinking] = [PLAN_START, PLAN_START, PLAN_START] as [
      PlanRun,
      PlanRun,
      PlanRun,
    ];
    for (let t = 0; t < 2.5 * 60; t++) {
      still = feed(p, still, 60, 15.1 + 0.01 * (t % 2), 1.8, 60);
      creeping = feed(p, creeping, 60, 14 + 0.0005 * t, 1.8, 60);
      sinking = feed(p, sinking, 60, 15 - 0.001 * t, 1.8, 60);
    }
    expect([still.finished, creeping.finished, sinking.finished]).to.deep.equal([
      true,
      false,
      false,
    ]);
  });

  it('SG readings given by hand end a stage when three an hour apart agree', () => {
    const p = fitted([
      { do: 'current', cRate: 0.05, until: [{ when: 'sg-flat', readings: 3 }, time(20)] },
    ]);
    let run: PlanRun = PLAN_START;
    for (const sg of [1.25, 1.26, 1.262, 1.262]) {
      run = noteSg(feed(p, run, HOUR, 14.2, 3, 60), sg);
      run = feed(p, run, 1, 14.2, 3);
    }
    expect(run.finished).to.equal(true);
    expect(run.totalS).to.be.closeTo(4 * HOUR, 10);
  });

  it('a run survives being written down and read back', () => {
    const p = fitted([
      { do: 'current', cRate: 0.1, until: [{ when: 'volts', perCell: 2.4 }, time(10)] },
    ]);
    const half = feed(p, PLAN_START, 1000, 13, 6);
    expect(feed(p, JSON.parse(JSON.stringify(half)) as PlanRun, 500, 13.1, 6)).to.deep.equal(
      feed(p, half, 500, 13.1, 6),
    );
    expect(JSON.parse(JSON.stringify(PLAN_START))).to.deep.equal(PLAN_START);
  });
});
