import Joi from 'joi';
import { MARK_KEYS } from '../core/drill/case.ts';
import { DECISION_WORDS } from '../core/drill/words.ts';
import type { AssignDrill, ShareDrill } from './asks.ts';
import { moment, name, number, prose, words, write } from './schemaParts.ts';

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

export const assignDrillSchema = Joi.object<AssignDrill>({
  ...write,
  personId: Joi.string().max(40).required(),
  code: caseCode.required(),
  note: prose.allow('').required(),
}).messages(words);
