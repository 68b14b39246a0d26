import type { BatteryModel } from '../core/batteries/model.ts';
import type { ChargePlan } from '../core/charging/chargePlan.ts';
import type { FittedPlan } from '../core/charging/fitPlan.ts';
import type { OnStretch } from '../core/charging/progress.ts';
import type { PlanRun } from '../core/charging/runPlan.ts';
import type { HouseRules } from '../core/house/rules.ts';
import type { JobCommand } from '../core/procedures/commands.ts';
import type { JobEvent, Signed } from '../core/procedures/events.ts';
import type { JobState, ReadingValues } from '../core/procedures/job.ts';
import type { CommissioningPlan } from '../core/procedures/plan.ts';
import type { Band } from '../core/rehearsal/outlook.ts';
import type { Procedure } from '../core/procedures/procedure.ts';

/** What crosses the wire. Moments are ms since the epoch; everything else SI, temperatures in °C. */

export type Role = 'technician' | 'lead';

export interface Person {
  id: string;
  name: string;
  initials: string;
  role: Role;
}

export interface Clock {
  now: number;
  /** Bench seconds per real second. */
  rate: number;
  /** The demo's clock may be sped up; a shop's never. */
  demo: boolean;
}

export const CLOCK_RATES = [1, 60, 600] as const;

export interface Shop {
  rules: HouseRules;
  people: Person[];
  demo: boolean;
}

export interface CatalogueModel extends BatteryModel {
  id: string;
}

export interface Battery {
  id: string;
  tag: string;
  modelId: string;
  modelCode: string;
  modelName: string;
  cells: number;
  dateCode: string;
  owner: string;
  /** When it was promised; null for shelf stock. */
  promisedAt: number | null;
  takenInAt: number;
}

/** A job without its procedure, which travels once beside the jobs that share it. */
export interface JobWire {
  id: string;
  battery: Battery;
  procedureId: string;
  plan: CommissioningPlan;
  state: JobState;
  /** Number of its last event: grows with every change. */
  seq: number;
}

export interface BenchWire {
  procedures: Record<string, Procedure>;
  jobs: JobWire[];
}

export interface LoggedEvent extends Signed<JobEvent | BatteryEvent> {
  seq: number;
  jobId: string | null;
}

export interface BatteryEvent {
  type: 'battery.taken-in';
  tag: string;
  modelCode: string;
}

export interface RecordWire {
  battery: Battery;
  procedures: Record<string, Procedure>;
  jobs: JobWire[];
  events: LoggedEvent[];
}

/** Body of every write: a client-made id, so that a retry writes once, and who signs. */
export interface Write {
  commandId: string;
  by: string;
}

export interface TakeIn extends Write {
  tag: string;
  modelId: string;
  dateCode: string;
  owner: string;
  promisedAt: number | null;
}

export interface AddModel extends Write {
  model: BatteryModel;
}

export interface SendCommand extends Write {
  command: JobCommand;
}

export interface ChangeRules extends Write {
  rules: HouseRules;
}

export interface AddPerson {
  commandId: string;
  /** Null only for the first person of a new shop, who is its lead. */
  by: string | null;
  person: Omit<Person, 'id'>;
}

export interface Problem {
  code: 'invalid' | 'ask' | 'out-of-order' | 'forbidden' | 'not-found' | 'conflict' | 'too-large' | 'internal';
  message: string;
  /** A message per field, for forms. */
  fields: Record<string, string>;
}

/** Newest of a live charge. `at` in ms of bench time. */
export interface LiveSample {
  at: number;
  voltageV: number;
  currentA: number;
  temperatureC: number;
  ahIn: number;
  stage: number;
}

export interface PlansWire {
  standard: ChargePlan[];
  own: ChargePlan[];
}

export interface SavePlan extends Write {
  plan: ChargePlan;
}

export interface StartLive extends Write {
  stepId: string;
  place: number;
  charge: number | null;
  reason?: string;
}

export interface SkipStage extends Write {
  reason: string;
}

/** Samples in columns, thinned to what a screen can draw; low and high keep the peaks. */
export interface SampleColumns {
  hours: number[];
  voltageV: number[];
  voltageLowV: number[];
  voltageHighV: number[];
  currentA: number[];
  temperatureC: number[];
}

/** What a charge was expected to do when it began: hours with current on, V, A. */
export interface Expectation {
  totalH: number;
  hours: number[];
  voltageV: number[];
  currentA: number[];
}

export interface ChargeWire {
  id: string;
  jobId: string;
  place: number;
  instrument: string;
  startedAt: number;
  endedAt: number | null;
  mode: 'running' | 'paused' | 'asking' | 'ended';
  plan: FittedPlan;
  run: PlanRun;
  /** The guard that last switched it off, or what interrupted it. */
  trip: { key: string; title: string; sentence: string } | null;
  samples: SampleColumns;
  /** When its current was on; the last stretch is open while it is. */
  stretches: OnStretch[];
  sampleCount: number;
  expected: Expectation;
  /** Hours left by the twins that agree with the samples. */
  left: Band | null;
}

export interface TriedInstrument {
  ok: boolean;
  /** Who it says it is, and what was found, one line each. */
  lines: string[];
}

/** What a bench instrument reads now, in the units readings are kept in. */
export type Measured = ReadingValues;

/** What the stream says when something changed. */
export interface ChangeNotice {
  topic: 'bench' | 'shop' | 'models' | 'clock' | 'plans' | 'charge';
  jobId?: string;
  tag?: string;
  /** With topic `charge`: the newest sample of every live charge. */
  live?: Record<string, LiveSample>;
}
