import { expect } from 'chai';
import {
  capacityLaw,
  capacityOf,
  expectedMinutes,
  resistanceOfStep,
  weekLossAt20,
} from '../../src/core/capacity/capacityTest.ts';
import { sulfateNeeds } from '../../src/core/diagnosis/additives.ts';
import { wakeCourse } from '../../src/core/diagnosis/parallelWake.ts';
import { wakeCurrents } from '../../src/core/diagnosis/wakeCurrents.ts';
import { contradictions, plainRules } from '../../src/core/diagnosis/plainRules.ts';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';
import { DEFAULT_SCHOOLS } from '../../src/core/house/schools.ts';
import { forecastBy, forecastDue, heldForecasts } from '../../src/core/recovery/forecasts.ts';
import { shareAtFirst } from '../../src/core/job/chargeExpected.ts';
import { evolve } from '../../src/core/steps/evolve.ts';
import { leadsNowhere, stepsAhead } from '../../src/core/steps/stepsAhead.ts';
import { readyAt } from '../../src/core/watch/timeline.ts';
import { nextHand } from '../../src/core/watch/hands.ts';
import { earlierCapacity, offeredRoutes, offeredWakes } from '../../src/core/recovery/recovery.ts';
import { recoveryOf } from '../../src/core/job/job.ts';
import type { RouteForecast } from '../../src/core/job/recoveryState.ts';
import { evidenceOf, traceEvidence } from '../../src/core/recovery/evidence.ts';
import { diagnosisQuestion } from '../../src/core/recovery/question.ts';
import { cyclesOf, holdSoFar } from '../../src/core/recovery/cycles.ts';
import { judgeRecovery } from '../../src/core/recovery/judging.ts';
import {
  forecastRecord,
  type RecoveryResult,
  resultsOf,
  routeRecords,
  shareOfFew,
} from '../../src/core/recovery/record.ts';
import { handoverSheet } from '../../src/core/paper/sheet.ts';
import { BY_KIND, Driver, HOUR, MINUTE, refusal } from '../support/battery.ts';
import { whyLine } from '../../src/core/job/why.ts';
import { refusalWords } from '../../src/core/job/refusalWords.ts';

const CONVENTIONAL = BY_KIND['flooded-dry'];
const SEALED = BY_KIND['agm-sealed'];
const recover = (model = CONVENTIONAL, rules = DEFAULT_RULES): Driver =>
  new Driver(model, rules, 'recover');
const words = { timeZone: 'UTC', temperatureUnit: 'C' as const, nameOf: (id: string) => id };
/** Up to the diagnosis, with this rest voltage as it came. */
const came = (volts: number, model = CONVENTIONAL, rules = DEFAULT_RULES): Driver => {
  const d = recover(model, rules).to('arrival');
  d.send({
    type: 'read',
    role: 'arrival',
    values: { voltageV: volts, temperatureC: 20 },
    sure: true,
  });
  return d;
};
const choose = (d: Driver, change: object = {}) =>
  d.send({
    type: 'chooseRoute',
    stepId: 'diagnose',
    route: 'recharge',
    wake: 'none',
    forecast: null,
    ...change,
  });
const forecast: RouteForecast = {
  cause: 'light',
  causeOdds: 0.6,
  returns: 0.5,
  light: 0.3,
  capacity: { low: 0.6, middle: 0.75, high: 0.85 },
  hours: { low: 30, middle: 40, high: 50 },
  proposed: 'slow-restore',
};

