import { connect, type Socket } from 'node:net';
import { Mutex } from 'async-mutex';
import { ownAddress } from './address.ts';

/** What an instrument did wrong, in words for the person at the bench. */
export class InstrumentError extends Error {
  override readonly name = 'InstrumentError';
}

/** More than this in one line, or unasked, and the line is closed: characters. */
const LONGEST_ANSWER = 4096;
/** An instrument that cannot be reached is not tried again for so many timeouts: others on the bench are waiting. */
const LEAVE_ALONE = 3;
/** Decimal numeric response data of IEEE 488.2; neither hexadecimal nor words. */
const DECIMAL = /^[+-]?(?:\d+(?:\.\d*)?|\.\d+)(?:e[+-]?\d{1,2})?$/i;
/** Nothing on a bench is measured in larger numbers; SCPI's 9.9e37 means overload. */
const MOST_VALUE = 1e6;
const SILENT = 'it did not answer';

/** When the time is over, what lies on the line is read once more for so long, ms. */
const LAST_LOOK_MS = 20;

/**
 * Waits, and takes off what this process itself stood still meanwhile, once; never less than a last look: an answer may
 * lie there that it has not come to read yet.
 *
 * @returns ends the waiting
 */
function patiently(ms: number, expire: () => void): () => void {
  const dueAt = performance.now() + ms;
  let timer = setTimeout(() => {
    const late = performance.now() - dueAt;
    timer = setTimeout(expire, Math.min(Math.max(late, LAST_LOOK_MS), ms));
  }, ms);
  return () => clearTimeout(timer);
}

/**
 * Speaks SCPI over TCP with one instrument: one question at a time, one line back. An answer that
 * comes late, twice or not at all is never taken for the next one's: after a silence the line is
 * closed and opened anew, and whoever had waited behind that question is told the same at once: a dead
 * instrument costs its places one wait, not one each.
 */
export class ScpiClient {
  #socket: Socket | null = null;
  #buffer = '';
  #waiting: ((line: string) => void) | null = null;
  #broken: ((error: Error) => void) | null = null;
  #unreachableUntil = 0;
  /** Questions that went unanswered so far. */
  #silences = 0;
  readonly #turn = new Mutex();

  constructor(
    readonly host: string,
    readonly port: number,
    private readonly timeoutMs: number,
  ) {}

  /** Sends a line that has no answer. */
  tell(line: string): Promise<void> {
    return this.#inTurn(async () => {
      const socket = await this.#open();
      await new Promise<void>((resolve, reject) =>
        socket.write(`${line}\n`, (error) =>
          error ? reject(this.#fail(error.message)) : resolve(),
        ),
      );
    });
  }

  /** Sends a line and waits for its one line of answer. */
  ask(line: string): Promise<string> {
    return this.#inTurn(async () => {
      const socket = await this.#open();
      // Whatever lies there was nobody's question.
      this.#buffer = '';
      return new Promise<string>((resolve, reject) => {
        const answered = patiently(this.timeoutMs, () => {
          this.#silences += 1;
          reject(this.#fail(SILENT));
        });
        const settle = (): void => {
          answered();
          this.#waiting = null;
          this.#broken = null;
        };
        this.#waiting = (answer) => {
          settle();
          resolve(answer);
        };
        this.#broken = (error) => {
          settle();
          reject(error);
        };
        socket.write(`${line}\n`);
      });
    });
  }

  async #inTurn<T>(work: () => Promise<T>): Promise<T> {
    const known = this.#silences;
    return this.#turn.runExclusive(() => {
      if (this.#silences !== known) throw this.#fail(SILENT);
      return work();
    });
  }

  /** Asks for numbers, as many as questions in the line, apart by `;`. */
  async numbers(line: string, count: number): Promise<number[]> {
    const answer = await this.ask(line);
    const values = answer
      .split(';')
      .map((part) => (DECIMAL.test(part.trim()) ? Number(part) : Number.NaN));
    if (values.length !== count || values.some((v) => Number.isNaN(v) || Math.abs(v) > MOST_VALUE))
      // What it said is not said again: it may be no instrument at all.
      throw this.#fail('its answer makes no sense');
    return values;
  }

  close(): void {
    this.#socket?.destroy();
    this.#socket = null;
  }

  #fail(what: string): InstrumentError {
    this.close();
    return new InstrumentError(`The instrument at ${this.host}:${this.port}: ${what}.`);
  }

  async #open(): Promise<Socket> {
    if (this.#socket && !this.#socket.destroyed) return this.#socket;
    if (performance.now() < this.#unreachableUntil) throw this.#fail('cannot be reached');
    const address = await this.#resolve();
    const socket = connect({ host: address, port: this.port });
    socket.setNoDelay(true);
    socket.setEncoding('utf8');
    this.#buffer = '';
    socket.on('data', (chunk: string) => this.#hear(chunk));
    await new Promise<void>((resolve, reject) => {
      const give = (): void => {
        connected();
        socket.destroy();
        this.#unreachableUntil = performance.now() + LEAVE_ALONE * this.timeoutMs;
        reject(this.#fail('cannot be reached'));
      };
      const connected = patiently(this.timeoutMs, give);
      socket.once('connect', () => {
        connected();
        this.#unreachableUntil = 0;
        resolve();
      });
      socket.once('error', give);
    });
    socket.on('error', () => socket.destroy());
    socket.on('close', () => {
      // The end of an earlier line is no answer to a question asked on this one.
      if (this.#socket !== socket) return;
      this.#socket = null;
      this.#broken?.(
        new InstrumentError(`The instrument at ${this.host}:${this.port}: the line was cut.`),
      );
    });
    this.#socket = socket;
    return socket;
  }

  /** The address to connect to; a name server that does not answer is an instrument that does not. */
  async #resolve(): Promise<string> {
    let timer: NodeJS.Timeout | undefined;
    const late = new Promise<never>(
      (_resolve, reject) =>
        (timer = setTimeout(
          () => reject(new Error('cannot be found by that name')),
          this.timeoutMs,
        )),
    );
    try {
      return await Promise.race([ownAddress(this.host), late]);
    } catch (error) {
      this.#unreachableUntil = performance.now() + LEAVE_ALONE * this.timeoutMs;
      const { code, message } = error as NodeJS.ErrnoException;
      throw this.#fail(code ? 'cannot be found by that name' : message);
    } finally {
      clearTimeout(timer);
    }
  }

  #hear(chunk: string): void {
    this.#buffer += chunk;
    const end = this.#buffer.indexOf('\n');
    // Asked or not: what has no end is not kept, and one that talks unasked is not listened to for long.
    if (
      this.#buffer.length > LONGEST_ANSWER &&
      (end < 0 || end > LONGEST_ANSWER || !this.#waiting)
    ) {
      const error = this.#fail('it talks without end');
      this.#broken?.(error);
      return;
    }
    if (end < 0 || !this.#waiting) return;
    const line = this.#buffer.slice(0, end).trim();
    this.#buffer = '';
    this.#waiting(line);
  }
}
