import { chanceWords } from '../../src/core/quantities/chance.ts';
import { expect } from 'chai';
import { prospects } from '../../src/core/dayplan/chance.ts';
import { checkPlan } from '../../src/core/dayplan/checkPlan.ts';
import { planCost, walksOf } from '../../src/core/dayplan/cost.ts';
import { improve, propose } from '../../src/core/dayplan/improve.ts';
import { makePlan } from '../../src/core/dayplan/makePlan.ts';
import { byPromise, usualOrder } from '../../src/core/dayplan/order.ts';
import { leavings } from '../../src/core/dayplan/planWords.ts';
import type {
  DayPlan,
  Hands,
  Planned,
  PlanProblem,
  Run,
  Watch,
} from '../../src/core/dayplan/problem.ts';
import { activitiesOf } from '../../src/core/dayplan/activities.ts';
import { planProblem } from '../../src/core/dayplan/shopWork.ts';
import { waysOf } from '../../src/core/dayplan/ways.ts';
import { planAlerts } from '../../src/core/dayplan/planAlerts.ts';
import { tellPlan } from '../../src/core/dayplan/told.ts';
import { CHARGER_TEMPLATES } from '../../src/core/chargers/templates.ts';
import type { ShopCharger } from '../../src/core/chargers/charger.ts';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';
import { seeded } from '../../src/core/simulation/random.ts';
import { anyShop } from '../support/anyShop.ts';
import { charge, hands, shop, way, work } from '../support/smallShop.ts';
import { BY_KIND, Driver, HOUR, MINUTE, START } from '../support/battery.ts';

const plannedOf = (plan: DayPlan, id: string): Planned[] =>
  plan.planned.filter((p) => p.workId === id).sort((a, b) => a.index - b.index);