describe('capacity', () => {
  it('of a discharge at the twenty-hour rate is what it gave; faster ones hold more at C20, warm ones less', () => {
    const tested = (currentA: number, minutes: number, temperatureC = 25, cutoffV = 10.5) =>
      capacityOf(
        { currentA, minutes, temperatureC, cutoffV, method: 'hand' },
        capacityLaw('flooded'),
        6,
        60,
      );
    expect(tested(3, 1200).c20.middle).to.be.closeTo(60, 0.01);
    expect(tested(3, 1200).health).to.be.closeTo(1, 1e-4);
    // By hand: I^k t, k = 1.08 at C/10, 1.115 at C/5 and 1.195 at 1 C, between them by the logarithm of the rate.
    expect(tested(6, 9.46 * 60).c20.middle).to.be.closeTo(60, 0.05);
    expect(tested(12, 4.264 * 60).c20.middle).to.be.closeTo(60, 0.05);
    expect(tested(60, 33.46).c20.middle).to.be.closeTo(60, 0.05);
    const k = 1.115 + (0.08 * Math.log(25 / 12)) / Math.log(5);
    expect(tested(25, 80).c20.middle).to.be.closeTo(
      20 ** (1 - 1 / k) * 25 * (80 / 60) ** (1 / k),
      1e-9,
    );
    expect(tested(25, 80).ah).to.be.closeTo(33.33, 0.01);
    expect(tested(3, 1200, 35).c20.middle).to.be.closeTo(60 / 1.06, 0.01);
    const { low, middle, high } = tested(25, 80).c20;
    expect([low < middle, middle < high]).to.deep.equal([true, true]);
    // The band is wider the further the rate is from the rating.
    expect(high - low).to.be.greaterThan(tested(3, 1200).c20.high - tested(3, 1200).c20.low);
    expect(tested(3, 900, 25, 11.5).atLeast).to.equal(true);
    expect(() => tested(0, 10)).to.throw(RangeError);
  });

  it('an alarm by hand rings when a sound one would be empty', () => {
    expect(expectedMinutes(3, capacityLaw('flooded'), 60)).to.be.closeTo(1200, 1e-6);
    expect(expectedMinutes(25, capacityLaw('flooded'), 60)).to.be.within(95, 115);
  });

  it('resistance from a step; self-discharge with the temperature taken out', () => {
    expect(resistanceOfStep(12.6, 11.7, 180) * 1000).to.be.closeTo(5, 1e-9);
    expect(weekLossAt20(1, 0.9, 7, 20)).to.be.closeTo(0.1, 1e-12);
    expect(weekLossAt20(1, 0.9, 7, 30)).to.be.closeTo(0.05, 1e-12);
  });
});

describe('waking beside a donor', () => {
  const pair = {
    donorV: 12.7,
    donorAh: 60,
    sleeperV: 4.2,
    sleeperAh: 60,
    cells: 6,
    leadM: 2,
    leadMm2: 16,
    chargerA: 10,
  };
  it('current at the moment the clips go on is the difference over all that is in the way', () => {
    const { inrushA, worstA, gaugeMm2, problems, warnings } = wakeCurrents(pair);
    // 5 + 15 mΩ inside, 2·0.0175·2/16 + 4 mΩ of leads and clips.
    expect(inrushA).to.be.closeTo(8.5 / (0.005 + 0.015 + (2 * 0.0175 * 2) / 16 + 0.004), 1e-6);
    expect(worstA).to.be.greaterThan(inrushA);
    // Daily practice: told what to mind, not turned away.
    expect(gaugeMm2).to.equal(25);
    expect(problems).to.deep.equal([]);
    expect(warnings.join()).to.contain('16 mm² stands that for seconds').and.contain('last clip');
  });

  it('copper that would burn within the rush is refused; copper that carries it is not spoken of', () => {
    expect(
      wakeCurrents({ ...pair, leadMm2: 6, leadM: 0.5 })
        .problems.map((p) => p.sentence)
        .join(),
    ).to.contain('would burn its insulation');
    expect(wakeCurrents({ ...pair, leadMm2: 50 }).warnings.join()).to.not.contain(
      'stands that for seconds',
    );
    // By hand: (115 × 16 mm²)² ÷ 10 s is 582 A.
    expect(
      wakeCurrents({
        ...pair,
        leadMm2: 16,
        sleeperAh: 400,
        donorAh: 400,
        sleeperV: 0.5,
        leadM: 0.3,
      })
        .problems.map((p) => p.sentence)
        .join(),
    ).to.contain('rush');
  });

  it('the sleeper takes less as it fills; charger and donor share it', () => {
    const [soon, later] = wakeCourse({ ...pair, sleeperV: 7, leadMm2: 35 }, 'flooded', 20);
    expect(soon!.sleeperA).to.be.within(4, 25);
    expect(soon!.sleeperA - soon!.donorGivesA).to.be.closeTo(10, 0.2);
    expect(later!.voltageV).to.be.within(10.5, 14.7);
  });

  it('a weak donor, another voltage and a reversed sleeper are refused', () => {
    expect(wakeCurrents({ ...pair, donorV: 11.5 }).problems[0]?.sentence).to.contain(
      '12.00 V is the least',
    );
    expect(
      wakeCurrents({ ...pair, donorV: 25 })
        .problems.map((p) => p.sentence)
        .join(),
    ).to.contain('another voltage');
    expect(
      wakeCurrents({ ...pair, sleeperV: -8 })
        .problems.map((p) => p.sentence)
        .join(),
    ).to.contain('reversed');
    expect(wakeCurrents({ ...pair, sleeperV: 10, leadMm2: 35 }).problems).to.deep.equal([]);
  });

  it('a solution takes 27.5 g to the litre, and leaves as much acid behind', () => {
    const { saltG, wasteAcidL, bicarbonateKg } = sulfateNeeds(4, 1.265);
    expect(saltG).to.be.closeTo(110, 1e-9);
    expect(wasteAcidL).to.equal(4);
    expect(bicarbonateKg).to.be.within(2.8, 3.4);
  });
});

