import { expect } from 'chai';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';
import { DEFAULT_SCHOOLS } from '../../src/core/house/schools.ts';
import { recoveryOf } from '../../src/core/job/job.ts';
import { cyclesOf } from '../../src/core/recovery/cycles.ts';
import { judgeRecovery } from '../../src/core/recovery/judging.ts';
import type { Sediment } from '../../src/core/job/sediment.ts';
import { refusal } from '../support/battery.ts';
import { CONVENTIONAL, each, SEALED, SimulatedRecovery } from '../support/simulatedRecovery.ts';

describe('telling cases, from the door to the verdict, on simulated batteries', () => {
  it('flat: a lamp left on. Nothing but a charge, and it is returned', () => {
    const s = new SimulatedRecovery(CONVENTIONAL, { charge: 0.2 }).arrives({
      story: 'left-on',
      standingDays: 2,
      ageYears: 1,
    });
    expect(s.likeliest(1)).to.deep.equal(['flat']);
    expect(s.chance('flat')).to.be.greaterThan(0.7);
    expect(s.proposed).not.to.equal(null);
    s.takes('recharge').toVerdict('recharge');
    expect(judgeRecovery(s.d.job).suggested).to.equal('return');
    expect(cyclesOf(s.d.job).at(-1)!.capacity!.health).to.be.greaterThan(0.75);
  });

  it('long parked, driven past empty, a little hard: woken and restored', () => {
    const s = new SimulatedRecovery(SEALED, {
      charge: -0.2,
      cells: each({ hard: 0.1, platesV: 1.1 }),
    }).arrives({
      story: 'parked',
      standingDays: 60,
      ageYears: 2,
    });
    // Which of the three it is, its readings cannot tell; that it is one of them, they can.
    expect(s.chance('deep', 'light', 'hard')).to.be.greaterThan(0.6);
    expect(s.proposed).not.to.equal(null);
    s.takes('slow-restore').toVerdict('slow-restore');
    expect(s.wokenV).to.be.greaterThan(10.5);
    expect(judgeRecovery(s.d.job).suggested).to.equal('return');
    expect(cyclesOf(s.d.job).at(-1)!.capacity!.health).to.be.greaterThan(0.6);
  });

  it('a dead cell: said before the charge, proven after it', () => {
    const s = new SimulatedRecovery(CONVENTIONAL, {
      charge: 0.6,
      cells: [{}, {}, {}, { shortOhm: 0.01, behind: 0.6 }],
    }).arrives({
      story: 'weak',
      ageYears: 5,
    });
    expect(s.likeliest(1)).to.deep.equal(['shorted']);
    expect(s.proposed).to.equal(null);
    s.takes('recharge').toVerdict('recharge');
    expect(judgeRecovery(s.d.job).best).to.equal('recycle');
  });

  it('a dry AGM: the scale says so, and it is never returned', () => {
    const s = new SimulatedRecovery(SEALED, { charge: 0.7, cells: each({ dry: 0.35 }) }).arrives(
      { story: 'boiled', wetMassG: 20_000, ageYears: 3 },
      1100,
    );
    expect(s.likeliest(2)).to.include('dry');
    s.takes('recharge').toVerdict('recharge');
    expect(judgeRecovery(s.d.job).best).to.not.equal('return');
  });

  it('layered acid: weak on top at a voltage that knows better', () => {
    const s = new SimulatedRecovery(CONVENTIONAL, { charge: 0.65, layeredSg: 0.09 }).arrives({
      story: 'short-runs',
      ageYears: 1,
    });
    expect(s.likeliest(1)).to.deep.equal(['layered']);
    s.takes('mix').toVerdict('mix');
    expect(cyclesOf(s.d.job).at(-1)!.capacity!.health).to.be.greaterThan(0.7);
  });

  it('worn: takes a charge like a good one, holds little', () => {
    const s = new SimulatedRecovery(CONVENTIONAL, {
      charge: 0.5,
      cells: each({ active: 0.6 }),
    }).arrives({ story: 'weak', ageYears: 8 });
    s.takes('recharge').toVerdict('recharge');
    expect(judgeRecovery(s.d.job).suggested).to.not.equal('return');
    expect(cyclesOf(s.d.job).at(-1)!.capacity!.health).to.be.lessThan(0.7);
  });

  it('reversed: no route, whatever the odds say', () => {
    const s = new SimulatedRecovery(CONVENTIONAL, {
      charge: 0.4,
      cells: each({ reversed: true }),
    }).arrives();
    expect(s.diagnosis!.never).to.equal(true);
    expect(s.likeliest(1)).to.deep.equal(['reversed']);
    expect(s.diagnosis!.causes.reduce((sum, c) => sum + c.gravest, 0)).to.be.closeTo(1, 1e-6);
    expect(s.proposed).to.equal(null);
    expect(refusal(() => s.takes('recharge')).code).to.equal('forbidden');
    s.d.send({ type: 'giveOutcome', stepId: 'diagnose', outcome: 'recycle' });
    expect(s.d.job.state.outcome).to.equal('recycle');
  });

  it('shorted, and hot while it is woken: everything off', () => {
    const s = new SimulatedRecovery(SEALED, {
      charge: -0.2,
      cells: each({ platesV: 0.9 }),
    }).arrives({ story: 'parked' });
    s.hotCell = 2;
    s.takes('recharge').toVerdict('recharge');
    expect(s.d.job.state.status).to.equal('refused');
    expect(s.d.job.state.refusal!.why).to.deep.equal({ by: 'hot-cells', cells: [3] });
  });

  it('open: 12.6 V that fall to nothing under load', () => {
    const s = new SimulatedRecovery(SEALED, { charge: 0.9, cells: [{ jointOhm: 0.6 }] }).arrives({
      story: 'unknown',
    });
    expect(s.likeliest(2)).to.include('joint');
    expect(s.diagnosis!.families.slice(0, 2).map((f) => f.family)).to.include('bad-cell');
    // An analyser tells it from a worn one.
    s.d.send({ type: 'read', role: 'spot', values: { resistanceMilliohm: 610 }, sure: true });
    s.diagnose();
    expect(s.likeliest(1)).to.deep.equal(['joint']);
    expect(s.diagnosis!.families[0]!.family).to.equal('bad-cell');
  });

  it('undercharged by its machine: light sulfate that a slow restore brings back', () => {
    const s = new SimulatedRecovery(CONVENTIONAL, {
      charge: 0.5,
      cells: each({ hard: 0.12 }),
    }).arrives({ story: 'short-runs', whitePost: true, ageYears: 2 });
    // Layered acid reads alike; sulfate that too little charge left is the likelier of the two.
    expect(s.chance('undercharged', 'light', 'hard')).to.be.greaterThan(s.chance('layered'));
    s.takes('slow-restore').toVerdict('slow-restore');
    expect(cyclesOf(s.d.job).at(-1)!.capacity!.health).to.be.greaterThan(0.75);
  });

  it('opened, with sulfate solution for the acid: offered only where the shop does that, its waste worked out', () => {
    const closed = new SimulatedRecovery(CONVENTIONAL, {
      charge: 0.3,
      cells: each({ hard: 0.3 }),
    }).arrives({ story: 'parked' });
    expect(refusal(() => closed.takes('sulfate')).message).to.contain('not offered');
    const s = new SimulatedRecovery(
      CONVENTIONAL,
      { charge: 0.3, cells: each({ hard: 0.3 }) },
      { ...DEFAULT_RULES, schools: { ...DEFAULT_SCHOOLS, additive: 'sulfate' } },
    ).arrives({
      story: 'parked',
    });
    s.takes('sulfate');
    expect(s.d.step).to.equal('rinse');
    // Brown flakes are plates: asked about before more money goes in. Acid that cannot have been in it is asked about too.
    const rinse = (sediment: Sediment, drainedMl: number) =>
      refusal(() => s.d.send({ type: 'rinse', stepId: 'rinse', sediment, drainedMl }));
    expect(rinse('brown', 4200))
      .to.include({ code: 'ask' })
      .and.has.property('message')
      .that.contains('nothing brings back');
    expect(rinse('clear', 1500).code).to.equal('ask');
    expect(rinse('clear', 9000).code).to.equal('invalid');
    expect(s.d.job.plan.figures.saltG!.value).to.be.closeTo(0.0275 * 4.2, 1e-6);
    expect(s.d.job.plan.figures.wasteSodaKg!.value).to.be.greaterThan(2);
    s.toVerdict('sulfate');
    expect(s.d.step).to.equal('outcome');
  });

  it('opened, with magnesium salt: a trickle and a day’s rest a round, and no fifth round', () => {
    const s = new SimulatedRecovery(
      CONVENTIONAL,
      { charge: 0.3, cells: each({ hard: 0.3 }) },
      { ...DEFAULT_RULES, schools: { ...DEFAULT_SCHOOLS, additive: 'magnesium' } },
    ).arrives({ story: 'parked' });
    expect(refusal(() => s.takes('sulfate')).message).to.contain('not offered');
    for (let round = 1; round <= 4; round++) {
      s.takes('magnesium');
      expect(s.d.step).to.equal('rinse');
      expect(s.d.job.state.chargePlan?.id).to.equal('trickle');
      s.toVerdict('magnesium');
      s.d.send({
        type: 'giveOutcome',
        stepId: 'outcome',
        outcome: 'another',
        reason: 'Another round',
      });
      s.diagnose();
    }
    const most = /4 rounds of “Magnesium salt solution, trickled”/;
    expect(refusal(() => s.takes('magnesium')).message).to.match(most);
    s.takes('slow-restore');
  });

  it('CCA up and capacity not: not recovered, and the page says so', () => {
    const s = new SimulatedRecovery(SEALED, { charge: 0.5, cells: each({ active: 0.4 }) }).arrives({
      story: 'weak',
      ageYears: 7,
    });
    s.d.send({ type: 'read', role: 'spot', values: { ccaA: 300 } });
    s.takes('recharge').toVerdict('recharge');
    s.d.send({
      type: 'giveOutcome',
      stepId: 'outcome',
      outcome: 'another',
      reason: 'To see whether it moves',
    });
    s.diagnose();
    s.takes('recharge');
    s.d.send({ type: 'read', role: 'spot', values: { ccaA: 420 } });
    s.toVerdict('recharge');
    const verdict = judgeRecovery(s.d.job);
    expect(verdict.best).to.not.equal('return');
    expect(recoveryOf(s.d.job).tests).to.have.length(2);
    expect(verdict.warnings.join()).to.contain('CCA alone is no recovery');
  });
});
