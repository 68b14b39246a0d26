import { expect } from 'chai';
import { type ChargePlan, STANDARD_PLANS } from '../../src/core/charging/chargePlan.ts';
import { type FittedPlan, fitPlan } from '../../src/core/charging/fitPlan.ts';
import { bandOf, coursesOf, oddsOf, timeLeft, valueAt } from '../../src/core/rehearsal/outlook.ts';
import {
  COUNTED,
  DRAWN,
  rehearse,
  type RehearsalSummary,
} from '../../src/core/rehearsal/rehearse.ts';
import { type Condition, makeBattery, type SimBattery } from '../../src/core/simulation/battery.ts';
import { DESIGNS } from '../../src/core/simulation/design.ts';
import { makeTwins } from '../../src/core/simulation/twins.ts';

const fit = (id: string, change: Partial<ChargePlan> = {}): FittedPlan => {
  const plan = { ...STANDARD_PLANS.find((p) => p.id === id)!, ...change };
  return fitPlan(plan, { chemistry: 'flooded', cells: 6, c20Ah: 60 }).fitted!;
};
const battery = (condition: Partial<Condition> = {}): SimBattery =>
  makeBattery(
    DESIGNS.flooded,
    { c20Ah: 60, cells: 6 },
    { charge: 0.3, temperatureC: 20, ...condition },
  );

