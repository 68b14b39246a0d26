import type { Request, RequestHandler, Response } from 'express';
import type { Person, SignInState } from '../../contract/wire.ts';
import { HttpProblem } from '../http/problem.ts';
import type { Store } from '../store/store.ts';
import { decoy, pinFits } from './pins.ts';
import type { Session, Sessions } from './sessions.ts';
import { Tries } from './tries.ts';

const ID = /^[\w-]{1,60}$/;
const refuse = (status: number, message: string) =>
  new HttpProblem(status, { code: 'forbidden', message, fields: {} });

/** Who says that they send this: in the body, or beside a file in the query. */
const signerOf = (request: Request): unknown =>
  (request.body as { by?: unknown } | undefined)?.by ?? request.query['by'];

interface DoorOptions {
  /** Listening wider than this machine: nobody gets in without a PIN. On this machine alone a tap on the name is enough. */
  required: boolean;
  sessions: Sessions;
  tries?: Tries;
}

/** Who gets in, and in whose name they act. */
export class Door {
  readonly required: boolean;
  readonly sessions: Sessions;
  readonly #tries: Tries;
  readonly #inside = new WeakMap<Request, Session>();

  constructor(
    private readonly store: Store,
    { required, sessions, tries = new Tries() }: DoorOptions,
  ) {
    this.required = required;
    this.sessions = sessions;
    this.#tries = tries;
  }

  /** Lets only who has signed in through. Before anything of the body is read. */
  readonly signedIn: RequestHandler = async (request, _response, next) => {
    if (!this.required) return next();
    const session = await this.sessions.of(request);
    if (!session) throw refuse(401, 'Sign in first.');
    this.#inside.set(request, session);
    next();
  };

  /** Lets nobody sign for somebody else. */
  readonly ownName: RequestHandler = (request, _response, next) => {
    const by = signerOf(request);
    if (this.required && by !== undefined && by !== this.#inside.get(request)?.personId)
      throw refuse(403, 'You are signed in as somebody else.');
    next();
  };

  /** Lets only a lead through: whoever is signed in, or signs the body on this machine. */
  readonly leadOnly: RequestHandler = async (request, _response, next) => {
    const person = await this.personOf(request);
    if (person?.role !== 'lead') throw refuse(403, 'Only a lead may do that.');
    next();
  };

  /** The session of a request that was let through where signing in is needed; null elsewhere. */
  sessionOf(request: Request): Session | null {
    return this.#inside.get(request) ?? null;
  }

  async personOf(request: Request): Promise<Person | null> {
    const by = signerOf(request);
    const id = this.required ? this.#inside.get(request)?.personId : by;
    // Asked before the body has met its schema: what cannot be an id is nobody's.
    const person =
      typeof id === 'string' && ID.test(id)
        ? await this.store.tables.people.findByPk(id, { raw: true })
        : null;
    return person?.active ? person : null;
  }

  async state(request: Request): Promise<SignInState> {
    const people = await this.store.tables.people.findAll({ order: [['name', 'ASC']], raw: true });
    return {
      required: this.required,
      personId: this.required ? ((await this.sessions.of(request))?.personId ?? null) : null,
      people: people
        .filter((p) => p.active)
        .map(({ id, name, initials, role, active, pinHash }) => ({
          id,
          name,
          initials,
          role,
          active: Boolean(active),
          hasPin: pinHash !== null,
        })),
    };
  }

  /** @throws HttpProblem 401 when the PIN is not right, 429 when it is too early for another try */
  async signIn(
    request: Request,
    response: Response,
    { personId, pin }: { personId: string; pin: string },
  ): Promise<SignInState> {
    const attempt = this.#tries.begin(personId, {
      device: await this.sessions.device(personId, request),
      address: request.ip ?? '',
    });
    if (typeof attempt === 'number') {
      const seconds = Math.ceil(attempt / 1000);
      response.setHeader('Retry-After', seconds);
      throw refuse(429, `Too many wrong PINs. Try again in ${seconds} s.`);
    }
    let fits: boolean;
    try {
      const person = await this.store.tables.people.findByPk(personId, { raw: true });
      const stored = person?.active ? person.pinHash : null;
      // The same work whether the person exists or not, so that the time tells nothing.
      fits = (await pinFits(pin, stored ?? (await decoy()))) && stored !== null;
    } catch (error) {
      attempt.dropped();
      throw error;
    }
    if (!fits) {
      attempt.wrong();
      throw refuse(401, 'That PIN is not right.');
    }
    attempt.right();
    await this.sessions.open(personId, request, response);
    return { ...(await this.state(request)), personId };
  }
}
