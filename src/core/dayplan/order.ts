import { minutesOf } from './makePlan.ts';
import type { Minute, PlanProblem, Work } from './problem.ts';

/**
 * The order in which a careful person would take the works: what may not wait, then what has the least time to spare before its
 * promise, then what nobody waits for, short before long.
 */
export function usualOrder({ works }: PlanProblem): string[] {
  const urgent = (work: Work): Minute => work.activities[0]?.gap.most ?? Infinity;
  const spare = (work: Work): number =>
    work.promise ? (work.promise.at - minutesOf(work)) / Math.sqrt(work.promise.weight) : Infinity;
  return works
    .toSorted((a, b) => {
      const [ua, ub] = [urgent(a), urgent(b)];
      if (ua !== ub) return ua - ub;
      const [sa, sb] = [spare(a), spare(b)];
      return sa === sb ? minutesOf(a) - minutesOf(b) : sa - sb;
    })
    .map((w) => w.id);
}

/** By promise alone, whatever a work takes. */
export const byPromise = ({ works }: PlanProblem): string[] =>
  works
    .toSorted((a, b) => (a.promise?.at ?? Infinity) - (b.promise?.at ?? Infinity) || 0)
    .map((w) => w.id);
