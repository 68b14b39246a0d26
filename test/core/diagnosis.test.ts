import { firstAnswer } from '../support/firstAnswer.ts';
import { expect } from 'chai';
import { CAUSE_KEYS, CAUSES, type CauseKey } from '../../src/core/diagnosis/causes.ts';
import type { Evidence } from '../../src/core/diagnosis/evidence.ts';
import { causeOdds, RouteTrial } from '../../src/core/diagnosis/findings.ts';
import {
  likelihood,
  mostLikelihood,
  observe,
  slipChance,
} from '../../src/core/diagnosis/readings/readings.ts';
import { Showing, soundOhms } from '../../src/core/diagnosis/showing.ts';
import { follow, routeFit, routeFits } from '../../src/core/diagnosis/outcome.ts';
import { FIRST_SIZE, Population } from '../../src/core/diagnosis/population.ts';
import { ROUTE_KEYS, type RouteKey, ROUTES, routePlan } from '../../src/core/diagnosis/routes.ts';
import { DEFAULT_STAKES } from '../../src/core/diagnosis/stakes.ts';
import { STORIES, STORY_KEYS } from '../../src/core/diagnosis/stories.ts';
import {
  chancesOf,
  drawChances,
  priorWeight,
  possibleFaults,
} from '../../src/core/diagnosis/chances.ts';
import type { Subject } from '../../src/core/diagnosis/subject.ts';
import { type Suspect, suspectOf } from '../../src/core/diagnosis/suspect.ts';
import { traceEvidence } from '../../src/core/recovery/evidence.ts';
import { type Condition, copyBattery, makeBattery } from '../../src/core/simulation/battery.ts';
import { viewBattery } from '../../src/core/simulation/view.ts';
import { DESIGNS } from '../../src/core/simulation/design.ts';
import { Stepper } from '../../src/core/simulation/step.ts';
import { seeded } from '../../src/core/simulation/random.ts';

const subject = (change: Partial<Subject> = {}): Subject => ({
  chemistry: 'flooded',
  cells: 6,
  c20Ah: 60,
  story: 'unknown',
  standingDays: null,
  ageYears: null,
  temperatureC: 20,
  coldestC: null,
  ...change,
});
const odds = (about: Subject, evidence: Evidence[]): Map<CauseKey, number> => {
  const population = new Population(about, evidence, FIRST_SIZE).settle();
  return new Map(causeOdds(population).map((o) => [o.cause, o.holds]));
};
const sg = (...values: number[]): Evidence => ({ of: 'cell-sg', sg: values });
const known = (
  condition: Partial<Condition>,
  causes: CauseKey[],
  chemistry: Subject['chemistry'] = 'flooded',
): Suspect => ({
  chances: new Float64Array(0),
  battery: makeBattery(
    DESIGNS[chemistry],
    { cells: 6, c20Ah: 60 },
    { charge: 0.4, temperatureC: 20, ...condition },
  ),
  causes: new Set(causes),
  primary: CAUSE_KEYS.find((key) => causes.includes(key)) ?? 'sound',
  active: 1,
  hard: 0,
});
const taken = (
  suspect: Suspect,
  key: keyof typeof ROUTES,
  chemistry: Subject['chemistry'] = 'flooded',
) =>
  follow(
    suspect,
    ROUTES[key],
    routeFit(ROUTES[key], subject({ chemistry }))!,
    chemistry === 'flooded',
  );

