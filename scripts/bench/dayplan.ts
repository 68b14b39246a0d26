import { plannedByKey, prospects } from '../../src/core/dayplan/chance.ts';
import { checkPlan } from '../../src/core/dayplan/checkPlan.ts';
import { improve, type Proposal, propose } from '../../src/core/dayplan/improve.ts';
import { allowed } from '../../src/core/dayplan/makePlan.ts';
import { byPromise, usualOrder } from '../../src/core/dayplan/order.ts';
import type { PlanProblem } from '../../src/core/dayplan/problem.ts';
import { seeded } from '../../src/core/simulation/random.ts';
import { suppose } from '../../src/core/dayplan/suppose.ts';
import { tellPlan } from '../../src/core/dayplan/told.ts';
import { anyShop } from '../../test/support/anyShop.ts';
import { say, title } from './figures.ts';
import { latenessOf, leastLateness } from './optimum.ts';
import { type Said, runWeek } from './weekRun.ts';
import { anyWeek } from './weeks.ts';

/** Seconds a plan is made better in the application. */
const BETTER_S = 2.5;

function timed<T>(work: () => T): { value: T; ms: number } {
  const from = performance.now();
  const value = work();
  return { value, ms: performance.now() - from };
}

const betterFor = (problem: PlanProblem, first: Proposal, seconds: number): Proposal => {
  const from = performance.now();
  return improve(problem, first, seeded(1), () => {
    const used = (performance.now() - from) / (1000 * seconds);
    return used >= 1 ? null : used;
  });
};

/** How well weeks are planned, beside what a careful person would do by hand, and how fast. */
export async function benchDayPlan(): Promise<void> {
  const names = ['first come, first served', 'by promise', 'first answer', 'settled'] as const;
  const sums = names.map(() => ({ late: 0, lateMin: 0, walks: 0, left: 0, faults: 0 }));
  let promises = 0;
  let firstMs = 0;
  for (let seed = 1; seed <= 20; seed++) {
    const problem = anyWeek(seed, { works: 40, posts: 16, people: 3, days: 6 });
    promises += problem.works.filter((w) => w.promise).length;
    const first = timed(() => propose(problem, usualOrder(problem)));
    firstMs = Math.max(firstMs, first.ms);
    const made = [
      propose(
        problem,
        problem.works.map((w) => w.id),
      ),
      propose(problem, byPromise(problem)),
      first.value,
      betterFor(problem, first.value, BETTER_S),
    ];
    for (const [i, { cost, plan }] of made.entries()) {
      const sum = sums[i] as (typeof sums)[number];
      sum.late += cost.late;
      sum.lateMin += cost.lateMin;
      sum.walks += cost.walks;
      sum.left += cost.left;
      sum.faults += checkPlan(problem, plan).length;
    }
  }
  title(`Twenty weeks of 40 batteries, 16 chargers, 3 people, ${promises} promises`);
  for (const [i, name] of names.entries()) {
    const { late, lateMin, walks, left, faults } = sums[i] as (typeof sums)[number];
    say(
      name,
      `${promises - late} kept`,
      `late ${Math.round(lateMin / 60)} h in all, ${walks} walks, ${left} not planned, ${faults} rules broken`,
    );
  }

  const large = anyWeek(3, { works: 200, posts: 32, people: 4, days: 8 });
  const largeFirst = timed(() => propose(large, usualOrder(large)));
  const largeBest = timed(() => betterFor(large, largeFirst.value, 9));
  const forty = anyWeek(2, { works: 40, posts: 16, people: 3, days: 3 });
  const plan = propose(forty, usualOrder(forty));
  const draws = timed(() => prospects(forty, plan.plan, seeded(1)));
  const check = timed(() => checkPlan(forty, plan.plan));
  const [firstPost] = forty.posts;
  const changed = firstPost
    ? suppose(forty, { kind: 'out', postId: firstPost.id, day: '' }, () => ({ from: 0, to: 0 }))
    : forty;
  const again = timed(() =>
    tellPlan(
      changed,
      propose(changed, plan.order, plan.posts, plannedByKey(plan.plan)),
      plannedByKey(plan.plan),
    ),
  );
  title('Speed');
  say(
    'planned anew after a charger broke, chances and check with it',
    `${again.ms.toFixed(0)} ms`,
    'aim < 500 ms',
  );
  say('first answer, 40 × 16, worst of twenty', `${firstMs.toFixed(0)} ms`, 'aim < 150 ms');
  say('chances of 40, 500 draws', `${draws.ms.toFixed(0)} ms`);
  say('the check of it', `${check.ms.toFixed(0)} ms`);
  say('first answer, 200 × 32, a week', `${largeFirst.ms.toFixed(0)} ms`);
  say(
    'settled, 200 × 32, a week',
    `${(largeBest.ms / 1000).toFixed(1)} s`,
    `aim < 10 s; cost ${largeFirst.value.cost.total.toFixed(0)} to ${largeBest.value.cost.total.toFixed(0)}`,
  );

  benchChances();
  await benchOptimum();

  let broken = 0;
  let planned = 0;
  const shops = 5000;
  const random = timed(() => {
    for (let seed = 1; seed <= shops; seed++) {
      const problem = anyShop(100_000 + seed, {
        works: 1 + (seed % 15),
        posts: 1 + (seed % 7),
        people: 1 + (seed % 3),
        days: 2 + (seed % 5),
      });
      const made = propose(problem, usualOrder(problem));
      planned += made.plan.planned.length;
      if (checkPlan(problem, made.plan).length > 0) broken += 1;
    }
  });
  title('Random shops through planner and check');
  say('shops', String(shops), `${planned} activities, ${(random.ms / 1000).toFixed(0)} s`);
  say('with a rule broken', String(broken), 'aim 0');
}

