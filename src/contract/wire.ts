import type { ZoneClocks } from '../core/quantities/zonedTime.ts';
import type { Pin } from '../core/dayplan/pins.ts';
import type { LiveSample } from './chargeWire.ts';
import type { ClaimFacts, ClaimStatus } from '../core/claims/claim.ts';
import type { Sheet } from '../core/paper/sheetForm.ts';
import type { BatteryModel } from '../core/batteries/model.ts';
import type { ChargePlan } from '../core/charging/chargePlan.ts';
import type { HouseRules } from '../core/house/rules.ts';
import type { JobEvent, Signed } from '../core/job/events.ts';
import type { JobState } from '../core/job/job.ts';
import type { Reading } from '../core/job/reading.ts';
import type { JobPlan } from '../core/plan/jobPlan.ts';
import type { Procedure } from '../core/plan/procedure.ts';
import type { ChargeLog } from '../core/exchange/chargeLog.ts';
import type { Candidate } from '../core/sets/candidate.ts';
import type { StockItem } from '../core/storage/stock.ts';

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

export const CLOCK_RATES = [1, 60, 600] as const;

export interface Shop {
  rules: HouseRules;
  /** Of the rules as a whole: who changes them says which they have read. */
  rulesVersion: string;
  people: Person[];
  demo: boolean;
  /** Clocks of its time zone, some years before and after now: a page that asked its platform would wait for that to wake. */
  clocks: ZoneClocks;
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
  /** Where it stands in the shop: `rack B 2`; null where nobody said. */
  place: string | null;
  /** Who sold it; null where nobody said. */
  supplier: string | null;
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
  | { type: 'battery.placed'; place: string | null }
  | { type: 'dayplan.pinned'; pin: Pin }
  | { type: 'service.asked' }
  | { type: 'shelf.picked'; owner: string; reason: string | null }
  | {
      type: 'battery.imported';
      tag: string;
      modelCode: string;
      restV?: number;
      readAt?: number;
      chargedAt?: number;
    }
  | { type: 'log.imported'; name: string }
  | { type: 'note.written'; noteId: string; text: string; picture: string | null }
  | { type: 'note.taken-back'; noteId: string; why: string; picture: string | null }
  | { type: 'claim.opened'; number: number; claim: ClaimFacts }
  | {
      type: 'claim.moved' | 'claim.changed';
      number: number;
      status: ClaimStatus;
      text: string;
      claim?: ClaimFacts;
    };

export interface RecordWire {
  battery: Battery;
  model: CatalogueModel;
  procedures: Procedures;
  jobs: JobWire[];
  events: LoggedEvent[];
  /** Readings outside any job, newest last. */
  shelfReadings: Reading[];
  stock: ShelfItem | null;
  logs: { id: string; name: string; addedAt: number; by: string; log: ChargeLog }[];
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

export interface TakenIn {
  jobId: string;
  tag: string;
  jobIds: string[];
  tags: string[];
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
  /** Who sold it; null where nobody said. */
  supplier: string | null;
  uses: {
    at: number;
    by: string;
    ml: number;
    jobId: string | null;
    tag: string | null;
    why: string;
  }[];
}

/** A battery on the shelf, as its row says it. */
export interface ShelfItem extends StockItem {
  owner: string;
  dateCode: string;
  /** Where it stands: `rack B 2`; null where nobody said. */
  place: string | null;
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

/** The sheet of a job, to be set on paper. */
export interface SheetWire {
  sheet: Sheet;
  /** When it was kept, for a job that is over; null while it is in process, or where it ended before sheets were kept. */
  keptAt: number | null;
  /** What was put on record after that, a line each. */
  since: string[];
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

export interface PlansWire {
  standard: ChargePlan[];
  own: ChargePlan[];
}

/** What the stream says when something changed. */
export interface ChangeNotice {
  topic:
    /** More has changed than can be told: everything is asked for again. */
    | 'anew'
    | 'bench'
    | 'shop'
    | 'models'
    | 'clock'
    | 'plans'
    | 'charge'
    | 'shelf'
    | 'lots'
    | 'chargers'
    | 'dayPlan'
    | 'plannedByHand'
    | 'notes'
    | 'claims'
    | 'holds'
    | 'services';
  jobId?: string;
  /** Number of the job's last event, where it is known: a page that has it already asks for nothing. */
  seq?: number;
  tag?: string;
  /** With topic `charge`: the newest sample of every live charge. */
  live?: Record<string, LiveSample>;
}
