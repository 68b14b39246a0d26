import type { JobPlan } from '../plan/jobPlan.ts';
import { type Procedure, type Step } from '../plan/procedure.ts';
import { moduleOf } from './registry.ts';
import { type Job, type StepRun } from '../job/job.ts';
import type { Moment } from '../quantities/moment.ts';

/** A new job at its first step. */
export function openJob(procedure: Procedure, plan: JobPlan, at: Moment, by: string): Job {
  const first = procedure.steps[0] as Step;
  return {
    procedure,
    plan,
    state: {
      status: 'running',
      outcome: null,
      openedAt: at,
      openedBy: by,
      closedAt: null,
      attempt: 1,
      current: beginRun(first, plan, at, 1, []),
      runs: [],
      paused: null,
      charge: null,
      chargePlan: null,
      readings: [],
      deviations: [],
      refusedPacks: [],
      refusal: null,
      escalation: null,
      leadDecisions: [],
      verdict: null,
      destination: null,
      topUps: [],
      notes: [],
    },
  };
}

export function beginRun(
  step: Step,
  plan: JobPlan,
  at: Moment,
  attempt: number,
  runs: readonly StepRun[],
): StepRun {
  const dueAt = moduleOf(step).due?.(step, plan, at, runs) ?? null;
  return {
    stepId: step.id,
    attempt,
    startedAt: at,
    dueAt,
    endedAt: null,
    by: null,
    end: null,
    result: null,
  };
}