describe('rehearsal', () => {
  it('charges a healthy battery as a technician expects: to the ceiling, tail, nearly full, no guard', () => {
    const { summary, trace } = rehearse(battery(), fit('first-c10'), 42);
    expect(summary).to.deep.include({ finished: true, trip: null, pausedH: 0 });
    expect(summary.stages[0]?.why.by).to.equal('volts');
    expect(summary.hours).to.be.within(8, 18);
    expect(summary.chargeAtEnd).to.be.greaterThan(0.88);
    expect(summary.ahIn).to.be.within(34, 50);
    expect(summary.peakC).to.be.within(22, 31);
    expect(Math.max(...trace.voltageV)).to.be.lessThan(14.75);
    for (let i = 1; i < trace.hours.length; i++)
      expect(trace.hours[i]!).to.be.at.least(trace.hours[i - 1]!);
    for (const row of Object.values(trace) as number[][])
      expect(row).to.have.length(trace.hours.length);
  });

  it('a shorted cell trips a guard of the live charge', () => {
    const { summary } = rehearse(
      battery({ cells: [{ shortOhm: 0.05, behind: 1 }] }),
      fit('first-c10'),
      42,
    );
    expect(summary.finished).to.equal(false);
    expect(summary.trip?.key).to.equal('no-rise');
  });

  it('a badly sulfated one gasses early, and a slow restore gives some back', () => {
    const sulfated = (): SimBattery =>
      battery({ charge: 0.4, cells: Array.from({ length: 6 }, () => ({ hard: 0.55, film: 3 })) });
    expect(rehearse(sulfated(), fit('first-c10'), 50).summary.trip?.key).to.equal('gassing-early');
    const slow = rehearse(sulfated(), fit('slow-restore')).summary;
    expect(slow.hardAfter).to.be.lessThan(slow.hardBefore - 0.025);
  });

  it('in a hot room the charge waits until the battery has cooled', () => {
    const hot = makeBattery(
      DESIGNS.flooded,
      { c20Ah: 120, cells: 6 },
      { charge: 0.1, temperatureC: 41 },
      41,
    );
    const plan = fitPlan(
      {
        ...STANDARD_PLANS[0],
        stages: [
          {
            do: 'current',
            cRate: 0.2,
            until: [
              { when: 'volts', perCell: 2.4 },
              { when: 'time', s: 50_000 },
            ],
          },
        ],
      },
      { chemistry: 'flooded', cells: 6, c20Ah: 120 },
    ).fitted!;
    const { summary } = rehearse(hot, plan);
    expect(summary.pausedH).to.be.greaterThan(0.1);
    expect(summary.peakC).to.be.lessThan(46.5);
  });

  it('leaping over pulses that are alike changes nothing that matters', () => {
    const short = fit('pulse', {
      stages: STANDARD_PLANS.find((p) => p.id === 'pulse')!.stages.map((s) =>
        s.do === 'pulse' ? { ...s, until: [{ when: 'time' as const, s: 6 * 3600 }] } : s,
      ),
    });
    const sick = { charge: 0.5, cells: [{ hard: 0.1 }, {}, { hard: 0.2 }] };
    const [every, leaping] = [null, 1].map(
      (leaps) => rehearse(battery(sick), short, null, { ...DRAWN, leaps }).summary,
    ) as [ReturnType<typeof rehearse>['summary'], ReturnType<typeof rehearse>['summary']];
    expect(leaping.hours).to.be.closeTo(every.hours, 0.05);
    expect(leaping.ahIn / every.ahIn).to.be.closeTo(1, 0.005);
    expect(leaping.hydrogenL / every.hydrogenL).to.be.closeTo(1, 0.01);
    expect(leaping.hardAfter).to.be.closeTo(every.hardAfter, 2e-4);
  });

  it('counting many twins is coarser than drawing one, and says the same', () => {
    for (const id of ['first-c10', 'slow-restore', 'pulse'])
      for (const hard of [0, 0.2]) {
        const twin = () =>
          battery({ charge: 0.4, cells: Array.from({ length: 6 }, () => ({ hard })) });
        const [drawn, counted] = [DRAWN, COUNTED].map(
          (grain) => rehearse(twin(), fit(id), 42, grain).summary,
        ) as [RehearsalSummary, RehearsalSummary];
        const what = `${id}, ${hard} hard`;
        expect(counted.trip?.key, what).to.equal(drawn.trip?.key);
        expect(counted.hours / drawn.hours, what).to.be.closeTo(1, 0.05);
        expect(counted.ahIn / drawn.ahIn, what).to.be.closeTo(1, 0.02);
        expect(counted.peakC, what).to.be.closeTo(drawn.peakC, 0.6);
        expect(counted.chargeAtEnd, what).to.be.closeTo(drawn.chargeAtEnd, 0.01);
        expect(counted.hardAfter, what).to.be.closeTo(drawn.hardAfter, 0.01);
      }
  });

  it('odds gather the twins: a band, and how often a guard would switch off', () => {
    const twins = makeTwins(
      DESIGNS.flooded,
      { c20Ah: 60, cells: 6 },
      { charge: 0.3, temperatureC: 20, spread: { charge: 0.1, hard: 0.05 } },
      20,
      24,
    );
    const odds = oddsOf(twins.map((t) => rehearse(t, fit('first-c10'), 42).summary));
    expect(odds.twins).to.equal(24);
    expect(odds.hours.low).to.be.lessThan(odds.hours.middle);
    expect(odds.hours.middle).to.be.lessThan(odds.hours.high);
    expect(odds.finishes).to.be.within(0.5, 1);
    expect(odds.finishes + odds.trips.reduce((sum, t) => sum + t.share, 0)).to.be.closeTo(1, 0.1);
  });

  it('the time left narrows to the twins that behave like the battery on the bench, and its band holds the truth about as often as it says', () => {
    const plan = fit('first-c10');
    const condition = { charge: 0.5, temperatureC: 20, spread: { charge: 0.2 } };
    const drawn = (count: number, seed: number): SimBattery[] =>
      makeTwins(DESIGNS.flooded, { c20Ah: 60, cells: 6 }, condition, 20, count, seed).slice(1);
    const courses = coursesOf(drawn(41, 1), plan);
    const before = timeLeft(courses, [], 6)!;
    const truths = drawn(25, 99);
    let held = 0;
    let narrower = 0;
    for (const truth of truths) {
      const { trace, summary } = rehearse(truth, plan);
      const sofar = Math.min(3, summary.hours / 2);
      const seen = [0.1, 0.3, 0.5, 0.7, 0.9, 1].map((share) => ({
        hours: share * sofar,
        voltageV: valueAt(trace.hours, trace.voltageV, share * sofar),
      }));
      const after = timeLeft(courses, seen, 6)!;
      if (after.low <= summary.hours - sofar && summary.hours - sofar <= after.high) held += 1;
      if (after.high - after.low < before.high - before.low) narrower += 1;
    }
    expect(held / truths.length).to.be.within(0.65, 1);
    expect(narrower / truths.length).to.be.greaterThan(0.7);
    expect(timeLeft([], [], 6)).to.equal(null);
  });

  it('a band is weighted, and a trace is read between its points', () => {
    expect(bandOf([1, 2, 3], [1, 1, 100])).to.deep.equal({ low: 3, middle: 3, high: 3 });
    expect(bandOf([3, 1, 2], [1, 1, 1])).to.deep.equal({ low: 1, middle: 2, high: 3 });
    expect(valueAt([0, 1, 3], [10, 20, 0], 2)).to.equal(10);
    expect(valueAt([0, 1], [10, 20], 9)).to.equal(20);
  });
});
