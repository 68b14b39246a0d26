import type Joi from 'joi';
import {
  addModelSchema,
  addPersonSchema,
  answerClockSchema,
  changeRulesSchema,
  findQuery,
  idParam,
  openJobSchema,
  sendCommandSchema,
  setRateSchema,
  tagParam,
  takeInSchema,
} from './schemas.ts';
import { chargeIdParam, chargeQuery, measureSchema, savePlanSchema, skipStageSchema, startLiveSchema, tryInstrumentSchema } from './chargeSchemas.ts';

import {
  addLotSchema,
  calendarAddressSchema,
  calendarQuery,
  endSetSchema,
  importBatteriesSchema,
  makeSetSchema,
  importLogSchema,
  importModelsSchema,
  lotParam,
  personParam,
  pickFromShelfSchema,
  readOnShelfSchema,
  setActiveSchema,
  setPinSchema,
  signInSchema,
  tagsQuery,
  trayParam,
  useLotSchema,
} from './shopSchemas.ts';

/** Every address the server answers, with the schemas its edge checks. The API document is made from this. */
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
}

const json = 'application/json';
const csv = 'text/csv';

export const ENDPOINTS = {
  health: { method: 'get', path: '/api/health', summary: 'Is the server up, and is its file sound', produces: json, open: true },
  file: { method: 'get', path: '/api/file', summary: 'How the data file stands: last write, room on the disk, last backup', produces: json },
  clock: { method: 'get', path: '/api/clock', summary: "The bench's time", produces: json },
  setRate: { method: 'put', path: '/api/clock', summary: 'Speed of the demo clock; a shop has none', body: setRateSchema, produces: json },
  answerClock: {
    method: 'post',
    path: '/api/clock/answer',
    summary: "Which is right, where bench time and the machine's clock have parted",
    body: answerClockSchema,
    produces: json,
  },
  datedAhead: { method: 'get', path: '/api/clock/ahead', summary: "How much is dated later than the machine's clock", produces: json },
  stream: { method: 'get', path: '/api/stream', summary: 'Server-sent events: what has changed', produces: 'text/event-stream' },
  shop: { method: 'get', path: '/api/shop', summary: 'House rules and people', produces: json },
  changeRules: { method: 'put', path: '/api/shop/rules', summary: 'Change the house rules (a lead)', body: changeRulesSchema, produces: json },
  addPerson: {
    method: 'post',
    path: '/api/people',
    summary: 'Add a person (a lead; anyone while there is nobody)',
    body: addPersonSchema,
    produces: json,
    creates: true,
  },
  models: { method: 'get', path: '/api/models', summary: 'The catalogue of models', produces: json },
  addModel: { method: 'post', path: '/api/models', summary: 'Add a model to the catalogue', body: addModelSchema, produces: json, creates: true },
  nextTag: { method: 'get', path: '/api/tags/next', summary: 'The tag that follows the last one used', produces: json },
  bench: { method: 'get', path: '/api/bench', summary: "Every job in process, and today's ended ones", produces: json },
  takeIn: { method: 'post', path: '/api/batteries', summary: 'Take a battery in and open its job', body: takeInSchema, produces: json, creates: true },
  findBatteries: { method: 'get', path: '/api/batteries', summary: 'Find batteries by tag, owner or model', query: findQuery, produces: json },
  record: { method: 'get', path: '/api/batteries/:tag', summary: "A battery's record: jobs, readings, events", params: tagParam, produces: json },
  tagSvg: { method: 'get', path: '/api/batteries/:tag/tag.svg', summary: 'Its tag as a Code 128 drawing', params: tagParam, produces: 'image/svg+xml' },
  tagPdf: { method: 'get', path: '/api/batteries/:tag/tag.pdf', summary: 'Its tag, ready to print', params: tagParam, produces: 'application/pdf' },
  job: { method: 'get', path: '/api/jobs/:id', summary: 'One job', params: idParam, produces: json },
  sendCommand: { method: 'post', path: '/api/jobs/:id/commands', summary: 'Do something in a job', params: idParam, body: sendCommandSchema, produces: json },
  sheet: { method: 'get', path: '/api/jobs/:id/sheet', summary: 'The handover sheet as words and numbers', params: idParam, produces: json },
  sheetPdf: { method: 'get', path: '/api/jobs/:id/sheet.pdf', summary: 'The handover sheet', params: idParam, produces: 'application/pdf' },
  plans: { method: 'get', path: '/api/plans', summary: "Charge plans: the standard ones and the shop's own", produces: json },
  savePlan: { method: 'post', path: '/api/plans', summary: 'Keep a charge plan under its name', body: savePlanSchema, produces: json, creates: true },
  tryInstrument: {
    method: 'post',
    path: '/api/instruments/try',
    summary: 'Does an instrument answer, and can it be trusted with a charge',
    body: tryInstrumentSchema,
    produces: json,
    lead: true,
  },
  measure: { method: 'post', path: '/api/instruments/measure', summary: 'One measurement from a bench instrument', body: measureSchema, produces: json },
  startLive: {
    method: 'post',
    path: '/api/jobs/:id/live',
    summary: 'Start the charge of a job on the instrument of a place',
    params: idParam,
    body: startLiveSchema,
    produces: json,
    creates: true,
  },
  charge: {
    method: 'get',
    path: '/api/charges/:id',
    summary: 'A live charge: plan, how far it is, samples, what was expected',
    params: chargeIdParam,
    query: chargeQuery,
    produces: json,
  },
  skipStage: {
    method: 'post',
    path: '/api/charges/:id/next-stage',
    summary: 'Go on to the next stage of a live charge',
    params: chargeIdParam,
    body: skipStageSchema,
    produces: json,
  },
  openJob: {
    method: 'post',
    path: '/api/batteries/:tag/jobs',
    summary: 'Open a job for a battery on record',
    params: tagParam,
    body: openJobSchema,
    produces: json,
    creates: true,
  },
  exportBattery: {
    method: 'get',
    path: '/api/batteries/:tag/export.json',
    summary: 'A battery, its jobs and readings, by the published schema',
    params: tagParam,
    produces: json,
  },
  batterySchema: { method: 'get', path: '/api/schemas/battery.json', summary: 'JSON Schema of an exported battery', produces: 'application/schema+json' },
  shopSchema: {
    method: 'get',
    path: '/api/schemas/shop.json',
    summary: 'JSON Schema of the tables in an archive of the whole shop',
    produces: 'application/schema+json',
  },
  readingsCsv: { method: 'get', path: '/api/batteries/:tag/readings.csv', summary: 'Its readings as a table', params: tagParam, produces: csv },
  samplesCsv: {
    method: 'get',
    path: '/api/charges/:id/samples.csv',
    summary: "A live charge's samples, columns of the Battery Data Format",
    params: chargeIdParam,
    produces: csv,
  },
  logCsv: { method: 'get', path: '/api/logs/:id/samples.csv', summary: 'A log brought in, columns of the Battery Data Format', params: idParam, produces: csv },
  importLog: {
    method: 'post',
    path: '/api/batteries/:tag/logs',
    summary: "Keep a charger's or meter's log with a battery",
    params: tagParam,
    body: importLogSchema,
    bodyLimit: '2mb',
    produces: json,
    creates: true,
  },
  importModels: {
    method: 'post',
    path: '/api/import/models',
    summary: 'Add many models, all or none',
    body: importModelsSchema,
    bodyLimit: '2mb',
    produces: json,
    creates: true,
  },
  importBatteries: {
    method: 'post',
    path: '/api/import/batteries',
    summary: 'Add many batteries, all or none',
    body: importBatteriesSchema,
    bodyLimit: '2mb',
    produces: json,
    creates: true,
  },
  tagSheetPdf: { method: 'get', path: '/api/tags/sheet.pdf', summary: 'Date tags on a label sheet', query: tagsQuery, produces: 'application/pdf' },
  trayPdf: { method: 'get', path: '/api/trays/:id/summary.pdf', summary: 'A tray on one page', params: trayParam, produces: 'application/pdf' },
  recoveries: { method: 'get', path: '/api/recoveries', summary: 'Every cycle of the recoveries that have ended, with forecast and result', produces: json },
  sets: { method: 'get', path: '/api/sets', summary: 'Sets that stand, and recovered batteries free for one', produces: json },
  makeSet: { method: 'post', path: '/api/sets', summary: 'Keep batteries together as a set', body: makeSetSchema, produces: json, creates: true },
  endSet: { method: 'post', path: '/api/sets/:id/end', summary: 'Take a set apart, or give it out', params: idParam, body: endSetSchema, produces: json },
  setPdf: { method: 'get', path: '/api/sets/:id/sheet.pdf', summary: 'The sheet of a set', params: idParam, produces: 'application/pdf' },
  shelf: { method: 'get', path: '/api/shelf', summary: 'Wet stock on the shelf', produces: json },
  shelfPdf: { method: 'get', path: '/api/shelf/list.pdf', summary: 'The shelf list, ready to print', produces: 'application/pdf' },
  shelfCsv: { method: 'get', path: '/api/shelf/list.csv', summary: 'The shelf list as a table', produces: csv },
  readOnShelf: {
    method: 'post',
    path: '/api/shelf/:tag/readings',
    summary: 'A rest voltage read on a round of the shelf',
    params: tagParam,
    body: readOnShelfSchema,
    produces: json,
    creates: true,
  },
  pickFromShelf: {
    method: 'post',
    path: '/api/shelf/:tag/pick',
    summary: 'Take a battery off the shelf for somebody',
    params: tagParam,
    body: pickFromShelfSchema,
    produces: json,
  },
  lots: { method: 'get', path: '/api/lots', summary: 'Electrolyte in stock, with what was taken', produces: json },
  addLot: { method: 'post', path: '/api/lots', summary: 'Take a lot of electrolyte into stock', body: addLotSchema, produces: json, creates: true },
  useLot: { method: 'post', path: '/api/lots/:code/uses', summary: 'Take from a lot outside a job', params: lotParam, body: useLotSchema, produces: json },
  calendar: {
    method: 'get',
    path: '/api/calendar.ics',
    summary: 'Due times as an iCalendar feed',
    query: calendarQuery,
    produces: 'text/calendar',
    open: true,
  },
  calendarAddress: {
    method: 'post',
    path: '/api/calendar/address',
    summary: "The address of one's own calendar feed; a new one when asked",
    body: calendarAddressSchema,
    produces: json,
  },
  signInState: { method: 'get', path: '/api/sign-in', summary: 'Is signing in needed, and who is signed in', produces: json, open: true },
  signIn: { method: 'post', path: '/api/sign-in', summary: 'Sign in with a PIN', body: signInSchema, produces: json, open: true },
  signOut: { method: 'post', path: '/api/sign-out', summary: 'End the session', produces: json, open: true },
  setActive: {
    method: 'post',
    path: '/api/people/:id/active',
    summary: 'A person has left, or is back (a lead)',
    params: personParam,
    body: setActiveSchema,
    produces: json,
    lead: true,
  },
  setPin: {
    method: 'post',
    path: '/api/people/:id/pin',
    summary: "Set a person's PIN (oneself, or a lead)",
    params: personParam,
    body: setPinSchema,
    produces: json,
  },
  openapi: { method: 'get', path: '/api/openapi.json', summary: 'This document', produces: json },
} as const satisfies Record<string, Endpoint>;

export type EndpointKey = keyof typeof ENDPOINTS;