describe('plain rules', () => {
  const about = {
    chemistry: 'flooded',
    cells: 6,
    c20Ah: 60,
    story: 'unknown',
    standingDays: null,
    ageYears: null,
    temperatureC: 20,
    coldestC: null,
  } as const;
  it('negative volts: no route. 2.1 V short of full after a charge: no route. 12.48 V: sulfated', () => {
    expect(plainRules(about, [{ of: 'rest-volts', voltageV: -11 }], null)[0]).to.include({
      weight: 'never',
      cause: 'reversed',
    });
    expect(plainRules(about, [], { voltageV: 10.55, restedH: 24 })[0]).to.include({
      weight: 'never',
      cause: 'shorted',
    });
    expect(plainRules(about, [], { voltageV: 12.48, restedH: 24 })[0]).to.include({
      weight: 'says',
      cause: 'light',
    });
    expect(plainRules(about, [], { voltageV: 12.7, restedH: 24 })).to.deep.equal([]);
    expect(
      plainRules(
        about,
        [{ of: 'levels', levels: ['dry', 'mark', 'mark', 'mark', 'mark', 'mark'] }],
        null,
      )[0]?.weight,
    ).to.equal('first');
    expect(plainRules({ ...about, temperatureC: 55 }, [], null)[0]?.weight).to.equal('first');
  });

  it('12.6 V over acid of 1.100 cannot be; nor cells that do not add up, nor more volts under load', () => {
    expect(
      contradictions(about, [
        { of: 'rest-volts', voltageV: 12.6 },
        { of: 'cell-sg', sg: [1.1, 1.1, 1.1, 1.1, 1.1, 1.1] },
      ])[0],
    ).to.contain('stands for 11.');
    expect(
      contradictions(about, [
        { of: 'rest-volts', voltageV: 12.6 },
        { of: 'cell-volts', volts: [2, 2, 2, 2, 2, 1.2] },
      ])[0],
    ).to.contain('add up to 11.20 V');
    expect(
      contradictions(about, [
        { of: 'rest-volts', voltageV: 12 },
        { of: 'load', underV: 12.4, currentA: 100, seconds: 15 },
      ])[0],
    ).to.contain('Was the load on');
    expect(
      contradictions(about, [
        { of: 'rest-volts', voltageV: 12.3 },
        { of: 'cell-sg', sg: [1.2, 1.2, 1.2, 1.2, 1.2, null] },
      ]),
    ).to.deep.equal([]);
  });
});

