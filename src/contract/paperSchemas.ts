import Joi from 'joi';
import { CLAIM_ASKS, CLAIM_CAUSE_KEYS, CLAIM_STATUSES } from '../core/claims/claim.ts';
import type {
  AddNote,
  AddPicture,
  ChangeClaim,
  LiftHold,
  OpenClaim,
  PutOnHold,
  TakeBackNote,
} from './asks.ts';
import { id, name, prose, words, write } from './schemaParts.ts';

/** What notes, pictures, claims and holds take. */

const about = {
  jobId: id,
  stepId: Joi.string().max(60),
  readingId: id,
  claimId: id,
};

export const addNoteSchema = Joi.object<AddNote>({
  ...write,
  ...about,
  text: prose.required(),
})
  .with('stepId', 'jobId')
  .messages(words);

/** Beside the bytes of a picture, in its address: what is a number comes as text. */
export const addPictureQuery = Joi.object<AddPicture>({
  ...write,
  ...about,
  text: prose.allow(''),
  takenAt: Joi.number().integer().min(0).max(4_102_444_800_000),
})
  .with('stepId', 'jobId')
  .messages(words);

export const takeBackNoteSchema = Joi.object<TakeBackNote>({
  ...write,
  why: prose.required(),
}).messages(words);

export const pictureParam = Joi.object<{ name: string }>({
  name: Joi.string()
    .pattern(/^[0-9a-f]{64}\.jpg$/)
    .required(),
}).messages(words);
export const pictureQuery = Joi.object<{ size: 'full' | 'small' }>({
  size: Joi.string().valid('full', 'small').default('full'),
}).messages(words);

/** A day as a calendar writes it, or none. */
const day = Joi.string()
  .pattern(/^\d{4}-\d{2}-\d{2}$/)
  .custom((value: string, helpers) =>
    Number.isNaN(Date.parse(`${value}T00:00:00Z`)) ? helpers.error('string.pattern.base') : value,
  )
  .allow('')
  .messages({ 'string.pattern.base': 'A day is a year, a month and a day.' });

const claimFacts = Joi.object({
  cause: Joi.string()
    .valid(...CLAIM_CAUSE_KEYS)
    .required(),
  what: prose.required(),
  supplier: name().allow('').required(),
  boughtOn: day.required(),
  invoice: name(40).allow('').required(),
  asks: Joi.string()
    .valid(...Object.keys(CLAIM_ASKS))
    .required(),
  sendBy: day.required(),
});

export const openClaimSchema = Joi.object<OpenClaim>({
  ...write,
  jobId: id.allow(null).required(),
  claim: claimFacts.required(),
}).messages(words);

export const changeClaimSchema = Joi.object<ChangeClaim>({
  ...write,
  claim: claimFacts,
  status: Joi.string().valid(...CLAIM_STATUSES),
  text: prose.allow('').required(),
})
  .or('claim', 'status')
  .messages(words);

export const putOnHoldSchema = Joi.object<PutOnHold>({
  ...write,
  what: Joi.string().valid('model', 'lot').required(),
  code: name(24).required(),
  why: prose.required(),
}).messages(words);

export const liftHoldSchema = Joi.object<LiftHold>({
  ...write,
  why: prose.required(),
}).messages(words);
