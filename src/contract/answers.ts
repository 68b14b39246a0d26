import type { ChargePlan } from '../core/charging/chargePlan.ts';
import type { HouseRules } from '../core/house/rules.ts';
import type { RecoveryResult } from '../core/recovery/record.ts';
import type { Procedure } from '../core/plan/procedure.ts';
import type { Candidate } from '../core/sets/candidate.ts';
import type { ToldPlan } from '../core/dayplan/told.ts';
import type { AskedWire, DayPlanWire, ServicesWire } from './dayPlanWire.ts';
import type { DrillWire } from './drillWire.ts';
import type { NoteWire, PictureRoom, ClaimWire, HoldWire } from './paperWire.ts';
import type { ChargeWire, Measured, TriedInstrument, PulseRecord } from './chargeWire.ts';
import type {
  DatedAhead,
  FileStanding,
  Battery,
  BenchWire,
  CatalogueModel,
  Clock,
  JobWire,
  Lot,
  Person,
  PlansWire,
  Problem,
  RecordWire,
  SetWire,
  SheetWire,
  ShelfItem,
  Shop,
  SignInState,
  TakenIn,
} from './wire.ts';
import type { Recovered } from '../core/results/recovered.ts';
import type { Help } from '../core/dayplan/helps.ts';
import type { Experience } from '../core/diagnosis/practice/experience.ts';
import type { Calibration } from '../core/results/calibration.ts';
import type { PromisesKept } from '../core/results/promises.ts';
import type { Failures } from '../core/results/failures.ts';
import type { ShopCharger } from '../core/chargers/charger.ts';

/**
 * What every address answers that answers in JSON, by the endpoint's key. The server's handlers and the pages use
 * these types; the published schemas are made from them (`npm run answers`), so that they cannot say another thing.
 */
export interface Answers {
  health: { ok: boolean; version: string };
  file: FileStanding;
  clock: Clock;
  setRate: Clock;
  answerClock: Clock;
  datedAhead: DatedAhead;
  shop: Shop;
  changeRules: HouseRules;
  addPerson: Person;
  models: CatalogueModel[];
  addModel: CatalogueModel;
  nextTag: { tag: string };
  bench: BenchWire;
  takeIn: TakenIn;
  findBatteries: { batteries: FoundBattery[]; total: number };
  record: RecordWire;
  job: { job: JobWire; procedure: Procedure };
  sheet: SheetWire;
  sendCommand: { job: JobWire };
  plans: PlansWire;
  savePlan: ChargePlan;
  tryInstrument: TriedInstrument;
  measure: Measured;
  startLive: { chargeId: string };
  charge: ChargeWire;
  skipStage: { chargeId: string };
  openJob: { jobId: string };
  importLog: { id: string };
  importModels: { added: number };
  importBatteries: { added: number; shelved: number };
  experience: { experience: Experience; held: Calibration };
  recoveries: { results: RecoveryResult[]; recovered: Recovered[] };
  sets: { sets: SetWire[]; candidates: Candidate[] };
  makeSet: { id: string };
  endSet: { id: string };
  shelf: { items: ShelfItem[] };
  readOnShelf: { tag: string };
  pickFromShelf: { tag: string };
  chargers: { chargers: ShopCharger[] };
  placeBattery: { ok: true };
  addCharger: { id: string };
  dayPlan: DayPlanWire;
  askPromise: AskedWire;
  tryPin: { plan: ToldPlan | null };
  pinJob: { ok: true };
  supposePlan: { plan: ToldPlan | null };
  promiseHelps: { helps: Help[] };
  promises: PromisesKept;
  services: ServicesWire;
  askedIn: { tags: string[] };
  waveform: { record: PulseRecord | null };
  changeCharger: { id: string };
  removeCharger: { id: string };
  lots: { lots: Lot[] };
  addLot: { code: string };
  useLot: { leftMl: number };
  setActive: Person;
  notes: { notes: NoteWire[] };
  addNote: { id: string };
  addPicture: { id: string; name: string };
  takeBackNote: { id: string };
  pictureRoom: PictureRoom;
  claims: { claims: ClaimWire[] };
  openClaim: { id: string };
  changeClaim: { id: string };
  failures: Failures;
  holds: { holds: HoldWire[] };
  putOnHold: { id: string };
  liftHold: { id: string };
  drill: DrillWire;
  shareDrill: { id: string };
  saveDrillCase: { code: string };
  assignDrill: { id: string };
  calendarAddress: { path: string };
  signInState: SignInState;
  signIn: SignInState;
  signOut: { ok: true };
  setPin: { id: string };
  /** Every refusal and every fault. */
  problem: { error: Problem };
}

/** A battery with how its last job stands. */
export interface FoundBattery extends Battery {
  status: string;
}
