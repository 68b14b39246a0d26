import Joi from 'joi';
import type { MeasureWith, SavePlan, SkipStage, StartLive, TryInstrument } from './asks.ts';
import { GUARD_KEYS } from '../core/charging/chargePlan.ts';
import { INSTRUMENT_KINDS } from '../core/house/instruments.ts';
import { id, name, number, prose, words, write } from './schemaParts.ts';

/** Charge plans and instruments at the edge. Whether a plan fits a battery is the core's to say; here only its shape and bounds. */

const cRate = number().min(0).max(5).required();
const perCell = number().min(0).max(4).required();
const seconds = number()
  .min(0)
  .max(30 * 24 * 3600)
  .required();

const until = Joi.array()
  .items(
    Joi.alternatives(
      Joi.object({ when: Joi.string().valid('volts').required(), perCell }),
      Joi.object({ when: Joi.string().valid('amps').required(), cRate }),
      Joi.object({ when: Joi.string().valid('volts-flat').required(), overS: seconds }),
      Joi.object({
        when: Joi.string().valid('sg-flat').required(),
        readings: number().integer().min(1).max(12).required(),
      }),
      Joi.object({
        when: Joi.string().valid('ah').required(),
        share: number().min(0).max(5).required(),
      }),
      Joi.object({ when: Joi.string().valid('time').required(), s: seconds }),
    ),
  )
  .max(8)
  .required();

const doing = (what: string, keys: Joi.SchemaMap) =>
  Joi.object({ do: Joi.string().valid(what).required(), until, ...keys });

export const planSchema = Joi.object({
  id: Joi.string().max(60).required(),
  name: name().required(),
  plain: prose.allow('').required(),
  kinds: Joi.array()
    .items(Joi.string().valid('flooded', 'agm', 'gel'))
    .min(1)
    .max(3)
    .required(),
  stages: Joi.array()
    .items(
      Joi.alternatives(
        doing('current', { cRate }),
        doing('voltage', { perCell, cRate }),
        doing('pulse', { cRate, onS: seconds, offS: seconds, perCell }),
        doing('rest', {}),
        doing('discharge', { cRate, perCell }),
        doing('float', { perCell, cRate }),
      ),
    )
    .max(20)
    .required(),
  guards: Joi.object().pattern(
    Joi.string().valid(...GUARD_KEYS),
    Joi.string().valid('pause', 'stop', 'ask'),
  ),
  mostS: seconds,
});

export const instrumentSchema = Joi.object({
  id: Joi.string().max(40).required(),
  name: name(40).required(),
  kind: Joi.string()
    .valid(...Object.keys(INSTRUMENT_KINDS))
    .required(),
  host: Joi.string()
    .max(120)
    .pattern(/^[A-Za-z0-9_.:-]+$/)
    .messages({ 'string.pattern.base': 'A host name or an address.' })
    .required(),
  port: number().integer().min(1).max(65_535).required(),
  firstPlace: number().integer().min(1).max(64).required(),
  outputs: number().integer().min(1).max(64).required(),
  mostA: number().min(0).max(500).required(),
  mostV: number().min(0).max(100).required(),
  leastStartV: number().min(0).max(30).required(),
});

export const tryInstrumentSchema = Joi.object<TryInstrument>({
  by: Joi.string().max(40).required(),
  instrument: instrumentSchema.required(),
}).messages(words);

export const savePlanSchema = Joi.object<SavePlan>({
  ...write,
  plan: planSchema.required(),
  replaces: Joi.string().max(60),
}).messages(words);

export const startLiveSchema = Joi.object<StartLive>({
  ...write,
  stepId: Joi.string().max(40).required(),
  place: number().integer().min(1).max(64).required(),
  /** What the technician takes its charge for, 0–1; null when nobody knows. */
  charge: number().min(0).max(1).allow(null).required(),
  reason: prose,
}).messages(words);

export const chargeQuery = Joi.object<{ points: number }>({
  points: Joi.number().integer().min(10).max(4000).default(600),
}).messages(words);

export const skipStageSchema = Joi.object<SkipStage>({
  ...write,
  stage: number().integer().min(0).max(99).required(),
  reason: prose.required(),
}).messages(words);

export const measureSchema = Joi.object<MeasureWith>({
  kind: Joi.string().valid('meter', 'hydrometer', 'analyser', 'scale').required(),
  place: number().integer().min(1).max(64).required(),
  cell: number().integer().min(1).max(12),
}).messages(words);

export const chargeIdParam = Joi.object<{ id: string }>({ id: id.required() }).messages(words);
