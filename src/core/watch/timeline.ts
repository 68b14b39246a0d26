import { openJob } from '../steps/openJob.ts';
import { ALWAYS, type HandsAt } from '../house/hours.ts';
import { GRACE_S } from '../job/hand.ts';
import type { Job, StepRun, RunOf } from '../job/job.ts';
import type { Moment } from '../quantities/moment.ts';
import type { JobPlan } from '../plan/jobPlan.ts';
import {
  type Procedure,
  type SegmentKind,
  type Step,
  stepById,
  type StepKind,
} from '../plan/procedure.ts';
import { moduleOf } from '../steps/registry.ts';
import { leadsNowhere, stepsAhead } from '../steps/stepsAhead.ts';

/** A stretch of a job's life, to scale. `late` is hands that did not come, `idle` the short gaps between. */
export interface Segment {
  kind: SegmentKind | 'late' | 'idle' | 'refused';
  from: Moment;
  to: Moment;
  phase: 'done' | 'coming';
  label: string;
}

const DEFAULT_HANDS_S = 120;

/**
 * A settled job's life so far and to come.
 *
 * @param job settled at `now`
 * @param hands when somebody is at the bench for the steps to come
 * @returns segments in order of time; gaps are none
 */
export function timeline(job: Job, now: Moment, hands: HandsAt = ALWAYS): Segment[] {
  const { state, plan } = job;
  const segments: Segment[] = [];
  for (const run of state.runs) segments.push(...pastRun(job, run));

  if (state.current && state.status !== 'closed') {
    const { past, coming } = runInHand(job, state.current, now);
    segments.push(...past, ...coming);
    let at = coming.at(-1)?.to ?? now;
    const ends = new Map(state.runs.map((r) => [r.stepId, r.endedAt ?? now]));
    ends.set(state.current.stepId, at);
    for (const step of stepsAhead(job)) {
      const { byItself, countsFrom } = moduleOf(step);
      const from = ends.get(countsFrom?.(step) ?? '') ?? at;
      const begins = byItself ? at : hands(at);
      if (begins > at)
        segments.push({ kind: 'idle', from: at, to: begins, phase: 'coming', label: 'closed' });
      at = begins;
      const to = Math.max(at, (byItself ? from : Math.max(from, at)) + plannedS(step, job) * 1000);
      ends.set(step.id, to);
      segments.push({
        kind: step.segment,
        from: at,
        to,
        phase: 'coming',
        label: labelOf(step, plan),
      });
      at = to;
    }
  }
  if (state.refusal)
    segments.push({
      kind: 'refused',
      from: state.refusal.at,
      to: state.refusal.at,
      phase: 'done',
      label: 'refused',
    });
  return merge(segments.filter((s) => s.to > s.from || s.kind === 'refused'));
}

/** When the job will be ready to hand over if hands are there in the shop's hours; null once it has ended, or when it never will be. */
export function readyAt(job: Job, now: Moment, hands: HandsAt = ALWAYS): Moment | null {
  return job.state.current && !leadsNowhere(job) ? endOf(timeline(job, now, hands)) : null;
}

/** When the last of a life is over; null of an empty one. */
const endOf = (life: readonly Segment[]): Moment | null => life.at(-1)?.to ?? null;

/** What a job would look like if it began at `at`: for showing the whole plan first. */
export function plannedTimeline(
  procedure: Procedure,
  plan: JobPlan,
  at: Moment,
  hands: HandsAt = ALWAYS,
): Segment[] {
  return timeline(openJob(procedure, plan, at, ''), at, hands);
}

/** How long a step of this job usually takes, s. */
export function plannedS(step: Step, job: Job): number {
  return moduleOf(step).lasts?.(job, step) ?? step.handsS ?? DEFAULT_HANDS_S;
}

/** What a stretch of a job's life is called where its step does not say. */
const SEGMENT_WORDS: Readonly<Record<Step['segment'], string>> = {
  hands: 'work',
  fill: 'fill',
  dwell: 'pack on',
  soak: 'soak',
  charge: 'charge',
  rest: 'rest',
  test: 'test',
};

/** What the ribbon calls a step. */
export function labelOf(step: Step, plan: JobPlan): string {
  return moduleOf(step).label?.(plan, step) ?? SEGMENT_WORDS[step.segment];
}

function pastRun(job: Job, run: StepRun): Segment[] {
  const step = stepById(job.procedure, run.stepId);
  const to = run.endedAt ?? run.startedAt;
  const done = (kind: Segment['kind'], from: Moment, until: Moment): Segment => ({
    kind,
    from,
    to: until,
    phase: 'done',
    label: kind === step.segment ? labelOf(step, job.plan) : kind,
  });
  const { byItself, began: beganBy } = moduleOf(step);
  if (byItself) return [done(step.segment, run.startedAt, to)];
  const began =
    beganBy?.(run as RunOf<StepKind>) ?? Math.max(run.startedAt, to - plannedS(step, job) * 1000);
  return [...gap(run.startedAt, began), done(step.segment, began, to)];
}

/** Time in which hands were wanted and did not come. */
function gap(from: Moment, to: Moment): Segment[] {
  const late = to - from > GRACE_S * 1000;
  return [{ kind: late ? 'late' : 'idle', from, to, phase: 'done', label: late ? 'late' : '' }];
}

function runInHand(job: Job, run: StepRun, now: Moment): { past: Segment[]; coming: Segment[] } {
  const { plan, procedure } = job;
  const step = stepById(procedure, run.stepId);
  const label = labelOf(step, plan);
  const kind = step.segment;
  if (moduleOf(step).byItself) {
    const due = run.dueAt ?? now;
    return {
      past: [{ kind, from: run.startedAt, to: Math.min(now, due), phase: 'done', label }],
      coming: [{ kind, from: now, to: due, phase: 'coming', label }],
    };
  }
  const runs = moduleOf(step).stretches?.(job, now);
  if (runs) {
    const past: Segment[] = [];
    let off = run.startedAt;
    for (const { from, to } of runs.on) {
      past.push(...gap(off, from), { kind, from, to: to ?? now, phase: 'done', label });
      off = to ?? now;
    }
    past.push(...gap(off, now));
    return { past, coming: [{ kind, from: now, to: runs.until, phase: 'coming', label }] };
  }
  return {
    past: gap(run.startedAt, now),
    coming: [{ kind, from: now, to: now + plannedS(step, job) * 1000, phase: 'coming', label }],
  };
}

/** Joins neighbours that look the same. */
function merge(segments: Segment[]): Segment[] {
  const out: Segment[] = [];
  for (const segment of segments) {
    const last = out.at(-1);
    if (
      last &&
      last.kind === segment.kind &&
      last.phase === segment.phase &&
      segment.from <= last.to &&
      last.kind !== 'refused'
    )
      last.to = Math.max(last.to, segment.to);
    else out.push({ ...segment });
  }
  return out;
}