describe('suspects', () => {
  it('every story draws batteries a bench could meet: causes named, plates that hold together', () => {
    const random = seeded(3);
    for (const story of STORY_KEYS)
      for (let i = 0; i < 40; i++) {
        const about = subject({ story, chemistry: (['flooded', 'agm', 'gel'] as const)[i % 3]! });
        const suspect = suspectOf(about, drawChances(about, random, null));
        expect(suspect.causes.size, story).to.be.greaterThan(0);
        expect(suspect.causes.has(suspect.primary)).to.equal(true);
        const { restV } = new Showing(suspect, about);
        expect(restV, `${story} ${i}`).to.be.within(-13, 14.2);
      }
  });

  it('what a story says is what it draws: a lamp left on means an empty battery, a shelf does not', () => {
    const empty = (story: Subject['story']): number => {
      const random = seeded(9);
      let n = 0;
      for (let i = 0; i < 200; i++)
        if (
          viewBattery(
            suspectOf(subject({ story }), drawChances(subject({ story }), random, null)).battery,
          ).charge < 0.06
        )
          n++;
      return n / 200;
    };
    expect(empty('left-on')).to.be.greaterThan(0.75);
    expect(empty('shelf')).to.be.lessThan(0.15);
    expect(STORIES['left-on'].drawnEmpty).to.be.greaterThan(STORIES.shelf.drawnEmpty);
  });

  it('faults drawn on purpose are weighed back to what the prior says', () => {
    const random = seeded(4);
    const about = subject();
    const faults = possibleFaults(about);
    let all = 0;
    let reversed = 0;
    for (let i = 0; i < 3000; i++) {
      const chances = drawChances(
        about,
        random,
        i % 2 === 0 ? null : faults[((i - 1) / 2) % faults.length]!,
      );
      const weight = priorWeight(about, chances);
      all += weight;
      if (suspectOf(about, chances).causes.has('reversed')) reversed += weight;
    }
    expect(all / 3000).to.be.closeTo(1, 0.04);
    expect(reversed / all).to.be.closeTo(0.012 * STORIES.unknown.faults, 0.004);
    expect(possibleFaults(subject({ chemistry: 'agm' }))).not.to.include('layered');
  });

  it('the same chances are the same battery', () => {
    const chances = Float64Array.from({ length: chancesOf(6) }, (_, i) => Math.sin(i));
    expect(suspectOf(subject(), chances).battery.state).to.deep.equal(
      suspectOf(subject(), chances).battery.state,
    );
  });
});

describe('readings of a suspect', () => {
  const about = subject();
  const flat = new Showing(known({ charge: 0.3 }, ['flat']), about);

  it('are likelier the nearer they lie, and one that cannot be is taken for a slip, not for impossible', () => {
    const at = (voltageV: number): number => likelihood(flat, { of: 'rest-volts', voltageV });
    expect(at(flat.restV)).to.be.greaterThan(at(flat.restV + 0.2));
    expect(at(flat.restV + 0.2)).to.be.greaterThan(at(flat.restV + 2));
    expect(Number.isFinite(at(-40))).to.equal(true);
    expect(slipChance(flat, { of: 'rest-volts', voltageV: flat.restV })).to.be.lessThan(0.02);
    expect(slipChance(flat, { of: 'rest-volts', voltageV: flat.restV + 2 })).to.be.greaterThan(0.9);
  });

  it('come out as the suspect would show them', () => {
    const random = seeded(1);
    const seen = observe(flat, 'cell-sg', { ratedCca: 500, wetMassG: 16_000 }, random);
    expect(
      seen?.of === 'cell-sg' &&
        seen.sg.every((v, k) => Math.abs((v as number) - flat.sg(k)) < 0.05),
    ).to.equal(true);
    expect(observe(flat, 'cca', { ratedCca: null, wetMassG: null }, random)).to.equal(null);
    expect(observe(flat, 'mass', { ratedCca: null, wetMassG: null }, random)).to.equal(null);
    expect(soundOhms(about) * 1000).to.be.within(2, 12);
  });

  it('an open joint shows its volts and gives no amperes', () => {
    const open = new Showing(known({ charge: 0.9, cells: [{ jointOhm: 0.5 }] }, ['joint']), about);
    expect(open.restV).to.be.greaterThan(12.4);
    expect(open.load(180, 15).underV).to.be.lessThan(2);
    expect(open.ohms).to.be.greaterThan(0.4);
  });
});

