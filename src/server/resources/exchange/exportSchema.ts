import Joi from 'joi';
import { jsonSchemaOf } from '../../../contract/jsonSchema.ts';
import { CELL_LEVELS } from '../../../core/batteries/cellLevel.ts';
import { CLAIM_CAUSE_KEYS, CLAIM_STATUSES } from '../../../core/claims/claim.ts';

/** Version of the exported shape; a reader may count on it. */
export const EXPORT_FORMAT = 'cork-ember-battery/2';

const moment = Joi.string().isoDate();
const numbers = Joi.object().pattern(Joi.string(), Joi.number());
const readingSchema = Joi.object({
  id: Joi.string().required(),
  at: moment.required(),
  enteredAt: moment.required(),
  by: Joi.string().required(),
  role: Joi.string().required(),
  attempt: Joi.number().integer().required(),
  values: numbers.required(),
  cells: Joi.array().items(
    Joi.object({
      specificGravity: Joi.number(),
      voltageV: Joi.number(),
      level: Joi.string().valid(...CELL_LEVELS),
      bubbling: Joi.boolean(),
    }),
  ),
  standard: Joi.string(),
  marks: Joi.array().items(Joi.string()).required(),
  supersedes: Joi.string().allow(null).required(),
  supersededBy: Joi.string().allow(null).required(),
});

const noteSchema = Joi.object({
  id: Joi.string().required(),
  at: moment.required(),
  by: Joi.string().required(),
  text: Joi.string().allow('').required(),
  jobId: Joi.string().allow(null).required(),
  stepId: Joi.string().allow(null).required(),
  readingId: Joi.string().allow(null).required(),
  claimId: Joi.string().allow(null).required(),
  /** The picture's file is served at `/api/pictures/` under this name: the SHA-256 of its content. */
  picture: Joi.object({
    name: Joi.string().required(),
    bytes: Joi.number().integer().required(),
    width: Joi.number().integer().required(),
    height: Joi.number().integer().required(),
  })
    .allow(null)
    .required(),
  takenBack: Joi.object({
    at: moment.required(),
    by: Joi.string().required(),
    why: Joi.string().required(),
  })
    .allow(null)
    .required(),
});

const claimSchema = Joi.object({
  id: Joi.string().required(),
  number: Joi.number().integer().required(),
  jobId: Joi.string().allow(null).required(),
  openedAt: moment.required(),
  status: Joi.string()
    .valid(...CLAIM_STATUSES)
    .required(),
  cause: Joi.string()
    .valid(...CLAIM_CAUSE_KEYS)
    .required(),
  what: Joi.string().required(),
  supplier: Joi.string().allow('').required(),
  boughtOn: Joi.string().allow('').required(),
  invoice: Joi.string().allow('').required(),
  asks: Joi.string().required(),
  sendBy: Joi.string().allow('').required(),
  history: Joi.array()
    .items(
      Joi.object({
        at: moment.required(),
        by: Joi.string().required(),
        status: Joi.string().required(),
        text: Joi.string().allow('').required(),
      }),
    )
    .required(),
});

/** What an exported battery holds. Published as JSON Schema beside it. */
export const exportSchema = Joi.object({
  format: Joi.string().valid(EXPORT_FORMAT).required(),
  battery: Joi.object({
    tag: Joi.string().required(),
    model: Joi.string().required(),
    dateCode: Joi.string().required(),
    owner: Joi.string().required(),
    supplier: Joi.string().allow(null).required(),
    takenInAt: moment.required(),
    promisedAt: moment.allow(null).required(),
  }).required(),
  jobs: Joi.array()
    .items(
      Joi.object({
        id: Joi.string().required(),
        purpose: Joi.string().required(),
        procedure: Joi.string().required(),
        openedAt: moment.required(),
        closedAt: moment.allow(null).required(),
        status: Joi.string().required(),
        outcome: Joi.string().allow(null).required(),
        model: Joi.object().unknown().required(),
        figures: Joi.object()
          .pattern(
            Joi.string(),
            Joi.object({
              label: Joi.string().required(),
              value: Joi.number().required(),
              unit: Joi.string().allow('').required(),
              origin: Joi.string().required(),
            }),
          )
          .required(),
        verdict: Joi.object().unknown().allow(null).required(),
        readings: Joi.array().items(readingSchema).required(),
        steps: Joi.array()
          .items(
            Joi.object({
              step: Joi.string().required(),
              attempt: Joi.number().integer().required(),
              startedAt: moment.required(),
              endedAt: moment.allow(null).required(),
              end: Joi.string().allow(null).required(),
              by: Joi.string().allow(null).required(),
            }),
          )
          .required(),
        deviations: Joi.array()
          .items(
            Joi.object({
              at: moment.required(),
              by: Joi.string().required(),
              what: Joi.string().required(),
              reason: Joi.string().required(),
            }),
          )
          .required(),
      }),
    )
    .required(),
  shelfReadings: Joi.array().items(readingSchema).required(),
  notes: Joi.array().items(noteSchema).required(),
  claims: Joi.array().items(claimSchema).required(),
});

/** Published at the address of the battery's schema. */
export const exportJsonSchema = (): unknown => ({
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  title:
    'Battery with its jobs, readings, notes and claims; SI units, temperatures in °C, volts per battery',
  ...jsonSchemaOf(exportSchema, 'output'),
});
