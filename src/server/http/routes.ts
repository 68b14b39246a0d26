import express, { type Request, type RequestHandler, type Response, Router } from 'express';
import type { Endpoint } from '../../contract/endpoints.ts';
import type { Door } from '../door/door.ts';
import { crowd } from './crowd.ts';

const BODY_LIMIT = '64kb';
/** A line that stays open takes nobody's turn. */
const STREAM = 'text/event-stream';

/** Answers a request; what it throws becomes a problem. */
export type Answer = (request: Request, response: Response) => unknown;

/**
 * The one way to an answer. What an address demands (to be signed in, to sign for oneself, to be a lead) stands
 * before its handler and nowhere else: whatever spelling leads to the handler leads through it.
 */
export class Routes {
  readonly router = Router({ caseSensitive: true, strict: true });
  readonly #crowd = crowd();

  constructor(private readonly door: Door) {}

  serve(endpoint: Endpoint, answer: Answer): void {
    const { door } = this;
    const guards: RequestHandler[] = endpoint.produces === STREAM ? [] : [this.#crowd];
    if (!endpoint.open) guards.push(door.signedIn);
    // A body is read only of somebody who may send one.
    if (endpoint.body) guards.push(express.json({ limit: endpoint.bodyLimit ?? BODY_LIMIT }));
    if (!endpoint.open) guards.push(door.ownName);
    if (endpoint.lead) guards.push(door.leadOnly);
    this.router[endpoint.method](endpoint.path, ...guards, async (request: Request, response: Response) => {
      await answer(request, response);
    });
  }
}