describe('odds of causes', () => {
  it('one cell far below its neighbours, volts and acid alike, is not sulfation', () => {
    const said = odds(subject({ story: 'weak' }), [
      { of: 'rest-volts', voltageV: 10.55 },
      sg(1.25, 1.255, 1.25, 1.09, 1.25, 1.255),
    ]);
    expect(
      (said.get('shorted') ?? 0) + (said.get('weak') ?? 0) + (said.get('damaged') ?? 0),
    ).to.be.greaterThan(0.85);
    expect(said.get('hard')).to.be.lessThan(0.3);
  });

  it('a lamp left on over night: emptied, nothing hard about it', () => {
    const said = odds(subject({ story: 'left-on', standingDays: 1, ageYears: 1 }), [
      { of: 'rest-volts', voltageV: 11.6 },
      sg(1.1, 1.1, 1.105, 1.1, 1.1, 1.1),
    ]);
    expect((said.get('deep') ?? 0) + (said.get('flat') ?? 0)).to.be.greaterThan(0.9);
    expect(said.get('hard')).to.be.lessThan(0.1);
  });

  it('an AGM that has lost a twentieth of its mass has dried', () => {
    const said = odds(subject({ chemistry: 'agm', story: 'boiled' }), [
      { of: 'rest-volts', voltageV: 12.9 },
      { of: 'mass', massG: 19_000, wetMassG: 20_000 },
      { of: 'cca', ccaA: 250, ratedA: 600 },
    ]);
    expect(said.get('dry')).to.be.greaterThan(0.6);
  });

  it('volts below nought speak of a reversed battery', () => {
    const said = odds(subject(), [
      { of: 'rest-volts', voltageV: -11.8 },
      { of: 'cell-volts', volts: [-1.96, -1.97, -1.97, -1.97, -1.96, -1.97] },
    ]);
    expect(said.get('reversed')).to.be.greaterThan(0.6);
  });

  it('odds are shares of a whole, and every cause has words', () => {
    const population = new Population(
      subject(),
      [{ of: 'rest-volts', voltageV: 12.1 }],
      FIRST_SIZE,
    ).settle();
    const said = causeOdds(population);
    expect(said.reduce((sum, o) => sum + o.gravest, 0)).to.be.closeTo(1, 1e-6);
    for (const { holds, gravest } of said) expect(holds).to.be.within(gravest - 1e-9, 1 + 1e-9);
    for (const key of CAUSE_KEYS) expect(CAUSES[key].plain).to.match(/\.$/);
  });

  it('a reading more is weighed at once, and turns the odds', () => {
    const population = new Population(
      subject({ story: 'weak' }),
      [{ of: 'rest-volts', voltageV: 12.2 }],
      FIRST_SIZE,
    ).settle();
    const before = causeOdds(population).find((o) => o.cause === 'dry')?.holds ?? 0;
    const began = performance.now();
    population.add({ of: 'levels', levels: ['dry', 'dry', 'dry', 'dry', 'dry', 'dry'] });
    expect(performance.now() - began).to.be.lessThan(3000);
    const after = causeOdds(population).find((o) => o.cause === 'dry')?.holds ?? 0;
    expect(after).to.be.greaterThan(before);
    expect(population.evidence).to.have.length(2);
  });

  it('with those drawn before it comes to the same, whatever was asked of them', () => {
    const about = subject({ story: 'parked' });
    const volts: Evidence = { of: 'rest-volts', voltageV: 11.9 };
    const load: Evidence = { of: 'load', underV: 8.4, currentA: 180, seconds: 15, afterV: 11.6 };
    const wide = new Population(about, [volts, load], FIRST_SIZE, 5).settle();
    const asked = [volts, sg(1.17, 1.18, 1.17, 1.175, 1.17, 1.18)];
    const size = { drawn: FIRST_SIZE.drawn + 40, kept: 60, moves: 1 };
    const anew = new Population(about, asked, size, 5).settle();
    const known = new Population(about, asked, size, 5, wide.drawn).settle();
    expect(known.drawn[7]!.showing).to.equal(wide.drawn[7]!.showing);
    expect(known.members.map((m) => m.said)).to.deep.equal(anew.members.map((m) => m.said));
    expect(causeOdds(known)).to.deep.equal(causeOdds(anew));
    for (const { showing } of wide.members.slice(0, 40)) {
      const bound = mostLikelihood(load, about.cells)!;
      expect(likelihood(showing, load)).to.be.at.most(bound);
    }
    expect(mostLikelihood(volts, about.cells)).to.equal(null);
  });

  it('cycles of other routes are worked out anew for a battery that has been through some', () => {
    const cell = { hard: 0.15 };
    const sulfated = known({ cells: [cell, cell, cell, cell, cell, cell] }, ['light']);
    const showing = new Showing(sulfated, subject());
    const through = (...routes: RouteKey[]) =>
      showing.after({ routes, open: true })?.outcome.capacity;
    const restored = through('recharge', 'slow-restore');
    const first = through('recharge');
    expect(through('recharge', 'slow-restore')).to.equal(restored);
    expect(through('slow-restore')).not.to.equal(first);
    expect(through('recharge')).to.equal(first);
  });

  it('evidence that contradicts itself neither crashes nor makes sure', () => {
    const evidence: Evidence[] = [
      { of: 'rest-volts', voltageV: 12.7 },
      sg(1.1, 1.1, 1.1, 1.1, 1.1, 1.1),
      { of: 'cca', ccaA: 0, ratedA: 600 },
    ];
    const population = new Population(subject(), evidence, FIRST_SIZE).settle();
    expect(causeOdds(population).every((o) => Number.isFinite(o.holds))).to.equal(true);
    const slips = evidence.map((e) =>
      population.members.reduce((sum, m) => sum + m.weight * slipChance(m.showing, e), 0),
    );
    expect(Math.max(...slips)).to.be.greaterThan(0.5);
  });
});

