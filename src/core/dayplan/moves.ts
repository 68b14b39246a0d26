import {
  activityKey,
  type DayPlan,
  type Planned,
  type PlanProblem,
  type Span,
  type Work,
} from './problem.ts';

/** Why something is at another time or place than it was announced. */
export type MoveWhy =
  /** Somebody has set it by hand. */
  | { kind: 'by-hand' }
  /** The charger it was to be on is out of order, or gone. */
  | { kind: 'charger-out'; postId: string }
  /** Whoever was to do it is not there then. */
  | { kind: 'away'; personId: string }
  /** Its hour has gone by and it was not begun. */
  | { kind: 'not-begun' }
  /** What comes before it takes until then. */
  | { kind: 'before-it' }
  /** Another battery is there, or in the same hands, at that time. */
  | { kind: 'place-taken'; workId: string }
  | { kind: 'hands-taken'; workId: string }
  /** It can be sooner than was said. */
  | { kind: 'sooner' }
  /** More promises are kept so. */
  | { kind: 'better' };

export interface Move {
  before: Planned;
  after: Planned;
  why: MoveWhy;
}

/** A task that is put off or brought forward by less than this has not moved, min. */
const MOVED_BY_MIN = 30;

/** What a plan has at another time or place than was announced. */
export function movedSince(
  { planned }: DayPlan,
  announced: ReadonlyMap<string, Planned>,
): Omit<Move, 'why'>[] {
  return planned.flatMap((after) => {
    const before = announced.get(activityKey(after));
    if (!before) return [];
    const elsewhere = (before.run?.way ?? null) !== (after.run?.way ?? null);
    return elsewhere || Math.abs(before.from - after.from) >= MOVED_BY_MIN
      ? [{ before, after }]
      : [];
  });
}

/** The same, each with its reason: the first that holds, what nobody chose before what the plan did. */
export function explainedMoves(
  problem: PlanProblem,
  plan: DayPlan,
  announced: ReadonlyMap<string, Planned>,
): Move[] {
  const works = new Map(problem.works.map((w) => [w.id, w]));
  const postAt = (planned: Planned, run: Planned['run']): string | null => {
    const activity = works.get(planned.workId)?.activities[planned.index];
    return (run && activity?.kind === 'run' && activity.ways[run.way]?.postId) || null;
  };
  return movedSince(plan, announced).map((move) => ({
    ...move,
    why: whyMoved(problem, plan, move, works.get(move.after.workId), postAt),
  }));
}

function whyMoved(
  problem: PlanProblem,
  plan: DayPlan,
  { before, after }: Omit<Move, 'why'>,
  work: Work | undefined,
  postAt: (planned: Planned, run: Planned['run']) => string | null,
): MoveWhy {
  const postId = postAt(before, before.run);
  const stood: Span = { from: before.from, to: before.to };
  if (
    work &&
    (work.pinned?.postId !== undefined || work.pinned?.notBefore !== undefined || work.rush)
  )
    return { kind: 'by-hand' };
  if (postId !== null) {
    const post = problem.posts.find((p) => p.id === postId);
    if (!post || post.out.some((o) => meets(o, stood))) return { kind: 'charger-out', postId };
  }
  const hands = before.personId ?? before.run?.connect?.personId ?? null;
  if (hands !== null && before.from >= 0) {
    const person = problem.people.find((p) => p.id === hands);
    if (!person?.there.some((s) => s.from <= before.from && before.from < s.to))
      return { kind: 'away', personId: hands };
  }
  if (before.from < 0) return { kind: 'not-begun' };
  const earlier = plan.planned.find(
    (p) => p.workId === after.workId && p.index === after.index - 1,
  );
  const gap = work?.activities[after.index]?.gap.least ?? 0;
  if ((earlier?.to ?? 0) + gap > before.from) return { kind: 'before-it' };
  if (after.from < before.from) return { kind: 'sooner' };
  const others = plan.planned.filter((p) => p.workId !== after.workId);
  const there =
    postId === null
      ? undefined
      : others.find((p) => postAt(p, p.run) === postId && meets(p, stood));
  if (there) return { kind: 'place-taken', workId: there.workId };
  const begins: Span = { from: before.from, to: before.from + 1 };
  const busy = hands === null ? undefined : others.find((p) => handsAt(p, hands, begins));
  if (busy) return { kind: 'hands-taken', workId: busy.workId };
  return { kind: 'better' };
}

const meets = (a: Span, b: Span): boolean => a.from < b.to && a.to > b.from;

/** Has this person their hands on it then? */
function handsAt({ personId, from, to, run }: Planned, who: string, span: Span): boolean {
  if (personId === who) return meets({ from, to }, span);
  return [run?.connect, ...(run?.readings ?? []), run?.off].some(
    (task) => task?.personId === who && meets(task, span),
  );
}
