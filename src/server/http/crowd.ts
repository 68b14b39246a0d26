import type { RequestHandler } from 'express';
import { HttpProblem } from './problem.ts';

/** Requests worked on at a time, and how many more may wait for their turn. */
const AT_A_TIME = 24;
const MOST_WAITING = 400;

/** Keeps requests from crowding each other out: so many at a time, a queue, and a plain no to the rest. */
export function crowd(atATime = AT_A_TIME, mostWaiting = MOST_WAITING): RequestHandler {
  const waiting: (() => void)[] = [];
  let inside = 0;
  const leave = (): void => {
    const next = waiting.shift();
    if (next) next();
    else inside -= 1;
  };
  return async (_request, response, next) => {
    if (inside < atATime) inside += 1;
    else if (waiting.length >= mostWaiting) {
      response.setHeader('Retry-After', 1);
      throw new HttpProblem(429, {
        code: 'forbidden',
        message: 'Too much is asked at once. Try again in a moment.',
        fields: {},
      });
    } else await new Promise<void>((turn) => waiting.push(turn));
    // Whoever has gone while waiting is not worked for.
    if (response.closed) return leave();
    response.once('close', leave);
    next();
  };
}
