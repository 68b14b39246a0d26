import type { Problem } from '../../contract/wire.ts';

/** The server answered, and the answer is no. */
export class ProblemError extends Error {
  constructor(
    readonly problem: Problem,
    readonly status: number,
    /** How long the server asks to wait before another try, ms. */
    readonly retryAfterMs = 0,
  ) {
    super(problem.message);
  }
}

/** The server could not be reached; nothing is known of what it did. */
export class Unreachable extends Error {
  constructor() {
    super('The server cannot be reached.');
  }
}

/** An answer that takes longer is none: what was asked may have been done, and is asked again by its id. */
const LONGEST_MS = 30_000;

async function ask<T>(method: string, path: string, body?: unknown): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, {
      method,
      signal: AbortSignal.timeout(LONGEST_MS),
      ...(body === undefined ? {} : { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }),
    });
  } catch {
    throw new Unreachable();
  }
  const answer = (await response.json().catch(() => null)) as { error?: Problem } | null;
  if (response.ok) return answer as T;
  if (response.status === 502 || response.status === 504) throw new Unreachable();
  const problem = answer?.error ?? { code: 'internal' as const, message: `The server answered ${response.status}.`, fields: {} };
  throw new ProblemError(problem, response.status, 1000 * Number(response.headers.get('Retry-After') ?? 0));
}

export const get = <T>(path: string) => ask<T>('GET', path);
export const post = <T>(path: string, body: unknown) => ask<T>('POST', path, body);
export const put = <T>(path: string, body: unknown) => ask<T>('PUT', path, body);
