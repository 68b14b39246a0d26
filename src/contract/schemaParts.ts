import Joi from 'joi';
import { TAG_PATTERN } from '../core/batteries/tag.ts';

/** What the schemas share: words for the person at the bench, bounds for what ends up on paper. */

export const words = {
  'any.required': 'This is missing.',
  'any.only': 'That is not one of the choices.',
  'string.empty': 'This is missing.',
  'string.base': 'This must be text.',
  'string.max': 'At most {#limit} characters.',
  'string.guid': 'This is not an id.',
  'number.base': 'This must be a number.',
  'number.unsafe': 'This number is too large.',
  'number.infinity': 'This must be a number.',
  'number.min': 'At least {#limit}.',
  'number.max': 'At most {#limit}.',
  'number.integer': 'A whole number.',
  'number.positive': 'More than zero.',
  'number.greater': 'Later than the other one.',
  'array.min': 'At least {#limit} of them.',
  'array.length': 'Exactly {#limit} of them.',
  'array.unique': 'Each only once.',
  'object.base': 'This must be an object.',
  'object.unknown': 'Nothing here is called that.',
  'array.max': 'At most {#limit} entries.',
};

export const number = () => Joi.number().strict();
export const id = Joi.string().guid();
/** Names end up on labels, paper and in spreadsheets: no markup, no leading formula sign, no control characters. */
export const name = (max = 60) =>
  Joi.string()
    .trim()
    .max(max)
    .pattern(/^(?![=+\-@])[^<>\p{Cc}]*$/u)
    .messages({ 'string.pattern.base': 'No < or >, and no =, +, - or @ at the beginning.' });
/** Reasons and notes are free text; screens and paper escape them. */
export const prose = Joi.string()
  .trim()
  .max(500)
  .pattern(/^[^\p{Cc}]*$/u)
  .messages({ 'string.pattern.base': 'Plain text on one line, please.' });
export const moment = number().integer().min(0).max(4_102_444_800_000);
export const tag = Joi.string()
  .pattern(TAG_PATTERN)
  .messages({ 'string.pattern.base': 'A tag is letters, a dash and digits: LK-0412.' });

export const write = { commandId: id.required(), by: Joi.string().max(40).required() };

/** A day of the calendar, `2026-03-10`; as text, so that earlier days sort before later ones. */
export const day = Joi.string()
  .pattern(/^\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$/)
  .messages({ 'string.pattern.base': 'A day, like 2026-03-10.' });

/** Days away, the first and the last among them, with what else is said of them. */
export const daysAway = (others: Record<string, Joi.Schema>): Joi.ObjectSchema =>
  Joi.object({ ...others, from: day.required(), to: day.required() })
    .custom((value: { from: string; to: string }, helpers) =>
      value.to < value.from ? helpers.error('days.backwards') : value,
    )
    .messages({ 'days.backwards': 'The last day is before the first.' });
