import type { Moment } from '../quantities/moment.ts';
import type { Band } from '../rehearsal/outlook.ts';
import { seeded } from '../simulation/random.ts';
import { type Prospect, prospects } from './chance.ts';
import { checkPlan } from './checkPlan.ts';
import { planCost, walksOf } from './cost.ts';
import type { Pin } from './pins.ts';
import { explainedMoves, type MoveWhy } from './moves.ts';
import type { Proposal } from './improve.ts';
import type {
  Activity,
  LeftWhy,
  Look,
  Minute,
  Planned,
  PlanPerson,
  PlanProblem,
  Post,
  Run,
  Span,
  Task,
  ToolKey,
  Watch,
  Work,
  WorkOf,
} from './problem.ts';

/** A run as it is drawn: where, how it is set, who has to come when, and when it may be over. */
export interface ToldRun {
  postId: string | null;
  tool: ToolKey | null;
  watch: Watch;
  setting: string;
  on: readonly Span[];
  connect: Task | null;
  readings: readonly Task[];
  off: Task | null;
  /** Every place it may charge at, this one among them. */
  mayAt: readonly string[];
  /** Current may be off so early or so late, min: 8 in 10. */
  over: { low: Minute; high: Minute };
  airM3h: number;
  mainsA: number;
}

export interface ToldTask extends Span {
  index: number;
  what: string;
  personId: string | null;
  tool: ToolKey | null;
  lead: boolean;
  run: ToldRun | null;
  /** What stands between it and the task before, min: a soak, a rest; and how both are drawn. */
  waits: Minute;
  as: Look | null;
  waitsAs: Look | null;
}

/** What is set by hand for one battery. */
export interface ToldPin {
  postId: string | null;
  notBefore: Minute | null;
  forbidden: readonly string[];
  rush: boolean;
}

/** What is set by hand for a battery, as it is kept: what a change of it begins from. */
export const keptPin = (
  { from }: Pick<ToldPlan, 'from'>,
  { id, set }: Pick<ToldWork, 'id' | 'set'>,
): Pin => ({
  jobId: id,
  postId: set?.postId ?? null,
  notBefore: set === null || set.notBefore === null ? null : from + set.notBefore * 60_000,
  forbidden: set?.forbidden ?? [],
  rush: set?.rush ?? false,
});

/** A battery's way through a plan. */
export interface ToldWork {
  id: string;
  of: WorkOf;
  tag: string;
  whose: string;
  promisedAt: Minute | null;
  /** Share of draws in which its promise is kept; null without one. */
  kept: number | null;
  ready: Band | null;
  tasks: readonly ToldTask[];
  left: { what: string; why: LeftWhy } | null;
  /** What somebody has set by hand; null where nothing is. */
  set: ToldPin | null;
}

/** One way of somebody to the bench. */
export interface ToldWalk extends Span {
  personId: string;
  tasks: number;
}

/** Something that is elsewhere or at another time than was announced, and why. */
export interface ToldMove {
  workId: string;
  what: string;
  from: Minute;
  to: Minute;
  why: MoveWhy;
}

/** A plan as pages and papers read it. Minutes are counted from `from`. */
export interface ToldPlan {
  from: Moment;
  horizon: Minute;
  people: readonly PlanPerson[];
  posts: readonly Post[];
  tools: Readonly<Record<ToolKey, number>>;
  airM3h: number;
  fuseA: number;
  works: readonly ToldWork[];
  walks: readonly ToldWalk[];
  /** What is elsewhere or at another time than announced. */
  moved: readonly ToldMove[];
  late: number;
}

/** The seed of a plan's draws: the same plan is told the same chances. */
const DRAW_SEED = 18;

/**
 * A plan set out, with the chance of each promise.
 *
 * @param announced what was said before, by its activity
 * @throws Error when the plan breaks a rule: it is not to be shown
 */
