import { type ChildProcess, fork } from 'node:child_process';
import type { Logger } from 'pino';
import type { ChangeNotice } from '../contract/wire.ts';
import {
  type Beginning,
  type ClockStanding,
  isToBench,
  serveDesk,
  type ToRequests,
} from './live/deskLine.ts';
import type { LiveDesk } from './live/liveDesk.ts';
import { programFile } from './place.ts';

const PROGRAM = programFile('server/requests');
/** One that dies is started again after so long; twice as long each time, up to the most. ms */
const AGAIN_MS = 250;
const MOST_AGAIN_MS = 10_000;
/** Having answered for so long it counts as sound again, ms. */
const SOUND_MS = 60_000;
const LEAVES_WITHIN_MS = 3000;

/** What it answers with, and who is told whether it can. */
interface Begun {
  desk: LiveDesk;
  beginning: Beginning;
  clock: () => ClockStanding;
  listening: (port: number) => void;
  unable: (message: string) => void;
}

/** Keeps the process that answers requests: starts it, starts it again when it dies, and lets it go. */
export class Answering {
  #child: ChildProcess;
  #again = AGAIN_MS;
  #leaving = false;
  #begun: Begun | undefined;

  constructor(private readonly log: Logger) {
    this.#child = this.#start();
  }

  /**
   * Lets it answer.
   *
   * @param desk what it asks of the charges
   * @returns the port it listens on
   * @throws Error when it cannot listen there
   */
  begin(desk: LiveDesk, beginning: Beginning, clock: () => ClockStanding): Promise<number> {
    return new Promise((resolve, reject) => {
      const listening = (port: number): void => {
        // Started again, it listens where it did.
        if (this.#begun) this.#begun.beginning = { ...beginning, port };
        resolve(port);
      };
      this.#begun = {
        desk,
        beginning,
        clock,
        listening,
        unable: (message) => reject(new Error(message)),
      };
      this.#letAnswer(this.#begun);
    });
  }

  tellClock(): void {
    if (this.#begun) this.#send({ type: 'clock', clock: this.#begun.clock() });
  }

  notice(notice: ChangeNotice): void {
    if (this.#begun) this.#send({ type: 'notice', notice });
  }

  async leave(): Promise<void> {
    this.#leaving = true;
    const child = this.#child;
    if (child.exitCode !== null || child.signalCode !== null) return;
    const gone = new Promise((resolve) => child.once('exit', resolve));
    this.#send({ type: 'leave' });
    const late = setTimeout(() => child.kill('SIGKILL'), LEAVES_WITHIN_MS);
    await gone;
    clearTimeout(late);
  }

  #letAnswer({ desk, beginning, clock }: Begun): void {
    serveDesk(desk, this.#child);
    this.#send({ type: 'begin', beginning, clock: clock() });
  }

  #send(message: ToRequests): void {
    if (this.#child.connected) this.#child.send(message);
  }

  #start(): ChildProcess {
    const child = fork(PROGRAM, { serialization: 'advanced' });
    const startedAt = performance.now();
    child.on('message', (message: unknown) => {
      if (!isToBench(message)) return;
      if (message.type === 'listening') this.#begun?.listening(message.port);
      if (message.type === 'unable') this.#begun?.unable(message.message);
    });
    child.on('exit', (code, signal) => {
      if (this.#leaving) return;
      if (performance.now() - startedAt > SOUND_MS) this.#again = AGAIN_MS;
      this.log.fatal(
        { code, signal },
        'the process that answers requests has died; charges go on, and it is started again',
      );
      setTimeout(() => {
        if (this.#leaving) return;
        this.#child = this.#start();
        if (this.#begun) this.#letAnswer(this.#begun);
      }, this.#again);
      this.#again = Math.min(MOST_AGAIN_MS, 2 * this.#again);
    });
    return child;
  }
}
