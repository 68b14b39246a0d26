import { expect } from 'chai';
import { type GuardKey, type Stage } from '../../src/core/charging/chargePlan.ts';
import { GUARD_LIMITS, guardLimitsOf } from '../../src/core/charging/guardLimits.ts';
import { fitPlan, type FittedPlan } from '../../src/core/charging/fitPlan.ts';
import {
  EMPTY_WINDOW,
  type GuardContext,
  GUARDS,
  type GuardSample,
  type GuardWindow,
  refusesToStart,
  remember,
  watch,
} from '../../src/core/charging/liveGuards.ts';
import { PLAN_START, type PlanRun } from '../../src/core/charging/runPlan.ts';
import { trip } from '../../src/core/charging/trips.ts';
import { tripText } from '../../src/core/charging/tripWords.ts';

const HOUR = 3600;
const stages: Stage[] = [
  {
    do: 'current',
    cRate: 0.1,
    until: [
      { when: 'volts', perCell: 2.4 },
      { when: 'time', s: 14 * HOUR },
    ],
  },
  {
    do: 'voltage',
    perCell: 2.4,
    cRate: 0.1,
    until: [
      { when: 'amps', cRate: 0.01 },
      { when: 'time', s: 8 * HOUR },
    ],
  },
  {
    do: 'pulse',
    cRate: 0.15,
    onS: 20,
    offS: 40,
    perCell: 2.45,
    until: [{ when: 'time', s: 8 * HOUR }],
  },
];
const PLAN = fitPlan(
  { id: 'p', name: 'P', plain: '', kinds: ['flooded'], stages, mostS: 24 * HOUR },
  { chemistry: 'flooded', cells: 6, c20Ah: 60 },
).fitted as FittedPlan;

interface Setting {
  stage?: number;
  run?: Partial<PlanRun>;
  everyS?: number;
  ambientC?: number;
  missingAh?: number | null;
  laterS?: number;
}

/** A trace from a formula of the seconds gone by. */
function guard(
  key: GuardKey,
  seconds: number,
  at: (s: number) => Partial<GuardSample>,
  setting: Setting = {},
): string | null {
  const { stage = 0, everyS = 1 } = setting;
  let window: GuardWindow = EMPTY_WINDOW;
  for (let s = 0; s <= seconds; s += everyS)
    window = remember(window, {
      atS: s,
      voltageV: 13 + s * 1e-6,
      currentA: 6,
      temperatureC: 25,
      askedA: 6,
      ...at(s),
    });
  const context: GuardContext = {
    plan: PLAN,
    stage: PLAN.stages[stage]!,
    run: { ...PLAN_START, stage, stageS: seconds, totalS: seconds, ...setting.run },
    ambientC: setting.ambientC ?? 20,
    missingAh: setting.missingAh ?? null,
    nowS: seconds + (setting.laterS ?? 0),
    everyS: everyS,
  };
  const figures = GUARDS.find((g) => g.key === key)!.look(
    window,
    context,
    guardLimitsOf(context.plan),
  );
  return figures && tripText(trip(key, figures as never), 'C');
}

describe('guards of a live charge: the limits they began with', () => {
  it('stay with the fitted plan; a charge from before they were kept is watched by today’s', () => {
    expect(PLAN.limits).to.deep.equal(GUARD_LIMITS);
    const window = remember(EMPTY_WINDOW, {
      atS: 1,
      voltageV: 13,
      currentA: 6,
      temperatureC: 48,
      askedA: 6,
    });
    const context = (plan: FittedPlan): GuardContext => ({
      plan,
      stage: plan.stages[0]!,
      run: PLAN_START,
      ambientC: 40,
      missingAh: null,
      nowS: 1,
      everyS: 1,
    });
    const { limits: _, ...older } = PLAN;
    expect(watch(window, context(older))?.key).to.equal('warm');
    const stricter = {
      ...PLAN,
      limits: { temperature: { ...GUARD_LIMITS.temperature, stopC: 47 } },
    };
    expect(watch(window, context(stricter))).to.deep.include({
      key: 'hot',
      figures: { temperatureC: 48, limitC: 47 },
    });
  });
});

