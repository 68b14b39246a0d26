import { firstAnswer } from '../support/firstAnswer.ts';
import { expect } from 'chai';
import {
  capacityLaw,
  capacityOf,
  CUT_OFF_12V,
  usualTestA,
} from '../../src/core/capacity/capacityTest.ts';
import { fitPlan } from '../../src/core/charging/fitPlan.ts';
import {
  discharges,
  TEST_PLAN_ID,
  testPlan,
  withoutDischarge,
} from '../../src/core/charging/testPlan.ts';
import { STANDARD_PLANS } from '../../src/core/charging/chargePlan.ts';
import type { Diagnosis } from '../../src/core/diagnosis/diagnose.ts';
import { EVIDENCE, type Evidence, type EvidenceKind } from '../../src/core/diagnosis/evidence.ts';
import { RouteTrial, causeOdds } from '../../src/core/diagnosis/findings.ts';
import { Showing } from '../../src/core/diagnosis/showing.ts';
import { nextReadings } from '../../src/core/diagnosis/nextReading.ts';
import { follow, type RouteOutcome, passage, routeFit } from '../../src/core/diagnosis/outcome.ts';
import { GRADE_LINES } from '../../src/core/diagnosis/grades.ts';
import { WAKE_BELOW_12V } from '../../src/core/diagnosis/wakeCurrents.ts';
import { contradictions, plainRules } from '../../src/core/diagnosis/plainRules.ts';
import { FIRST_SIZE, Population } from '../../src/core/diagnosis/population.ts';
import { type RouteKey, ROUTES } from '../../src/core/diagnosis/routes.ts';
import { costOf, DEFAULT_STAKES, priceOf, worthOf } from '../../src/core/diagnosis/stakes.ts';
import type { Subject } from '../../src/core/diagnosis/subject.ts';
import { isDeep, type Suspect } from '../../src/core/diagnosis/suspect.ts';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';
import { DEFAULT_SCHOOLS } from '../../src/core/house/schools.ts';
import { jobPlan } from '../../src/core/plan/plan.ts';
import { propose } from '../../src/core/diagnosis/propose.ts';
import type { RouteOdds } from '../../src/core/diagnosis/findings.ts';
import {
  FAMILY_KEYS,
  type FamilyKey,
  type FamilyOdds,
} from '../../src/core/diagnosis/practice/families.ts';
import { practiceOdds } from '../../src/core/diagnosis/practice/judge.ts';
import { hoursOnLoad } from '../../src/core/rehearsal/hasten.ts';
import { type CellCondition, copyBattery, makeBattery } from '../../src/core/simulation/battery.ts';
import { viewBattery } from '../../src/core/simulation/view.ts';
import { DESIGNS } from '../../src/core/simulation/design.ts';
import { BY_KIND } from '../support/battery.ts';
import { lowCell } from '../../src/core/batteries/cells.ts';

const about: Subject = {
  chemistry: 'flooded',
  cells: 6,
  c20Ah: 60,
  story: 'parked',
  standingDays: 120,
  ageYears: 3,
  temperatureC: 20,
  coldestC: null,
};
const each = (cell: CellCondition): CellCondition[] => Array.from({ length: 6 }, () => cell);
const battery = (charge: number, cells: CellCondition[] = []) =>
  makeBattery(DESIGNS.flooded, { cells: 6, c20Ah: 60 }, { charge, temperatureC: 20, cells });
const suspect = (charge: number, cells: CellCondition[] = []): Suspect => ({
  chances: new Float64Array(0),
  battery: battery(charge, cells),
  causes: new Set(),
  primary: 'sound',
  active: 1,
  hard: 0,
});
const outcome = (change: Partial<RouteOutcome> = {}): RouteOutcome => ({
  grade: 'return',
  capacity: 0.9,
  restV: 12.7,
  weekLoss: 0.02,
  hours: 24,
  peakC: 30,
  failed: null,
  ...change,
});
const asked = (evidence: Evidence[], change: object = {}) => ({
  subject: about,
  evidence,
  after: null,
  open: true,
  routes: ['recharge', 'slow-restore'] as const,
  prefer: 'slow-restore' as const,
  stakes: DEFAULT_STAKES,
  ratings: { ratedCca: 540, wetMassG: 15_000 },
  ...change,
});
const answerTo = (evidence: Evidence[], change: object = {}): Diagnosis =>
  firstAnswer({ ...asked(evidence, change), routes: ['recharge', 'slow-restore'] });

