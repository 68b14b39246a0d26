import { expect } from 'chai';
import { plannedByKey } from '../../src/core/dayplan/chance.ts';
import { checkPlan } from '../../src/core/dayplan/checkPlan.ts';
import { planDifference } from '../../src/core/dayplan/difference.ts';
import { helpsFor } from '../../src/core/dayplan/helps.ts';
import { propose } from '../../src/core/dayplan/improve.ts';
import { explainedMoves, type MoveWhy } from '../../src/core/dayplan/moves.ts';
import { usualOrder } from '../../src/core/dayplan/order.ts';
import { type Pin, withPins } from '../../src/core/dayplan/pins.ts';
import { planAlerts } from '../../src/core/dayplan/planAlerts.ts';
import { planProblem } from '../../src/core/dayplan/shopWork.ts';
import { moveWhyWords, supposedWords } from '../../src/core/dayplan/planWords.ts';
import type { Planned, PlanProblem } from '../../src/core/dayplan/problem.ts';
import { suppose, type Supposed } from '../../src/core/dayplan/suppose.ts';
import { keptPin, tellPlan, type ToldPlan } from '../../src/core/dayplan/told.ts';
import { type Upkeep, upkeepWorks } from '../../src/core/dayplan/upkeep.ts';
import { waysOf } from '../../src/core/dayplan/ways.ts';
import type { Outage, ShopCharger } from '../../src/core/chargers/charger.ts';
import { optionOf } from '../../src/core/chargers/fit.ts';
import { chargerFaultWords } from '../../src/core/chargers/fitWords.ts';
import { CHARGER_TEMPLATES } from '../../src/core/chargers/templates.ts';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';
import { type PastPromise, promisesKept } from '../../src/core/results/promises.ts';
import { chargerNeed } from '../../src/core/recovery/chargerNeed.ts';
import { serviceSeason } from '../../src/core/storage/services.ts';
import { standingOf } from '../../src/core/storage/stock.ts';
import { BY_KIND, Driver, HOUR, PLAIN, START } from '../support/battery.ts';
import { anyShop } from '../support/anyShop.ts';
import { charge, hands, shop, way, work } from '../support/smallShop.ts';

const WALL = { timeZone: 'UTC', hour12: false, dateOrder: 'DMY' } as never;
/** START is a day's eight o'clock, and minute 0. */
const dayOf = (day: string) => {
  const from = Math.round((Date.parse(`${day}T00:00:00Z`) - START) / 60_000);
  return { from, to: from + 1440 };
};
const told = (problem: PlanProblem, order = usualOrder(problem)): ToldPlan =>
  tellPlan(problem, propose(problem, order));
const beginsAt = (plan: ToldPlan, id: string): number =>
  plan.works.find((w) => w.id === id)!.tasks[0]!.from;

/** Two batteries that may only charge at one place, four hours each. */
const twoAtOne = (changed: Partial<PlanProblem> = {}): PlanProblem =>
  shop(
    [
      work('x', [charge([way('a', 'none', 240)])], 400),
      work('y', [charge([way('a', 'none', 240)])], 400),
    ],
    changed,
  );

