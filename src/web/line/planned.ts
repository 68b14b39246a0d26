import { useMemo } from 'react';
import { segmentsAhead } from '../../core/dayplan/ahead.ts';
import type { ToldPlan } from '../../core/dayplan/told.ts';
import type { HandsAt } from '../../core/house/hours.ts';
import type { Job } from '../../core/job/job.ts';
import { readyAt, type Segment, timeline } from '../../core/watch/timeline.ts';
import { useDayPlan, useHands } from './queries.ts';

/** A job's life, and when it will be ready: by the day plan; by the job alone until there is one. */
export interface PlannedLife {
  segments: Segment[];
  ready: number | null;
  /** 8 in 10; null where no plan says. */
  band: { low: number; high: number } | null;
  /** Chance of its promise, 0–1; null without promise or plan. */
  kept: number | null;
}

/** The day plan as it is known here; null where there is none. */
export type KnownPlan = ToldPlan | 'awaited' | null;

/**
 * @param hands when somebody is at the bench
 * @param job settled at `now`
 */
export function plannedLife(
  known: KnownPlan,
  hands: HandsAt,
  id: string,
  job: Job,
  now: number,
): PlannedLife {
  const plan = known === 'awaited' ? null : known;
  const work = plan?.works.find((w) => w.id === id);
  const life = timeline(job, now, hands);
  if (!plan || !work?.ready || work.left)
    return {
      segments: life,
      ready: readyAt(job, now, hands),
      band: null,
      kept: work?.kept ?? null,
    };
  const momentOf = (minute: number): number => Math.max(now, plan.from + minute * 60_000);
  return {
    segments: [...life.filter((s) => s.phase === 'done'), ...segmentsAhead(work, plan.from, now)],
    ready: job.state.current ? momentOf(work.ready.middle) : null,
    band: { low: momentOf(work.ready.low), high: momentOf(work.ready.high) },
    kept: work.kept,
  };
}

/** {@link plannedLife} by the plan as it is known here. */
export function usePlannedLife(id: string, job: Job, now: number): PlannedLife {
  const hands = useHands();
  const { data } = useDayPlan();
  const plan = data?.plan ?? null;
  return useMemo(() => plannedLife(plan, hands, id, job, now), [plan, hands, id, job, now]);
}
