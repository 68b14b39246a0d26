import { movedSince } from './moves.ts';
import type { DayPlan, Minute, Planned, PlanProblem, Task, Work } from './problem.ts';

/** What a plan costs, in late minutes of an ordinary promise; lower is better. */
export interface PlanCost {
  total: number;
  /** Promises that are not kept, and by how much, min, weighed. */
  late: number;
  lateMin: number;
  /** What the shop cannot do within the plan. */
  left: number;
  /** Times somebody goes to the bench anew. */
  walks: number;
  /** Tasks that are at another time or place than announced. */
  moved: number;
}

/** A broken promise costs so much by itself, whatever it is late by: it has to be told to somebody. */
const BROKEN_MIN = 60;
/** Less to spare than this before a promise makes it less sure, min; each minute of it costs a little: it is cheaply bought in the planning. */
const SPARE_MIN = 90;
const SPARE_COST = 0.3;
/** Work that cannot be planned costs as a promise that is a day late. */
const LEFT_MIN = 1440;
/** A minute that a battery nobody waits for stands longer: chargers are not to be idle while there is work. */
const WAITING = 0.01;
const WALK_MIN = 2;
const MOVED_MIN = 6;
/** Tasks of one person within this of each other are one walk, min. */
const ONE_WALK_MIN = 15;

/** How much later than promised a work is ready in a plan, min; a plan that leaves it out makes it late by all that is planned. */
export function lateBy(work: Work, { ready }: DayPlan, horizon: Minute): Minute {
  if (!work.promise) return 0;
  return Math.max(0, (ready.get(work.id) ?? horizon) - work.promise.at);
}

export function planCost(
  problem: PlanProblem,
  plan: DayPlan,
  announced: ReadonlyMap<string, Planned> = new Map(),
): PlanCost {
  let late = 0;
  let lateMin = 0;
  let standing = 0;
  let close = 0;
  for (const work of problem.works) {
    const by = lateBy(work, plan, problem.horizon);
    if (by > 0) {
      late += 1;
      lateMin += (work.promise?.weight ?? 1) * by;
    }
    const ready = plan.ready.get(work.id) ?? problem.horizon;
    if (work.promise && work.promise.at > 0)
      close += Math.min(SPARE_MIN, Math.max(0, SPARE_MIN - (work.promise.at - ready)));
    standing += ready;
  }
  const left = plan.left.filter((l) => l.why !== 'beyond').length;
  const walks = walksOf(plan).length;
  const moved = movedSince(plan, announced).length;
  const total =
    BROKEN_MIN * late +
    lateMin +
    SPARE_COST * close +
    LEFT_MIN * left +
    WAITING * standing +
    WALK_MIN * walks +
    MOVED_MIN * moved;
  return { total, late, lateMin, left, walks, moved };
}

/** A task of somebody, and what it is of. */
export interface PersonTask extends Task {
  workId: string;
  index: number;
  does: 'work' | 'connect' | 'read' | 'off';
}

/** Everything people do in a plan, in order of time. */
function tasksOf(plan: DayPlan): PersonTask[] {
  const tasks: PersonTask[] = [];
  for (const { workId, index, from, to, personId, run } of plan.planned) {
    const add = (task: Task | null, does: PersonTask['does']): void => {
      if (task) tasks.push({ ...task, workId, index, does });
    };
    if (personId !== null) add({ personId, from, to }, 'work');
    if (!run) continue;
    add(run.connect, 'connect');
    for (const reading of run.readings) add(reading, 'read');
    add(run.off, 'off');
  }
  return tasks.sort((a, b) => a.from - b.from || a.to - b.to);
}

/** Tasks of one person, one right after the other: one way to the bench. */
export function walksOf(plan: DayPlan): PersonTask[][] {
  const walks: PersonTask[][] = [];
  const last = new Map<string, PersonTask[]>();
  for (const task of tasksOf(plan)) {
    const walk = last.get(task.personId);
    const end = walk?.at(-1)?.to;
    if (walk && end !== undefined && task.from - end <= ONE_WALK_MIN) walk.push(task);
    else {
      const begun = [task];
      walks.push(begun);
      last.set(task.personId, begun);
    }
  }
  return walks;
}