describe('a day plan that is otherwise', () => {
  it('is made for each thing that can be supposed, and keeps every rule', () => {
    for (let seed = 1; seed <= 60; seed++) {
      const problem = anyShop(seed, { works: 6, posts: 3, people: 2, days: 4 });
      const cases: Supposed[] = [
        { kind: 'another', like: 'c0' },
        { kind: 'out', postId: 'c0', day: '2026-03-11' },
        { kind: 'closed', day: '2026-03-11' },
        { kind: 'away', personId: 'p0', day: '2026-03-10' },
        { kind: 'longer', day: '2026-03-10' },
        { kind: 'rush', workId: 'w0' },
      ];
      for (const supposed of cases) {
        const other = suppose(problem, supposed, dayOf);
        const { plan } = propose(other, usualOrder(other));
        expect(checkPlan(other, plan), `${seed} ${supposed.kind}`).to.deep.equal([]);
      }
    }
  });

  it('has one charger more, one less, a day nobody comes, an evening that is longer', () => {
    const problem = twoAtOne();
    const first = told(problem);
    expect(beginsAt(first, 'y')).to.be.greaterThan(240);
    const another = told(suppose(problem, { kind: 'another', like: 'a' }, dayOf));
    expect(beginsAt(another, 'y')).to.be.lessThan(30);
    expect(another.posts.map((p) => p.name)).to.include('Another a');
    const out = told(suppose(problem, { kind: 'out', postId: 'a', day: '2026-03-10' }, dayOf));
    expect(out.works.every((w) => w.left?.why === 'no-post')).to.equal(true);
    const closed = suppose(problem, { kind: 'closed', day: '2026-03-11' }, dayOf);
    expect(closed.people[0]!.there.map((s) => s.from)).to.deep.equal([0, 2880, 4320]);
    const longer = suppose(problem, { kind: 'longer', day: '2026-03-11' }, dayOf);
    expect(longer.people[0]!.there.map((s) => s.to)).to.deep.equal([600, 2100, 3480, 4920]);
    // A break is no end of a day: only the last stretch is longer.
    const people = [
      {
        id: 'ann',
        name: 'Ann',
        lead: true,
        there: [
          { from: 0, to: 240 },
          { from: 270, to: 600 },
        ],
      },
    ];
    const broken = suppose({ ...problem, people }, { kind: 'longer', day: '2026-03-10' }, dayOf);
    expect(broken.people[0]!.there).to.deep.equal([
      { from: 0, to: 240 },
      { from: 270, to: 660 },
    ]);
  });

  it('puts one before all others, and says who pays for it', () => {
    const problem = twoAtOne();
    const rush = told(suppose(problem, { kind: 'rush', workId: 'y' }, dayOf));
    expect(beginsAt(rush, 'y')).to.be.lessThan(beginsAt(rush, 'x'));
    expect(rush.works.find((w) => w.id === 'y')!.set?.rush).to.equal(true);
    const { promises, others } = planDifference(told(problem), rush);
    expect(promises.map((p) => [p.work.id, p.after > p.before])).to.deep.equal([
      ['x', false],
      ['y', true],
    ]);
    expect(others).to.deep.equal([]);
    // Kept, it is a pin like any other.
    const pin: Pin = { jobId: 'y', postId: null, notBefore: null, forbidden: [], rush: true };
    const kept = told(withPins(problem, [pin]));
    expect(beginsAt(kept, 'y')).to.equal(beginsAt(rush, 'y'));
    // What was set for it before is what a further wish begins from: nothing of it is lost.
    const before: Pin = { ...pin, postId: 'a', notBefore: START + 6 * HOUR, forbidden: ['b'] };
    const plan = told(withPins(problem, [before]));
    expect(
      keptPin(
        plan,
        plan.works.find((w) => w.id === 'y')!,
      ),
    ).to.deep.equal(before);
    expect(keptPin(plan, { id: 'x', set: null }).rush).to.equal(false);
  });

  it('finds what helps a promise that is not safe: going first costs the other, a charger more costs nobody', () => {
    const problem = twoAtOne();
    const helps = helpsFor(problem, propose(problem, usualOrder(problem)), 'y', {
      dayOf,
      timeZone: 'UTC',
    });
    const by = new Map(helps.map((h) => [h.supposed.kind, h]));
    expect(by.get('another')!.kept).to.be.greaterThan(0.9);
    expect(by.get('another')!.suffers).to.deep.equal([]);
    expect(by.get('rush')!.suffers.map((s) => s.workId)).to.deep.equal(['x']);
    expect(by.has('longer'), 'an instrument needs nobody in the evening').to.equal(false);
    const none = shop([work('z', [hands(30)], 5)]);
    expect(
      helpsFor(none, propose(none, ['z']), 'z', { dayOf, timeZone: 'UTC' }),
      'work of half an hour is not done in five minutes',
    ).to.deep.equal([]);
  });

  it('says in words what is supposed', () => {
    const plan = told(twoAtOne());
    const said = (supposed: Supposed) => supposedWords(plan, supposed, WALL);
    expect(said({ kind: 'another', like: 'a' })).to.equal('one more a');
    expect(said({ kind: 'out', postId: 'b', day: '2026-03-12' })).to.equal(
      'b out of order from Thu 12',
    );
    expect(said({ kind: 'closed', day: '2026-03-14' })).to.equal('closed on Sat 14');
    expect(said({ kind: 'away', personId: 'ann', day: '2026-03-11' })).to.equal(
      'Ann away on Wed 11',
    );
    expect(said({ kind: 'rush', workId: 'y' })).to.equal('y before everything else');
  });
});