describe('what a decision is worth', () => {
  it('hands by the minute and the place by the day; a route that fails early is not paid in full', () => {
    const stakes = { currency: '€', pricePerAh: 2, handsPerHour: 30, placePerDay: 4 };
    expect(priceOf(60, stakes)).to.equal(120);
    // Half an hour of hands and a day on the place: 15 + 4.
    expect(costOf({ hours: 24, failed: null }, { handsMin: 30 }, stakes)).to.be.closeTo(19, 1e-9);
    expect(costOf({ hours: 12, failed: 'hot' }, { handsMin: 30 }, stakes)).to.be.closeTo(
      0.4 * 15 + 2,
      1e-9,
    );
    const worth = (grade: RouteOutcome['grade']): number =>
      worthOf(outcome({ grade }), ROUTES.recharge, 60, stakes);
    expect(worth('return')).to.be.greaterThan(worth('light'));
    expect(worth('light')).to.be.greaterThan(worth('none'));
    expect(worth('none')).to.be.closeTo(-costOf(outcome(), ROUTES.recharge, stakes), 1e-9);
  });

  const pictures = practiceOdds(
    { chemistry: 'flooded', story: 'parked', standingDays: 300, ageYears: 3 },
    [],
  ).pictures;
  const families = (family: FamilyKey): FamilyOdds[] =>
    FAMILY_KEYS.map((key) => ({ family: key, chance: key === family ? 0.8 : 0.2 / 7 })).sort(
      (a, b) => b.chance - a.chance,
    );
  const proposed = (
    family: FamilyKey,
    worths: Partial<Record<RouteKey, number>>,
    {
      share = 1,
      prefer = 'slow-restore',
      never = false,
      kept = 0.8,
    }: { share?: number; prefer?: RouteKey; never?: boolean; kept?: number } = {},
  ) =>
    propose(families(family), pictures, {
      offered: ['recharge', 'slow-restore', 'mix', 'held', 'pulse', 'cycle'],
      prefer,
      routes: Object.entries(worths).map(
        ([route, worth]) => ({ route, worth, returns: kept / 2, light: kept / 2 }) as RouteOdds,
      ),
      trial: { compare: () => ({ share, gain: 0.12 }) },
      never,
      price: 100,
    });

  it('the shop’s own way is proposed; another only where it is worth clearly more, and says by how much', () => {
    const near = { 'slow-restore': 30, pulse: 34, held: 12 };
    expect(proposed('sulfated', near)).to.deep.equal({
      route: 'slow-restore',
      usual: 'slow-restore',
      instead: null,
      cheaper: false,
      loss: null,
    });
    expect(proposed('sulfated', near, { prefer: 'pulse' }).route).to.equal('pulse');
    const clear = { 'slow-restore': 30, pulse: 45 };
    expect(proposed('sulfated', clear)).to.deep.include({
      route: 'pulse',
      usual: 'slow-restore',
      instead: { share: 1, gain: 0.12 },
    });
    expect(proposed('sulfated', clear, { share: 0.6 }).route, 'in six of ten only').to.equal(
      'slow-restore',
    );
    // A flat one is charged, whatever the shop thinks of sulfate; held volts and pulses do not come first.
    expect(proposed('flat', { recharge: 31, held: 36, pulse: 33 }).route).to.equal('recharge');
    expect(proposed('layered', { recharge: 20, mix: 18 }).route).to.equal('mix');
  });

  it('where the usual way costs more than it brings, the cheaper one is proposed, and says so', () => {
    expect(proposed('sulfated', { 'slow-restore': -4, recharge: 3 }, { share: 0.1 })).to.include({
      route: 'recharge',
      usual: 'slow-restore',
      cheaper: true,
      loss: null,
    });
  });

  it('nothing is proposed where recycling is worth more, or a rule forbids every route', () => {
    expect(proposed('sulfated', { 'slow-restore': 30 }, { never: true }).route).to.equal(null);
    // A small loss is said, and scraps no battery that is mostly kept; a large one does, and one that is hardly ever kept.
    expect(proposed('flat', { recharge: -2 })).to.include({ route: 'recharge', loss: 2 });
    expect(proposed('flat', { recharge: -21 }).route).to.equal(null);
    expect(proposed('flat', { recharge: -2 }, { kept: 0.3 }).route).to.equal(null);
    // Before anything is simulated practice speaks alone.
    expect(proposed('flat', {}).route).to.equal('recharge');
    expect(proposed('never', {}).route).to.equal(null);
  });
});

