import type { OwnCaseFacts } from '../core/drill/ownCase.ts';
import type { SharedResult } from './drillWire.ts';
import type { UnlabelledBattery } from '../core/batteries/unlabelled.ts';
import type { BatteryModel } from '../core/batteries/model.ts';
import type { ChargePlan } from '../core/charging/chargePlan.ts';
import type { Pin } from '../core/dayplan/pins.ts';
import type { HouseRules } from '../core/house/rules.ts';
import type { JobCommand } from '../core/job/commands.ts';
import type { Purpose } from '../core/plan/procedure.ts';
import type { ChargeLog } from '../core/exchange/chargeLog.ts';
import type { InstrumentSetting } from '../core/house/instruments.ts';
import type { Lot, Person } from './wire.ts';
import type { ClaimFacts, ClaimStatus } from '../core/claims/claim.ts';
import type { ChargerFacts } from '../core/chargers/charger.ts';

/** What is asked of the server: the bodies of its addresses. What it answers stands in `wire.ts`. */

export interface AnswerClock extends Write {
  answer: 'passed' | 'put-right' | 'wrong';
  /** How far apart they were when it was asked, ms. */
  aheadMs: number;
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
  /** A model of the catalogue, or what can be seen of a battery without a readable label. */
  modelId?: string;
  unlabelled?: UnlabelledBattery;
  dateCode: string;
  owner: string;
  promisedAt: number | null;
  /** Who sold it; empty where nobody knows. */
  supplier?: string;
}

/** What a note is about, besides its battery; a step, a reading and a claim only with what they belong to. */
export interface NoteAbout {
  jobId?: string;
  stepId?: string;
  readingId?: string;
  claimId?: string;
}

export interface AddNote extends Write, NoteAbout {
  text: string;
}

/** Said beside a picture's bytes. */
export interface AddPicture extends Write, NoteAbout {
  text?: string;
  /** When it was taken, where it was kept on a phone meanwhile; ms. */
  takenAt?: number;
}

export interface TakeBackNote extends Write {
  why: string;
}

export interface OpenClaim extends Write {
  jobId: string | null;
  claim: ClaimFacts;
}

/** Changes what a claim says, moves it on, or both. */
export interface ChangeClaim extends Write {
  claim?: ClaimFacts;
  status?: ClaimStatus;
  text: string;
}

export interface PutOnHold extends Write {
  what: 'model' | 'lot';
  code: string;
  why: string;
}

export interface LiftHold extends Write {
  why: string;
}

/** Where a battery stands: `rack B 2`; empty for nowhere in particular. */
export interface PlaceBattery extends Write {
  place: string;
}

export interface MakeSet extends Write {
  tags: string[];
}

export interface EndSet extends Write {
  reason: string;
}

/** A new job for a battery that is on record. */
export interface OpenJob extends Write {
  purpose: Purpose;
  promisedAt: number | null;
}

export interface SaveCharger extends Write {
  charger: ChargerFacts;
}

/** Owners of these were asked in for the service of this season. */
export interface AskedIn extends Write {
  tags: string[];
}

export interface AddLot extends Write {
  lot: Pick<Lot, 'code' | 'kind' | 'packCode' | 'sg' | 'quantityMl' | 'expiresAt'> & {
    supplier?: string;
  };
}

export interface UseLot extends Write {
  ml: number;
  why: string;
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

export interface SignIn {
  personId: string;
  pin: string;
}

export interface TryInstrument {
  by: string;
  instrument: InstrumentSetting;
}

/** Could so many batteries of this model be ready then? */
export interface AskPromise {
  model: BatteryModel;
  purpose: Purpose;
  count: number;
  wantedAt: number | null;
}

/** Sets where or when a battery charges in the day plan. */
export interface PinJob extends Write {
  pin: Pin;
}

/** How a case of the drill went, shared by who did it. */
export interface ShareDrill extends Write {
  result: SharedResult;
}

/** A case of the shop’s own, of a model of its catalogue. */
export interface SaveDrillCase extends Write {
  modelId: string;
  facts: OwnCaseFacts;
}

/** A case of the drill that a lead gives to somebody. */
export interface AssignDrill extends Write {
  personId: string;
  code: string;
  /** Why, in a line; may be empty. */
  note: string;
}
