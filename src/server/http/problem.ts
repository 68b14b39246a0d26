import { randomUUID } from 'node:crypto';
import type { ErrorRequestHandler, RequestHandler } from 'express';
import type Joi from 'joi';
import type { Logger } from 'pino';
import { ForeignKeyConstraintError, UniqueConstraintError } from 'sequelize';
import type { Problem } from '../../contract/wire.ts';
import { bounds, MOST_REPORTED, withoutTurning } from '../../contract/bounded.ts';
import { Refused } from '../../core/job/commands.ts';

/** An answer that is not what was asked for, with words to act on. */
export class HttpProblem extends Error {
  constructor(
    readonly status: number,
    readonly problem: Problem,
  ) {
    super(problem.message);
  }
}

export const notFound = (what: string) =>
  new HttpProblem(404, { code: 'not-found', message: `${what} is not on record.`, fields: {} });
export const invalid = (field: string, message: string) =>
  new HttpProblem(422, { code: 'invalid', message, fields: { [field]: message } });
export const conflict = (message: string, fields: Record<string, string> = {}) =>
  new HttpProblem(409, { code: 'conflict', message, fields });

/** Checks input against its schema; the first sentence is the message, every field has its own. */
export function checked<T>(schema: Joi.ObjectSchema, input: unknown): T {
  const found = bounds(schema, input);
  if ('message' in found) {
    const { path, message, tooLarge } = found;
    throw new HttpProblem(tooLarge ? 413 : 400, {
      code: tooLarge ? 'too-large' : 'invalid',
      message: `${path}: ${message}`,
      fields: { [path]: message },
    });
  }
  const { error, value } = schema.validate(withoutTurning(input ?? {}), {
    abortEarly: found.values > MOST_REPORTED,
    convert: true,
  });
  if (!error) return value as T;
  const fields: Record<string, string> = {};
  for (const { path, message } of error.details) fields[path.join('.') || 'body'] ??= message;
  const [field, message] = Object.entries(fields)[0] as [string, string];
  throw new HttpProblem(400, { code: 'invalid', message: `${field}: ${message}`, fields });
}

const REFUSAL_STATUS = { 'out-of-order': 409, invalid: 422, ask: 422, forbidden: 403 } as const;

export const unknownAddress: RequestHandler = (request) => {
  throw new HttpProblem(404, {
    code: 'not-found',
    message: `Nothing answers at ${request.path}.`,
    fields: {},
  });
};

/** Every failure leaves as a {@link Problem}; only the unexpected are logged as errors. */
export function problemHandler(log: Logger): ErrorRequestHandler {
  return (error: unknown, request, response, _next) => {
    const { status, problem: said } = describe(error);
    let problem = said;
    if (status >= 500) {
      const number = randomUUID().slice(0, 8);
      log.error(
        { err: error, number, method: request.method, path: request.path },
        'request failed',
      );
      problem = { ...said, message: `${said.message} Its number in the log: ${number}.` };
      response.setHeader('X-Request-Id', number);
    }
    if (status === 503) response.setHeader('Retry-After', 2);
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
      problem: {
        code: error.code,
        message: error.message,
        fields: error.field ? { [error.field]: error.message } : {},
      },
    };
  }
  if (error instanceof UniqueConstraintError) {
    const field = error.errors[0]?.path ?? 'body';
    return {
      status: 409,
      problem: {
        code: 'conflict',
        message: `That ${field} is in use already.`,
        fields: { [field]: 'In use already.' },
      },
    };
  }
  if (error instanceof ForeignKeyConstraintError)
    return {
      status: 404,
      problem: {
        code: 'not-found',
        message: 'It refers to something that is not on record.',
        fields: {},
      },
    };
  const { code } = (error as { parent?: { code?: string } }).parent ?? {};
  if (code === 'SQLITE_FULL')
    return {
      status: 507,
      problem: {
        code: 'internal',
        message: 'The disk is full. Nothing was written: make room on it, then send it again.',
        fields: {},
      },
    };
  if (code === 'SQLITE_BUSY')
    return {
      status: 503,
      problem: {
        code: 'internal',
        message: 'The file is busy with something long. Nothing was written; it is tried again.',
        fields: {},
      },
    };
  const thrown = error as { type?: string; status?: number };
  if (thrown.type === 'entity.too.large')
    return {
      status: 413,
      problem: { code: 'too-large', message: 'That is too much at once.', fields: {} },
    };
  if (thrown.status && thrown.status >= 400 && thrown.status < 500)
    return {
      status: thrown.status,
      problem: { code: 'invalid', message: 'The request cannot be read.', fields: {} },
    };
  return {
    status: 500,
    problem: {
      code: 'internal',
      message: 'Something went wrong in the server. Nothing was written.',
      fields: {},
    },
  };
}
