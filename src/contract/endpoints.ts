import type Joi from 'joi';
import { ADDRESSES } from './addresses.ts';
import {
  addModelSchema,
  addPersonSchema,
  answerClockSchema,
  askPromiseSchema,
  dayPlanQuery,
  pinJobSchema,
  supposePlanSchema,
  tryPinSchema,
  changeRulesSchema,
  findQuery,
  streamQuery,
  idParam,
  openJobSchema,
  setRateSchema,
  tagParam,
  takeInSchema,
  placeBatterySchema,
} from './schemas.ts';
import { sendCommandSchema } from './commandSchemas.ts';
import {
  chargeIdParam,
  chargeQuery,
  measureSchema,
  savePlanSchema,
  skipStageSchema,
  startLiveSchema,
  tryInstrumentSchema,
} from './chargeSchemas.ts';

import {
  addNoteSchema,
  addPictureQuery,
  changeClaimSchema,
  liftHoldSchema,
  openClaimSchema,
  pictureParam,
  pictureQuery,
  putOnHoldSchema,
  takeBackNoteSchema,
} from './paperSchemas.ts';
import { assignDrillSchema, saveDrillCaseSchema, shareDrillSchema } from './drillSchemas.ts';
import {
  addLotSchema,
  askedInSchema,
  asOfQuery,
  calendarAddressSchema,
  calendarQuery,
  endSetSchema,
  importBatteriesSchema,
  makeSetSchema,
  importLogSchema,
  importModelsSchema,
  lotParam,
  personParam,
  removeChargerSchema,
  saveChargerSchema,
  pickFromShelfSchema,
  readOnShelfSchema,
  setActiveSchema,
  setPinSchema,
  signInSchema,
  tagsQuery,
  trayParam,
  useLotSchema,
} from './shopSchemas.ts';

/**
 * Every address the server answers, with the schemas its edge checks. Handlers and pages are typed by this list, and the API
 * document is made from it; so it is one list, long as it is.
 */
export interface Endpoint {
  method: 'get' | 'post' | 'put';
  path: string;
  summary: string;
  params?: Joi.ObjectSchema;
  query?: Joi.ObjectSchema;
  body?: Joi.ObjectSchema;
  produces: string;
  /** Answers 201: it makes something new. */
  creates?: true;
  /** Answers before anybody has signed in, where signing in is needed. */
  open?: true;
  /** Answers only a lead. */
  lead?: true;
  /** Longest body, where it may be longer than usual. */
  bodyLimit?: string;
  /** Its body is a file of this kind, as it is; who sends it stands in the query. */
  takes?: 'image/*';
}

const json = 'application/json';
const csv = 'text/csv';