describe('what a route does to a battery', () => {
  const fit = routeFit(ROUTES.recharge, about)!;

  it('its capacity is what this bench’s own test would say', () => {
    const sound = battery(1);
    const currentA = usualTestA(60);
    expect(currentA).to.equal(12);
    expect(usualTestA(200)).to.equal(25);
    const minutes = 60 * hoursOnLoad(copyBattery(sound), currentA, CUT_OFF_12V);
    const { health } = capacityOf(
      { currentA, minutes, cutoffV: CUT_OFF_12V, temperatureC: 20, method: 'instrument' },
      capacityLaw('flooded'),
      6,
      60,
    );
    const came = follow(suspect(0.9), ROUTES.recharge, fit, true);
    expect(came.capacity).to.be.closeTo(health, 0.08);
    expect(came.grade).to.equal('return');
  });

  it('the battery itself stays as it is; where it ends is given with it, and the next route begins there', () => {
    const hard = suspect(0.2, each({ hard: 0.35 }));
    const before = viewBattery(hard.battery).charge;
    const first = passage(hard, ROUTES.recharge, fit, true, hard.battery);
    expect(viewBattery(hard.battery).charge).to.equal(before);
    expect(viewBattery(first.battery).charge).to.be.greaterThan(before + 0.2);
    const slow = routeFit(ROUTES['slow-restore'], about)!;
    const second = passage(hard, ROUTES['slow-restore'], slow, true, first.battery);
    expect(second.outcome.capacity).to.be.greaterThan(first.outcome.capacity);
    expect(second.outcome.failed).to.equal(null);
  });

  it('a full one that takes next to nothing in a later cycle has not failed for that', () => {
    const full = suspect(1);
    const again = passage(full, ROUTES.recharge, fit, true, battery(1));
    expect(again.outcome.failed).to.equal(null);
  });

  it('what loses more than the line in a week is good for nothing, whatever it holds', () => {
    const leaking = follow(suspect(0.8, [{ shortOhm: 6 }]), ROUTES.recharge, fit, true);
    expect(leaking.weekLoss).to.be.greaterThan(GRADE_LINES.weekLoss);
    expect(leaking.grade).to.equal('none');
  });

  it('a load is carried for less time the higher it is, and never for ever', () => {
    const hoursAt = (currentA: number): number => hoursOnLoad(battery(1), currentA, CUT_OFF_12V);
    expect(hoursAt(3)).to.be.within(17, 22);
    expect(hoursAt(12)).to.be.within(3, 5);
    // Peukert: five times the current lasts less than a fifth of the time.
    expect(hoursAt(15)).to.be.lessThan(hoursAt(3) / 5);
    expect(hoursOnLoad(battery(0), 12, CUT_OFF_12V)).to.be.lessThan(0.6);
    expect(hoursOnLoad(battery(1), 3, -20)).to.be.at.most(1.5 * 20);
  });

  it('deep is empty, and under what a charger takes: a dead cell alone does not make it so', () => {
    const empty = battery(-0.25, each({ platesV: 0.5 }));
    expect(viewBattery(empty).openV).to.be.lessThan(WAKE_BELOW_12V);
    expect(isDeep(empty, -0.25)).to.equal(true);
    expect(isDeep(battery(0.03), 0.03)).to.equal(false);
    expect(isDeep(battery(0.6, [{ platesV: 0 }]), 0.6)).to.equal(false);
  });
});

