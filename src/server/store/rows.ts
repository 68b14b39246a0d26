import type { ClaimWire, HoldWire, NoteWire } from '../../contract/paperWire.ts';
import type { ChargeWire } from '../../contract/chargeWire.ts';
import type { Battery, LotKind, Person, SetWire } from '../../contract/wire.ts';
import type { ChargePlan } from '../../core/charging/chargePlan.ts';
import type { JobState } from '../../core/job/job.ts';
import type { Reading } from '../../core/job/reading.ts';
import type { JobPlan } from '../../core/plan/jobPlan.ts';
import type { Purpose } from '../../core/plan/procedure.ts';
import type { RecoverySummary } from '../../core/sets/recoverySummary.ts';
import type { ChargeLog } from '../../core/exchange/chargeLog.ts';
import type { ShelfReading } from '../../core/storage/selfDischarge.ts';
import type { CommissionSummary } from '../../core/results/commissionSummary.ts';
import type { ChargerFacts } from '../../core/chargers/charger.ts';

/** What the tables hold, a row of each. */

/** Rows as they lie in SQLite. Moments are ms since the epoch in integers; JSON is text. */
export interface JobRow {
  id: string;
  batteryId: string;
  procedureHash: string;
  plan: JobPlan;
  state: JobState;
  status: string;
  purpose: Purpose;
  openedAt: number;
  closedAt: number | null;
  seq: number;
}

export interface EventRow {
  seq?: number;
  at: number;
  by: string;
  batteryId: string | null;
  jobId: string | null;
  commandId: string;
  type: string;
  data: unknown;
}

export interface ReadingRow extends Omit<Reading, 'supersededBy'> {
  batteryId: string;
  /** Null for a reading outside any job, on the shelf. */
  jobId: string | null;
}

export type BatteryRow = Omit<Battery, 'modelCode' | 'modelName' | 'cells'>;

export interface StockRow {
  batteryId: string;
  since: number;
  chargedAt: number;
  readings: ShelfReading[];
  jobId: string | null;
}

/** Members as they were measured when the set was made. */
export type SetRow = SetWire;

export interface LotRow {
  code: string;
  kind: LotKind;
  packCode: string | null;
  sg: number | null;
  quantityMl: number;
  expiresAt: number | null;
  addedAt: number;
  by: string;
  supplier: string | null;
}

/** A note, with the battery it is about. */
export interface NoteRow extends NoteWire {
  batteryId: string;
}

export interface ClaimRow extends Omit<ClaimWire, 'tag' | 'modelCode'> {
  batteryId: string;
}

export type HoldRow = HoldWire;

/** What the day plan said of a promise when it first knew of it; moments in ms, null where the shop could not do it. */
export interface PromiseRow {
  jobId: string;
  promisedAt: number;
  saidAt: number;
  /** Its chance, 0–1. */
  kept: number;
  /** When it would be ready: 1 in 10, even, 9 in 10. */
  low: number | null;
  middle: number | null;
  high: number | null;
}

/** What an ended commissioning brought; made again where the version is old. */
export interface CommissionSummaryRow {
  jobId: string;
  batteryId: string;
  closedAt: number;
  version: number;
  body: CommissionSummary;
}

export interface ChargerRow {
  id: string;
  body: ChargerFacts;
  standingSince: number;
  addedAt: number;
  by: string;
  removedAt: number | null;
}

export interface LotUseRow {
  id: string;
  lot: string;
  at: number;
  by: string;
  ml: number;
  jobId: string | null;
  why: string;
}

export interface PersonRow extends Person {
  /** scrypt, salted; null while none is set. */
  pinHash: string | null;
  /** Of the person's own calendar address; null while there is none. */
  calendarToken: string | null;
}

/** A device a person has signed in from. */
export interface DeviceRow {
  hash: string;
  personId: string;
  seenAt: number;
}

export interface SessionRow {
  hash: string;
  personId: string;
  openedAt: number;
  seenAt: number;
}

export interface ChargeLogRow {
  id: string;
  batteryId: string;
  name: string;
  /** What they are put in order by: when it began, or was added where that is not known. */
  startedAt: number;
  by: string;
  addedAt: number;
  body: ChargeLog;
}

export interface CommandRow {
  id: string;
  at: number;
  bodyHash: string;
  response: unknown;
}

export interface ChargeRow extends Omit<ChargeWire, 'samples' | 'sampleCount' | 'left'> {
  seq?: number;
  /** What was taken for its state at the start. */
  guess: { charge: number | null; temperatureC: number; roomC: number };
  lastAt: number;
}

/** What an ended recovery brought, as {@link RecoverySummary}; made again where the version is old. */
export interface RecoverySummaryRow {
  jobId: string;
  batteryId: string;
  closedAt: number;
  version: number;
  body: RecoverySummary;
}

export interface PlanRow {
  id: string;
  name: string;
  body: ChargePlan;
  by: string;
  at: number;
}
