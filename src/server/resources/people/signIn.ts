import { createHash, randomBytes, scrypt, timingSafeEqual } from 'node:crypto';
import { promisify } from 'node:util';
import type { Request, RequestHandler, Response } from 'express';
import { ENDPOINTS, type Endpoint } from '../../../contract/endpoints.ts';
import type { SetPin, SignInState } from '../../../contract/wire.ts';
import { type Context, once } from '../../context.ts';
import { HttpProblem, notFound } from '../../http/problem.ts';
import type { Store } from '../../store/store.ts';

/**
 * Signing in with a PIN, where the server listens wider than its own machine. A session is a random
 * token in a cookie that no script can read; the file keeps only its hash. PINs are kept by scrypt.
 */

const COOKIE = 'cork_ember_session';
/** A session nobody has used for so long has run out, ms of the machine's clock. */
export const SESSION_MS = 12 * 3_600_000;
const deriveKey = promisify(scrypt) as (secret: string, salt: Buffer, length: number, options: { N: number; r: number; p: number }) => Promise<Buffer>;
/** Interactive cost by the usual advice for scrypt; about 60 ms on a small machine. */
const COST = { N: 32_768, r: 8, p: 1, maxmem: 64 * 1024 * 1024 };

export async function hashPin(pin: string, salt = randomBytes(16)): Promise<string> {
  const key = await deriveKey(pin, salt, 32, COST);
  return `${salt.toString('base64url')}.${key.toString('base64url')}`;
}

async function pinFits(pin: string, stored: string): Promise<boolean> {
  const [salt = '', key = ''] = stored.split('.');
  const given = await deriveKey(pin, Buffer.from(salt, 'base64url'), 32, COST);
  return timingSafeEqual(given, Buffer.from(key, 'base64url'));
}

/** Free tries, then a wait that doubles with each failure up to a quarter of an hour. */
const FREE_TRIES = 3;
const MOST_WAIT_MS = 15 * 60_000;

/** Who has failed how often, by person and by address; forgotten after a success and with the process. */
class SlowDown {
  readonly #failures = new Map<string, { count: number; until: number }>();

  constructor(readonly machine: () => number) {}

