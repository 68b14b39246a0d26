import { ADDRESSES, type AddressKey } from '../../contract/addresses.ts';
import type { Answers } from '../../contract/answers.ts';
import type { PartOf } from '../../contract/endpoints.ts';
import { LAST_CHANGE } from '../../contract/lastChange.ts';
import { heard } from './units.ts';
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

/** What is wrong, in words: the server's own, or why there are none. */
export const problemOf = (error: unknown): Problem =>
  error instanceof ProblemError
    ? error.problem
    : { code: 'internal', message: (error as Error).message, fields: {} };

/** The server could not be reached; nothing is known of what it did. */
export class Unreachable extends Error {
  constructor() {
    super('The server cannot be reached.');
  }
}

/** Answers in the page what a server would: the bench of a drill. @throws ProblemError where the answer is no */
export interface PageServer {
  answer(method: string, path: string, body: unknown): Promise<unknown>;
}

let pageServer: PageServer | null = null;

/** From now on these pages ask this, and no server. */
export function serveInPage(server: PageServer): void {
  pageServer = server;
}

let oldest: string | undefined;
/** The change after which the oldest answer was read that this page may show; undefined before the first answer. */
export const oldestAnswer = (): string | undefined => oldest;

/** Of answers whose age no server can tell: nothing that it counted is called so. */
export const UNKNOWN_CHANGE = 'unknown';

/** An answer was read after a change. One of another start of the server, or kept from another day, stays the oldest. */
export function answeredAfter(change: string): void {
  const [run, count] = change.split('.');
  const [oldRun, oldCount] = oldest?.split('.') ?? [];
  if (oldest === undefined || (run === oldRun && Number(count) < Number(oldCount))) oldest = change;
}

/** An answer that takes longer is none: what was asked may have been done, and is asked again by its id. */
const LONGEST_MS = 30_000;

async function call<T>(method: string, path: string, body?: unknown): Promise<T> {
  if (pageServer) return (await pageServer.answer(method, path, body)) as T;
  let response: Response;
  try {
    response = await fetch(path, {
      method,
      signal: AbortSignal.timeout(LONGEST_MS),
      ...(body === undefined
        ? {}
        : { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }),
    });
  } catch {
    throw new Unreachable();
  }
  const answer = (await response.json().catch(() => null)) as { error?: Problem } | null;
  const after = method === 'GET' && response.headers.get(LAST_CHANGE);
  if (after) answeredAfter(after);
  if (response.ok) return answer as T;
  if (response.status === 502 || response.status === 504) throw new Unreachable();
  const problem = answer?.error ?? {
    code: 'internal' as const,
    message: `The server answered ${response.status}.`,
    fields: {},
  };
  throw new ProblemError(
    heard(problem),
    response.status,
    1000 * Number(response.headers.get('Retry-After') ?? 0),
  );
}

/** What an address is asked with, as far as it takes it. Parts of a query may be left to their usual values. */
type PathParts<K extends AddressKey> = (PartOf<K, 'params'> extends undefined
  ? unknown
  : { params: PartOf<K, 'params'> }) &
  (PartOf<K, 'query'> extends undefined ? unknown : { query?: Partial<PartOf<K, 'query'>> });
type Parts<K extends AddressKey> = PathParts<K> &
  (PartOf<K, 'body'> extends undefined ? unknown : { body: PartOf<K, 'body'> });
/** No argument where there is nothing to give. */
type Given<P> = unknown extends P ? [] : [P];

/** The path of an address with its parts in it. */
export function pathTo<K extends AddressKey>(key: K, ...[parts]: Given<PathParts<K>>): string {
  const { params = {}, query = {} } = (parts ?? {}) as {
    params?: Record<string, string>;
    query?: Record<string, unknown>;
  };
  const path = ADDRESSES[key].path.replaceAll(/:(\w+)/g, (_, name: string) =>
    encodeURIComponent(params[name] ?? ''),
  );
  const asked = Object.entries(query).map(
    ([name, value]) => `${name}=${encodeURIComponent(String(value))}`,
  );
  return asked.length > 0 ? `${path}?${asked.join('&')}` : path;
}

/** Asks an address of the list. @throws ProblemError when the answer is no, Unreachable when there is none */
export function ask<K extends AddressKey & keyof Answers>(
  key: K,
  ...parts: Given<Parts<K>>
): Promise<Answers[K]> {
  const { method } = ADDRESSES[key];
  const [given] = parts as [{ body?: unknown }?];
  const path = pathTo(key, ...(parts as Given<PathParts<K>>));
  return call<Answers[K]>(
    method.toUpperCase(),
    path,
    method === 'get' ? undefined : (given?.body ?? {}),
  );
}

/** Sends what was put by for a path. */
export const post = <T>(path: string, body: unknown): Promise<T> => call<T>('POST', path, body);
