import type { Moment } from '../quantities/moment.ts';
import type { PlanProblem, Work } from './problem.ts';

/** What somebody has set by hand for one battery. */
export interface Pin {
  jobId: string;
  /** The place it has to charge at; null where the plan chooses. */
  postId: string | null;
  /** Its charge does not begin before; null where the plan chooses. */
  notBefore: Moment | null;
  /** Places it may not charge at. */
  forbidden: readonly string[];
  /** It is planned before everything else. */
  rush: boolean;
}

/** Does a pin say anything? One that does not is none. */
export const saysSomething = ({ postId, notBefore, forbidden, rush }: Pin): boolean =>
  postId !== null || notBefore !== null || forbidden.length > 0 || rush;

/** The shop's works with what is set by hand. */
export function withPins(problem: PlanProblem, pins: readonly Pin[]): PlanProblem {
  const byJob = new Map(pins.filter(saysSomething).map((p) => [p.jobId, p]));
  return {
    ...problem,
    works: problem.works.map((work) => pinned(work, byJob.get(work.id), problem)),
  };
}

function pinned(
  { pinned: _, forbidden: __, rush: ___, ...work }: Work,
  pin: Pin | undefined,
  { from, posts }: PlanProblem,
): Work {
  if (!pin) return work;
  const { postId, notBefore, forbidden, rush } = pin;
  // A charger that is no longer on the wall pins nothing.
  const there = postId !== null && posts.some((p) => p.id === postId);
  return {
    ...work,
    forbidden,
    rush,
    pinned: {
      ...(there ? { postId } : {}),
      ...(notBefore === null
        ? {}
        : { notBefore: Math.max(0, Math.ceil((notBefore - from) / 60_000)) }),
    },
  };
}
