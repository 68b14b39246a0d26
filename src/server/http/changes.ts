import { randomBytes } from 'node:crypto';
import { EventEmitter } from 'node:events';
import type { Request, RequestHandler, Response } from 'express';
import { LAST_CHANGE } from '../../contract/lastChange.ts';
import type { ChangeNotice } from '../../contract/wire.ts';

const KEEP_ALIVE_MS = 20_000;
/** So many notices are kept, and so many different ones told again to whoever missed them; who missed more asks for everything. */
const MOST_KEPT = 1000;
const MOST_TOLD = 20;

/**
 * Tells open pages what changed, after it is on the disk. Notices are counted: every answer says after which one it was read, and
 * whoever follows says from where, so that nothing is missed between an answer and the line that follows it, nor while that is down.
 */
export class Changes {
  readonly #emitter = new EventEmitter().setMaxListeners(0);
  /** Another with every start: what was counted before is not known any more. */
  readonly #run = randomBytes(6).toString('base64url');
  #count = 0;
  /** The latest, oldest first. */
  readonly #kept: ChangeNotice[] = [];

  /** The latest change, as it is written beside answers and notices. */
  get latest(): string {
    return `${this.#run}.${this.#count}`;
  }

  announce(notice: ChangeNotice): void {
    // The newest samples of live charges come again each second, whether or not one was missed.
    if (notice.topic !== 'charge') {
      this.#count += 1;
      this.#kept.push(notice);
      if (this.#kept.length > MOST_KEPT) this.#kept.shift();
    }
    this.#emitter.emit('change', notice);
  }

  /** Hands every notice on. */
  listen(hear: (notice: ChangeNotice) => void): void {
    this.#emitter.on('change', hear);
  }

  /** What came after a change, each thing once; null where that is too much, or cannot be told any more. */
  #after(change: string): ChangeNotice[] | null {
    const [run, count] = change.split('.');
    const missed = this.#count - Number(count);
    if (run !== this.#run || !(missed >= 0 && missed <= this.#kept.length)) return null;
    const subjectOf = ({ topic, jobId, tag }: ChangeNotice): string =>
      [topic, jobId, tag].join(' ');
    const notices = this.#kept.slice(this.#kept.length - missed);
    const last = [...new Map(notices.map((notice) => [subjectOf(notice), notice])).values()];
    return last.length <= MOST_TOLD ? last : null;
  }

  /** Says beside every answer after which change it was read. */
  readonly besideAnswers: RequestHandler = (_request, response, next) => {
    response.setHeader(LAST_CHANGE, this.latest);
    next();
  };

  /**
   * Server-sent events: one line of JSON per change.
   *
   * @param since the change after which the page has read what it shows; a line that was lost and opens again says itself what it
   *   has heard last
   */
  follow(request: Request, response: Response, since: string | undefined): void {
    response.writeHead(200, {
      'Content-Type': 'text/event-stream',
      'Cache-Control': 'no-cache',
      Connection: 'keep-alive',
    });
    const send = (notice: ChangeNotice) =>
      response.write(`id: ${this.latest}\ndata: ${JSON.stringify(notice)}\n\n`);
    response.write('retry: 1000\n\n');
    const heard = request.get('Last-Event-ID') ?? since;
    const missed = heard === undefined ? [] : (this.#after(heard) ?? [{ topic: 'anew' } as const]);
    missed.forEach(send);
    response.write(`id: ${this.latest}\n\n`);
    const beat = setInterval(() => response.write(': still here\n\n'), KEEP_ALIVE_MS);
    this.#emitter.on('change', send);
    request.on('close', () => {
      clearInterval(beat);
      this.#emitter.off('change', send);
    });
  }
}
