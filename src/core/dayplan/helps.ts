import { onTheWall } from '../quantities/zonedTime.ts';
import { seeded } from '../simulation/random.ts';
import { type Suffers, suffersBy } from './ask.ts';
import { prospects } from './chance.ts';
import { type Proposal, propose } from './improve.ts';
import type { PlanProblem, Span } from './problem.ts';
import { suppose, type Supposed } from './suppose.ts';

/** Something that would make a promise safer: its chance then, and who would pay for it. */
export interface Help {
  supposed: Supposed;
  kept: number;
  suffers: Suffers[];
}

const DRAWS = 300;
const SEED = 5;
/** A chance that rises by less than this is no help. */
const FELT = 0.05;
/** So many evenings somebody could stay longer are tried. */
const EVENINGS = 2;
const MINUTE_MS = 60_000;

/**
 * What would make a promise safer, the best first: put before all others, one charger more, somebody an hour longer.
 *
 * @param dayOf when a day (YYYY-MM-DD) begins and ends, minutes of the plan
 */
export function helpsFor(
  problem: PlanProblem,
  { order, posts, plan }: Pick<Proposal, 'order' | 'posts' | 'plan'>,
  workId: string,
  { dayOf, timeZone }: { dayOf: (day: string) => Span; timeZone: string },
): Help[] {
  const work = problem.works.find((w) => w.id === workId);
  const promise = work?.promise;
  if (!work || !promise) return [];
  const before = prospects(problem, plan, seeded(SEED), DRAWS);
  const was = before.get(workId)?.kept ?? 0;
  const used = work.activities.flatMap((activity, index) => {
    const run = plan.planned.find((p) => p.workId === workId && p.index === index)?.run;
    const postId = run && activity.kind === 'run' ? activity.ways[run.way]?.postId : null;
    return postId ? [postId] : [];
  });
  const days = [
    ...new Set(
      problem.people
        .flatMap((p) => p.there)
        .filter((s) => s.to > 0 && s.from < promise.at)
        .map((s) => onTheWall(problem.from + s.from * MINUTE_MS, timeZone).date),
    ),
  ].sort();
  const candidates: Supposed[] = [
    ...(work.rush ? [] : [{ kind: 'rush', workId } as const]),
    ...[...new Set(used)].map((like): Supposed => ({ kind: 'another', like })),
    ...days.slice(0, EVENINGS).map((day): Supposed => ({ kind: 'longer', day })),
  ];
  return candidates
    .flatMap((supposed): Help[] => {
      const other = suppose(problem, supposed, dayOf);
      const made = propose(other, order, posts);
      const after = prospects(other, made.plan, seeded(SEED), DRAWS);
      const kept = after.get(workId)?.kept ?? 0;
      return kept - was > FELT
        ? [
            {
              supposed,
              kept,
              suffers: suffersBy(problem, before, after).filter((s) => s.workId !== workId),
            },
          ]
        : [];
    })
    .sort((a, b) => b.kept - a.kept);
}
