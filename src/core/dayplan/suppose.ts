import { joined, type PlanPerson, type PlanProblem, type Span } from './problem.ts';

/** What is tried on the plan without being so: a charger more or less, a day closed, somebody away, an hour longer, one before all. */
export type Supposed =
  | { kind: 'another'; like: string }
  | { kind: 'out'; postId: string; day: string }
  | { kind: 'closed'; day: string }
  | { kind: 'away'; personId: string; day: string }
  | { kind: 'longer'; day: string }
  | { kind: 'rush'; workId: string };

/** The id of a charger that is not there. */
const ANOTHER = 'one more';
/** So much longer somebody stays, min. */
const LONGER_MIN = 60;

/**
 * The shop as it would be.
 *
 * @param dayOf when a day (YYYY-MM-DD) begins and ends, minutes of the plan
 */
export function suppose(
  problem: PlanProblem,
  supposed: Supposed,
  dayOf: (day: string) => Span,
): PlanProblem {
  const people = (change: (person: PlanPerson) => PlanPerson): PlanProblem => ({
    ...problem,
    people: problem.people.map(change),
  });
  switch (supposed.kind) {
    case 'another':
      return withAnother(problem, supposed.like);
    case 'out':
      return {
        ...problem,
        posts: problem.posts.map((post) =>
          post.id === supposed.postId
            ? {
                ...post,
                out: outFrom(post.out, Math.max(0, dayOf(supposed.day).from), problem.horizon),
              }
            : post,
        ),
      };
    case 'closed':
      return people((p) => ({ ...p, there: without(p.there, dayOf(supposed.day)) }));
    case 'away':
      return people((p) =>
        p.id === supposed.personId ? { ...p, there: without(p.there, dayOf(supposed.day)) } : p,
      );
    case 'longer':
      return people((p) => ({ ...p, there: longer(p.there, dayOf(supposed.day)) }));
    case 'rush':
      return {
        ...problem,
        works: problem.works.map((w) => (w.id === supposed.workId ? { ...w, rush: true } : w)),
      };
  }
}

/** Out from a minute to the end, besides what was out before. */
const outFrom = (out: readonly Span[], from: number, horizon: number): Span[] =>
  joined([...out, { from, to: horizon + 1 }]);

/** One charger more: whatever may charge at the one may charge at the other. */
export function withAnother(problem: PlanProblem, like: string): PlanProblem {
  const post = problem.posts.find((p) => p.id === like);
  const works = problem.works.map((work) => ({
    ...work,
    activities: work.activities.map((activity) => {
      if (activity.kind !== 'run' || activity.since !== undefined) return activity;
      const same = activity.ways.find((w) => w.postId === like);
      return same
        ? { ...activity, ways: [...activity.ways, { ...same, postId: ANOTHER }] }
        : activity;
    }),
  }));
  const name = post ? `Another ${post.name}` : 'Another charger';
  return {
    ...problem,
    works,
    posts: [...problem.posts, { id: ANOTHER, name, about: '', out: [] }],
  };
}

/** Everybody who is there stays longer, on each day. */
export const everyDayLonger = (problem: PlanProblem): PlanProblem => ({
  ...problem,
  people: problem.people.map((p) => ({
    ...p,
    there: longer(p.there, { from: -Infinity, to: Infinity }),
  })),
});

function without(spans: readonly Span[], { from, to }: Span): Span[] {
  return spans
    .flatMap((s) => [
      { from: s.from, to: Math.min(s.to, from) },
      { from: Math.max(s.from, to), to: s.to },
    ])
    .filter((s) => s.to > s.from);
}

/** The last stretch of each day ends later: a break is no end of a day. */
function longer(spans: readonly Span[], { from, to }: Span): Span[] {
  return joined(
    spans.map((span, i) => {
      const next = spans[i + 1];
      const until = span.to + LONGER_MIN;
      const isBreak = next !== undefined && next.from <= until + LONGER_MIN;
      return isBreak || span.to <= from || span.to > to ? span : { ...span, to: until };
    }),
  );
}