describe('routes', () => {
  it('every route has a plan of its family and says when to stop', () => {
    for (const key of ROUTE_KEYS) {
      const route = ROUTES[key];
      expect(route.stop.length).to.be.greaterThan(20);
      for (const chemistry of route.kinds)
        expect(routeFit(route, subject({ chemistry })), `${key} ${chemistry}`).not.to.equal(null);
      if (route.then) expect(ROUTES[route.then].key).to.equal(route.then);
    }
    expect(routePlan(ROUTES.recharge, 'gel').id).to.equal('gel-gentle');
    expect(routeFits(ROUTES.mix, 'agm', false)).to.equal(false);
    expect(routeFits(ROUTES.sulfate, 'flooded', false)).to.equal(false);
  });

  it('a flat battery comes back by a full charge; a short by nothing; a worn one only for light duty', () => {
    expect(taken(known({ charge: 0.3 }, ['flat']), 'recharge')).to.deep.include({
      grade: 'return',
      failed: null,
    });
    const shorted = taken(
      known({ charge: 0.3, cells: [{ shortOhm: 0.1, behind: 0.5 }] }, ['shorted']),
      'slow-restore',
    );
    expect(shorted.grade).to.equal('none');
    const worn = taken(
      known({ charge: 0.5, cells: Array.from({ length: 6 }, () => ({ active: 0.75 })) }, ['worn']),
      'recharge',
    );
    expect(worn.grade).to.equal('light');
  });

  it('hard sulfate gives more to a slow restore than to a night’s charge', () => {
    const hard = (): Suspect =>
      known({ charge: 0.2, cells: Array.from({ length: 6 }, () => ({ hard: 0.35 })) }, ['hard']);
    const night = taken(hard(), 'recharge');
    const slow = taken(hard(), 'slow-restore');
    expect(slow.capacity).to.be.greaterThan(night.capacity + 0.015);
    expect(slow.hours).to.be.greaterThan(night.hours);
  });

  it('what is driven past empty is woken first; what is broken is not touched', () => {
    const deep = taken(
      known({ charge: -0.25, cells: Array.from({ length: 6 }, () => ({ platesV: 0.6 })) }, [
        'deep',
      ]),
      'recharge',
    );
    expect(deep.failed).to.equal(null);
    expect(deep.capacity).to.be.greaterThan(0.7);
    expect(taken(known({}, ['damaged']), 'recharge')).to.deep.include({
      failed: 'not-woken',
      hours: 0,
    });
  });

  it('a trial says odds, hours and worth of each route, and can stop between twins', () => {
    const population = new Population(
      subject({ story: 'left-on', standingDays: 2 }),
      [{ of: 'rest-volts', voltageV: 11.9 }],
      FIRST_SIZE,
    ).settle();
    const trial = new RouteTrial(population, true, ['recharge', 'slow-restore'], 12);
    expect(trial.odds(DEFAULT_STAKES)).to.deep.equal([]);
    trial.next();
    expect(trial.odds(DEFAULT_STAKES)[0]?.twins).to.equal(1);
    while (trial.next());
    const said = new Map(trial.odds(DEFAULT_STAKES).map((o) => [o.route, o]));
    const [night, slow] = [said.get('recharge')!, said.get('slow-restore')!];
    expect(night.returns + night.light).to.be.greaterThan(0.8);
    expect(night.hours.middle).to.be.lessThan(slow.hours.middle / 2);
    expect(night.cost).to.be.lessThan(slow.cost);
    for (const o of [night, slow]) expect(o.worth).to.be.greaterThan(0);
    const { low, middle, high } = trial.capacity();
    expect(low).to.be.at.most(middle);
    expect(middle).to.be.at.most(high);
  });
});

