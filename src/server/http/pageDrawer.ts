import { existsSync } from 'node:fs';
import type { Worker } from 'node:worker_threads';
import type { RequestListener } from 'node:http';
import type { Request } from 'express';
import type { Logger } from 'pino';
import type { Drawing, Drawn, KnownAnswers } from '../../contract/drawnPage.ts';
import { startThread } from '../place.ts';
import { type AnswerWithin, askWithin } from './askWithin.ts';

/** A question to the thread: the page of an address, with the answers that are known by now. */
export interface ToDrawer {
  id: number;
  address: string;
  answers: KnownAnswers;
}

export type FromDrawer =
  | { ready: true }
  | { id: number; drawing: Drawing }
  | { id: number; fault: string };

/** The drawing thread. */
const DRAWER = 'server/http/drawing';
/** How long is waited. A test on a busy machine waits longer. */
export interface Patience {
  /** What a page brings up and has not been answered by then is drawn as awaited, ms. */
  answerMs: number;
  /** What has not been drawn by then goes out undrawn: the browser draws it. ms */
  drawnMs: number;
}
const PATIENCE: Patience = { answerMs: 250, drawnMs: 1000 };
/** So many pages wait for the thread at most; one more goes out undrawn. */
const MOST_AT_ONCE = 4;
/** Answers bring up questions: so many rounds at most. */
const MOST_ROUNDS = 5;
/** A page is small, however large the shop: a thread that needs more has gone wrong. */
const MEMORY = { maxOldGenerationSizeMb: 192, maxYoungGenerationSizeMb: 32 };
/** A thread that has ended is begun again after so long; twice as long each time, up to the most. ms */
const AGAIN_MS = 1000;
const MOST_AGAIN_MS = 60_000;
/** A thread that has been late so often in a row hangs, and is ended. */
const HANGS_AFTER = 5;
const OK = 200;
const SIGN_IN_FIRST = 401;
/** What of a request its questions bear: who asks, and under which name. */
const BORNE = ['host', 'cookie'] as const;

/**
 * Draws pages for browsers that have nothing of them yet, from the answers whoever asks would be given: each question goes through
 * the same doors with the same cookie. It draws in a thread of its own, and whatever goes wrong there, the page goes out undrawn.
 */
export class PageDrawer {
  #worker: Worker;
  readonly #ask: ReturnType<typeof askWithin>;
  readonly #waiting = new Map<number, (told: Exclude<FromDrawer, { ready: true }>) => void>();
  #ready = false;
  #id = 0;
  #atOnce = 0;
  #lateInARow = 0;
  #again = AGAIN_MS;

  /**
   * @param file what the build made of the pages for Node
   * @param app what answers, as an application of Express does
   */
  private constructor(
    private readonly file: string,
    app: RequestListener,
    private readonly log: Logger,
    private readonly patience: Patience,
  ) {
    this.#ask = askWithin(app);
    this.#worker = this.#start();
  }

  #start(): Worker {
    const worker = startThread(DRAWER, this.file, MEMORY);
    worker.unref();
    worker.on('message', (told: FromDrawer) => {
      if ('ready' in told) this.#ready = true;
      else {
        this.#again = AGAIN_MS;
        this.#waiting.get(told.id)?.(told);
      }
    });
    worker.on('error', (error) =>
      this.log.error(
        { error },
        'the thread that draws pages has ended; browsers draw them meanwhile',
      ),
    );
    worker.on('exit', () => {
      this.#ready = false;
      for (const [id, tell] of this.#waiting) tell({ id, fault: 'the thread has ended' });
      setTimeout(() => (this.#worker = this.#start()), this.#again).unref();
      this.#again = Math.min(MOST_AGAIN_MS, 2 * this.#again);
    });
    return worker;
  }

  /** @returns null where the pages were not built for it */
  static of(
    file: string,
    app: RequestListener,
    log: Logger,
    patience = PATIENCE,
  ): PageDrawer | null {
    return existsSync(file) ? new PageDrawer(file, app, log, patience) : null;
  }

  /** It has read the pages; until then they go out undrawn. */
  get isReady(): boolean {
    return this.#ready;
  }

  /**
   * @param asks paths of the answers the page is known to begin with
   * @returns null where it is not drawn in time, or cannot be
   */
  async draw(request: Request, asks: readonly string[]): Promise<Drawn | null> {
    if (!this.#ready || this.#atOnce >= MOST_AT_ONCE) return null;
    this.#atOnce += 1;
    const began = performance.now();
    try {
      const drawn = await within(this.patience.drawnMs, this.#drawn(request, asks));
      const ms = Math.round(performance.now() - began);
      this.#lateInARow = ms < this.patience.drawnMs ? 0 : this.#lateInARow + 1;
      if (!drawn) this.log.info({ page: request.path, ms }, 'a page goes out undrawn');
      if (this.#lateInARow === HANGS_AFTER) void this.#worker.terminate();
      return drawn;
    } catch (error) {
      this.log.error({ error, page: request.path }, 'a page could not be drawn');
      return null;
    } finally {
      this.#atOnce -= 1;
    }
  }

  async #drawn(request: Request, asks: readonly string[]): Promise<Drawn | null> {
    const begins = await Promise.all(asks.map((path) => this.#answer(request, path)));
    // A page of something that is not there, or not to be had: the browser says so.
    if (begins.some(({ status }) => status !== OK && status !== SIGN_IN_FIRST)) return null;
    const answers: Record<string, string | null> = {};
    asks.forEach((path, i) => (answers[path] = textOf(begins[i])));
    for (let round = 0; round < MOST_ROUNDS; round += 1) {
      const drawing = await this.#put(request.originalUrl, answers);
      if (drawing === 'nothing') return null;
      if ('html' in drawing) return drawing;
      await Promise.all(
        drawing.wants.map(async (path) => {
          answers[path] = textOf(await within(this.patience.answerMs, this.#answer(request, path)));
        }),
      );
    }
    return null;
  }

  async #put(address: string, answers: KnownAnswers): Promise<Drawing> {
    const id = ++this.#id;
    const told = await new Promise<Exclude<FromDrawer, { ready: true }>>((resolve) => {
      this.#waiting.set(id, resolve);
      this.#worker.postMessage({ id, address, answers } satisfies ToDrawer);
    });
    this.#waiting.delete(id);
    if ('fault' in told) throw new Error(told.fault);
    return told.drawing;
  }

  /** What whoever asks for the page is answered at a path. */
  #answer({ headers }: Request, path: string): Promise<AnswerWithin> {
    const borne = BORNE.flatMap((name) => {
      const value = headers[name];
      return value === undefined ? [] : [[name, value] as const];
    });
    return this.#ask(path, Object.fromEntries(borne));
  }
}

const textOf = (answer: AnswerWithin | null | undefined): string | null =>
  answer?.status === OK ? answer.text : null;

/** What comes of it within so many ms; null where nothing does. */
async function within<T>(ms: number, coming: Promise<T>): Promise<T | null> {
  let late: NodeJS.Timeout | undefined;
  const patience = new Promise<null>((resolve) => {
    late = setTimeout(resolve, ms, null);
  });
  try {
    return await Promise.race([coming, patience]);
  } finally {
    clearTimeout(late);
  }
}
