import type { DeviationWhat } from './deviation.ts';
import type { JobPlan } from './plan.ts';
import type { CellLevel } from '../batteries/cellLevel.ts';
import type { CcaStandard } from '../batteries/model.ts';
import type { ChargePlan } from '../charging/chargePlan.ts';
import type { LeadDecision, LiveStart } from './events.ts';
import type { OnStretch } from '../charging/progress.ts';
import { type Procedure } from './procedure.ts';
import type { RecoveryState } from './recovery.ts';

/** Moments are ms since the epoch, as the server's clock told them. */
export type Moment = number;

/** `arrival`: as it came · `analyser`: instead of a load test · `cells`: cell by cell · `hold`: after a week on the shelf · `shelf`: on a round, outside any job. */
export type ReadingRole = 'arrival' | 'charge' | 'rest' | 'load' | 'analyser' | 'cells' | 'hold' | 'spot' | 'shelf';

/** One cell: SG as read, V, and the level of its liquid. */
export interface CellValues {
  specificGravity?: number;
  voltageV?: number;
  level?: CellLevel;
  bubbling?: boolean;
}

/** What a reading may hold: V per battery, A, °C, SG, mΩ, g. */
export interface ReadingValues {
  voltageV?: number;
  currentA?: number;
  temperatureC?: number;
  specificGravity?: number;
  /** By an analyser: mΩ, and A by the model's own standard. */
  resistanceMilliohm?: number;
  ccaA?: number;
  massG?: number;
  /** Load test: before the load, and after it came off, V. */
  beforeV?: number;
  afterV?: number;
}

/** `early`: before the rest was over · `surface`: too high to be rested · `confirmed`: implausible, asked, confirmed. */
export type ReadingMark = 'early' | 'surface' | 'confirmed';

export interface Reading {
  id: string;
  at: Moment;
  enteredAt: Moment;
  by: string;
  role: ReadingRole;
  stepId: string | null;
  attempt: number;
  values: ReadingValues;
  /** Cell by cell from plus to minus, where it was read so. */
  cells?: CellValues[] | null;
  /** The test an analyser's CCA is by. */
  standard?: CcaStandard | null;
  marks: ReadingMark[];
  /** Reading this one corrects, and the reading that corrected this one. */
  supersedes: string | null;
  supersededBy: string | null;
}

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

/** Written as an interface so that the published schemas can be made from it. */
export interface StepResult {
  [name: string]: string | number | boolean | string[] | { [name: string]: boolean };
}

/** Has current flowed in this job? From then on only water goes in. */
export function everCharged(state: JobState): boolean {
  return state.charge !== null || state.attempt > 1 || state.runs.some((r) => typeof r.result?.['ampereHours'] === 'number');
}

export interface ChargeState {
  mode: 'running' | 'paused' | 'halted' | 'ended';
  place: number;
  setA: number;
  setV: number;
  /** When current flowed; the last stretch is open while it flows. */
  on: OnStretch[];
  reason: string | null;
  /** Paused, and goes on by itself when it has cooled. */
  resumesItself: boolean;
  /** The live charge on an instrument, or null where it is run by hand. */
  live: LiveStart | null;
}

/** The moment a charge's current was first switched on. */
export function chargeStartedAt(charge: ChargeState): Moment {
  return charge.on[0]?.from ?? 0;
}

/** The plan an instrument followed, for the record of the step; empty where the charge was run by hand. */
export function planSaid(charge: ChargeState): StepResult {
  return charge.live ? { chargeId: charge.live.chargeId, planName: charge.live.planName, sentences: charge.live.sentences } : {};
}

/** Every charge of a job that an instrument ran, oldest first: which, and by which plan. */
export function liveChargesOf(state: JobState): { chargeId: string; planName: string }[] {
  const over = state.runs.flatMap(({ result }) =>
    typeof result?.['chargeId'] === 'string' ? [{ chargeId: result['chargeId'], planName: String(result['planName']) }] : [],
  );
  const { charge } = state;
  return charge?.live && !over.some((c) => c.chargeId === charge.live?.chargeId) ? [...over, charge.live] : over;
}

/** The step of a charge that is still to come in this attempt, for a job that is running; null where there is none. */
export function chargeToCome(procedure: Procedure, { status, charge, runs, attempt }: JobState): string | null {
  const begun = charge !== null && charge.mode !== 'ended';
  const step = procedure.steps.find((s) => s.kind === 'charge' && !runs.some((r) => r.stepId === s.id && r.attempt === attempt && r.end === 'done'));
  return status === 'running' && step && !begun ? step.id : null;
}

/** Since when it is off, or null while it flows. */
export function chargeOffSince(charge: ChargeState): Moment | null {
  return charge.on.at(-1)?.to ?? null;
}

/** Liquid added to cells by hand, apart from the fill. */
export interface TopUp {
  at: Moment;
  by: string;
  liquid: Liquid;
  /** Cells, numbered from 1 at the plus end. */
  cells: number[];
  ml: number | null;
  lot: string | null;
}
export type Liquid = 'acid' | 'water';

export interface Deviation {
  at: Moment;
  by: string;
  stepId: string;
  /** Text where an earlier version wrote it. */
  what: DeviationWhat | string;
  reason: string;
}

export type Outcome = 'passed' | 'light' | 'claim' | 'recover' | 'recycle' | 'refused';
export type JobStatus = 'running' | 'with-lead' | 'refused' | 'closed';

export interface Verdict {
  outcome: 'pass' | 'repeat' | 'lead' | 'incomplete';
  reasons: string[];
  restV: number | null;
  socPercent: number | null;
  /** Its band, 8 of 10, and what it was read off: the acid it was filled with, or the usual table. Absent in verdicts older than these. */
  socBand?: { low: number; high: number };
  socBy?: 'acid' | 'table';
  loadV: number | null;
  /** By an analyser, in the standard of the model. */
  ccaA?: number | null;
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
  /** Plan chosen for the charge; null takes the job's own figures. */
  chargePlan: ChargePlan | null;
  readings: Reading[];
  deviations: Deviation[];
  refusedPacks: { at: Moment; by: string; code: string }[];
  refusal: { at: Moment; by: string; stepId: string; reason: string } | null;
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
  return state.readings.filter((r) => r.supersededBy === null && (role === undefined || r.role === role));
}