export const ENDPOINTS = {
  health: {
    ...ADDRESSES.health,
    summary: 'Is the server up, and is its file sound',
    produces: json,
    open: true,
  },
  file: {
    ...ADDRESSES.file,
    summary: 'How the data file stands: last write, room on the disk, last backup',
    produces: json,
  },
  clock: { ...ADDRESSES.clock, summary: "The bench's time", produces: json },
  setRate: {
    ...ADDRESSES.setRate,
    summary: 'Speed of the demo clock; a shop has none',
    body: setRateSchema,
    produces: json,
  },
  answerClock: {
    ...ADDRESSES.answerClock,
    summary: "Which is right, where bench time and the machine's clock have parted",
    body: answerClockSchema,
    produces: json,
  },
  datedAhead: {
    ...ADDRESSES.datedAhead,
    summary: "How much is dated later than the machine's clock",
    produces: json,
  },
  stream: {
    ...ADDRESSES.stream,
    summary: 'Server-sent events: what has changed, since a change where that is given',
    query: streamQuery,
    produces: 'text/event-stream',
  },
  shop: { ...ADDRESSES.shop, summary: 'House rules and people', produces: json },
  changeRules: {
    ...ADDRESSES.changeRules,
    summary: 'Change the house rules (a lead)',
    body: changeRulesSchema,
    produces: json,
  },
  addPerson: {
    ...ADDRESSES.addPerson,
    summary: 'Add a person (a lead; anyone while there is nobody)',
    body: addPersonSchema,
    produces: json,
    creates: true,
  },
  models: { ...ADDRESSES.models, summary: 'The catalogue of models', produces: json },
  addModel: {
    ...ADDRESSES.addModel,
    summary: 'Add a model to the catalogue',
    body: addModelSchema,
    produces: json,
    creates: true,
  },
  nextTag: {
    ...ADDRESSES.nextTag,
    summary: 'The tag that follows the last one used',
    produces: json,
  },
  bench: {
    ...ADDRESSES.bench,
    summary: "Every job in process, and today's ended ones",
    produces: json,
  },
  takeIn: {
    ...ADDRESSES.takeIn,
    summary: 'Take a battery in and open its job',
    body: takeInSchema,
    produces: json,
    creates: true,
  },
  findBatteries: {
    ...ADDRESSES.findBatteries,
    summary: 'Find batteries by tag, owner or model',
    query: findQuery,
    produces: json,
  },
  record: {
    ...ADDRESSES.record,
    summary: "A battery's record: jobs, readings, events",
    params: tagParam,
    produces: json,
  },
  tagQr: {
    ...ADDRESSES.tagQr,
    summary: 'Its tag as a QR drawing',
    params: tagParam,
    produces: 'image/svg+xml',
  },
  tagSvg: {
    ...ADDRESSES.tagSvg,
    summary: 'Its tag as a Code 128 drawing',
    params: tagParam,
    produces: 'image/svg+xml',
  },
  tagPdf: {
    ...ADDRESSES.tagPdf,
    summary: 'Its tag, ready to print',
    params: tagParam,
    produces: 'application/pdf',
  },
  job: { ...ADDRESSES.job, summary: 'One job', params: idParam, produces: json },
  sendCommand: {
    ...ADDRESSES.sendCommand,
    summary: 'Do something in a job',
    params: idParam,
    body: sendCommandSchema,
    produces: json,
  },
  sheet: {
    ...ADDRESSES.sheet,
    summary: 'The handover sheet as words and numbers',
    params: idParam,
    produces: json,
  },
  sheetPdf: {
    ...ADDRESSES.sheetPdf,
    summary: 'The handover sheet',
    params: idParam,
    produces: 'application/pdf',
  },
  plans: {
    ...ADDRESSES.plans,
    summary: "Charge plans: the standard ones and the shop's own",
    produces: json,
  },
  savePlan: {
    ...ADDRESSES.savePlan,
    summary: 'Keep a charge plan under its name',
    body: savePlanSchema,
    produces: json,
    creates: true,
  },
  tryInstrument: {
    ...ADDRESSES.tryInstrument,
    summary: 'Does an instrument answer, and can it be trusted with a charge',
    body: tryInstrumentSchema,
    produces: json,
    lead: true,
  },
  measure: {
    ...ADDRESSES.measure,
    summary: 'One measurement from a bench instrument',
    body: measureSchema,
    produces: json,
  },
  startLive: {
    ...ADDRESSES.startLive,
    summary: 'Start the charge of a job on the instrument of a place',
    params: idParam,
    body: startLiveSchema,
    produces: json,
    creates: true,
  },
  charge: {
    ...ADDRESSES.charge,
    summary: 'A live charge: plan, how far it is, samples, what was expected',
    params: chargeIdParam,
    query: chargeQuery,
    produces: json,
  },
  dayPlan: {
    ...ADDRESSES.dayPlan,
    summary: 'Places, chargers and people over the next days, and the chance of each promise',
    produces: json,
  },
  dayPlanPdf: {
    ...ADDRESSES.dayPlanPdf,
    summary:
      'The day on paper: who does what and when, promises, and what to see to before leaving',
    query: dayPlanQuery,
    produces: 'application/pdf',
  },
  tryPin: {
    ...ADDRESSES.tryPin,
    summary: 'What the day plan would be if this were set by hand; nothing is kept',
    body: tryPinSchema,
    produces: json,
  },
  supposePlan: {
    ...ADDRESSES.supposePlan,
    summary: 'What the day plan would be in a shop that is otherwise; nothing is kept',
    body: supposePlanSchema,
    produces: json,
  },
  promiseHelps: {
    ...ADDRESSES.promiseHelps,
    summary: 'What would make a promise safer, the best first, and who would pay for it',
    params: idParam,
    produces: json,
  },
  promises: {
    ...ADDRESSES.promises,
    summary: 'What the day plan said of promises, beside what came',
    produces: json,
  },
  services: {
    ...ADDRESSES.services,
    summary: 'Whose batteries are to be asked in for their service this season',
    produces: json,
  },
  askedIn: {
    ...ADDRESSES.askedIn,
    summary: 'The owners of these batteries were asked in',
    body: askedInSchema,
    produces: json,
  },
  pinJob: {
    ...ADDRESSES.pinJob,
    summary: 'Set where or when a battery charges, or leave it to the plan again',
    body: pinJobSchema,
    produces: json,
  },
  askPromise: {
    ...ADDRESSES.askPromise,
    summary: 'What can be promised of batteries that are not there yet; nothing is kept',
    body: askPromiseSchema,
    produces: json,
  },
  waveform: {
    ...ADDRESSES.waveform,
    summary: 'A record of the pulses a live charge gives, where its instrument keeps one',
    params: chargeIdParam,
    produces: json,
  },
  skipStage: {
    ...ADDRESSES.skipStage,
    summary: 'Go on to the next stage of a live charge',
    params: chargeIdParam,
    body: skipStageSchema,
    produces: json,
  },
  openJob: {
    ...ADDRESSES.openJob,
    summary: 'Open a job for a battery on record',
    params: tagParam,
    body: openJobSchema,
    produces: json,
    creates: true,
  },
  exportBattery: {
    ...ADDRESSES.exportBattery,
    summary: 'A battery, its jobs and readings, by the published schema',
    params: tagParam,
    produces: json,
  },
  batterySchema: {
    ...ADDRESSES.batterySchema,
    summary: 'JSON Schema of an exported battery',
    produces: 'application/schema+json',
  },
  shopSchema: {
    ...ADDRESSES.shopSchema,
    summary: 'JSON Schema of the tables in an archive of the whole shop',
    produces: 'application/schema+json',
  },
  readingsCsv: {
    ...ADDRESSES.readingsCsv,
    summary: 'Its readings as a table',
    params: tagParam,
    produces: csv,
  },
  samplesCsv: {
    ...ADDRESSES.samplesCsv,
    summary: "A live charge's samples, columns of the Battery Data Format",
    params: chargeIdParam,
    produces: csv,
  },
  logCsv: {
    ...ADDRESSES.logCsv,
    summary: 'A log brought in, columns of the Battery Data Format',
    params: idParam,
    produces: csv,
  },
  importLog: {
    ...ADDRESSES.importLog,
    summary: "Keep a charger's or meter's log with a battery",
    params: tagParam,
    body: importLogSchema,
    bodyLimit: '2mb',
    produces: json,
    creates: true,
  },
  importModels: {
    ...ADDRESSES.importModels,
    summary: 'Add many models, all or none',
    body: importModelsSchema,
    bodyLimit: '2mb',
    produces: json,
    creates: true,
  },
  importBatteries: {
    ...ADDRESSES.importBatteries,
    summary: 'Add many batteries, all or none',
    body: importBatteriesSchema,
    bodyLimit: '2mb',
    produces: json,
    creates: true,
  },
  tagSheetPdf: {
    ...ADDRESSES.tagSheetPdf,
    summary: 'Date tags on a label sheet',
    query: tagsQuery,
    produces: 'application/pdf',
  },
  trayPdf: {
    ...ADDRESSES.trayPdf,
    summary: 'A tray on one page',
    params: trayParam,
    produces: 'application/pdf',
  },
  experience: {
    ...ADDRESSES.experience,
    summary:
      'What the shop’s own recoveries teach the diagnosis, now or as it was known at a moment',
    query: asOfQuery,
    produces: json,
  },
  recoveries: {
    ...ADDRESSES.recoveries,
    summary: 'Every cycle of the recoveries that have ended, with forecast and result',
    produces: json,
  },
  sets: {
    ...ADDRESSES.sets,
    summary: 'Sets that stand, and recovered batteries free for one',
    produces: json,
  },
  makeSet: {
    ...ADDRESSES.makeSet,
    summary: 'Keep batteries together as a set',
    body: makeSetSchema,
    produces: json,
    creates: true,
  },
  endSet: {
    ...ADDRESSES.endSet,
    summary: 'Take a set apart, or give it out',
    params: idParam,
    body: endSetSchema,
    produces: json,
  },
  setPdf: {
    ...ADDRESSES.setPdf,
    summary: 'The sheet of a set',
    params: idParam,
    produces: 'application/pdf',
  },
  shelf: { ...ADDRESSES.shelf, summary: 'Wet stock on the shelf', produces: json },
  shelfPdf: {
    ...ADDRESSES.shelfPdf,
    summary: 'The shelf list, ready to print',
    produces: 'application/pdf',
  },
  shelfCsv: { ...ADDRESSES.shelfCsv, summary: 'The shelf list as a table', produces: csv },
  readOnShelf: {
    ...ADDRESSES.readOnShelf,
    summary: 'A rest voltage read on a round of the shelf',
    params: tagParam,
    body: readOnShelfSchema,
    produces: json,
    creates: true,
  },
  pickFromShelf: {
    ...ADDRESSES.pickFromShelf,
    summary: 'Take a battery off the shelf for somebody',
    params: tagParam,
    body: pickFromShelfSchema,
    produces: json,
  },
  chargers: { ...ADDRESSES.chargers, summary: 'The shop’s chargers', produces: json },
  placeBattery: {
    ...ADDRESSES.placeBattery,
    summary: 'Say where a battery stands',
    params: tagParam,
    body: placeBatterySchema,
    produces: json,
  },
  addCharger: {
    ...ADDRESSES.addCharger,
    summary: 'Add a charger',
    body: saveChargerSchema,
    produces: json,
    creates: true,
  },
  changeCharger: {
    ...ADDRESSES.changeCharger,
    summary: 'Change what is written down of a charger',
    params: idParam,
    body: saveChargerSchema,
    produces: json,
  },
  removeCharger: {
    ...ADDRESSES.removeCharger,
    summary: 'Remove a charger; charges it made keep its name',
    params: idParam,
    body: removeChargerSchema,
    produces: json,
  },
  lots: { ...ADDRESSES.lots, summary: 'Electrolyte in stock, with what was taken', produces: json },
  addLot: {
    ...ADDRESSES.addLot,
    summary: 'Take a lot of electrolyte into stock',
    body: addLotSchema,
    produces: json,
    creates: true,
  },
  useLot: {
    ...ADDRESSES.useLot,
    summary: 'Take from a lot outside a job',
    params: lotParam,
    body: useLotSchema,
    produces: json,
  },
  calendar: {
    ...ADDRESSES.calendar,
    summary: 'Due times as an iCalendar feed',
    query: calendarQuery,
    produces: 'text/calendar',
    open: true,
  },
  drill: {
    ...ADDRESSES.drill,
    summary: 'Results of the drill that people have shared, and cases a lead has given out',
    produces: json,
  },
  shareDrill: {
    ...ADDRESSES.shareDrill,
    summary: 'Share how a case of the drill went',
    body: shareDrillSchema,
    produces: json,
    creates: true,
  },
  saveDrillCase: {
    ...ADDRESSES.saveDrillCase,
    summary: 'Keep a case of the drill that this shop has written',
    body: saveDrillCaseSchema,
    produces: json,
    creates: true,
    lead: true,
  },
  assignDrill: {
    ...ADDRESSES.assignDrill,
    summary: 'Give somebody a case of the drill to do',
    body: assignDrillSchema,
    produces: json,
    creates: true,
    lead: true,
  },
  calendarAddress: {
    ...ADDRESSES.calendarAddress,
    summary: "The address of one's own calendar feed; a new one when asked",
    body: calendarAddressSchema,
    produces: json,
  },
  signInState: {
    ...ADDRESSES.signInState,
    summary: 'Is signing in needed, and who is signed in',
    produces: json,
    open: true,
  },
  signIn: {
    ...ADDRESSES.signIn,
    summary: 'Sign in with a PIN',
    body: signInSchema,
    produces: json,
    open: true,
  },
  signOut: { ...ADDRESSES.signOut, summary: 'End the session', produces: json, open: true },
  setActive: {
    ...ADDRESSES.setActive,
    summary: 'A person has left, or is back (a lead)',
    params: personParam,
    body: setActiveSchema,
    produces: json,
    lead: true,
  },
  setPin: {
    ...ADDRESSES.setPin,
    summary: "Set a person's PIN (oneself, or a lead)",
    params: personParam,
    body: setPinSchema,
    produces: json,
  },
  notes: {
    ...ADDRESSES.notes,
    summary: 'Notes and pictures on a battery, its jobs, readings and claims',
    params: tagParam,
    produces: json,
  },
  addNote: {
    ...ADDRESSES.addNote,
    summary: 'Write a note on a battery, a job, a step, a reading or a claim',
    params: tagParam,
    body: addNoteSchema,
    produces: json,
    creates: true,
  },
  addPicture: {
    ...ADDRESSES.addPicture,
    summary: 'Keep a picture: shrunk, its metadata removed',
    params: tagParam,
    query: addPictureQuery,
    takes: 'image/*',
    bodyLimit: '20mb',
    produces: json,
    creates: true,
  },
  takeBackNote: {
    ...ADDRESSES.takeBackNote,
    summary: 'Take back a note or a picture; it stays on record with the reason',
    params: idParam,
    body: takeBackNoteSchema,
    produces: json,
  },
  picture: {
    ...ADDRESSES.picture,
    summary: 'A picture, whole or small',
    params: pictureParam,
    query: pictureQuery,
    produces: 'image/jpeg',
  },
  pictureRoom: {
    ...ADDRESSES.pictureRoom,
    summary: 'How much is kept in pictures, and how much may be',
    produces: json,
  },
  claims: { ...ADDRESSES.claims, summary: 'Every claim, newest first', produces: json },
  claimsCsv: { ...ADDRESSES.claimsCsv, summary: 'Every claim as a table', produces: csv },
  openClaim: {
    ...ADDRESSES.openClaim,
    summary: 'Open a claim for a battery that may not be commissioned',
    params: tagParam,
    body: openClaimSchema,
    produces: json,
    creates: true,
  },
  changeClaim: {
    ...ADDRESSES.changeClaim,
    summary: 'Change what a claim says, or say that it was sent, settled or refused',
    params: idParam,
    body: changeClaimSchema,
    produces: json,
  },
  claimPdf: {
    ...ADDRESSES.claimPdf,
    summary: 'A claim, ready to send',
    params: idParam,
    produces: 'application/pdf',
  },
  failures: {
    ...ADDRESSES.failures,
    summary: 'What failed of what was commissioned: by model, date code, lot, supplier',
    produces: json,
  },
  holds: {
    ...ADDRESSES.holds,
    summary: 'Models and lots on hold, and those that were',
    produces: json,
  },
  putOnHold: {
    ...ADDRESSES.putOnHold,
    summary: 'Put a model or a lot on hold (a lead)',
    body: putOnHoldSchema,
    produces: json,
    creates: true,
    lead: true,
  },
  liftHold: {
    ...ADDRESSES.liftHold,
    summary: 'Lift a hold (a lead)',
    params: idParam,
    body: liftHoldSchema,
    produces: json,
    lead: true,
  },
  recoveriesCsv: {
    ...ADDRESSES.recoveriesCsv,
    summary: 'Results of recoveries as a table',
    produces: csv,
  },
  openapi: { ...ADDRESSES.openapi, summary: 'This document', produces: json },
} as const satisfies Record<string, Endpoint>;

export type EndpointKey = keyof typeof ENDPOINTS;

type Part = 'params' | 'query' | 'body';

/** What the schema of a part of an endpoint lets through; nothing where it has none. */
export type PartOf<K extends EndpointKey, P extends Part> = (typeof ENDPOINTS)[K] extends {
  [part in P]: Joi.ObjectSchema<infer T>;
}
  ? T
  : undefined;
