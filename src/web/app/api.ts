import type { Problem } from '../../contract/wire.ts';

/** The server answered, and the answer is no. */
export class ProblemError extends Error {
  constructor(
    readonly problem: Problem,
    readonly status: number,
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

async function ask<T>(method: string, path: string, body?: unknown): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, { method, ...(body === undefined ? {} : { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }) });
  } catch {
    throw new Unreachable();
  }
  const answer = (await response.json().catch(() => null)) as { error?: Problem } | null;
  if (response.ok) return answer as T;
  if (response.status >= 502 && response.status <= 504) throw new Unreachable();
  throw new ProblemError(answer?.error ?? { code: 'internal', message: `The server answered ${response.status}.`, fields: {} }, response.status);
}

export const get = <T>(path: string) => ask<T>('GET', path);
export const post = <T>(path: string, body: unknown) => ask<T>('POST', path, body);
export const put = <T>(path: string, body: unknown) => ask<T>('PUT', path, body);
