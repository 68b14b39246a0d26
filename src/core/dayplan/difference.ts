import type { Minute } from './problem.ts';
import type { ToldPlan, ToldWork } from './told.ts';

/** What is otherwise in a second plan beside the first. */
export interface PlanDifference {
  /** Promises whose chance is felt to be another, the worst loss first. */
  promises: { work: ToldWork; before: number; after: number }[];
  /** Batteries without a promise that are ready at another hour; minutes later, the greatest first. */
  others: { work: ToldWork; later: Minute }[];
  /** What can no longer be done, and what can be now. */
  lost: ToldWork[];
  won: ToldWork[];
}

/** A chance that moves by less than this is the same. */
const FELT = 0.05;
/** An hour that moves by less than this is the same, min. */
const FELT_MIN = 30;

export function planDifference(before: ToldPlan, after: ToldPlan): PlanDifference {
  const was = new Map(before.works.map((w) => [w.id, w]));
  const shift = Math.round((after.from - before.from) / 60_000);
  const pairs = after.works.flatMap((is) => {
    const old = was.get(is.id);
    return old ? [{ is, old }] : [];
  });
  const fails = ({ left }: ToldWork): boolean => left !== null && left.why !== 'beyond';
  return {
    promises: pairs
      .flatMap(({ is, old }) =>
        is.kept !== null && old.kept !== null && Math.abs(is.kept - old.kept) > FELT
          ? [{ work: is, before: old.kept, after: is.kept }]
          : [],
      )
      .sort((a, b) => a.after - a.before - (b.after - b.before)),
    others: pairs
      .flatMap(({ is, old }) => {
        if (is.kept !== null || !is.ready || !old.ready) return [];
        const later = Math.round(is.ready.middle + shift - old.ready.middle);
        return Math.abs(later) > FELT_MIN ? [{ work: is, later }] : [];
      })
      .sort((a, b) => b.later - a.later),
    lost: pairs.filter(({ is, old }) => fails(is) && !fails(old)).map(({ is }) => is),
    won: pairs.filter(({ is, old }) => !fails(is) && fails(old)).map(({ is }) => is),
  };
}