describe('what has moved in a day plan', () => {
  const announcedOf = (problem: PlanProblem) =>
    plannedByKey(propose(problem, usualOrder(problem)).plan);
  const whysOf = (problem: PlanProblem, announced: ReadonlyMap<string, Planned>) =>
    new Map(
      explainedMoves(problem, propose(problem, usualOrder(problem)).plan, announced).map(
        (m): [string, MoveWhy] => [m.after.workId, m.why],
      ),
    );

  it('says the charger that broke, the person who is ill, what was set by hand', () => {
    const either = shop([work('x', [charge([way('a', 'none', 240), way('b', 'none', 300)])], 400)]);
    const announced = announcedOf(either);
    const broken = suppose(either, { kind: 'out', postId: 'a', day: '2026-03-10' }, dayOf);
    expect(whysOf(broken, announced).get('x')).to.deep.equal({ kind: 'charger-out', postId: 'a' });
    const ill = suppose(either, { kind: 'away', personId: 'ann', day: '2026-03-10' }, dayOf);
    expect(whysOf(ill, announced).get('x')).to.deep.equal({ kind: 'away', personId: 'ann' });
    const pin: Pin = { jobId: 'x', postId: 'b', notBefore: null, forbidden: [], rush: false };
    expect(whysOf(withPins(either, [pin]), announced).get('x')).to.deep.equal({ kind: 'by-hand' });
    expect(whysOf(either, announced).size, 'nothing has moved').to.equal(0);
  });

  it('says what came before it, and what is sooner', () => {
    const soon = shop([work('x', [hands(30), hands(30, { lead: true })])]);
    const late = shop([work('x', [hands(120), hands(30, { lead: true })])]);
    expect(whysOf(late, announcedOf(soon)).get('x')).to.deep.equal({ kind: 'before-it' });
    expect(whysOf(soon, announcedOf(late)).get('x')).to.deep.equal({ kind: 'sooner' });
    // The plan is made later, and its hour has gone by.
    const gone = new Map(
      [...announcedOf(soon)].map(([key, p]) => [key, { ...p, from: p.from - 60, to: p.to - 60 }]),
    );
    expect(whysOf(soon, gone).get('x')).to.deep.equal({ kind: 'not-begun' });
  });

  it('says what came in and stands at its place', () => {
    const alone = shop([work('x', [charge([way('a', 'none', 240)])], 900)]);
    const announced = announcedOf(alone);
    const came = shop([...alone.works, work('new', [charge([way('a', 'none', 240)])], 300)]);
    expect(whysOf(came, announced).get('x')).to.deep.equal({ kind: 'place-taken', workId: 'new' });
    expect(moveWhyWords(told(came), { kind: 'place-taken', workId: 'new' })).to.equal(
      'new is there first',
    );
  });
});

const rules = { ...DEFAULT_RULES, timeZone: 'UTC' };
const chargers = CHARGER_TEMPLATES.map((t) => ({
  ...t.facts,
  name: t.key,
  id: t.key,
  standing: 'ready' as const,
  standingSince: 0,
}));
const bench = { rules, people: [{ id: 'ann', name: 'Ann', role: 'lead' as const }], chargers };