describe('guards of a live charge: the trace that trips, and the near miss', () => {
  it('hot', () => {
    expect(guard('hot', 10, (s) => ({ temperatureC: 45 + 0.52 * s }))).to.contain('50.2 °C');
    expect(guard('hot', 10, () => ({ temperatureC: 50 }))).to.equal(null);
  });

  it('warm: over 45 °C, or 10 °C over the room', () => {
    expect(guard('warm', 10, () => ({ temperatureC: 45.5 }), { ambientC: 40 })).to.contain(
      'above 45',
    );
    expect(guard('warm', 10, () => ({ temperatureC: 30.5 }), { ambientC: 20 })).to.contain(
      '10.5\u00a0°C over the room',
    );
    expect(guard('warm', 10, () => ({ temperatureC: 30 }), { ambientC: 20 })).to.equal(null);
  });

  it('heating fast: more than 5 °C in half an hour, not in an hour', () => {
    expect(
      guard('heating-fast', 1800, (s) => ({ temperatureC: 25 + (5.5 * s) / 1800 }), { everyS: 10 }),
    ).to.contain('half an hour');
    expect(
      guard('heating-fast', 3600, (s) => ({ temperatureC: 25 + (9.5 * s) / 3600 }), { everyS: 10 }),
    ).to.equal(null);
  });

  it('over the ceiling: four samples in a row, not three', () => {
    expect(guard('over-volts', 10, (s) => ({ voltageV: s >= 7 ? 14.95 : 14.3 }))).to.contain(
      '14.95 V',
    );
    expect(guard('over-volts', 10, (s) => ({ voltageV: s >= 8 ? 14.95 : 14.3 }))).to.equal(null);
    expect(guard('over-volts', 10, () => ({ voltageV: 14.7 }))).to.equal(null);
  });

  it('reversed', () => {
    expect(guard('reversed', 3, () => ({ voltageV: -1.8 }))).to.contain('swapped');
    expect(guard('reversed', 3, () => ({ voltageV: 0.4 }))).to.equal(null);
  });

  it('silent instrument: 10 s without an answer', () => {
    expect(guard('silent', 60, () => ({}), { laterS: 11 })).to.contain('11 s');
    expect(guard('silent', 60, () => ({}), { laterS: 9 })).to.equal(null);
  });

  it('frozen reading: a minute the same to the last digit, not when the last digit moves', () => {
    expect(guard('frozen-reading', 70, () => ({ voltageV: 13.204 }))).to.contain('last digit');
    expect(
      guard('frozen-reading', 70, (s) => ({ voltageV: 13.204 + (s % 20 === 0 ? 0.001 : 0) })),
    ).to.equal(null);
    expect(guard('frozen-reading', 50, () => ({ voltageV: 13.204 }))).to.equal(null);
  });

  it('no current: a lead comes off; a tail that gets there slowly, or a moment of it, is none', () => {
    expect(
      guard('no-current', 60, (s) => (s > 50 ? { currentA: 0, voltageV: 14.4 } : {})),
    ).to.contain('A lead is off');
    expect(guard('no-current', 60, (s) => (s > 57 ? { currentA: 0 } : {}))).to.equal(null);
    expect(
      guard('no-current', 60, (s) => ({ currentA: 0.06 - s * 0.0006, voltageV: 14.4 }), {
        stage: 1,
      }),
    ).to.equal(null);
    expect(
      guard('no-current', 60, (s) => ({ currentA: s > 50 ? 0 : 2, voltageV: 14.4 }), { stage: 1 }),
    ).to.contain('A lead is off');
    expect(guard('no-current', 60, () => ({ askedA: 0, currentA: 0 }))).to.equal(null);
  });

  it('no current in pulses: no burst for one and a half periods; a pause between bursts is none, and slow looks say nothing', () => {
    const burst = (s: number) => ({ askedA: 9, currentA: s % 60 < 20 ? 9 : 0 });
    expect(
      guard('no-current', 300, (s) => (s > 185 ? { askedA: 9, currentA: 0 } : burst(s)), {
        stage: 2,
      }),
    ).to.contain('No burst for 115 s');
    expect(
      guard('no-current', 295, (s) => (s > 205 ? { askedA: 9, currentA: 0 } : burst(s)), {
        stage: 2,
      }),
    ).to.equal(null);
    expect(
      guard('no-current', 3000, () => ({ askedA: 9, currentA: 0 }), { stage: 2, everyS: 30 }),
    ).to.equal(null);
  });

  it('current but no rise: at volts that no sound cells have with current in them', () => {
    const low = (volts: number, stageAh: number) =>
      guard('no-rise', 600, () => ({ voltageV: volts }), { run: { stageAh }, everyS: 30 });
    expect(low(11.4, 2)).to.contain('lower than any sound cells');
    expect(low(11.4, 1)).to.equal(null);
    expect(low(12.0, 2)).to.equal(null);
  });

  it('current but no rise: a shorted cell; a healthy slow rise is none, and neither is a full battery, nor one that starts high and falls', () => {
    expect(
      guard(
        'no-rise',
        4 * HOUR,
        (s) => ({ voltageV: 13.2 - 0.9 * (1 - Math.exp(-s / HOUR / 0.7)) }),
        { everyS: 30 },
      ),
    ).to.equal(null);
    const flat = (s: number) => ({ voltageV: 12.2 + s * 1e-7 });
    expect(guard('no-rise', 1.5 * HOUR, flat, { everyS: 30 })).to.contain('shorted cell');
    expect(guard('no-rise', 1.0 * HOUR, flat, { everyS: 30 })).to.equal(null);
    expect(
      guard('no-rise', 1.5 * HOUR, (s) => ({ voltageV: 12.4 + (0.06 * s) / HOUR }), { everyS: 30 }),
    ).to.equal(null);
    expect(guard('no-rise', 1.5 * HOUR, () => ({ voltageV: 14.1 }), { everyS: 30 })).to.equal(null);
  });

  it('low by a cell: stands still about 2 V under the ceiling with its charge back in', () => {
    const run = { flatS: 1.5 * HOUR, ahIn: 40 };
    expect(
      guard('low-plateau', 2 * HOUR, () => ({ voltageV: 12.3 }), {
        run,
        everyS: 30,
        missingAh: 40,
      }),
    ).to.contain('One cell');
    expect(
      guard('low-plateau', 2 * HOUR, () => ({ voltageV: 12.3 }), {
        run: { ...run, ahIn: 20 },
        everyS: 30,
        missingAh: 40,
      }),
    ).to.equal(null);
    expect(
      guard('low-plateau', 2 * HOUR, () => ({ voltageV: 13.9 }), {
        run,
        everyS: 30,
        missingAh: 40,
      }),
    ).to.contain('One cell');
    expect(
      guard('low-plateau', 2 * HOUR, () => ({ voltageV: 14.3 }), {
        run,
        everyS: 30,
        missingAh: 40,
      }),
    ).to.equal(null);
    expect(
      guard('low-plateau', 2 * HOUR, () => ({ voltageV: 12.3 }), {
        run: { ...run, flatS: HOUR },
        everyS: 30,
        missingAh: 40,
      }),
    ).to.equal(null);
  });

  it('gassing early: at its ceiling for an hour after little charge; not with more of it in, not sooner, not where little was missing', () => {
    const run = { ahIn: 2 };
    const early = (
      hours: number,
      volts: (s: number) => number,
      ahIn = 2,
      missingAh = 40,
      stage = 0,
    ) =>
      guard('gassing-early', hours * HOUR, (s) => ({ voltageV: volts(s), currentA: 0.2 }), {
        run: { ...run, ahIn },
        missingAh,
        everyS: 30,
        stage,
      });
    expect(early(1.05, () => 14.35)).to.contain('sulfated');
    expect(early(1.05, () => 14.35, 13)).to.equal(null);
    // Half empty, an eighth is enough; nearly empty, half of it should be back by then.
    expect(early(1.05, () => 14.35, 4.4, 30)).to.equal(null);
    expect(early(1.05, () => 14.35, 22, 54)).to.contain('sulfated');
    expect(early(1.05, () => 14.35, 28, 54)).to.equal(null);
    expect(early(0.9, () => 14.35)).to.equal(null);
    expect(early(1.05, () => 13.9)).to.equal(null);
    expect(early(1.05, () => 14.35, 2, 18)).to.equal(null);
    // Starts high and falls: that is light sulfate opening up.
    expect(early(2, (s) => 14.4 - (0.3 * s) / HOUR)).to.equal(null);
  });

  it('over time', () => {
    expect(guard('over-time', 10, () => ({}), { run: { totalS: 24 * HOUR + 1 } })).to.contain(
      '24 h',
    );
    expect(guard('over-time', 10, () => ({}), { run: { totalS: 24 * HOUR } })).to.equal(null);
  });

  it('the worst of several wins, and a plan may want other than the usual', () => {
    let window = EMPTY_WINDOW;
    for (let s = 0; s < 5; s++)
      window = remember(window, { atS: s, voltageV: 13, currentA: 6, temperatureC: 55, askedA: 6 });
    const context: GuardContext = {
      plan: PLAN,
      stage: PLAN.stages[0]!,
      run: { ...PLAN_START, totalS: 90 * HOUR },
      ambientC: 20,
      missingAh: null,
      nowS: 5,
      everyS: 1,
    };
    expect(watch(window, context)).to.deep.include({ key: 'hot', action: 'stop' });
    const lenient = {
      ...context,
      run: PLAN_START,
      plan: { ...PLAN, guards: { hot: 'ask' as const, 'heating-fast': 'ask' as const } },
    };
    expect(watch(window, lenient)?.action).to.equal('ask');
    expect(watch(EMPTY_WINDOW, { ...context, run: PLAN_START, nowS: 0 })).to.equal(null);
  });

  it('remembers two minutes in full and three hours by the minute, no more', () => {
    let window = EMPTY_WINDOW;
    for (let s = 0; s < 5 * HOUR; s++)
      window = remember(window, { atS: s, voltageV: 13, currentA: 6, temperatureC: 25, askedA: 6 });
    expect(window.recent).to.have.length(121);
    expect(window.minutes.length).to.be.within(180, 182);
  });
});

describe('before any current flows', () => {
  const check = (voltageV: number, temperatureC = 20, cells = 6, leastStartV = 2) =>
    refusesToStart({ voltageV, temperatureC }, { cells }, { leastStartV })?.key ?? null;
  it('refuses what must not be charged, and says why', () => {
    expect(check(0)).to.equal('clips-open');
    expect(check(-12.1)).to.equal('clips-reversed');
    expect(check(1.5)).to.equal('clips-low');
    expect(check(6.4)).to.equal('clips-half');
    expect(check(25.1)).to.equal('clips-too-much');
    expect(check(12.5, 20, 3)).to.equal('clips-too-much');
    expect(check(12.4, 46)).to.equal('clips-warm');
    expect(check(12.4, -2)).to.equal('clips-frozen');
  });
  it('lets a battery begin that is only low', () => {
    expect([check(12.5), check(10.2), check(8), check(3), check(6.3, 20, 3)]).to.deep.equal([
      null,
      null,
      null,
      null,
      null,
    ]);
  });
});
