import type { ChildProcess } from 'node:child_process';
import type { ChangeNotice, MachineClock, Problem } from '../../contract/wire.ts';
import type { Anchor } from '../clock.ts';
import { HttpProblem } from '../http/problem.ts';
import { DESK_METHODS, type LiveDesk } from './liveDesk.ts';
import type { Trust } from '../door/trustPage.ts';

/**
 * The line between the process that watches the charges and the one that answers requests. Whatever happens to
 * requests, and whoever sends them, the watching goes on.
 */

/** What the answering process is told when it may begin. */
export interface Beginning {
  file: string;
  host: string;
  port: number;
  wide: boolean;
  /** Names it answers under where it listens wider. */
  names: string[];
  tls: { key: string; cert: string } | null;
  /** What phones are led to trust; null where there is nothing of the shop's own. */
  trust: Trust | null;
  demo: boolean;
  version: string;
  pages: string;
}

/** The clock's standing, as the watching process sends it. */
export interface ClockStanding {
  anchor: Anchor;
  machine: MachineClock | null;
}

export type ToRequests =
  | { type: 'begin'; beginning: Beginning; clock: ClockStanding }
  | { type: 'clock'; clock: ClockStanding }
  | { type: 'notice'; notice: ChangeNotice }
  | { type: 'answer'; id: number; value: unknown }
  | { type: 'refusal'; id: number; status: number; problem: Problem }
  | { type: 'failure'; id: number; message: string }
  | { type: 'leave' };

export type ToBench =
  | { type: 'ask'; id: number; method: keyof LiveDesk; args: unknown[] }
  | { type: 'listening'; port: number }
  /** It cannot begin, and why. */
  | { type: 'unable'; message: string };

export const isToBench = (message: unknown): message is ToBench =>
  typeof message === 'object' && message !== null && 'type' in message;

/** Answers what a process that serves requests asks of the desk. */
export function serveDesk(desk: LiveDesk, child: ChildProcess): void {
  child.on('message', (message: unknown) => {
    if (!isToBench(message) || message.type !== 'ask') return;
    const { id, method, args } = message;
    if (!DESK_METHODS.includes(method)) return;
    const send = (answer: ToRequests): void => {
      if (child.connected) child.send(answer);
    };
    const call = desk[method].bind(desk) as (...given: unknown[]) => Promise<unknown>;
    call(...args).then(
      (value) => send({ type: 'answer', id, value }),
      (error: unknown) =>
        send(
          error instanceof HttpProblem
            ? { type: 'refusal', id, status: error.status, problem: error.problem }
            : { type: 'failure', id, message: (error as Error).message },
        ),
    );
  });
}

interface Waiting {
  resolve: (value: unknown) => void;
  reject: (error: Error) => void;
}

/** The desk as the answering process sees it: every question goes over the line. */
export class DeskLine {
  readonly #waiting = new Map<number, Waiting>();
  #last = 0;
  readonly desk = Object.fromEntries(
    DESK_METHODS.map((method) => [method, (...args: unknown[]) => this.#ask(method, args)]),
  ) as unknown as LiveDesk;

  constructor(private readonly send: (message: ToBench) => void) {}

  hear(message: ToRequests): void {
    if (!('id' in message)) return;
    const waiting = this.#waiting.get(message.id);
    this.#waiting.delete(message.id);
    if (message.type === 'answer') waiting?.resolve(message.value);
    else if (message.type === 'refusal')
      waiting?.reject(new HttpProblem(message.status, message.problem));
    else waiting?.reject(new Error(message.message));
  }

  #ask(method: keyof LiveDesk, args: unknown[]): Promise<unknown> {
    const id = (this.#last += 1);
    return new Promise((resolve, reject) => {
      this.#waiting.set(id, { resolve, reject });
      this.send({ type: 'ask', id, method, args });
    });
  }
}
