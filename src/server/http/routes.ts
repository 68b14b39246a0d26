import express, { type Request, type RequestHandler, type Response, Router } from 'express';
import type { Answers } from '../../contract/answers.ts';
import {
  type Endpoint,
  type EndpointKey,
  ENDPOINTS,
  type PartOf,
} from '../../contract/endpoints.ts';
import type { Door } from '../door/door.ts';
import { crowd } from './crowd.ts';
import { checked } from './problem.ts';

const BODY_LIMIT = '64kb';
/** A line that stays open takes nobody's turn. */
const STREAM = 'text/event-stream';

/** A request whose parts were checked by the schemas of its endpoint. */
export interface CheckedRequest<K extends EndpointKey> {
  params: PartOf<K, 'params'>;
  query: PartOf<K, 'query'>;
  body: PartOf<K, 'body'>;
  request: Request;
  response: Response;
}

/** Answers in JSON, whose form is published. */
type AnswerKey = EndpointKey & keyof Answers;

/**
 * The one way to an answer. What an address demands (to be signed in, to sign for oneself, to be a lead, a body of this
 * form) stands before its handler and nowhere else: whatever spelling leads to the handler leads through it.
 */
export class Routes {
  readonly router = Router({ caseSensitive: true, strict: true });
  readonly #crowd = crowd();

  constructor(private readonly door: Door) {}

  /** What the handler returns is the answer. What it throws becomes a problem. */
  answer<K extends AnswerKey>(
    key: K,
    handler: (asked: CheckedRequest<K>) => Answers[K] | Promise<Answers[K]>,
  ): void {
    const endpoint: Endpoint = ENDPOINTS[key];
    this.send(key, async (asked) => {
      const answer = await handler(asked);
      asked.response.status(endpoint.creates ? 201 : 200).json(answer);
    });
  }

  /** The handler sends the answer itself: a file, a stream, a text that is JSON already. */
  send<K extends EndpointKey>(key: K, handler: (asked: CheckedRequest<K>) => unknown): void {
    const endpoint: Endpoint = ENDPOINTS[key];
    const { door } = this;
    const guards: RequestHandler[] = endpoint.produces === STREAM ? [] : [this.#crowd];
    if (!endpoint.open) guards.push(door.signedIn);
    // A body is read only of somebody who may send one.
    if (endpoint.body) guards.push(express.json({ limit: endpoint.bodyLimit ?? BODY_LIMIT }));
    if (endpoint.takes)
      guards.push(express.raw({ type: () => true, limit: endpoint.bodyLimit ?? BODY_LIMIT }));
    if (!endpoint.open) guards.push(door.ownName);
    if (endpoint.lead) guards.push(door.leadOnly);
    const part = <P extends 'params' | 'query' | 'body'>(
      name: P,
      request: Request,
    ): PartOf<K, P> => {
      const schema = endpoint[name];
      return (schema && checked(schema, request[name])) as PartOf<K, P>;
    };
    this.router[endpoint.method](
      endpoint.path,
      ...guards,
      async (request: Request, response: Response) => {
        await handler({
          params: part('params', request),
          query: part('query', request),
          body: part('body', request),
          request,
          response,
        });
      },
    );
  }
}