describe('a recovery', () => {
  it('what may never be charged ends at the look', () => {
    for (const check of ['crack', 'bulge', 'post', 'frozen']) {
      const d = recover();
      d.send({
        type: 'answerChecks',
        stepId: 'identify',
        answers: { label: true, [check]: false },
      });
      expect(d.job.state.status, check).to.equal('refused');
    }
  });

  it('reversed: no route is open; signed off for the recycler with what goes there', () => {
    const d = came(-11.4);
    expect(refusal(() => choose(d)).message).to.contain('wrong way round');
    expect(stepsAhead(came(11.4).job).map((s) => s.kind)).to.include('charge');
    expect(stepsAhead(d.job)).to.deep.equal([]);
    // It is never ready, and its step says what is left to do.
    expect(readyAt(d.job, d.now)).to.equal(null);
    expect(leadsNowhere(d.job)).to.include('sign it off for the recycler');
    expect(leadsNowhere(came(11.4).job)).to.equal(null);
    d.send({ type: 'giveOutcome', stepId: 'diagnose', outcome: 'recycle' });
    expect(d.job.state).to.include({ status: 'closed', outcome: 'recycle' });
    expect(recoveryOf(d.job).outcomes[0]?.disposal?.bicarbonateKg).to.be.greaterThan(0.3);
  });

  it('under 10.5 V it is woken first; hot is a short, twice in vain goes to the lead', () => {
    const d = came(8.2);
    expect(refusal(() => choose(d)).message).to.contain('Choose how it is woken');
    choose(d, { wake: 'parallel' });
    expect(d.step).to.equal('wake');
    expect(
      refusal(() =>
        d.send({
          type: 'wake',
          stepId: 'wake',
          donorV: 11,
          donorAh: 60,
          leadM: 1,
          leadMm2: 35,
          chargerA: 5,
        }),
      ).message,
    ).to.contain('is the least');
    d.usual();
    d.usual();
    const cool = ['cool', 'cool', 'cool', 'cool', 'cool', 'cool'] as const;
    d.send({ type: 'checkWake', stepId: 'wake-check', voltageV: 9.8, feel: [...cool] });
    expect(d.step).to.equal('wake-hour');
    d.usual();
    d.send({ type: 'checkWake', stepId: 'wake-check', voltageV: 9.9, feel: [...cool] });
    expect(d.job.state.status).to.equal('with-lead');
    const hot = came(8.2);
    choose(hot, { wake: 'dumb' });
    hot.usual();
    hot.usual();
    hot.send({
      type: 'checkWake',
      stepId: 'wake-check',
      voltageV: 11,
      feel: ['cool', 'cool', 'hot', 'cool', 'cool', 'cool'],
    });
    expect(refusalWords(hot.job, hot.job.state.refusal!)).to.contain('cell 3');
  });

  it('bursts go round until every cell bubbles', () => {
    const d = came(9);
    choose(d, { wake: 'bursts' });
    d.usual();
    d.send({
      type: 'answerPorts',
      stepId: 'burst-look',
      ports: ['active', 'active', 'quiet', 'active', 'active', 'active'],
    });
    expect(d.step).to.equal('burst');
    d.usual();
    d.usual();
    expect(d.step).to.equal('burst-more');
  });

  it('dry plates are covered before a route is chosen', () => {
    const d = came(12.1);
    d.send({
      type: 'read',
      role: 'cells',
      values: { temperatureC: 20 },
      cells: Array.from({ length: 6 }, (_, k) => ({
        level: k === 2 ? ('dry' as const) : ('mark' as const),
      })),
    });
    expect(refusal(() => choose(d)).message).to.contain('Plates stand bare');
    d.send({ type: 'topUp', liquid: 'water', cells: [3] });
    choose(d);
    expect(d.step).not.to.equal('diagnose');
  });

  it('against the proposal it wants a reason, which stays with the choice', () => {
    const d = came(12.1);
    expect(refusal(() => choose(d, { forecast })).message).to.contain('was proposed');
    choose(d, { forecast, reason: 'It is wanted tomorrow' });
    expect(recoveryOf(d.job).routes[0]).to.deep.include({
      route: 'recharge',
      reason: 'It is wanted tomorrow',
      forecast,
    });
  });

  it('the shop’s schools limit what is offered', () => {
    expect(offeredRoutes('flooded-dry', DEFAULT_SCHOOLS)).to.not.include('sulfate');
    expect(offeredRoutes('flooded-dry', { ...DEFAULT_SCHOOLS, additive: 'sulfate' })).to.include(
      'sulfate',
    );
    expect(offeredRoutes('agm-sealed', { ...DEFAULT_SCHOOLS, additive: 'sulfate' })).to.not.include(
      'sulfate',
    );
    expect(offeredRoutes('agm-sealed', { ...DEFAULT_SCHOOLS, openAgm: 'experiment' })).to.include(
      'water-agm',
    );
    expect(offeredRoutes('gel', DEFAULT_SCHOOLS)).to.not.include('pulse');
    expect(offeredWakes('agm-sealed', DEFAULT_SCHOOLS)).to.not.include('bursts');
    expect(offeredWakes('flooded-dry', { ...DEFAULT_SCHOOLS, wake: 'dumb' })[0]).to.equal('dumb');
    const scrap = came(9, CONVENTIONAL, {
      ...DEFAULT_RULES,
      schools: { ...DEFAULT_SCHOOLS, tooFlat: 'below-10-5' },
    });
    expect(refusal(() => choose(scrap, { wake: 'parallel' })).message).to.contain('does not try');
  });

  it('readings before the first current describe it as it came; later ones do not', () => {
    const d = came(12.1).to('capacity');
    const kinds = evidenceOf(d.job).map((e) => e.of);
    expect(kinds).to.include.members(['rest-volts', 'terminals', 'charging']);
    expect(kinds).to.not.include('load');
  });

  it('a trace is weighed by a dozen moments on a grid, gaps and pauses left out', () => {
    const hours = Array.from({ length: 8 * 3600 }, (_, i) => i / 3600).filter(
      (h) => h < 2.2 || h > 3.9,
    );
    const trace = traceEvidence(
      hours,
      hours.map((h) => 12 + 0.3 * h),
      hours.map((h) => (h > 6.5 ? 0 : 3)),
    )!;
    expect(trace.hours).to.deep.equal([1, 2, 3.9, 4, 5, 6]);
    expect(trace.volts[3]).to.be.closeTo(13.2, 0.01);
    expect(traceEvidence([0, 0.1], [12, 12.1], [3, 3])).to.equal(null);
    const later = traceEvidence(
      [...hours, 8.001],
      [...hours.map((h) => 12 + 0.3 * h), 14],
      [...hours.map((h) => (h > 6.5 ? 0 : 3)), 0],
    );
    expect(later).to.deep.equal(trace);
  });

  it('a discharge before it, and pulses, count by their charge; where the current is another than the mean the volts say nothing', () => {
    const hours = Array.from({ length: 600 }, (_, i) => i / 60);
    const cycle = traceEvidence(
      hours,
      hours.map((h) => (h < 4.5 ? 11.5 : 13)),
      hours.map((h) => (h < 4.5 ? -2 : 3)),
    )!;
    expect(cycle.hours).to.deep.equal([1, 2, 3, 4, 6.47, 7, 8, 9]);
    expect(cycle.amps.slice(0, 4)).to.deep.equal([-2, -2, -2, -2]);
    const charge = cycle.hours.reduce(
      (sum, h, i) => sum + (h - (cycle.hours[i - 1] ?? 0)) * cycle.amps[i]!,
      0,
    );
    expect(charge).to.be.closeTo(-2 * 4.5 + 3 * 4.5, 0.1);
    const pulsed = traceEvidence(
      hours,
      hours.map(() => 14),
      hours.map((_, i) => (i % 3 === 0 ? 9 : 0)),
    );
    expect(pulsed).to.equal(null);
  });

  it('from the second cycle on, what the first brought is evidence, and the second trace begins after it', () => {
    const d = came(12.1).to('capacity');
    d.capacityMinutes = 70;
    d.to('outcome');
    d.send({ type: 'giveOutcome', stepId: 'outcome', outcome: 'another' });
    const cycled = evidenceOf(d.job).find((e) => e.of === 'cycled')!;
    expect(cycled.done).to.deep.equal({ routes: [recoveryOf(d.job).routes[0]!.route], open: true });
    expect(cycled.capacity).to.be.greaterThan(0.2);
    expect(cycled.restV).to.be.a('number');
    const asked = diagnosisQuestion(d.job, DEFAULT_RULES.stakes, {
      seen: { hours: [0, 0.3, 0.6], volts: [12.5, 13, 13.2], amps: [1, 1, 1] },
    });
    expect(asked.evidence.filter((e) => e.of === 'charging')).to.deep.include.members([
      { of: 'charging', hours: [0.3, 0.6], volts: [13, 13.2], amps: [1, 1], done: cycled.done },
    ]);
  });

  it('one that is recovered and gets warm is stopped, where a new one would be let cool', () => {
    const d = came(12.1).to('charge');
    d.startCharge();
    d.wait(HOUR).read(13.2, 1.4, 47);
    expect(d.job.state.charge).to.include({ mode: 'halted' });
    expect(whyLine(d.job.state.charge!.why!, 'C')).to.contain('suspected of a short');
    expect(d.job.state.chargePlan!.guards).to.include({ warm: 'ask' });
  });

  it('a stubborn flooded one is taken higher only where the shop does that, at next to no current, with a reason', () => {
    const start = (d: Driver, setA: number, reason?: string) =>
      d.send({
        type: 'startCharge',
        stepId: 'charge',
        place: 1,
        setA,
        setV: 15.8,
        ...(reason ? { reason } : {}),
      });
    expect(refusal(() => start(came(12.1).to('charge'), 0.2, 'Stays hard')).message).to.contain(
      'above the ceiling',
    );
    const d = came(12.1, CONVENTIONAL, {
      ...DEFAULT_RULES,
      schools: { ...DEFAULT_SCHOOLS, stubborn: 'to-16' },
    }).to('charge');
    expect(refusal(() => start(d, 1, 'Stays hard')).message).to.contain('at most 0.28 A');
    expect(refusal(() => start(d, 0.2)).message).to.contain('say why');
    start(d, 0.2, 'Stays hard');
    expect(d.job.state.charge).to.include({ mode: 'running', setV: 15.8 });
    const sealed = came(12.1, SEALED, {
      ...DEFAULT_RULES,
      schools: { ...DEFAULT_SCHOOLS, stubborn: 'to-16' },
    });
    expect(sealed.job.plan.figures.stubbornV).to.equal(undefined);
  });

  it('what an earlier visit measured is weighed on the next', () => {
    const first = came(12, SEALED);
    first.capacityMinutes = 120;
    first.to('outcome');
    const earlier = earlierCapacity([first.job.state], SEALED)!;
    expect(earlier.share).to.be.closeTo(cyclesOf(first.job).at(-1)!.capacity!.health, 1e-9);
    expect(earlierCapacity([], SEALED)).to.equal(null);
    const d = came(12, SEALED);
    d.job = {
      ...d.job,
      plan: {
        ...d.job.plan,
        earlier: { share: 0.7, at: d.job.state.openedAt - 365.25 * 24 * HOUR },
      },
    };
    expect(evidenceOf(d.job)).to.deep.include({ of: 'earlier-capacity', share: 0.7, yearsAgo: 1 });
  });

  it('an opened AGM is weighed before and after: what went in is what it gained', () => {
    const d = came(12.6, SEALED, {
      ...DEFAULT_RULES,
      schools: { ...DEFAULT_SCHOOLS, openAgm: 'experiment' },
    });
    const weigh = (massG: number) =>
      d.send({ type: 'read', role: 'spot', values: { massG }, sure: true });
    const closed = (amountMl: number) =>
      d.send({ type: 'confirmDone', stepId: 'open-agm', amountMl });
    weigh(4000);
    d.wait(MINUTE);
    choose(d, { route: 'water-agm' });
    expect(d.step).to.equal('open-agm');
    d.wait(HOUR);
    expect(refusal(() => closed(60)).message).to.contain('Weigh it before');
    weigh(4020);
    expect(refusal(() => closed(60)).message).to.contain('20 g more');
    expect(refusal(() => closed(900)).message).to.contain('drowns the mats');
    d.wait(MINUTE);
    weigh(4061);
    closed(60);
    expect(d.step).to.equal('charge');
  });

  it('a charge eye and a cranking dip told with the story are weighed', () => {
    const d = recover().to('story');
    d.send({
      type: 'tellStory',
      stepId: 'story',
      story: {
        story: 'weak',
        standingDays: null,
        ageYears: null,
        coldestC: null,
        whitePost: false,
        wetMassG: null,
        eye: 'low',
        crankV: 6.5,
      },
    });
    expect(evidenceOf(d.job)).to.deep.include.members([
      { of: 'eye', shows: 'low' },
      { of: 'cranking', dipV: 6.5 },
    ]);
  });

  it('a discharge is watched: its hand is late when a sound one would be empty, and it is not skipped with the load on', () => {
    const d = came(12.1).to('capacity');
    d.send({
      type: 'startDischarge',
      stepId: 'capacity',
      currentA: 2.8,
      cutoffV: 10.5,
      temperatureC: 25,
    });
    expect(nextHand(d.job, d.now + MINUTE)?.kind).to.equal('read');
    expect(nextHand(d.job, d.now + 8 * HOUR)?.kind).to.equal('stop');
    expect(
      refusal(() => d.send({ type: 'skip', stepId: 'capacity', reason: 'No time' })).message,
    ).to.contain('Take it off');
    expect(
      refusal(() => d.send({ type: 'endDischarge', stepId: 'capacity', minutes: 200, endV: 10.5 }))
        .message,
    ).to.contain('has been running');
    d.send({ type: 'dropDischarge', stepId: 'capacity', reason: 'Clip fell off' });
    expect(recoveryOf(d.job).discharge).to.equal(null);
    expect(
      refusal(() =>
        d.send({
          type: 'startDischarge',
          stepId: 'capacity',
          currentA: 2.8,
          cutoffV: 9.5,
          temperatureC: 25,
        }),
      ).message,
    ).to.contain('Not below');
  });

  it('left to an instrument, the test is a discharge before the refill; emptied by hand first, it is not emptied twice', () => {
    const d = came(12.1).to('capacity');
    d.send({ type: 'testByInstrument', stepId: 'capacity' });
    expect(d.step).to.equal('refill');
    const [first, , ...rest] = d.job.state.chargePlan!.stages;
    expect(first).to.deep.include({ do: 'discharge', perCell: 1.75, cRate: 0.2 });
    expect(rest.every((s) => s.do === 'current' || s.do === 'voltage')).to.equal(true);
    expect(shareAtFirst(d.job)).to.equal(1);
    const cycle = came(12.1);
    choose(cycle, { route: 'cycle' });
    cycle.to('empty-first');
    cycle.usual();
    expect(cycle.to('charge').job.state.chargePlan!.stages.map((s) => s.do)).to.deep.equal([
      'current',
      'voltage',
    ]);
    expect(shareAtFirst(cycle.job)).to.equal(0);
  });

  it('13.2 V after the whole rest: surface charge at first; read again, it is stronger acid, and counts', () => {
    const d = came(12.5, SEALED).to('ocv');
    d.send({ type: 'read', role: 'rest', values: { voltageV: 13.25 }, sure: true });
    expect(d.step).to.equal('ocv');
    d.wait(10 * MINUTE);
    d.send({ type: 'read', role: 'rest', values: { voltageV: 13.24 }, sure: true });
    expect(d.step).to.equal('load');
    expect(d.job.state.readings.map((r) => r.marks.includes('surface')).slice(-2)).to.deep.equal([
      true,
      false,
    ]);
  });

  it('while it is held its volts are asked for every other day, and say early that it leaks', () => {
    const d = came(12.1).to('hold');
    const began = d.job.state.current!.startedAt;
    const days = (n: number): number => began + n * 24 * HOUR;
    expect(nextHand(d.job, d.now)).to.include({ kind: 'read', dueAt: days(2) });
    expect(holdSoFar(d.job)).to.equal(null);
    d.wait(2 * 24 * HOUR);
    d.send({ type: 'read', role: 'spot', values: { voltageV: 12.3, temperatureC: 20 } });
    expect(holdSoFar(d.job)!.days).to.be.closeTo(2, 0.1);
    expect(holdSoFar(d.job)!.weekLoss).to.be.greaterThan(0.5);
    expect(nextHand(d.job, d.now)!.dueAt).to.be.closeTo(days(4), 60_000);
    d.wait(4 * 24 * HOUR);
    d.send({ type: 'read', role: 'spot', values: { voltageV: 12.2, temperatureC: 20 } });
    expect(nextHand(d.job, d.now)).to.deep.include({
      kind: 'wait',
      dueAt: d.job.state.current!.dueAt,
    });
  });

  it('full capacity and a week held: returned, with a sheet of before and after', () => {
    const d = came(11.9).to('outcome');
    expect(judgeRecovery(d.job)).to.include({ suggested: 'return', best: 'return' });
    d.usual();
    d.send({ type: 'handOver', stepId: 'handover', destination: 'customer' });
    expect(d.job.state.outcome).to.equal('passed');
    const sheet = handoverSheet(d.job, words);
    expect(sheet.headline.map((h) => h.label)).to.include('Capacity of rating');
    expect(sheet.facts.find((f) => f.label === 'Rest voltage')?.value).to.match(
      /^11.90 V before, 12\.\d\d V after$/,
    );
  });

  it('half of it, and no week: never returned; light duty closes as such', () => {
    const d = came(12);
    d.capacityMinutes = 130;
    d.to('hold');
    d.send({ type: 'cutWait', stepId: 'hold', reason: 'Wanted back' });
    d.send({ type: 'skip', stepId: 'hold-volts', reason: 'Wanted back' });
    expect(
      refusal(() => d.send({ type: 'giveOutcome', stepId: 'outcome', outcome: 'return' })).message,
    ).to.contain('do not carry');
    d.send({
      type: 'giveOutcome',
      stepId: 'outcome',
      outcome: 'light',
      reason: 'Owner wants it for a fence',
    });
    d.send({ type: 'handOver', stepId: 'handover', destination: 'customer' });
    expect(d.job.state.outcome).to.equal('light');
  });

  it('another cycle as long as the last one gained; then it ends', () => {
    const d = came(12, SEALED);
    d.capacityMinutes = 80;
    d.to('outcome');
    expect(judgeRecovery(d.job).suggested).to.equal('another');
    d.send({ type: 'giveOutcome', stepId: 'outcome', outcome: 'another' });
    expect([d.step, d.job.state.attempt]).to.deep.equal(['diagnose', 2]);
    d.to('outcome');
    expect(cyclesOf(d.job).map((c) => c.cycle)).to.deep.equal([0, 1, 2]);
    expect(judgeRecovery(d.job)).to.include({ suggested: 'recycle' });
    expect(judgeRecovery(d.job).reasons.join()).to.contain('gained nothing');
  });

  it('CCA up and capacity not: said outright, and not recovered', () => {
    const d = came(12, SEALED);
    d.send({ type: 'read', role: 'spot', values: { ccaA: 90 } });
    d.to('load');
    d.send({ type: 'read', role: 'spot', values: { ccaA: 160 } });
    d.send({ type: 'read', role: 'load', values: { voltageV: 10.4, temperatureC: 20 } });
    d.send({ type: 'skip', stepId: 'capacity', reason: 'No load free' });
    d.to('outcome');
    const { warnings, best } = judgeRecovery(d.job);
    expect(warnings[0]).to.contain('CCA alone is no recovery');
    expect(best).to.equal('another');
  });

  it('dead after a full charge: 10.55 V goes to the recycler, whatever else it shows', () => {
    const d = came(11.8).to('ocv');
    d.send({ type: 'read', role: 'rest', values: { voltageV: 10.55 }, sure: true });
    d.to('outcome');
    expect(judgeRecovery(d.job)).to.include({ suggested: 'recycle', best: 'recycle' });
    expect(
      refusal(() => d.send({ type: 'giveOutcome', stepId: 'outcome', outcome: 'light' })).message,
    ).to.contain('one dead cell');
  });
});

