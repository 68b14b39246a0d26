import type { Sheet } from '../core/paper/sheet.ts';
import type { BatteryModel } from '../core/batteries/model.ts';
import type { ChargePlan } from '../core/charging/chargePlan.ts';
import type { FittedPlan } from '../core/charging/fitPlan.ts';
import type { OnStretch } from '../core/charging/progress.ts';
import type { PlanRun } from '../core/charging/runPlan.ts';
import type { HouseRules } from '../core/house/rules.ts';
import type { JobCommand } from '../core/job/commands.ts';
import type { JobEvent, Signed } from '../core/job/events.ts';
import type { JobState } from '../core/job/job.ts';
import type { Reading, ReadingValues } from '../core/job/reading.ts';
import type { JobPlan } from '../core/plan/jobPlan.ts';
import type { Band } from '../core/rehearsal/outlook.ts';
import type { Procedure, Purpose } from '../core/plan/procedure.ts';
import type { ChargeLog } from '../core/exchange/chargeLog.ts';
import type { Candidate } from '../core/sets/match.ts';
import type { StockItem } from '../core/storage/stock.ts';
import type { Trip } from '../core/charging/trips.ts';
import type { InstrumentSetting } from '../core/house/instruments.ts';

/** What crosses the wire. Moments are ms since the epoch; everything else SI, temperatures in °C. */

/** Procedures by their content's hash. Names that are not known beforehand stand in interfaces: the published schemas are made from them. */
export interface Procedures {
  [hash: string]: Procedure;
}

/** A message for each field, by its path. */
export interface FieldMessages {
  [field: string]: string;
}

export type Role = 'technician' | 'lead';

export interface Person {
  id: string;
  name: string;
  initials: string;
  role: Role;
  /** Works here still; who has left signs nothing more, and their name stays with what they signed. */
  active: boolean;
}

export interface Clock {
  now: number;
  /** Bench seconds per real second. */
  rate: number;
  /** The demo's clock may be sped up; a shop's never. */
  demo: boolean;
  /** The machine's clock, where it has parted from the bench's. */
  machine: MachineClock | null;
}

/** The machine's clock was set, or the machine slept: bench time goes on evenly, and a person is asked which is right. */
export interface MachineClock {
  /** How far it is ahead of the bench's, ms; behind is below 0. */
  aheadMs: number;
  /** A person has said that it is wrong: the bench keeps its own time. */
  kept: boolean;
}

/** How the data file stands on its disk. */
export interface FileStanding {
  ok: boolean;
  /** Moments of the machine's clock, ms; null while there is none. */
  lastWriteAt: number | null;
  freeBytes: number;
  /** Of the newest verified backup that the server has made. */
  backupAt: number | null;
  /** What a person should see to, the gravest first. */
  warnings: string[];
}

/** How much is dated later than the machine's clock, and is dated anew when that was wrong and is right now. */
export interface DatedAhead {
  jobs: number;
  batteries: number;
  shelf: number;
}

export interface AnswerClock extends Write {
  answer: 'passed' | 'put-right' | 'wrong';
  /** How far apart they were when it was asked, ms. */
  aheadMs: number;
}

export const CLOCK_RATES = [1, 60, 600] as const;

export interface Shop {
  rules: HouseRules;
  /** Of the rules as a whole: who changes them says which they have read. */
  rulesVersion: string;
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
  /** Batteries taken in together share a tray. */
  trayId: string | null;
}

/** A job without its procedure, which travels once beside the jobs that share it. */
export interface JobWire {
  id: string;
  battery: Battery;
  procedureId: string;
  plan: JobPlan;
  state: JobState;
  /** Number of its last event: grows with every change. */
  seq: number;
}

export interface BenchWire {
  procedures: Procedures;
  jobs: JobWire[];
}

export interface LoggedEvent extends Signed<JobEvent | BatteryEvent> {
  seq: number;
  jobId: string | null;
}

export type BatteryEvent =
  | { type: 'battery.taken-in'; tag: string; modelCode: string }
  | {
      type: 'shelf.read';
      readingId: string;
      voltageV: number;
      temperatureC?: number;
      at?: number;
      supersedes?: string;
    }
  | {
      type: 'shelf.as-found';
      since: number;
      chargedAt: number;
      readings: { at: number; voltageV: number }[];
      jobId: string | null;
    }
  | {
      type: 'shelf.left' | 'shelf.put-back';
      since: number;
      chargedAt: number;
      readings: { at: number; voltageV: number }[];
      jobId: string | null;
    }
  | { type: 'shelf.picked'; owner: string; reason: string | null }
  | {
      type: 'battery.imported';
      tag: string;
      modelCode: string;
      restV?: number;
      readAt?: number;
      chargedAt?: number;
    }
  | { type: 'log.imported'; name: string };

export interface RecordWire {
  battery: Battery;
  model: CatalogueModel;
  procedures: Procedures;
  jobs: JobWire[];
  events: LoggedEvent[];
  /** Readings outside any job, newest last. */
  shelfReadings: Reading[];
  stock: ShelfItem | null;
  logs: { id: string; name: string; startedAt: number; by: string; log: ChargeLog }[];
}

/** Body of every write: a client-made id, so that a retry writes once, and who signs. */
export interface Write {
  commandId: string;
  by: string;
}

export interface TakeIn extends Write {
  /** The first tag; with more than one battery, tags run on from it. */
  tag: string;
  count: number;
  purpose: Purpose;
  modelId: string;
  dateCode: string;
  owner: string;
  promisedAt: number | null;
}

