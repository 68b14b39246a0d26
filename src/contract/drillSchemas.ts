import Joi from 'joi';
import { MARK_KEYS } from '../core/drill/case.ts';
import { DECISION_WORDS } from '../core/drill/words.ts';
import { STORY_KEYS } from '../core/diagnosis/stories.ts';
import { TRAP_KEYS } from '../core/drill/traps.ts';
import { OPENS_H } from '../core/drill/hours.ts';
import { FINDABLE, OWN_PICTURES } from '../core/drill/ownCase.ts';
import type { AssignDrill, SaveDrillCase, ShareDrill } from './asks.ts';
import { id, moment, name, number, prose, words, write } from './schemaParts.ts';

/** Codes of cases: `R-01`, `G12-7KQ2M`. */
const caseCode = name(12)
  .pattern(/^[A-Z]\d{0,2}-[0-9A-Z]{2,5}$/)
  .messages({ 'string.pattern.base': 'A code of a case, like R-01 or G12-7KQ2M.' });
const points = () => number().min(0).max(100).required();

export const shareDrillSchema = Joi.object<ShareDrill>({
  ...write,
  result: Joi.object({
    code: caseCode.required(),
    endedAt: moment.required(),
    decision: Joi.string()
      .valid(...Object.keys(DECISION_WORDS))
      .allow(null)
      .required(),
    passed: Joi.boolean().required(),
    points: Joi.object(Object.fromEntries(MARK_KEYS.map((key) => [key, points()]))).required(),
    handsMin: number().min(0).max(1e6).required(),
    hours: number().min(0).max(1e5).required(),
  }).required(),
}).messages(words);

/** Looks are told by hand; a meter that is off by more than this is seen at once. */
const METER = { least: 0.95, most: 1.05 };

export const saveDrillCaseSchema = Joi.object<SaveDrillCase>({
  ...write,
  modelId: id.required(),
  facts: Joi.object({
    purpose: Joi.string().valid('commission', 'recover').required(),
    title: name(60).required(),
    says: prose.required(),
    story: Joi.string()
      .valid(...STORY_KEYS)
      .required(),
    standingDays: number().min(0).max(5000).allow(null).required(),
    ageYears: number().min(0).max(40).allow(null).required(),
    picture: Joi.string()
      .valid(...OWN_PICTURES)
      .required(),
    trap: Joi.string()
      .valid(...TRAP_KEYS)
      .required(),
    badness: number().min(0).max(1).required(),
    find: Joi.object({
      what: Joi.string()
        .valid(...FINDABLE)
        .required(),
      says: prose.required(),
    })
      .allow(null)
      .required(),
    meterShows: number().min(METER.least).max(METER.most).required(),
    beginsH: number().min(OPENS_H).max(23).required(),
    closesH: number().greater(Joi.ref('beginsH')).max(23).allow(null).required(),
    promisedH: number().min(1).max(2400).allow(null).required(),
    strands: Joi.boolean().required(),
    teaches: prose.required(),
  }).required(),
}).messages(words);

export const assignDrillSchema = Joi.object<AssignDrill>({
  ...write,
  personId: Joi.string().max(40).required(),
  code: caseCode.required(),
  note: prose.allow('').required(),
}).messages(words);