describe('a forecast while it charges', () => {
  const diagnosis = {
    routes: [
      {
        route: 'recharge',
        hours: forecast.hours,
        restV: { low: 12.5, middle: 12.6, high: 12.7 },
        capacity: forecast.capacity,
        returns: 0.5,
        light: 0.3,
      },
    ],
  };
  const charging = (): Driver => {
    const d = came(12.1);
    choose(d, { forecast: { ...forecast, proposed: 'recharge' } });
    d.to('charge');
    d.startCharge();
    return d;
  };

  it('is due after 3, 10 and 24 h with current on, once each, and not while it is off', () => {
    const d = charging();
    expect(forecastDue(d.job, d.now)).to.equal(null);
    d.wait(4 * HOUR);
    expect(forecastDue(d.job, d.now)).to.equal(3);
    d.send({ type: 'pauseCharge', stepId: 'charge', reason: 'Lunch' });
    expect(forecastDue(d.job, d.now)).to.equal(null);
    const running = charging();
    running.wait(4 * HOUR);
    const made = forecastBy(running.job, diagnosis as never, 3, running.now)!;
    expect(made).to.deep.include({ mark: 3, attempt: 1, returns: 0.5 });
    expect(made.afterHours).to.be.closeTo(4, 0.1);
    const kept = evolve(running.job, {
      at: running.now,
      by: 'clock',
      event: { type: 'forecast.made', forecast: made },
    });
    expect(forecastDue(kept, running.now)).to.equal(null);
    expect(forecastDue(kept, running.now + 7 * HOUR)).to.equal(10);
  });

  it('is held against what came: capacity, volts a day later, hours', () => {
    const d = charging();
    d.wait(4 * HOUR);
    d.record({ type: 'forecast.made', forecast: forecastBy(d.job, diagnosis as never, 3, d.now)! });
    expect(heldForecasts(d.job)).to.deep.equal([]);
    d.to('outcome');
    const held = heldForecasts(d.job);
    expect(held.map((h) => [h.afterHours === null, h.what])).to.deep.equal([
      [true, 'capacity'],
      [true, 'hours'],
      [false, 'capacity'],
      [false, 'restV'],
      [false, 'hours'],
    ]);
    const [row] = cyclesOf(d.job).slice(-1);
    expect(held[2]!.came).to.equal(row!.capacity!.health);
    expect(held[3]!.within).to.equal(row!.voltageV! >= 12.5 && row!.voltageV! <= 12.7);
    d.send({
      type: 'giveOutcome',
      stepId: 'outcome',
      outcome: judgeRecovery(d.job).best,
      reason: 'As it is',
    });
    d.send({ type: 'handOver', stepId: 'handover', destination: 'shelf' });
    expect(forecastRecord(resultsOf(d.job)).during.hours.of).to.equal(1);
  });
});