describe('a charge as it runs', () => {
  it('tells hard sulfate from a merely flat battery, and where each will settle: eight hours at a sample a second, in a moment', () => {
    const about = subject({ story: 'parked', ageYears: 2 });
    for (const [hard, cause] of [
      [0.28, 'hard'],
      [0, 'flat'],
    ] as const) {
      const truth = known({ charge: 0.05, cells: Array.from({ length: 6 }, () => ({ hard })) }, [
        cause,
      ]);
      const rest = new Showing(truth, about).restV;
      const stepper = new Stepper(copyBattery(truth.battery));
      const hours: number[] = [];
      const volts: number[] = [];
      for (let i = 0; i < 8 * 360; i++) {
        stepper.run({ currentA: 3, limitV: 14.5 }, 10);
        hours.push(i / 360);
        volts.push(stepper.voltageV);
      }
      const began = performance.now();
      const trace = traceEvidence(
        hours,
        volts,
        hours.map(() => 3),
      )!;
      const answer = firstAnswer({
        subject: about,
        evidence: [{ of: 'rest-volts', voltageV: rest }, trace],
        after: null,
        open: true,
        routes: ['slow-restore'],
        stakes: DEFAULT_STAKES,
        prefer: 'slow-restore',
        ratings: { ratedCca: null, wetMassG: null },
      });
      expect(performance.now() - began).to.be.lessThan(6000);
      const holds = answer.causes.find((c) => c.cause === 'hard')!.holds;
      if (hard > 0) expect(holds).to.be.greaterThan(0.5);
      else expect(holds).to.be.lessThan(0.55);
      const came = taken(truth, 'slow-restore');
      const said = answer.routes[0]!;
      expect(came.restV).to.be.within(said.restV.low - 0.12, said.restV.high + 0.12);
      expect(came.capacity).to.be.within(said.capacity.low - 0.08, said.capacity.high + 0.1);
      expect(came.hours).to.be.within(0.8 * said.hours.low, 1.2 * said.hours.high);
    }
  });

  it('what a cycle brought moves the odds and the next forecast: little gained speaks for wear, and for less to come', () => {
    const about = subject({ story: 'parked', standingDays: 200, ageYears: 4 });
    const after = (capacity: number) => {
      const population = new Population(
        about,
        [
          { of: 'rest-volts', voltageV: 11.6 },
          {
            of: 'cycled',
            done: { routes: ['slow-restore'], open: true },
            capacity,
            restV: 12.55,
            sg: [],
            weekLoss: 0.03,
          },
        ],
        FIRST_SIZE,
      ).settle();
      const trial = new RouteTrial(population, true, ['slow-restore'], 24);
      while (trial.next());
      const holds = (cause: CauseKey): number =>
        causeOdds(population).find((o) => o.cause === cause)!.holds;
      return { back: trial.capacity(), worn: holds('worn') };
    };
    const [little, much] = [after(0.5), after(0.85)];
    expect(little.back.middle).to.be.within(0.4, 0.68);
    expect(much.back.middle).to.be.within(0.76, 1);
    expect(little.worn).to.be.greaterThan(much.worn + 0.1);
  });
});
