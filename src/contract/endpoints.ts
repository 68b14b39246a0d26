import type Joi from 'joi';
import { addModelSchema, addPersonSchema, changeRulesSchema, findQuery, idParam, sendCommandSchema, setRateSchema, tagParam, takeInSchema } from './schemas.ts';
import { chargeIdParam, chargeQuery, measureSchema, savePlanSchema, skipStageSchema, startLiveSchema, tryInstrumentSchema } from './chargeSchemas.ts';

/** Every address the server answers, with the schemas its edge checks. The API document is made from this. */
export interface Endpoint {
  method: 'get' | 'post' | 'put';
  path: string;
  summary: string;
  params?: Joi.ObjectSchema;
  query?: Joi.ObjectSchema;
  body?: Joi.ObjectSchema;
  produces: string;
}

const json = 'application/json';

export const ENDPOINTS = {
  health: { method: 'get', path: '/api/health', summary: 'Is the server up, and is its file sound', produces: json },
  clock: { method: 'get', path: '/api/clock', summary: "The bench's time", produces: json },
  setRate: { method: 'put', path: '/api/clock', summary: 'Speed of the demo clock; a shop has none', body: setRateSchema, produces: json },
  stream: { method: 'get', path: '/api/stream', summary: 'Server-sent events: what has changed', produces: 'text/event-stream' },
  shop: { method: 'get', path: '/api/shop', summary: 'House rules and people', produces: json },
  changeRules: { method: 'put', path: '/api/shop/rules', summary: 'Change the house rules (a lead)', body: changeRulesSchema, produces: json },
  addPerson: { method: 'post', path: '/api/people', summary: 'Add a person (a lead; anyone while there is nobody)', body: addPersonSchema, produces: json },
  models: { method: 'get', path: '/api/models', summary: 'The catalogue of models', produces: json },
  addModel: { method: 'post', path: '/api/models', summary: 'Add a model to the catalogue', body: addModelSchema, produces: json },
  nextTag: { method: 'get', path: '/api/tags/next', summary: 'The tag that follows the last one used', produces: json },
  bench: { method: 'get', path: '/api/bench', summary: "Every job in process, and today's ended ones", produces: json },
  takeIn: { method: 'post', path: '/api/batteries', summary: 'Take a battery in and open its job', body: takeInSchema, produces: json },
  findBatteries: { method: 'get', path: '/api/batteries', summary: 'Find batteries by tag, owner or model', query: findQuery, produces: json },
  record: { method: 'get', path: '/api/batteries/:tag', summary: "A battery's record: jobs, readings, events", params: tagParam, produces: json },
  tagSvg: { method: 'get', path: '/api/batteries/:tag/tag.svg', summary: 'Its tag as a Code 128 drawing', params: tagParam, produces: 'image/svg+xml' },
  tagPdf: { method: 'get', path: '/api/batteries/:tag/tag.pdf', summary: 'Its tag, ready to print', params: tagParam, produces: 'application/pdf' },
  job: { method: 'get', path: '/api/jobs/:id', summary: 'One job', params: idParam, produces: json },
  sendCommand: { method: 'post', path: '/api/jobs/:id/commands', summary: 'Do something in a job', params: idParam, body: sendCommandSchema, produces: json },
  sheetPdf: { method: 'get', path: '/api/jobs/:id/sheet.pdf', summary: 'The handover sheet', params: idParam, produces: 'application/pdf' },
  plans: { method: 'get', path: '/api/plans', summary: "Charge plans: the standard ones and the shop's own", produces: json },
  savePlan: { method: 'post', path: '/api/plans', summary: 'Keep a charge plan under its name', body: savePlanSchema, produces: json },
  tryInstrument: {
    method: 'post',
    path: '/api/instruments/try',
    summary: 'Does an instrument answer, and can it be trusted with a charge',
    body: tryInstrumentSchema,
    produces: json,
  },
  measure: { method: 'post', path: '/api/instruments/measure', summary: 'One measurement from a bench instrument', body: measureSchema, produces: json },
  startLive: {
    method: 'post',
    path: '/api/jobs/:id/live',
    summary: 'Start the charge of a job on the instrument of a place',
    params: idParam,
    body: startLiveSchema,
    produces: json,
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
  openapi: { method: 'get', path: '/api/openapi.json', summary: 'This document', produces: json },
} as const satisfies Record<string, Endpoint>;