/** A set that is kept together; its members as they were measured when it was made. */
export interface SetWire {
  id: string;
  modelCode: string;
  members: Candidate[];
  madeAt: number;
  by: string;
  endedAt: number | null;
  ended: string | null;
  endedBy: string | null;
}

export interface MakeSet extends Write {
  tags: string[];
}

export interface EndSet extends Write {
  reason: string;
}

export interface TakenIn {
  jobId: string;
  tag: string;
  jobIds: string[];
  tags: string[];
}

/** A new job for a battery that is on record. */
export interface OpenJob extends Write {
  purpose: Purpose;
  promisedAt: number | null;
}

export type LotKind = 'pack' | 'acid' | 'water';

/** A lot of electrolyte with what is left of it. Volumes mL, SG at 25 °C. */
export interface Lot {
  code: string;
  kind: LotKind;
  /** Code of the packs, for tube packs. */
  packCode: string | null;
  sg: number | null;
  quantityMl: number;
  leftMl: number;
  expiresAt: number | null;
  addedAt: number;
  uses: {
    at: number;
    by: string;
    ml: number;
    jobId: string | null;
    tag: string | null;
    why: string;
  }[];
}

export interface AddLot extends Write {
  lot: Pick<Lot, 'code' | 'kind' | 'packCode' | 'sg' | 'quantityMl' | 'expiresAt'>;
}

export interface UseLot extends Write {
  ml: number;
  why: string;
}

/** A battery on the shelf, as its row says it. */
export interface ShelfItem extends StockItem {
  owner: string;
  dateCode: string;
}

export interface ReadOnShelf extends Write {
  voltageV: number;
  temperatureC?: number;
  takenAt: number;
  sure?: boolean;
  /** The shelf reading that this one corrects; it stands in its place and moment. */
  supersedes?: string;
}

export interface PickFromShelf extends Write {
  owner: string;
  /** Why not the one that has stood longest, where another is taken. */
  reason?: string;
}

/** Who may sign in; of a PIN nothing but whether there is one. */
export interface SigningPerson extends Person {
  hasPin: boolean;
}

export interface SignInState {
  /** Signing in is needed here: the server listens wider than this machine. */
  required: boolean;
  /** Who is signed in, by session. */
  personId: string | null;
  people: SigningPerson[];
}

export interface SetActive extends Write {
  active: boolean;
}

/** The address a calendar follows, for the person who asks; a new one when the old one is to end. */
export interface CalendarAddress extends Write {
  renew: boolean;
}

export interface SetPin extends Write {
  pin: string;
}

export interface ImportModels extends Write {
  models: BatteryModel[];
}

export interface ImportedBattery {
  tag: string;
  modelCode: string;
  dateCode: string;
  owner: string;
  /** Wet stock: its rest voltage, V, and when it was read, ms; absent for what is not on the shelf. */
  restV: number | null;
  readAt: number | null;
  chargedAt: number | null;
}

export interface ImportBatteries extends Write {
  batteries: ImportedBattery[];
}

export interface ImportLog extends Write {
  name: string;
  log: ChargeLog;
}

export interface AddModel extends Write {
  model: BatteryModel;
}

export interface SendCommand extends Write {
  command: JobCommand;
  /** When the step that its sender saw in hand had begun: where another is in hand by now, nothing is done. */
  seenRun?: number;
}

/** The sheet of a job, to be set on paper. */
export interface SheetWire {
  sheet: Sheet;
  /** When it was kept, for a job that is over; null while it is in process, or where it ended before sheets were kept. */
  keptAt: number | null;
  /** What was put on record after that, a line each. */
  since: string[];
}

export interface ChangeRules extends Write {
  /** Of the rules that were read before they were changed. */
  version: string;
  rules: HouseRules;
}

export interface AddPerson {
  commandId: string;
  /** Null only for the first person of a new shop, who is its lead. */
  by: string | null;
  person: Omit<Person, 'id' | 'active'>;
}

export interface Problem {
  code:
    | 'invalid'
    | 'ask'
    | 'out-of-order'
    | 'forbidden'
    | 'not-found'
    | 'conflict'
    | 'too-large'
    | 'internal';
  message: string;
  /** A message per field, for forms. */
  fields: FieldMessages;
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
  /** The id of the plan of that name that is to be replaced; another one there is replaced by nobody. */
  replaces?: string;
}

export interface StartLive extends Write {
  stepId: string;
  place: number;
  charge: number | null;
  reason?: string;
}

export interface SkipStage extends Write {
  /** The stage that is to end, counted from 0: two people who press at once end one stage. */
  stage: number;
  reason: string;
}

/** One measurement from a bench instrument, of the battery on a place. */
export interface MeasureWith {
  kind: 'meter' | 'hydrometer' | 'analyser' | 'scale';
  place: number;
  cell?: number;
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
  trip: Trip | null;
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
  topic: 'bench' | 'shop' | 'models' | 'clock' | 'plans' | 'charge' | 'shelf' | 'lots';
  jobId?: string;
  /** Number of the job's last event, where it is known: a page that has it already asks for nothing. */
  seq?: number;
  tag?: string;
  /** With topic `charge`: the newest sample of every live charge. */
  live?: Record<string, LiveSample>;
}

export interface SignIn {
  personId: string;
  pin: string;
}

export interface TryInstrument {
  by: string;
  instrument: InstrumentSetting;
}
