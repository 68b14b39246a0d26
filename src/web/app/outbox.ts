import type { Write } from '../../contract/wire.ts';
import { post, Unreachable } from './api.ts';

/**
 * Entries on their way to the server. Each is written down here before it is sent and crossed out
 * only when the server has answered, so that a dead network or a closed page loses none. The id in
 * the entry lets the server take it once however often it is sent.
 */
export interface Entry {
  path: string;
  body: Write & Record<string, unknown>;
}

interface Shelf {
  getItem(key: string): string | null;
  setItem(key: string, value: string): void;
}

const KEY = 'cork-ember.outbox';
const RETRY_MS = 3000;

export class Outbox {
  readonly #listeners = new Set<() => void>();
  readonly #shelf: Shelf;
  readonly #send: (path: string, body: unknown) => Promise<unknown>;
  #inFlight = new Set<string>();

  constructor(shelf: Shelf, send: (path: string, body: unknown) => Promise<unknown> = post) {
    this.#shelf = shelf;
    this.#send = send;
  }

  /** Entries not yet answered for. */
  waiting(): Entry[] {
    return JSON.parse(this.#shelf.getItem(KEY) ?? '[]') as Entry[];
  }

  subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  /**
   * Writes an entry down and sends it.
   *
   * @returns the server's answer
   * @throws ProblemError when it says no (the entry is done with) · Unreachable (the entry is kept)
   */
  async send<T>(entry: Entry): Promise<T> {
    this.#write([...this.waiting(), entry]);
    return (await this.#deliver(entry)) as T;
  }

  /** Tries everything that waits, oldest first; stops at the first that cannot be delivered. */
  async flush(): Promise<void> {
    for (const entry of this.waiting()) {
      if (this.#inFlight.has(entry.body.commandId)) continue;
      try {
        await this.#deliver(entry);
      } catch (error) {
        if (error instanceof Unreachable) return;
      }
    }
  }

  async #deliver(entry: Entry): Promise<unknown> {
    const { commandId } = entry.body;
    this.#inFlight.add(commandId);
    try {
      const answer = await this.#send(entry.path, entry.body);
      this.#cross(commandId);
      return answer;
    } catch (error) {
      if (!(error instanceof Unreachable)) this.#cross(commandId);
      throw error;
    } finally {
      this.#inFlight.delete(commandId);
    }
  }

  #cross(commandId: string): void {
    this.#write(this.waiting().filter((e) => e.body.commandId !== commandId));
  }

  #write(entries: Entry[]): void {
    this.#shelf.setItem(KEY, JSON.stringify(entries));
    for (const listener of this.#listeners) listener();
  }
}

/** Keeps trying while the page is open. */
export function keepFlushing(outbox: Outbox): void {
  const attempt = () => void outbox.flush();
  addEventListener('online', attempt);
  setInterval(attempt, RETRY_MS);
  attempt();
}