/** Small shops whose best plan can be proven, and for how long the engine may try each, ms. */
const SMALL_SHOPS = 14;
const PROVE_MS = 60_000;

/** How far from the best a settled plan of up to ten batteries is, where an engine has proven what is best. */
async function benchOptimum(): Promise<void> {
  let [ours, byHand, least, proven, equal] = [0, 0, 0, 0, 0];
  for (let seed = 1; seed <= SMALL_SHOPS; seed++) {
    const problem = smallShop(seed);
    const best = betterFor(problem, propose(problem, usualOrder(problem)), BETTER_S);
    const cost = latenessOf(problem, best.plan.ready);
    const found = await leastLateness(problem, cost, allowed, PROVE_MS);
    if (!found.proven || found.cost === null) continue;
    proven += 1;
    ours += cost;
    least += found.cost;
    byHand += latenessOf(problem, propose(problem, byPromise(problem)).plan.ready);
    if (cost <= found.cost) equal += 1;
  }
  title(
    `Lateness of ${SMALL_SHOPS} shops of up to ten batteries, beside what an engine proves to be least`,
  );
  say('proven', `${proven} of ${SMALL_SHOPS}`, `as good as can be: ${equal}`);
  say('least', `${least} min`, 'late minutes, a broken promise an hour more');
  say('settled', `${ours} min`, `${(100 * (ours / least - 1)).toFixed(1)} % more; aim < 5 %`);
  say('by promise', `${byHand} min`);
}

/** A shop that is too small for its work, of chargers that nobody has to read: the engine knows no others. */
function smallShop(seed: number): PlanProblem {
  const week = anyWeek(900 + seed, {
    works: 8 + (seed % 3),
    posts: 3 + (seed % 2),
    people: 1 + (seed % 2),
    days: 9,
  });
  const works = week.works
    .map((work) => ({
      ...work,
      activities: work.activities.map((a) =>
        a.kind === 'run' ? { ...a, ways: a.ways.filter((w) => w.watch !== 'hourly') } : a,
      ),
    }))
    .filter((w) => w.activities.every((a) => a.kind === 'hands' || a.ways.length > 0));
  return { ...week, works, airM3h: 100, fuseA: 1000 };
}

/** Weeks that are worked through, each with as many promises as it has. */
const WEEKS = 40;

/** What was said of promises at each opening, and how many of them were kept when the week was worked through. */
function benchChances(): void {
  const from = performance.now();
  const said = Array.from({ length: WEEKS }, (_, i) =>
    runWeek(anyWeek(500 + i, { works: 24, posts: 8, people: 3, days: 5 }), i),
  ).flat();
  title(`Chances: ${WEEKS} weeks worked through, planned anew each hour, ${said.length} sayings`);
  for (let low = 0; low < 10; low += 1) {
    const those = said.filter((s) => s.chance >= low / 10 - 0.05 && s.chance < low / 10 + 0.05);
    sayBand(`said about ${low * 10} %`, those);
  }
  sayBand(
    'said 95 % or more',
    said.filter((s) => s.chance >= 0.95),
  );
  sayBand(
    'said 75 to 85 %',
    said.filter((s) => s.chance >= 0.75 && s.chance <= 0.85),
    'aim 74 to 86 %',
  );
  say('time', `${((performance.now() - from) / 1000).toFixed(0)} s`);
}

function sayBand(name: string, those: readonly Said[], aim = ''): void {
  if (those.length === 0) return;
  const kept = those.filter((s) => s.kept).length;
  say(
    name,
    `${((100 * kept) / those.length).toFixed(0)} % kept`,
    `${kept} of ${those.length} ${aim}`,
  );
}
