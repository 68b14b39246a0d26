import { EventEmitter } from 'node:events';
import type { Request, Response } from 'express';
import type { ChangeNotice } from '../../contract/wire.ts';

const KEEP_ALIVE_MS = 20_000;

/** Tells open pages what changed, after it is on the disk. */
export class Changes {
  readonly #emitter = new EventEmitter().setMaxListeners(0);

  announce(notice: ChangeNotice): void {
    this.#emitter.emit('change', notice);
  }

  /** Hands every notice on. */
  listen(hear: (notice: ChangeNotice) => void): void {
    this.#emitter.on('change', hear);
  }

  /** Server-sent events: one line of JSON per change. */
  readonly stream = (request: Request, response: Response): void => {
    response.writeHead(200, {
      'Content-Type': 'text/event-stream',
      'Cache-Control': 'no-cache',
      Connection: 'keep-alive',
    });
    response.write('retry: 1000\n\n');
    const send = (notice: ChangeNotice) => response.write(`data: ${JSON.stringify(notice)}\n\n`);
    const beat = setInterval(() => response.write(': still here\n\n'), KEEP_ALIVE_MS);
    this.#emitter.on('change', send);
    request.on('close', () => {
      clearInterval(beat);
      this.#emitter.off('change', send);
    });
  };
}