describe('a day plan', () => {
  it('keeps every rule in shops of every size, by a check that knows nothing of how it is made', () => {
    let planned = 0;
    for (let seed = 1; seed <= 1500; seed++) {
      const problem = anyShop(seed, {
        works: 1 + (seed % 15),
        posts: 1 + (seed % 7),
        people: 1 + (seed % 3),
        days: 2 + (seed % 5),
      });
      for (const order of [usualOrder(problem), byPromise(problem)]) {
        const plan = makePlan(problem, order);
        expect(checkPlan(problem, plan), `seed ${seed}`).to.deep.equal([]);
        planned += plan.planned.length;
      }
    }
    expect(planned).to.be.greaterThan(20_000);
  });

  it('is found out by that check when anything in it is changed for the worse', () => {
    const spoilt: Record<string, (plan: DayPlan, problem: PlanProblem) => Planned[]> = {
      'a task before its turn': ({ planned }) =>
        planned.map((p) => (p.index > 0 && !p.run ? { ...p, from: 0, to: p.to - p.from } : p)),
      'a task at night': ({ planned }) =>
        planned.map((p) => (p.run ? p : { ...p, from: p.from + 700, to: p.to + 700 })),
      'nobody’s task': ({ planned }) => planned.map((p) => ({ ...p, personId: null })),
      'a stranger’s task': ({ planned }) =>
        planned.map((p) => (p.personId ? { ...p, personId: 'zoe' } : p)),
      'a missing activity': ({ planned }) => planned.slice(1),
      'a charge cut short': ({ planned }) =>
        planned.map((p) =>
          p.run
            ? {
                ...p,
                run: { ...p.run, on: [{ from: p.run.on[0]!.from, to: p.run.on[0]!.from + 9 }] },
              }
            : p,
        ),
      'a reading left out': ({ planned }) =>
        planned.map((p) => (p.run ? { ...p, run: { ...p.run, readings: [] } } : p)),
      'nobody to connect it': ({ planned }) =>
        planned.map((p) => (p.run ? { ...p, run: { ...p.run, connect: null } } : p)),
      'another way than it says': ({ planned }) =>
        planned.map((p) => (p.run ? { ...p, run: { ...p.run, way: 7 } } : p)),
    };
    const one = shop([
      work('w', [hands(10), charge([way('a', 'hourly', 200)]), hands(5)]),
      work('v', [hands(10, { gap: { least: 30, most: null } })]),
    ]);
    const sound = makePlan(one, ['w', 'v']);
    expect(checkPlan(one, sound)).to.deep.equal([]);
    for (const [name, spoil] of Object.entries(spoilt))
      expect(checkPlan(one, { ...sound, planned: spoil(sound, one) }), name).to.not.deep.equal([]);

    // Two at one place, two tasks at once, gas and current beyond what there is.
    const two = (changed: Partial<PlanProblem> = {}) =>
      shop(
        ['w', 'v'].map((id) => work(id, [charge([way('a', 'none', 100)])])),
        changed,
      );
    const apart = makePlan(two(), []);
    const together: DayPlan = {
      ...apart,
      ready: new Map([
        ['w', 105],
        ['v', 105],
      ]),
      planned: apart.planned.map((p) => ({ ...plannedOf(apart, 'w')[0]!, workId: p.workId })),
    };
    const faults = checkPlan(two(), together).join(' ');
    expect(faults).to.contain('share a');
    expect(faults).to.contain('Ann does');
    const loads = { airM3h: 0.5, fuseA: 0.5 };
    expect(checkPlan(two(loads), apart).join(' ')).to.match(/air.*mains/);
  });

  it('reads by the hour what nothing else watches, stops it for the night and goes on in the morning', () => {
    const problem = shop([work('w', [charge([way('a', 'hourly', 700)]), hands(5)])]);
    const [run, after] = plannedOf(makePlan(problem, []), 'w');
    expect(run!.run!.on).to.deep.equal([
      { from: 5, to: 595 },
      { from: 1445, to: 1555 },
    ]);
    expect(run!.run!.readings.length).to.equal(9 + 1);
    expect(after!.from).to.be.at.least(run!.run!.off!.to);
  });

  it('lets an instrument run through the night, and takes off in the morning what holds by itself', () => {
    const through = (watch: Watch) =>
      plannedOf(
        makePlan(shop([work('w', [hands(400), charge([way('a', watch, 500)])])]), []),
        'w',
      )[1]!;
    for (const watch of ['off', 'none'] as const) {
      expect(through(watch).run!.on).to.deep.equal([{ from: 405, to: 905 }]);
      expect(through(watch).run!.off!.from).to.equal(1440);
    }
    // What rests after it: from its own end where it ends by itself, else from when it is taken off.
    expect(through('none').to).to.equal(905);
    expect(through('off').to).to.equal(1445);
  });

  it('never leaves a discharge alone: it begins early enough, or the next day', () => {
    const test = (middle: number): Run => ({
      ...charge([way('', 'near', middle, { postId: null, tool: 'discharge-load' })]),
    });
    const begins = (before: number, middle: number) =>
      plannedOf(makePlan(shop([work('w', [hands(before), test(middle)])]), []), 'w')[1]?.from;
    expect(begins(100, 400)).to.equal(100);
    expect(begins(300, 400)).to.equal(1440);
    const never = makePlan(shop([work('w', [hands(10), test(700)])]), []);
    expect(never.left).to.deep.equal([{ workId: 'w', index: 1, why: 'too-long' }]);
  });

  it('puts off what comes before, where something may not wait long after it', () => {
    // The only charger is free at 300; filled at once the battery would stand for hours.
    const problem = shop([work('w', [hands(20), charge([way('a', 'none', 100)], 0, 30)])], {
      posts: [{ id: 'a', name: 'a', about: '', out: [{ from: 0, to: 300 }] }],
    });
    const [fill, run] = plannedOf(makePlan(problem, []), 'w');
    expect(run!.from - fill!.to).to.be.within(0, 30);
    expect(run!.from).to.equal(300);
  });

  it('adds up gas and current over time, and waits where the sum would be too much', () => {
    const three = ['u', 'v', 'w'].map((id) =>
      work(id, [charge([way('a', 'none', 100), way('b', 'none', 100), way('c', 'none', 100)])]),
    );
    const posts = ['a', 'b', 'c'].map((id) => ({ id, name: id, about: '', out: [] }));
    const begins = (changed: Partial<PlanProblem>) =>
      makePlan(shop(three, { posts, ...changed }), [])
        .planned.map((p) => p.from)
        .sort((x, y) => x - y);
    expect(begins({})[2]).to.be.lessThan(20);
    expect(begins({ airM3h: 2.5 })[2]).to.be.at.least(100);
    expect(begins({ fuseA: 1.5 })[1]).to.be.at.least(100);
  });

  it('keeps more promises when it is made better, and never costs more', () => {
    let before = 0;
    let after = 0;
    for (let seed = 1; seed <= 8; seed++) {
      const problem = anyShop(seed * 7, { works: 12, posts: 5, people: 2, days: 4 });
      const first = propose(problem, usualOrder(problem));
      let steps = 0;
      const better = improve(problem, first, seeded(seed), () =>
        ++steps > 120 ? null : steps / 120,
      );
      expect(better.cost.total).to.be.at.most(first.cost.total);
      expect(checkPlan(problem, better.plan)).to.deep.equal([]);
      before += first.cost.total;
      after += better.cost.total;
    }
    expect(after).to.be.lessThan(before);
  });

  it('moves little of what was announced, and reads on one walk what is due about then', () => {
    const works = ['u', 'v', 'w'].map((id, i) =>
      work(id, [
        hands(5 + i),
        charge([way('a', 'hourly', 240), way('b', 'hourly', 240), way('c', 'hourly', 240)]),
      ]),
    );
    const posts = ['a', 'b', 'c'].map((id) => ({ id, name: id, about: '', out: [] }));
    const problem = shop(works, { posts });
    const plan = makePlan(problem, []);
    const readings = plan.planned.flatMap((p) => p.run?.readings ?? []).length;
    expect(readings).to.equal(9);
    expect(walksOf(plan).length).to.be.lessThan(9);
    const announced = new Map(plan.planned.map((p) => [`${p.workId}/${p.index}`, p]));
    expect(planCost(problem, plan, announced).moved).to.equal(0);
    const turned = makePlan(problem, ['w', 'v', 'u'], new Map([['u', 'c']]));
    expect(planCost(problem, turned, announced).moved).to.be.greaterThan(0);
  });

  it('says as the chance of a promise what comes of it when it is carried out again', () => {
    // Ready at 4 h in the middle, 3 to 6 h in eight of ten: promised at the ninth tenth, and so on.
    const spread = { low: 180, middle: 240, high: 360 };
    const kept = (at: number) => {
      const problem = shop(
        [work('w', [charge([way('a', 'none', 240, { minutes: spread })])], at)],
        { people: [{ id: 'ann', name: 'Ann', lead: true, there: [{ from: 0, to: 9000 }] }] },
      );
      return prospects(problem, makePlan(problem, []), seeded(3), 4000).get('w')!.kept!;
    };
    expect(kept(5 + 180)).to.be.closeTo(0.1, 0.02);
    expect(kept(5 + 240)).to.be.closeTo(0.5, 0.02);
    expect(kept(5 + 360)).to.be.closeTo(0.9, 0.02);
  });

  it('lets nobody wait for the turn of one that is late: the next that is ready has the tester', () => {
    // Both are tested in the morning, `slow` first; its charge may take until noon.
    const slow = way('a', 'none', 900, { minutes: { low: 880, middle: 900, high: 1900 } });
    const tested = (minutes: number) => hands(minutes, { tool: 'load-tester' });
    const problem = shop([
      work('slow', [charge([slow]), tested(30)]),
      work('quick', [charge([way('b', 'none', 900)]), tested(30)], 1440 + 120),
    ]);
    const { plan } = propose(problem, ['slow', 'quick']);
    expect(plannedOf(plan, 'slow')[1]!.from).to.be.lessThan(plannedOf(plan, 'quick')[1]!.from);
    const chances = prospects(problem, plan, seeded(1));
    expect(chances.get('quick')!.kept).to.be.greaterThan(0.9);
    expect(chances.get('slow')!.ready!.high).to.be.greaterThan(1800);
  });

  it('says chances as a person does, and what is to be done before the last one leaves', () => {
    expect([0.99, 0.95, 0.9, 0.52, 0.31, 0.04, 0].map(chanceWords)).to.deep.equal([
      'almost sure',
      '19 in 20',
      '9 in 10',
      '1 in 2',
      '3 in 10',
      '1 in 20',
      'hardly any',
    ]);
    const problem = shop([
      work('by-hand', [charge([way('a', 'hourly', 900)])]),
      work('holds', [hands(30), charge([way('b', 'off', 600)])]),
    ]);
    const told = tellPlan(problem, propose(problem, []));
    expect(leavings(told).map((l) => [l.work.id, l.what, l.again])).to.deep.equal([
      ['by-hand', 'off', 1445],
      ['holds', 'stays', null],
    ]);
  });
});

