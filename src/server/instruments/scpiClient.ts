import { connect, type Socket } from 'node:net';
import { Mutex } from 'async-mutex';

/** What an instrument did wrong, in words for the person at the bench. */
export class InstrumentError extends Error {
  override readonly name = 'InstrumentError';
}

const LONGEST_ANSWER = 4096;
/** An instrument that cannot be reached is not tried again for so many timeouts: others on the bench are waiting. */
const LEAVE_ALONE = 3;

/**
 * Speaks SCPI over TCP with one instrument: one question at a time, one line back. An answer that
 * comes late, twice or not at all is never taken for the next one's: after a silence the line is
 * closed and opened anew.
 */
export class ScpiClient {
  #socket: Socket | null = null;
  #buffer = '';
  #waiting: ((line: string) => void) | null = null;
  #broken: ((error: Error) => void) | null = null;
  #unreachableUntil = 0;
  readonly #turn = new Mutex();

  constructor(
    readonly host: string,
    readonly port: number,
    private readonly timeoutMs: number,
  ) {}

  /** Sends a line that has no answer. */
  tell(line: string): Promise<void> {
    return this.#turn.runExclusive(async () => {
      const socket = await this.#open();
      await new Promise<void>((resolve, reject) => socket.write(`${line}\n`, (error) => (error ? reject(this.#fail(error.message)) : resolve())));
    });
  }

  /** Sends a line and waits for its one line of answer. */
  ask(line: string): Promise<string> {
    return this.#turn.runExclusive(async () => {
      const socket = await this.#open();
      // Whatever lies there was nobody's question.
      this.#buffer = '';
      return new Promise<string>((resolve, reject) => {
        const timer = setTimeout(() => reject(this.#fail('it did not answer')), this.timeoutMs);
        const settle = (): void => {
          clearTimeout(timer);
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

  /** Asks for numbers, as many as questions in the line, apart by `;`. */
  async numbers(line: string, count: number): Promise<number[]> {
    const answer = await this.ask(line);
    const values = answer.split(';').map((part) => (part.trim() === '' ? Number.NaN : Number(part)));
    if (values.length !== count || values.some((v) => !Number.isFinite(v) || Math.abs(v) > 1e30))
      throw this.#fail(`it answered “${answer.slice(0, 40)}”, which makes no sense`);
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
    const socket = connect({ host: this.host, port: this.port });
    socket.setNoDelay(true);
    socket.setEncoding('utf8');
    this.#buffer = '';
    socket.on('data', (chunk: string) => this.#hear(chunk));
    await new Promise<void>((resolve, reject) => {
      const give = (): void => {
        clearTimeout(timer);
        socket.destroy();
        this.#unreachableUntil = performance.now() + LEAVE_ALONE * this.timeoutMs;
        reject(this.#fail('cannot be reached'));
      };
      const timer = setTimeout(give, this.timeoutMs);
      socket.once('connect', () => {
        clearTimeout(timer);
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
      this.#broken?.(new InstrumentError(`The instrument at ${this.host}:${this.port}: the line was cut.`));
    });
    this.#socket = socket;
    return socket;
  }

  #hear(chunk: string): void {
    this.#buffer += chunk;
    const end = this.#buffer.indexOf('\n');
    if (end < 0) {
      if (this.#buffer.length > LONGEST_ANSWER) this.#broken?.(this.#fail('it talks without end'));
      return;
    }
    const line = this.#buffer.slice(0, end).trim();
    this.#buffer = '';
    this.#waiting?.(line);
  }
}