export function tellPlan(
  problem: PlanProblem,
  { plan }: Pick<Proposal, 'plan'>,
  announced: ReadonlyMap<string, Planned> = new Map(),
): ToldPlan {
  const faults = checkPlan(problem, plan);
  if (faults.length > 0) throw new Error(`The plan breaks ${faults.length} rules: ${faults[0]}`);
  const chances = prospects(problem, plan, seeded(DRAW_SEED));
  const left = new Map(plan.left.map((l) => [l.workId, l]));
  const what = new Map(problem.works.map((w) => [w.id, w]));
  const { people, posts, tools, airM3h, fuseA, from, horizon } = problem;
  return {
    from,
    horizon,
    people,
    posts,
    tools,
    airM3h,
    fuseA,
    works: problem.works.map((work) =>
      tellWork(
        work,
        plan.planned.filter((p) => p.workId === work.id).sort((a, b) => a.index - b.index),
        chances.get(work.id),
        left.get(work.id),
      ),
    ),
    walks: walksOf(plan).map((walk) => ({
      personId: walk[0]?.personId ?? '',
      from: walk[0]?.from ?? 0,
      to: walk.at(-1)?.to ?? 0,
      tasks: walk.length,
    })),
    moved: explainedMoves(problem, plan, announced).map(({ before, after, why }) => ({
      workId: after.workId,
      what: what.get(after.workId)?.activities[after.index]?.what ?? '',
      from: before.from,
      to: after.from,
      why,
    })),
    late: planCost(problem, plan).late,
  };
}

function tellWork(
  work: Work,
  planned: readonly Planned[],
  prospect: Prospect | undefined,
  left: { index: number; why: LeftWhy } | undefined,
): ToldWork {
  return {
    id: work.id,
    of: work.of,
    tag: work.tag,
    whose: work.whose,
    promisedAt: work.promise?.at ?? null,
    kept: prospect?.kept ?? null,
    ready: prospect?.ready ?? null,
    tasks: planned.map((p) => tellTask(work.activities[p.index] as Activity, p)),
    set: toldPin(work),
    left: left ? { what: work.activities[left.index]?.what ?? '', why: left.why } : null,
  };
}

function toldPin({ pinned, forbidden = [], rush = false }: Work): ToldPin | null {
  const { postId = null, notBefore = null } = pinned ?? {};
  const isSet = postId !== null || notBefore !== null || forbidden.length > 0 || rush;
  return isSet ? { postId, notBefore, forbidden, rush } : null;
}

function tellTask(activity: Activity, planned: Planned): ToldTask {
  const { index, from, to, personId } = planned;
  return {
    index,
    from,
    to,
    personId,
    what: activity.what,
    tool: activity.kind === 'hands' ? activity.tool : null,
    lead: activity.kind === 'hands' && activity.lead,
    run: activity.kind === 'run' ? tellRun(activity, planned) : null,
    waits: activity.gap.least,
    as: activity.as ?? null,
    waitsAs: activity.gap.as ?? null,
  };
}

function tellRun(activity: Run, { run }: Planned): ToldRun | null {
  const way = run && activity.ways[run.way];
  if (!run || !way) return null;
  const begins = run.on[0]?.from ?? 0;
  const stands = run.on.reduce(
    (sum, span, i) => sum + (i > 0 ? span.from - (run.on[i - 1] as Span).to : 0),
    0,
  );
  return {
    postId: way.postId,
    tool: way.tool,
    watch: way.watch,
    setting: way.setting,
    on: run.on,
    connect: run.connect,
    readings: run.readings,
    off: run.off,
    over: {
      low: Math.round(begins + stands + way.minutes.low),
      high: Math.round(begins + stands + way.minutes.high),
    },
    mayAt: activity.ways.flatMap((w) => (w.postId === null ? [] : [w.postId])),
    airM3h: way.airM3h,
    mainsA: way.mainsA,
  };
}