  /** ms still to wait before another try, 0 where there is none. */
  waitMs(keys: readonly string[]): number {
    return Math.max(0, ...keys.map((key) => (this.#failures.get(key)?.until ?? 0) - this.machine()));
  }

  failed(keys: readonly string[]): void {
    for (const key of keys) {
      const count = (this.#failures.get(key)?.count ?? 0) + 1;
      const wait = count < FREE_TRIES ? 0 : Math.min(MOST_WAIT_MS, 1000 * 2 ** (count - FREE_TRIES));
      this.#failures.set(key, { count, until: this.machine() + wait });
    }
  }

  succeeded(keys: readonly string[]): void {
    for (const key of keys) this.#failures.delete(key);
  }
}

const tokenOf = (request: Request) =>
  (request.headers.cookie ?? '')
    .split(/;\s*/)
    .find((c) => c.startsWith(`${COOKIE}=`))
    ?.slice(COOKIE.length + 1);
const hashOf = (token: string) => createHash('sha256').update(token).digest('base64url');
const refuse = (status: number, message: string) => new HttpProblem(status, { code: 'forbidden', message, fields: {} });

export interface SignIn {
  /** Lets only signed-in requests through, and only in the name of who is signed in. */
  guard: RequestHandler;
  state: (request: Request) => Promise<SignInState>;
  signIn: (request: Request, response: Response, given: { personId: string; pin: string }) => Promise<SignInState>;
  signOut: (request: Request, response: Response) => Promise<void>;
}

const OPEN = (Object.values(ENDPOINTS) as Endpoint[]).filter((e) => e.open);

/**
 * @param required false on this machine alone, where a tap on the name is enough
 * @param machine real time, ms; sessions and waits do not follow a demo's clock
 */
export function createSignIn(store: Store, required: boolean, machine: () => number = Date.now): SignIn {
  const slowDown = new SlowDown(machine);

  const personOf = async (request: Request): Promise<string | null> => {
    const token = tokenOf(request);
    if (!token) return null;
    const session = await store.tables.sessions.findByPk(hashOf(token), { raw: true });
    return session && machine() - session.seenAt < SESSION_MS ? session.personId : null;
  };

  const state = async (request: Request): Promise<SignInState> => {
    const people = await store.tables.people.findAll({ order: [['name', 'ASC']], raw: true });
    return {
      required,
      personId: required ? await personOf(request) : null,
      people: people.map(({ pinHash, ...person }) => ({ ...person, hasPin: pinHash !== null })),
    };
  };

  return {
    state,
    guard: async (request, _response, next) => {
      if (!required || !request.path.startsWith('/api/') || isCalendarFeed(request)) return next();
      if (OPEN.some((e) => e.path === request.path && e.method === request.method.toLowerCase())) return next();
      const personId = await personOf(request);
      if (!personId) throw refuse(401, 'Sign in first.');
      const by: unknown = (request.body as { by?: unknown } | undefined)?.by;
      if (by !== undefined && by !== personId) throw refuse(403, 'You are signed in as somebody else.');
      next();
    },
    signIn: async (request, response, { personId, pin }) => {
      const keys = [`person ${personId}`, `address ${request.ip ?? ''}`];
      const waitMs = slowDown.waitMs(keys);
      if (waitMs > 0) {
        response.setHeader('Retry-After', Math.ceil(waitMs / 1000));
        throw refuse(429, `Too many wrong PINs. Try again in ${Math.ceil(waitMs / 1000)} s.`);
      }
      const person = await store.tables.people.findByPk(personId, { raw: true });
      // The same work whether the person exists or not, so that the time tells nothing.
      const fits = await pinFits(pin, person?.pinHash ?? (await decoy));
      if (!person?.pinHash || !fits) {
        slowDown.failed(keys);
        throw refuse(401, 'That PIN is not right.');
      }
      slowDown.succeeded(keys);
      const token = randomBytes(32).toString('base64url');
      await store.write((transaction) =>
        store.tables.sessions.create({ hash: hashOf(token), personId, openedAt: machine(), seenAt: machine() }, { transaction }),
      );
      response.cookie(COOKIE, token, { httpOnly: true, sameSite: 'strict', path: '/', maxAge: SESSION_MS });
      return { ...(await state(request)), personId };
    },
    signOut: async (request, response) => {
      const token = tokenOf(request);
      if (token) await store.write((transaction) => store.tables.sessions.destroy({ where: { hash: hashOf(token) }, transaction }));
      response.clearCookie(COOKIE, { httpOnly: true, sameSite: 'strict', path: '/' });
    },
  };
}

/** The feed has a token of its own, checked where it is made: a calendar cannot type a PIN. */
function isCalendarFeed(request: Request): boolean {
  return request.path === ENDPOINTS.calendar.path && typeof request.query['token'] === 'string';
}

const decoy = hashPin(randomBytes(8).toString('hex'));

/** Sets a person's PIN: their own, or anybody's for a lead. Their open sessions end. */
export async function setPin(context: Context, personId: string, body: SetPin): Promise<{ id: string }> {
  const { store, changes } = context;
  const pinHash = await hashPin(body.pin);
  // The write is remembered by its body; the PIN in it is not for keeping.
  const answer = await once(context, { ...body, pin: '' }, async ({ by, now, transaction }) => {
    const person = await store.tables.people.findByPk(personId, { raw: true, transaction });
    if (!person) throw notFound('That person');
    if (by.id !== personId && by.role !== 'lead') throw refuse(403, "Only a lead sets somebody else's PIN.");
    await store.tables.people.update({ pinHash }, { where: { id: personId }, transaction });
    await store.tables.sessions.destroy({ where: { personId }, transaction });
    const data = { type: 'pin.set', personId };
    await store.tables.events.create({ at: now, by: by.id, batteryId: null, jobId: null, commandId: body.commandId, type: data.type, data }, { transaction });
    return { id: personId };
  });
  changes.announce({ topic: 'shop' });
  return answer;
}

/** May the server be opened to other machines? Only once a lead can sign in. */
export async function somebodyCanSignIn(store: Store): Promise<boolean> {
  const leads = await store.tables.people.findAll({ where: { role: 'lead' }, raw: true });
  return leads.some((p) => p.pinHash !== null);
}