describe('what the shop owes its stock, in the day plan', () => {
  const DAY = 24 * HOUR;
  const model = BY_KIND['agm-sealed'];
  const standing = (id: string, chargedAt: number, volts: number, readAt: number) => ({
    model,
    standing: standingOf(
      {
        batteryId: id,
        tag: id,
        modelCode: model.code,
        kind: model.kind,
        cells: model.cells,
        since: chargedAt,
        chargedAt,
        readings: [{ at: readAt, voltageV: volts }],
        jobId: null,
      },
      rules,
      START,
    ),
  });
  const worksOf = (
    shelf: ReturnType<typeof standing>[],
    claims: { id: string; tag: string; sendBy: string }[] = [],
    services: Upkeep['services'] = null,
  ) =>
    upkeepWorks({ shelf, claims, services }, bench, START, 7 * 1440, (job) => waysOf(job, bench));

  it('recharges what is due, reads what is to be read on one round a day, and not before', () => {
    const fresh = standing('FRESH', START - DAY, 12.9, START - DAY);
    const low = standing('LOW', START - 90 * DAY, 12.2, START - HOUR);
    const works = worksOf([fresh, low]);
    const recharge = works.find((w) => w.of === 'recharge')!;
    expect(recharge).to.include({ tag: 'LOW', promise: null });
    expect(recharge.activities.some((a) => a.kind === 'run' && a.ways.length > 0)).to.equal(true);
    expect(works.filter((w) => w.tag === 'FRESH')).to.deep.equal([]);
    // Two that were read a month ago, and one that is to be read in three days.
    const month = 31 * DAY;
    const due = ['A', 'B'].map((id) => standing(id, START - month, 12.85, START - month));
    const soon = standing(
      'C',
      START - month,
      12.85,
      START - due[0]!.standing.checkAt + due[0]!.standing.item.readings[0]!.at + 3 * DAY,
    );
    const rounds = worksOf([...due, soon]).filter((w) => w.of === 'round');
    expect(rounds.map((w) => [w.activities[0]!.what, w.activities[0]!.gap.least])).to.deep.equal([
      ['read 2 on the shelf', 0],
      ['read 1 on the shelf', 3 * 1440],
    ]);
  });

  it('sends a claim by its day, in the hours the shop is open', () => {
    const works = worksOf(
      [],
      [
        { id: 'c1', tag: 'T-1', sendBy: '2026-03-12' },
        { id: 'c2', tag: 'T-2', sendBy: '2026-05-01' },
      ],
    );
    expect(works.map((w) => [w.of, w.tag])).to.deep.equal([['claim', 'T-1']]);
    expect(works[0]!.promise!.at).to.equal(2 * 1440 + rules.hours.to - 8 * 60);
  });
});

describe('owners to be asked in', () => {
  const upTo = (services: Upkeep['services']) =>
    upkeepWorks({ shelf: [], claims: [], services }, bench, START, 1440, () => []);
  const seasonAt = (day: string, serviceMonths: number[]) =>
    serviceSeason({ serviceMonths, timeZone: 'UTC' }, Date.parse(`${day}T12:00:00Z`));

  it('are one round of calls, as long as there are owners, and none between seasons', () => {
    expect(upTo(null)).to.deep.equal([]);
    expect(upTo({ count: 0, from: '2026-03-01', name: 'March' })).to.deep.equal([]);
    const [calls] = upTo({ count: 4, from: '2026-03-01', name: 'March' });
    expect([calls!.of, calls!.activities[0]!.what]).to.deep.equal([
      'services',
      'ask for 4 batteries',
    ]);
    const [many] = upTo({ count: 400, from: '2026-03-01', name: 'March' });
    expect((many!.activities[0] as { minutes: number }).minutes).to.equal(45);
  });

  it('belong to the season that has begun, for two months, over the turn of a year too', () => {
    expect(seasonAt('2026-03-10', [3, 9])).to.include({ from: '2026-03-01', name: 'March' });
    expect(seasonAt('2026-04-30', [3, 9])!.from).to.equal('2026-03-01');
    expect(seasonAt('2026-05-01', [3, 9])).to.equal(null);
    expect(seasonAt('2026-01-15', [12])!.from).to.equal('2025-12-01');
    expect(seasonAt('2026-03-10', [])).to.equal(null);
  });
});