describe('what a job asks of the shop', () => {
  const rules = { ...DEFAULT_RULES, timeZone: 'UTC' };
  const chargers: ShopCharger[] = CHARGER_TEMPLATES.map((t) => ({
    ...t.facts,
    name: t.key,
    id: t.key,
    standing: 'ready',
    standingSince: 0,
  }));
  const people = [{ id: 'ann', name: 'Ann', role: 'lead' as const }];
  const bench = { rules, people, chargers };
  const activities = (d: Driver) =>
    activitiesOf(d.job, d.now, bench, d.job.state.charge ? 'supply#1' : null, (job) =>
      waysOf(job, bench),
    );

  it('is its procedure: hands in one go, waits between, a charge where a charger fits, one load tester', () => {
    const all = activities(new Driver());
    expect(all.map((a) => a.kind)).to.deep.equal(['hands', 'hands', 'run', 'hands', 'hands']);
    const [open, lift, run, close, judge] = all as [Hands, Hands, Run, Hands, Hands];
    expect(open.stepIds).to.deep.equal(['identify', 'foil', 'pack', 'safe', 'fill', 'bubbles']);
    // The pack's half hour counts from the filling, not from the look at the bubbles.
    expect(lift.gap.least).to.equal(28);
    expect(run.gap).to.include({ least: 120, most: 120 + 24 * 60 });
    expect([run.gap.as?.kind, run.as?.kind]).to.deep.equal(['soak', 'charge']);
    expect(run.ways.map((w) => [w.postId, w.watch])).to.deep.include.members([
      ['supply#1', 'hourly'],
      ['automatic-1#1', 'off'],
    ]);
    // 4 A is C/3 of 12 Ah.
    expect(run.ways.some((w) => w.postId === 'automatic-4#1')).to.equal(false);
    expect(close.gap.least).to.be.greaterThan(0);
    expect(judge.gap.least).to.equal(60);
    expect(judge.tool).to.equal('load-tester');
  });

  it('goes on from where it stands: what is left of a wait, of a charge under way, and what a lead has to say', () => {
    const soaking = new Driver().to('soak').wait(50 * MINUTE);
    expect((activities(soaking)[0] as Run).gap.least).to.equal(70);
    const charging = new Driver().to('charge').startCharge();
    const whole = activities(charging)[0] as Run;
    expect(whole.since).to.equal(0);
    charging.wait(3 * HOUR);
    const left = activities(charging)[0] as Run;
    expect(left.since).to.equal(-180);
    expect(left.ways[0]!.minutes.middle).to.be.closeTo(whole.ways[0]!.minutes.middle - 180, 1);
    const stuck = new Driver().to('charge').startCharge();
    stuck.send({ type: 'escalate', reason: 'It smells' });
    expect(activities(stuck)[0]).to.include({ kind: 'hands', lead: true });
  });

  const diagnosed = (voltageV: number) => {
    const d = new Driver(BY_KIND['flooded-dry'], rules, 'recover').to('arrival');
    const values = { voltageV, temperatureC: 20 };
    d.send({ type: 'read', role: 'arrival', values, sure: true });
    return d;
  };
  it('is no charger for one that no route is open for: only its sign-off', () => {
    expect(activities(diagnosed(11.4)).map((a) => a.kind)).to.include('run');
    expect(activities(diagnosed(-11.4)).map((a) => a.kind)).to.deep.equal(['hands']);
  });

  it('keeps no promise of one that no route is open for, however early it is signed off', () => {
    const jobs = [11.4, -11.4].map((voltageV) => ({
      id: `at ${voltageV}`,
      tag: `T-${voltageV}`,
      whose: 'Somebody',
      promisedAt: START + 30 * 24 * HOUR,
      job: diagnosed(voltageV).job,
    }));
    const problem = planProblem(bench, jobs, START + HOUR, 240);
    const told = tellPlan(problem, propose(problem, usualOrder(problem)));
    const [open, closed] = ['at 11.4', 'at -11.4'].map((id) =>
      told.works.find((w) => w.id === id)!,
    );
    expect(open!.kept).to.be.greaterThan(0.9);
    expect(closed).to.include({ kept: 0, ready: null });
    expect(closed!.tasks).to.have.length(1);
    const [alert, ...others] = planAlerts(told, null, told.from, DEFAULT_RULES);
    expect(alert?.says).to.match(/^T--11.4, promised for .*: hardly any by the plan$/);
    expect(others).to.deep.equal([]);
  });

  it('is planned from many jobs and keeps the rules: nothing on two chargers, nothing at night without a watch', () => {
    const jobs = Array.from({ length: 14 }, (_, i) => {
      const d = new Driver();
      return {
        id: `j${i}`,
        tag: `T-${i}`,
        whose: 'Somebody',
        promisedAt: START + (10 + 4 * i) * HOUR,
        job: d.job,
      };
    });
    const problem = planProblem(bench, jobs, START, 72);
    const proposal = propose(problem, usualOrder(problem));
    expect(checkPlan(problem, proposal.plan)).to.deep.equal([]);
    // Three chargers fit such a small one: what they do not reach in three days is said to want a charger.
    expect(proposal.plan.ready.size).to.be.within(6, 9);
    expect(new Set(proposal.plan.left.map((l) => l.why))).to.deep.equal(
      new Set(['beyond', 'no-post']),
    );
    const told = tellPlan(problem, proposal);
    for (const w of told.works)
      expect(w.ready === null, w.tag).to.equal(w.left !== null && w.left.why !== 'beyond');
  });
});