describe('what to measure next', () => {
  const crowd = (evidence: Evidence[]): RouteTrial => {
    const trial = new RouteTrial(
      new Population(about, evidence, FIRST_SIZE).settle(),
      true,
      ['recharge', 'slow-restore'],
      16,
    );
    while (trial.next());
    return trial;
  };
  const worths = (
    trial: RouteTrial,
    has: EvidenceKind[],
    open = true,
    ratings = { ratedCca: 540 as number | null, wetMassG: 15_000 as number | null },
  ) =>
    nextReadings(trial, new Set(has), ratings, open, DEFAULT_STAKES, priceOf(60, DEFAULT_STAKES));

  it('only what can be read here and was not yet: no ports, no hydrometer; no rating, no CCA', () => {
    const trial = crowd([{ of: 'rest-volts', voltageV: 12 }]);
    const kinds = worths(trial, ['rest-volts']).map((n) => n.kind);
    expect(kinds).to.include.members(['cell-sg', 'load', 'cca', 'mass', 'levels']);
    expect(kinds).to.not.include.members(['rest-volts', 'charging']);
    expect(worths(trial, ['rest-volts'], false).map((n) => n.kind)).to.not.include('cell-sg');
    const blind = worths(trial, ['rest-volts'], true, { ratedCca: null, wetMassG: null }).map(
      (n) => n.kind,
    );
    expect(blind).to.not.include('cca');
    expect(blind).to.not.include('mass');
  });

  it('worth most a minute first; what a reading saves is never below nought, its minutes are always paid', () => {
    const next = worths(crowd([{ of: 'rest-volts', voltageV: 11.4 }]), ['rest-volts']);
    const paid = next.map((n) => n.perMinute);
    expect(paid).to.deep.equal([...paid].sort((a, b) => b - a));
    for (const n of next) {
      expect(n.gain).to.be.at.least(0);
      expect(n.minutes).to.equal(EVIDENCE[n.kind].minutes);
      expect(n.perMinute).to.be.at.least(-DEFAULT_STAKES.handsPerHour / 60 - 1e-9);
    }
  });

  it('of too few twins nothing is said', () => {
    const trial = new RouteTrial(
      new Population(about, [], FIRST_SIZE).settle(),
      true,
      ['recharge'],
      3,
    );
    while (trial.next());
    expect(worths(trial, [])).to.deep.equal([]);
  });

  it('after a cycle nothing more is asked for: its own readings are weighed with it', () => {
    const answer = firstAnswer({
      ...asked([
        { of: 'rest-volts', voltageV: 11.8 },
        {
          of: 'cycled',
          done: { routes: ['recharge'], open: true },
          capacity: 0.6,
          restV: 12.5,
          sg: [],
          weekLoss: 0.02,
        },
      ]),
      routes: ['slow-restore'],
    });
    expect(answer.next).to.deep.equal([]);
    expect(answer.enough).to.equal(true);
  });
});

describe('the low cell', () => {
  it('is the one furthest below the others; one cell alone has no neighbours', () => {
    expect(lowCell([1.25, null, 1.15, 1.25])).to.deep.include({ cell: 3 });
    expect(lowCell([1.25, null, 1.15, 1.25])!.below).to.be.closeTo(0.1, 1e-9);
    expect(lowCell([1.25])).to.equal(null);
    expect(lowCell([null, null])).to.equal(null);
  });
});

