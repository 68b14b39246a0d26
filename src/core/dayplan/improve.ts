import type { Random } from '../simulation/random.ts';
import { lateBy, planCost, type PlanCost } from './cost.ts';
import { makePlan } from './makePlan.ts';
import type { DayPlan, Planned, PlanProblem } from './problem.ts';

/** A plan with what makes it again: in which order the works are taken, and which posts were asked for. */
export interface Proposal {
  order: readonly string[];
  posts: ReadonlyMap<string, string>;
  plan: DayPlan;
  cost: PlanCost;
}

export function propose(
  problem: PlanProblem,
  order: readonly string[],
  posts: ReadonlyMap<string, string> = new Map(),
  announced: ReadonlyMap<string, Planned> = new Map(),
): Proposal {
  const plan = makePlan(problem, order, posts);
  return { order, posts, plan, cost: planCost(problem, plan, announced) };
}

/** So many steps in a row that find nothing better end the search; far fewer do where every promise is kept. */
const ENOUGH_STEPS = 400;
const ENOUGH_WHERE_KEPT = 60;
/** Late works are taken forward more often than others. */
const LATE_FIRST = 0.6;
/** So often a step asks for another post instead of another turn. */
const OTHER_POST = 0.35;
/** A plan that costs a little more is gone on from at first, so that the search does not sit in the first hollow; none at the end. */
const WARMTH = 0.02;

/**
 * Makes a plan cheaper step by step: a work is taken earlier, swapped, or put at another charger, and the plan made anew.
 * Never gives back a dearer one.
 *
 * @param goOn asked before each step with the share of time that is used, 0–1; null ends it
 */
export function improve(
  problem: PlanProblem,
  from: Proposal,
  random: Random,
  goOn: () => number | null,
  announced: ReadonlyMap<string, Planned> = new Map(),
): Proposal {
  let best = from;
  let now = from;
  if (problem.works.length === 0) return best;
  let since = 0;
  for (let used = goOn(); used !== null; used = goOn()) {
    const kept = best.cost.late === 0 && best.cost.left === 0;
    if (++since > (kept ? ENOUGH_WHERE_KEPT : ENOUGH_STEPS)) break;
    const next = neighbour(problem, now, random);
    const tried = propose(problem, next.order, next.posts, announced);
    const slack = WARMTH * (1 - used) * Math.max(60, best.cost.total) * random.even();
    if (tried.cost.total <= now.cost.total + slack) now = tried;
    if (tried.cost.total < best.cost.total - 1e-9) {
      best = tried;
      since = 0;
    }
  }
  return best;
}

function neighbour(
  problem: PlanProblem,
  { order, posts, plan }: Proposal,
  random: Random,
): Pick<Proposal, 'order' | 'posts'> {
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random.even() * list.length)] as T;
  const late = problem.works.filter((w) => lateBy(w, plan, problem.horizon) > 0);
  const work = pick(late.length > 0 && random.even() < LATE_FIRST ? late : problem.works);
  if (random.even() < OTHER_POST) {
    const may = work.activities.flatMap((a) =>
      a.kind === 'run' && a.since === undefined
        ? a.ways.flatMap(({ postId }) => (postId === null ? [] : [postId]))
        : [],
    );
    if (may.length > 0) {
      const wanted = new Map(posts);
      if (wanted.has(work.id) && random.even() < 0.3) wanted.delete(work.id);
      else wanted.set(work.id, pick(may));
      return { order, posts: wanted };
    }
  }
  const next = [...order];
  const at = next.indexOf(work.id);
  const to =
    random.even() < 0.7
      ? Math.floor(random.even() * (at + 1))
      : Math.floor(random.even() * next.length);
  next.splice(at, 1);
  next.splice(to, 0, work.id);
  return { order: next, posts };
}
