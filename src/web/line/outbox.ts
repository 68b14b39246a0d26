import type { Write } from '../../contract/asks.ts';
import { post, ProblemError, Unreachable } from './api.ts';

/**
 * Entries on their way to the server. Each is written down here before it is sent, and stays until the server has
 * taken it or has judged it: a dead network, a closed page, a session that ran out and a server in trouble lose none.
 * The id in an entry lets the server take it once however often it is sent.
 */
export interface Entry {
  path: string;
  body: Write & Record<string, unknown>;
  /** What it is, for a person who finds it again: “LK-0409: volts 12.48”. */
  what?: string;
  /** The server's no, where nobody was there to hear it; kept until a person has seen it. */
  refusal?: string;
}

interface Shelf {
  getItem(key: string): string | null;
  setItem(key: string, value: string): void;
}

const RETRY_MS = 3000;
const MOST_RETRY_MS = 60_000;

/** Statuses by which a server has looked at an entry and turned it away; any other leaves it untold. */
const JUDGED = [400, 403, 404, 409, 410, 413, 422];
export const isJudged = (error: unknown): boolean =>
  error instanceof ProblemError && JUDGED.includes(error.status);

interface Options {
  /** Under which name entries are kept. */
  key?: string;
  send?: (path: string, body: unknown) => Promise<unknown>;
  /** Whose entries may go now: anybody's (true), nobody's (false), or one person's. */
  mayGo?: () => boolean | string;
  /** Even ms, for how long to wait before the next try. */
  now?: () => number;
}

export class Outbox {
  readonly #listeners = new Set<() => void>();
  readonly #shelf: Shelf;
  readonly #key: string;
  readonly #send: (path: string, body: unknown) => Promise<unknown>;
  readonly #now: () => number;
  readonly #inFlight = new Set<string>();
  #mayGo: () => boolean | string;
  #flushing: Promise<void> | null = null;
  #retryMs = RETRY_MS;
  #notBefore = -Infinity;

  constructor(
    shelf: Shelf,
    {
      key = 'cork-ember.outbox',
      send = post,
      mayGo = () => true,
      now = () => performance.now(),
    }: Options = {},
  ) {
    this.#shelf = shelf;
    this.#key = key;
    this.#send = send;
    this.#mayGo = mayGo;
    this.#now = now;
  }

  /** Says whose entries may go from now on. */
  ask(mayGo: () => boolean | string): void {
    this.#mayGo = mayGo;
  }

  /** May what this person made go now? */
  mayGo(by: string): boolean {
    const may = this.#mayGo();
    return may === true || may === by;
  }

  /** Everything that is kept here, oldest first. */
  kept(): Entry[] {
    return JSON.parse(this.#shelf.getItem(this.#key) ?? '[]') as Entry[];
  }

  /** Entries the server has not answered for. */
  waiting(): Entry[] {
    return this.kept().filter((e) => e.refusal === undefined);
  }

  /** Entries it has turned away while nobody looked. */
  refused(): Entry[] {
    return this.kept().filter((e) => e.refusal !== undefined);
  }

  subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  /**
   * Writes an entry down and sends it, after those that wait already.
   *
   * @returns the server's answer
   * @throws ProblemError when the server has judged it and says no: whoever sent it hears that, and it is done with ·
   *   whatever else came, when it is kept and tried again
   */
  async send<T>(entry: Entry): Promise<T> {
    this.#inFlight.add(entry.body.commandId);
    this.#write([...this.kept(), entry]);
    try {
      if (!this.#mine(entry))
        throw new ProblemError({ code: 'forbidden', message: 'Sign in first.', fields: {} }, 401);
      await this.#flushBefore(entry);
      return (await this.#deliver(entry, true)) as T;
    } finally {
      this.#inFlight.delete(entry.body.commandId);
    }
  }

  /** Tries everything that waits, oldest first; stops at the first that cannot be delivered now. */
  flush(): Promise<void> {
    this.#flushing ??= this.#flush().finally(() => (this.#flushing = null));
    return this.#flushing;
  }

  /** Tries again at once, whatever went before: somebody has signed in, or presses the button. */
  flushNow(): Promise<void> {
    this.#notBefore = -Infinity;
    return this.flush();
  }

  /** A person has seen that it was turned away. */
  dismiss(commandId: string): void {
    this.#cross(commandId);
  }

  async #flush(): Promise<void> {
    if (this.#now() < this.#notBefore) return;
    for (const entry of this.waiting()) {
      if (this.#inFlight.has(entry.body.commandId) || !this.#mine(entry)) continue;
      try {
        await this.#deliver(entry, false);
      } catch (error) {
        if (!isJudged(error)) return;
      }
    }
  }

  /** @throws when one before it cannot be delivered: then this one waits too */
  async #flushBefore(entry: Entry): Promise<void> {
    for (const older of this.waiting()) {
      if (older.body.commandId === entry.body.commandId) return;
      if (this.#inFlight.has(older.body.commandId) || !this.#mine(older)) continue;
      await this.#deliver(older, false).catch((error: unknown) => {
        if (!isJudged(error)) throw error;
      });
    }
  }

  #mine({ body }: Entry): boolean {
    return this.mayGo(body.by);
  }

  async #deliver(entry: Entry, attended: boolean): Promise<unknown> {
    const { commandId } = entry.body;
    this.#inFlight.add(commandId);
    try {
      const answer = await this.#send(entry.path, entry.body);
      this.#retryMs = RETRY_MS;
      this.#notBefore = -Infinity;
      this.#cross(commandId);
      return answer;
    } catch (error) {
      if (!isJudged(error)) this.#later(error);
      else if (attended) this.#cross(commandId);
      else
        this.#write(
          this.kept().map((e) =>
            e.body.commandId === commandId ? { ...e, refusal: (error as Error).message } : e,
          ),
        );
      throw error;
    } finally {
      this.#inFlight.delete(commandId);
    }
  }

  /** Each failure doubles the wait; a dead network is tried again as soon as it is back. */
  #later(error: unknown): void {
    const asked = error instanceof ProblemError ? error.retryAfterMs : 0;
    this.#notBefore = this.#now() + Math.max(this.#retryMs, asked);
    this.#retryMs =
      error instanceof Unreachable ? RETRY_MS : Math.min(MOST_RETRY_MS, 2 * this.#retryMs);
  }

  #cross(commandId: string): void {
    this.#write(this.kept().filter((e) => e.body.commandId !== commandId));
  }

  #write(entries: Entry[]): void {
    this.#shelf.setItem(this.#key, JSON.stringify(entries));
    for (const listener of this.#listeners) listener();
  }
}

/** Keeps trying while the page is open. */
export function keepFlushing(outbox: Outbox): void {
  addEventListener('online', () => void outbox.flushNow());
  setInterval(() => void outbox.flush(), RETRY_MS);
  void outbox.flush();
}
