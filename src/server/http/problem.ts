import type { ErrorRequestHandler, RequestHandler } from 'express';
import type Joi from 'joi';
import type { Logger } from 'pino';
import { ForeignKeyConstraintError, UniqueConstraintError } from 'sequelize';
import type { Problem } from '../../contract/wire.ts';
import { Refused } from '../../core/procedures/commands.ts';

/** An answer that is not what was asked for, with words to act on. */
export class HttpProblem extends Error {
  constructor(
    readonly status: number,
    readonly problem: Problem,
  ) {
    super(problem.message);
  }
}

export const notFound = (what: string) => new HttpProblem(404, { code: 'not-found', message: `${what} is not on record.`, fields: {} });
export const invalid = (field: string, message: string) => new HttpProblem(422, { code: 'invalid', message, fields: { [field]: message } });
export const conflict = (message: string, fields: Record<string, string> = {}) => new HttpProblem(409, { code: 'conflict', message, fields });

/** Checks input against its schema; the first sentence is the message, every field has its own. */
export function checked<T>(schema: Joi.ObjectSchema, input: unknown): T {
  const { error, value } = schema.validate(input ?? {}, { abortEarly: false, convert: true });
  if (!error) return value as T;
  const fields: Record<string, string> = {};
  for (const { path, message } of error.details) fields[path.join('.') || 'body'] ??= message;
  const [field, message] = Object.entries(fields)[0] as [string, string];
  throw new HttpProblem(400, { code: 'invalid', message: `${field}: ${message}`, fields });
}

const REFUSAL_STATUS = { 'out-of-order': 409, invalid: 422, ask: 422, forbidden: 403 } as const;

export const unknownAddress: RequestHandler = (request) => {
  throw new HttpProblem(404, { code: 'not-found', message: `Nothing answers at ${request.path}.`, fields: {} });
};

/** Every failure leaves as a {@link Problem}; only the unexpected are logged as errors. */
export function problemHandler(log: Logger): ErrorRequestHandler {
  return (error: unknown, request, response, _next) => {
    const { status, problem } = describe(error);
    if (status >= 500) log.error({ error, path: request.path }, 'request failed');
    if (response.headersSent) {
      response.end();
      return;
    }
    response.status(status).json({ error: problem });
  };
}

function describe(error: unknown): { status: number; problem: Problem } {
  if (error instanceof HttpProblem) return { status: error.status, problem: error.problem };
  if (error instanceof Refused) {
    return {
      status: REFUSAL_STATUS[error.code],
      problem: { code: error.code, message: error.message, fields: error.field ? { [error.field]: error.message } : {} },
    };
  }
  if (error instanceof UniqueConstraintError) {
    const field = error.errors[0]?.path ?? 'body';
    return { status: 409, problem: { code: 'conflict', message: `That ${field} is in use already.`, fields: { [field]: 'In use already.' } } };
  }
  if (error instanceof ForeignKeyConstraintError)
    return { status: 404, problem: { code: 'not-found', message: 'It refers to something that is not on record.', fields: {} } };
  const thrown = error as { type?: string; status?: number };
  if (thrown.type === 'entity.too.large') return { status: 413, problem: { code: 'too-large', message: 'That is too much at once.', fields: {} } };
  if (thrown.status && thrown.status >= 400 && thrown.status < 500)
    return { status: thrown.status, problem: { code: 'invalid', message: 'The request cannot be read.', fields: {} } };
  return { status: 500, problem: { code: 'internal', message: 'Something went wrong in the server. Nothing was written.', fields: {} } };
}