describe('plain rules and odds', () => {
  it('a rule that names a cause puts it first, and odds stay shares of a whole', () => {
    const answer = answerTo([{ of: 'rest-volts', voltageV: -8 }]);
    expect(answer.never).to.equal(true);
    expect(answer.causes[0]!.cause).to.equal('reversed');
    expect(answer.causes.reduce((sum, c) => sum + c.gravest, 0)).to.be.closeTo(1, 1e-6);
  });

  it('hot, and frozen: nothing is connected yet; bare plates are covered first', () => {
    const said = (change: Partial<Subject>, evidence: Evidence[] = []): string[] =>
      plainRules({ ...about, ...change }, evidence, null).map((r) => r.sentence);
    expect(said({ temperatureC: 55 })[0]).to.contain('until it has cooled');
    expect(said({ temperatureC: -4 })[0]).to.contain('in the warm for a day');
    expect(
      said({}, [{ of: 'levels', levels: ['mark', 'dry', 'mark', 'dry', 'mark', 'mark'] }])[0],
    ).to.contain('cell 2, 4');
    expect(said({})).to.deep.equal([]);
  });

  it('readings that agree are not called contradictions', () => {
    expect(
      contradictions(about, [
        { of: 'rest-volts', voltageV: 12.6 },
        { of: 'cell-volts', volts: [2.1, 2.1, 2.1, 2.1, 2.1, 2.08] },
      ]),
    ).to.deep.equal([]);
    expect(
      contradictions(about, [{ of: 'load', underV: 9.8, currentA: 180, seconds: 15 }]),
    ).to.deep.equal([]);
    expect(contradictions(about, [])).to.deep.equal([]);
  });

  it('a trace that no suspect explains leaves the odds nearly where they were', () => {
    const rest: Evidence = { of: 'rest-volts', voltageV: 12.1 };
    const absurd: Evidence = {
      of: 'charging',
      hours: [1, 2, 3],
      volts: [6, 17, 3],
      amps: [3, 3, 3],
    };
    const holds = (evidence: Evidence[]): number[] => {
      const population = new Population(about, evidence, FIRST_SIZE).settle();
      expect(population.counting).to.be.greaterThan(0.1 * population.members.length);
      return causeOdds(population).map((o) => o.holds);
    };
    expect(holds([rest, absurd]).every((h) => h >= 0 && h <= 1)).to.equal(true);
    expect(
      new Showing(suspect(0.5), about).charging(absurd as Extract<Evidence, { of: 'charging' }>),
    ).to.have.length(3);
  });
});

describe('a capacity test by an instrument, as a plan', () => {
  const refill = STANDARD_PLANS.find((p) => p.id === 'first-c10')!;
  const plan = testPlan(
    refill,
    { chemistry: 'flooded', cells: 6, c20Ah: 60 },
    { currentA: 12, cutoffV: 10.5, soundMin: 230 },
  );

  it('down to the cut-off, a few minutes, and full again; broken off when it lasts longer than any sound one', () => {
    expect(plan.id).to.equal(TEST_PLAN_ID);
    expect(plan.stages[0]).to.deep.equal({
      do: 'discharge',
      cRate: 0.2,
      perCell: 1.75,
      until: [{ when: 'time', s: 299 * 60 }],
    });
    expect(plan.stages.slice(2)).to.deep.equal(refill.stages);
    expect(plan.mostS).to.be.greaterThan(refill.mostS + 299 * 60);
    expect(discharges(plan)).to.equal(true);
    expect(discharges(withoutDischarge(plan))).to.equal(false);
  });

  it('fits the battery it is made for: the current of the test out of it, never below the cut-off', () => {
    const { fitted, faults } = fitPlan(plan, { chemistry: 'flooded', cells: 6, c20Ah: 60 });
    expect(faults).to.deep.equal([]);
    expect(fitted!.stages[0]).to.deep.include({ do: 'discharge', currentA: -12, limitV: 10.5 });
  });
});

