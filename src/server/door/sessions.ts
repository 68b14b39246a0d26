import { createHash, randomBytes } from 'node:crypto';
import { EventEmitter } from 'node:events';
import type { Request, Response } from 'express';
import { steadyWall } from '../clock.ts';
import type { Store } from '../store/store.ts';

const SESSION_COOKIE = 'cork_ember_session';
const DEVICE_COOKIE = 'cork_ember_device';
/** A session nobody has used for so long has run out, ms. */
export const SESSION_MS = 12 * 3_600_000;
/** Its use is written down at most this often, ms. */
const SEEN_EVERY_MS = 5 * 60_000;
const DEVICE_MS = 365 * 24 * 3_600_000;

export interface Session {
  hash: string;
  personId: string;
}

const hashOf = (token: string): string => createHash('sha256').update(token).digest('base64url');

/** A cookie's value as the browser sent it. */
function cookie(request: Request, name: string): string | null {
  const found = (request.headers.cookie ?? '').split(/;\s*/).find((c) => c.startsWith(`${name}=`));
  return found?.slice(name.length + 1) ?? null;
}

/**
 * Who is signed in where. A session is a random token in a cookie that no script can read; the file keeps only its
 * hash. It lasts while it is used. A device somebody has signed in from is known again by a cookie of its own.
 */
export class Sessions {
  readonly #ends = new EventEmitter().setMaxListeners(0);

  /**
   * @param secure the pages are reached over TLS, and the cookies over nothing else
   * @param machine time that nobody sets, ms since the epoch; sessions do not follow a demo's clock
   */
  constructor(
    private readonly store: Store,
    private readonly secure: boolean,
    private readonly machine: () => number = steadyWall,
  ) {}

  /** The session a request belongs to, or null. Using it keeps it. */
  async of(request: Request): Promise<Session | null> {
    const token = cookie(request, SESSION_COOKIE);
    return token ? this.#find(hashOf(token)) : null;
  }

  async #find(hash: string): Promise<Session | null> {
    const { sessions, people } = this.store.tables;
    const row = await sessions.findByPk(hash, { raw: true });
    const now = this.machine();
    if (!row || now - row.seenAt >= SESSION_MS) return null;
    const person = await people.findByPk(row.personId, { raw: true });
    if (!person?.active) return null;
    if (now - row.seenAt >= SEEN_EVERY_MS)
      await this.store.write((transaction) =>
        sessions.update({ seenAt: now }, { where: { hash }, transaction }),
      );
    return { hash, personId: row.personId };
  }

  /** Opens a session for a person, and remembers the device as theirs. */
  async open(personId: string, request: Request, response: Response): Promise<void> {
    const { sessions, devices } = this.store.tables;
    const now = this.machine();
    const token = randomBytes(32).toString('base64url');
    const device = cookie(request, DEVICE_COOKIE) ?? randomBytes(32).toString('base64url');
    await this.store.write(async (transaction) => {
      await sessions.create(
        { hash: hashOf(token), personId, openedAt: now, seenAt: now },
        { transaction },
      );
      await devices.upsert({ hash: hashOf(device), personId, seenAt: now }, { transaction });
    });
    response.cookie(SESSION_COOKIE, token, this.#options(SESSION_MS));
    response.cookie(DEVICE_COOKIE, device, this.#options(DEVICE_MS));
  }

  /** The device of a request, where that person has signed in from it before; null otherwise. */
  async device(personId: string, request: Request): Promise<string | null> {
    const token = cookie(request, DEVICE_COOKIE);
    if (!token) return null;
    const hash = hashOf(token);
    return (await this.store.tables.devices.findOne({ where: { hash, personId }, raw: true }))
      ? hash
      : null;
  }

  async close(request: Request, response: Response): Promise<void> {
    const token = cookie(request, SESSION_COOKIE);
    if (token) {
      await this.store.write((transaction) =>
        this.store.tables.sessions.destroy({ where: { hash: hashOf(token) }, transaction }),
      );
      this.#ends.emit(hashOf(token));
    }
    response.clearCookie(SESSION_COOKIE, this.#options());
  }

  /** Every session of a person is over. Their rows are taken down by the caller's own transaction. */
  ended(personId: string): void {
    this.#ends.emit(personId);
  }

  /** Calls once when the session ends in whatever way; the answer stops that. Whoever holds a line open asks now and then. */
  whenOver({ hash, personId }: Session, everyMs: number, end: () => void): () => void {
    const stop = (): void => {
      clearInterval(timer);
      this.#ends.off(hash, over);
      this.#ends.off(personId, over);
    };
    let ended = false;
    let asking = false;
    const over = (): void => {
      stop();
      if (!ended) end();
      ended = true;
    };
    // On a busy machine an answer may take longer than the time between two: it is never asked twice at once.
    const ask = async (): Promise<void> => {
      if (asking) return;
      asking = true;
      const found = await this.#find(hash).catch(() => null);
      asking = false;
      if (!found) over();
    };
    const timer = setInterval(() => void ask(), everyMs);
    this.#ends.once(hash, over);
    this.#ends.once(personId, over);
    return stop;
  }

  #options(maxAge?: number) {
    return {
      httpOnly: true,
      sameSite: 'strict' as const,
      path: '/',
      secure: this.secure,
      ...(maxAge === undefined ? {} : { maxAge }),
    };
  }
}