describe('a charger that is away on a day', () => {
  const [template] = CHARGER_TEMPLATES;
  const away = (outages: Outage[], standing: ShopCharger['standing'] = 'ready'): ShopCharger => ({
    ...template!.facts,
    id: 'c',
    name: 'C',
    standing,
    standingSince: START,
    outages,
  });
  const outOf = (charger: ShopCharger) =>
    planProblem({ rules, people: [], chargers: [charger] }, [], START, 72, () => []).posts[0]!.out;

  it('takes no charge from the first of its days to the end of the last', () => {
    expect(outOf(away([]))).to.deep.equal([]);
    const day = { from: '2026-03-12', to: '2026-03-12', why: '' };
    expect(outOf(away([day]))).to.deep.equal([dayOf('2026-03-12')]);
    // Begun already, joined with the next, and nothing of what is over or beyond.
    const days = [
      { from: '2026-03-01', to: '2026-03-10', why: '' },
      { from: '2026-03-11', to: '2026-03-11', why: '' },
      { from: '2026-02-01', to: '2026-02-02', why: '' },
      { from: '2026-04-01', to: '2026-04-02', why: '' },
    ];
    expect(outOf(away(days))).to.deep.equal([{ from: 0, to: dayOf('2026-03-11').to }]);
    expect(outOf(away([], 'out-of-order'))).to.deep.equal([{ from: 0, to: 72 * 60 + 1 }]);
  });

  it('is not offered for a charge on that day, and says why', () => {
    const charger = away([{ from: '2026-03-12', to: '2026-03-13', why: 'at its test' }]);
    const need = { ...chargerNeed(new Driver(PLAIN).job), nominalV: 12 };
    const faultsOn = (day?: string) =>
      optionOf(charger, null, null, { ...need, ...(day ? { day } : {}) })
        .faults.filter((f) => f.kind === 'away')
        .map(chargerFaultWords);
    expect(faultsOn('2026-03-13')).to.deep.equal(['Away today: at its test.']);
    expect(faultsOn('2026-03-14')).to.deep.equal([]);
    expect(faultsOn()).to.deep.equal([]);
  });
});

describe('what somebody who goes by the plan is told', () => {
  const problem = shop([
    work('x', [hands(10, { gap: { least: 30, most: null } })]),
    { ...work('y', [charge([way('a', 'none', 400)])]), promise: { at: 120, weight: 1 } },
  ]);
  const plan = told(problem);
  const momentAt = (minute: number) => START + minute * 60_000;
  const keys = (minute: number, who: string | null = 'ann') =>
    planAlerts(plan, who, momentAt(minute), WALL).map((a) => a.key);

  it('is theirs from five minutes before until it is over', () => {
    const task = beginsAt(plan, 'x');
    const tasksTold = (minute: number, who?: string | null) =>
      keys(minute, who).filter((k) => k.startsWith('task') && k.includes('work'));
    expect(tasksTold(task - 6)).to.deep.equal([]);
    expect(tasksTold(task - 5))
      .to.deep.equal(tasksTold(task + 9))
      .and.to.have.length(1);
    expect(tasksTold(task + 10)).to.deep.equal([]);
    expect(tasksTold(task, 'bob')).to.deep.equal([]);
  });

  it('names promises that the plan does not keep, until their hour has come', () => {
    expect(keys(0, null)).to.deep.equal(['promise y']);
    expect(planAlerts(plan, null, momentAt(0), WALL)[0]!.says).to.match(
      /^y, promised for 10:00: hardly/,
    );
    expect(keys(121, null)).to.deep.equal([]);
  });
});

describe('promises that have come', () => {
  const past = (said: number, kept: boolean, i: number): PastPromise => ({
    jobId: `j${i}`,
    tag: `T-${i}`,
    owner: '',
    promisedAt: START + i * HOUR,
    saidAt: START - HOUR,
    said,
    middle: START,
    readyAt: kept ? START + i * HOUR : i % 2 === 0 ? null : START + (i + 3) * HOUR,
  });

  it('are counted by the chance that was said, with what so few leave open', () => {
    const good = Array.from({ length: 50 }, (_, i) => past(0.8, i % 5 !== 0, i));
    const { all, bands } = promisesKept(good);
    expect([all.hits, all.of]).to.deep.equal([40, 50]);
    expect(bands.map((b) => [b.from, b.says])).to.deep.equal([[0.75, 'fits']]);
    const sure = promisesKept(good.map((p) => ({ ...p, said: 0.97 })));
    expect(sure.bands.map((b) => [b.from, b.says])).to.deep.equal([[0.9, 'too-sure']]);
    const careful = promisesKept(good.map((p) => ({ ...p, said: 0.4 })));
    expect(careful.bands[0]!.says).to.equal('too-careful');
    expect(promisesKept(good.slice(0, 4)).bands[0]!.says).to.equal('too-few');
    expect(promisesKept([]).bands).to.deep.equal([]);
  });

  it('stand with those that were broken first, the latest before the others', () => {
    const { past: listed } = promisesKept([
      past(0.9, true, 9),
      past(0.9, false, 2),
      past(0.9, false, 5),
    ]);
    expect(listed.map((p) => p.tag)).to.deep.equal(['T-5', 'T-2', 'T-9']);
  });
});