describe('what recoveries have brought', () => {
  const result = (change: Partial<RecoveryResult>): RecoveryResult => ({
    tag: 'X-1',
    model: 'T-C14',
    cycle: 1,
    route: 'slow-restore',
    outcome: 'return',
    last: true,
    health: 0.85,
    hours: 40,
    forecast: { ...forecast, capacity: { low: 0.7, middle: 0.8, high: 0.9 } },
    held: [],
    ...change,
  });

  it('few cases leave much open, many little; none leaves everything', () => {
    expect(shareOfFew(0, 0)).to.include({ low: 0, high: 1 });
    const few = shareOfFew(3, 4);
    const many = shareOfFew(300, 400);
    expect(few.high - few.low).to.be.greaterThan(0.4);
    expect(many.high - many.low).to.be.lessThan(0.06);
    expect(few.low).to.be.lessThan(0.75);
    // Wilson's interval for 3 of 4 at z = 1.2816: middle (0.75 + 0.2053)/(1 + 0.4106), half 0.2447.
    expect(few.low).to.be.closeTo(0.4325, 0.001);
  });

  it('routes by what they achieved; forecasts by how they held', () => {
    const results = [
      result({}),
      result({ health: 0.95, outcome: 'return' }),
      result({ health: 0.4, outcome: 'recycle' }),
      result({ route: 'pulse', health: null, outcome: 'light', forecast: null }),
    ];
    const [slow, pulse] = routeRecords(results);
    expect(slow).to.deep.include({ route: 'slow-restore', health: 0.85, tested: 3, hours: 40 });
    expect([slow!.returned.hits, slow!.kept.hits, pulse!.kept.hits, pulse!.health]).to.deep.equal([
      2,
      2,
      1,
      null,
    ]);
    const held = forecastRecord(results);
    expect([held.within.hits, held.within.of, held.came, held.of]).to.deep.equal([1, 3, 2, 3]);
    expect(held.expected).to.be.closeTo(1.5, 1e-12);
    expect(held.bias).to.be.closeTo((0.05 + 0.15 - 0.4) / 3, 1e-12);
  });

  it('are read off a job that has ended, cycle by cycle', () => {
    const d = came(12, SEALED);
    d.capacityMinutes = 80;
    d.to('outcome');
    d.send({ type: 'giveOutcome', stepId: 'outcome', outcome: 'another' });
    d.to('outcome');
    expect(resultsOf(d.job)).to.deep.equal([]);
    d.send({ type: 'giveOutcome', stepId: 'outcome', outcome: 'recycle' });
    expect(resultsOf(d.job).map((r) => [r.cycle, r.route, r.outcome, r.last])).to.deep.equal([
      [1, 'recharge', 'recycle', false],
      [2, 'recharge', 'recycle', true],
    ]);
  });
});
