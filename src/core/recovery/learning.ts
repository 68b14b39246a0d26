import { leadAcidKind } from '../batteries/kinds.ts';
import type { FamilyOdds } from '../diagnosis/practice/families.ts';
import type { FoundHere, YieldHere } from '../diagnosis/practice/experience.ts';
import { type Job, recoveryOf } from '../job/job.ts';
import { cyclesOf } from './cycles.ts';

/** What an ended recovery teaches: what its battery was, what it was taken for first, and what its routes left beside what was said. */
export interface Lesson {
  /** Null where nobody said what it was. */
  found: FoundHere | null;
  /** Null where no diagnosis was made. */
  said: readonly FamilyOdds[] | null;
  yields: YieldHere[];
}

/** @returns null for a recovery that has not ended with a verdict */
export function lessonOf(job: Job): Lesson | null {
  const { story, routes, outcomes } = recoveryOf(job);
  const last = outcomes.at(-1);
  if (!last || last.outcome === 'another') return null;
  const { chemistry } = leadAcidKind(job.plan.model.kind);
  const said = routes.find((r) => r.forecast?.families)?.forecast?.families ?? last.said ?? null;
  return {
    found: last.found
      ? {
          chemistry,
          story: story?.story ?? 'unknown',
          standingDays: story?.standingDays ?? null,
          ageYears: story?.ageYears ?? null,
          found: last.found,
          at: last.at,
        }
      : null,
    said,
    yields: cyclesOf(job).flatMap(({ cycle, route, capacity }): YieldHere[] => {
      const forecast = routes.findLast((r) => r.attempt === cycle)?.forecast;
      if (cycle === 0 || route === null || !forecast || !capacity) return [];
      return [
        {
          route,
          chemistry,
          // What the shop's own batteries had added is taken out again: it is measured anew.
          said: forecast.capacity.middle - (forecast.learnt?.gain ?? 0),
          came: capacity.health,
          at: last.at,
        },
      ];
    }),
  };
}
