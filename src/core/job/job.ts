import type { ChargePlan } from '../charging/chargePlan.ts';
import { hoursOn } from '../charging/progress.ts';
import type { JobPlan } from '../plan/jobPlan.ts';
import type { Procedure, StepKind } from '../plan/procedure.ts';
import type { Moment } from '../quantities/moment.ts';
import { type ChargeState, chargeStartedAt } from './chargeState.ts';
import type { DeviationWhat } from './deviation.ts';
import type { JobStatus, LeadDecision, Outcome, Verdict } from './outcome.ts';
import type { Reading, ReadingRole } from './reading.ts';
import type { RecoveryState } from './recoveryState.ts';
import type { ChargeResult, ResultOf, StepResult } from './stepResult.ts';
import type { TopUp } from './topUp.ts';
import type { StageEnd } from '../charging/stageEnd.ts';
import type { Refusal } from './refusal.ts';

/** One run of one step. A step reopened or repeated has several. */
export interface StepRun {
  stepId: string;
  attempt: number;
  startedAt: Moment;
  /** When its wait is over, for waits. */
  dueAt: Moment | null;
  endedAt: Moment | null;
  by: string | null;
  end: 'done' | 'skipped' | 'cut' | 'reopened' | 'refused' | null;
  /** Answers, codes, numbers given with the step. */
  result: StepResult | null;
}

/** A run of a step of this kind, with what it brought. */
export type RunOf<K extends StepKind> = StepRun & { result: ResultOf<K> | null };

/** Runs that brought a result of this kind, oldest first. */
export function runsWith<K extends StepKind>(
  state: JobState,
  kind: K,
): (StepRun & { result: ResultOf<K> })[] {
  return state.runs.filter((r): r is StepRun & { result: ResultOf<K> } => r.result?.kind === kind);
}

/** Has current flowed in this job? From then on only water goes in. */
export function everCharged(state: JobState): boolean {
  return state.charge !== null || state.attempt > 1 || runsWith(state, 'charge').length > 0;
}

/** A charge that ends now, as its step keeps it. */
export function chargeResult(
  charge: ChargeState,
  end: {
    agrees: boolean;
    ampereHours: number;
    estimatedAh?: { low: number; high: number } | null;
    now: Moment;
    ended?: StageEnd | null;
  },
): ChargeResult {
  const { live } = charge;
  return {
    kind: 'charge',
    agrees: end.agrees,
    ampereHours: end.ampereHours,
    ...(end.estimatedAh
      ? { estimatedAh: { low: end.estimatedAh.low, high: end.estimatedAh.high } }
      : {}),
    chargeStartedAt: chargeStartedAt(charge),
    hours: hoursOn(charge.on, end.now),
    ended: end.ended ?? null,
    ...(charge.charger ? { charger: charge.charger } : {}),
    live: live && { chargeId: live.chargeId, planName: live.planName, sentences: live.sentences },
  };
}

/** Every charge of a job that an instrument ran, oldest first: which, and by which plan. */
export function liveChargesOf(state: JobState): { chargeId: string; planName: string }[] {
  const over = runsWith(state, 'charge').flatMap(({ result }) =>
    result.live ? [{ chargeId: result.live.chargeId, planName: result.live.planName }] : [],
  );
  const { charge } = state;
  return charge?.live && !over.some((c) => c.chargeId === charge.live?.chargeId)
    ? [...over, charge.live]
    : over;
}

/** The step of a charge that is still to come in this attempt, for a job that is running; null where there is none. */
export function chargeToCome(
  procedure: Procedure,
  { status, charge, runs, attempt }: JobState,
): string | null {
  const begun = charge !== null && charge.mode !== 'ended';
  const step = procedure.steps.find(
    (s) =>
      s.kind === 'charge' &&
      !runs.some((r) => r.stepId === s.id && r.attempt === attempt && r.end === 'done'),
  );
  return status === 'running' && step && !begun ? step.id : null;
}

export interface Deviation {
  at: Moment;
  by: string;
  stepId: string;
  /** Text where an earlier version wrote it. */
  what: DeviationWhat | string;
  reason: string;
}

export interface JobState {
  status: JobStatus;
  outcome: Outcome | null;
  openedAt: Moment;
  openedBy: string;
  closedAt: Moment | null;
  attempt: number;
  current: StepRun | null;
  runs: StepRun[];
  /** Hands off the whole job, with the reason; waits keep running, acid does not stop drinking. */
  paused: { at: Moment; by: string; reason: string } | null;
  charge: ChargeState | null;
  /** The plan it goes on by since its size became known; absent while the first one stands. */
  replanned?: JobPlan;
  /** Plan chosen for the charge; null takes the job's own figures. */
  chargePlan: ChargePlan | null;
  readings: Reading[];
  deviations: Deviation[];
  refusedPacks: { at: Moment; by: string; code: string }[];
  refusal: Refusal | null;
  escalation: { at: Moment; by: string; reason: string } | null;
  /** What a lead decided and why, oldest first. */
  leadDecisions: { at: Moment; by: string; decision: LeadDecision; reason: string }[];
  verdict: Verdict | null;
  destination: 'customer' | 'shelf' | null;
  topUps: TopUp[];
  /** Of a job that recovers a battery; absent in others. */
  recovery?: RecoveryState;
  notes: { at: Moment; by: string; text: string }[];
}

/** A job: the procedure and the plan as they stood when it began, and what has happened since. */
export interface Job {
  procedure: Procedure;
  plan: JobPlan;
  state: JobState;
}

/** Readings that stand: not corrected by a later one. */
export function standingReadings(state: JobState, role?: ReadingRole): Reading[] {
  return state.readings.filter(
    (r) => r.supersededBy === null && (role === undefined || r.role === role),
  );
}

const NO_RECOVERY: RecoveryState = {
  story: null,
  routes: [],
  discharge: null,
  tests: [],
  outcomes: [],
};

export const recoveryOf = (job: Job): RecoveryState => job.state.recovery ?? NO_RECOVERY;