describe('figures of a recovery', () => {
  it('by hand: test current, cut-off, salt, soda, water; six volts have half of it', () => {
    const { figures } = jobPlan(
      { ...BY_KIND['flooded-dry'], c20Ah: 60, electrolyteMl: 4200 },
      DEFAULT_RULES,
      'recover',
    );
    expect(figures.testA!.value).to.equal(12);
    expect(figures.cutoffV!.value).to.equal(10.5);
    expect(figures.holdS!.value).to.equal(7 * 24 * 3600);
    expect(figures.saltG!.value).to.be.closeTo(0.0275 * 4.2, 1e-9);
    expect(figures.magnesiumMl!.value).to.equal(1400);
    expect(figures.waterMl!.value).to.equal(420);
    expect(figures.stubbornV).to.equal(undefined);
    const small = jobPlan(
      { ...BY_KIND['flooded-dry'], cells: 3, nominalV: 6, c20Ah: 11, electrolyteMl: null },
      DEFAULT_RULES,
      'recover',
    ).figures;
    expect(small.cutoffV!.value).to.equal(5.25);
    expect(small.testA!.value).to.be.closeTo(2.2, 1e-9);
    // No volume printed: 12 mL for each cell and Ah.
    expect(small.acidL!.value).to.equal(12 * 3 * 11);
    expect(small.acidL!.origin).to.equal('default');
  });

  it('each says where it comes from; only the shop’s own school takes a stubborn one higher', () => {
    const to16 = { ...DEFAULT_RULES, schools: { ...DEFAULT_SCHOOLS, stubborn: 'to-16' } };
    const { figures } = jobPlan(BY_KIND['flooded-dry'], to16, 'recover');
    expect(figures.stubbornV!.value).to.equal(16);
    expect(figures.stubbornA!.value).to.be.closeTo(0.02 * BY_KIND['flooded-dry'].c20Ah, 1e-9);
    expect(jobPlan(BY_KIND['agm-sealed'], to16, 'recover').figures.stubbornV).to.equal(undefined);
    for (const figure of Object.values(figures)) {
      expect(figure.source, figure.key).to.not.equal('');
      expect(figure.formula, figure.key).to.not.equal('');
      expect(Number.isFinite(figure.value), figure.key).to.equal(true);
    }
  });
});

describe('the load line of the trade', () => {
  const loaded = (underV: number, more: Evidence[] = [], temperatureC = 25) =>
    plainRules(
      { ...about, temperatureC },
      [
        { of: 'rest-volts', voltageV: 12.65 },
        { of: 'load', currentA: 180, seconds: 15, underV },
        ...more,
      ],
      null,
    );
  const even: Evidence = { of: 'cell-sg', sg: [1.265, 1.27, 1.265, 1.265, 1.26, 1.265] };
  it('comes before any odds: 11.0 V from a full, even battery is sound, 9.2 V is not', () => {
    expect(loaded(11.0, [even]).map((r) => [r.cause, r.weight])).to.deep.equal([['sound', 'says']]);
    expect(loaded(11.0, [even])[0]?.sentence).to.include(
      'held 11.00 V under load; 9.60 V is the least',
    );
    expect(loaded(9.2, [even])[0]?.sentence)
      .to.include('fell to 9.20 V under load')
      .and.include('fails its load test');
  });
  it('goes by the temperature, and says nothing of another load, a flat battery or an uneven one', () => {
    expect(
      loaded(9.2, [even], -10)
        .map((r) => r.sentence)
        .join(),
    ).to.not.include('fails');
    expect(loaded(9.8, [even])).to.deep.equal([]);
    expect(
      loaded(11, [{ of: 'cell-sg', sg: [1.265, 1.19, 1.265, 1.265, 1.26, 1.265] }]),
    ).to.deep.equal([]);
    expect(
      plainRules(
        about,
        [
          { of: 'rest-volts', voltageV: 12.1 },
          { of: 'load', currentA: 180, seconds: 15, underV: 8 },
        ],
        null,
      ),
    ).to.deep.equal([]);
    expect(
      plainRules(
        about,
        [
          { of: 'rest-volts', voltageV: 12.65 },
          { of: 'load', currentA: 60, seconds: 15, underV: 11.6 },
        ],
        null,
      ),
    ).to.deep.equal([]);
  });
});
