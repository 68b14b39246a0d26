import { randomBytes, timingSafeEqual } from 'node:crypto';
import { isIP } from 'node:net';
import type { RequestHandler } from 'express';
import { HttpProblem } from './problem.ts';

const COOKIE = 'cork_ember_key';

/** Does this host reach only this machine? */
export function isLoopback(host: string): boolean {
  return host === 'localhost' || host === '::1' || (isIP(host) === 4 && host.startsWith('127.'));
}

/** A key for one run of the server, for when it listens wider than this machine. */
export function makeKey(): string {
  return randomBytes(18).toString('base64url');
}

const refuse = (status: number, message: string) => new HttpProblem(status, { code: 'forbidden', message, fields: {} });

/**
 * Writes must come from our own pages: a page elsewhere cannot post here through a browser, and a
 * name that was pointed at this machine cannot either.
 */
export function ownPagesOnly(loopbackOnly: boolean): RequestHandler {
  return (request, _response, next) => {
    const host = request.headers.host ?? '';
    const hostname = host.replace(/:\d+$/, '').replace(/^\[(.*)\]$/, '$1');
    if (loopbackOnly && !isLoopback(hostname)) throw refuse(403, 'This bench answers only under its own address.');
    const { origin } = request.headers;
    if (request.method !== 'GET' && request.method !== 'HEAD' && origin && !(URL.canParse(origin) && new URL(origin).host === host))
      throw refuse(403, 'Another site cannot write here.');
    next();
  };
}

/** Asks for the key once (`?key=…`), then remembers it in a cookie no script can read. */
export function keyRequired(key: string): RequestHandler {
  const same = (given: string) => {
    const a = Buffer.from(given);
    const b = Buffer.from(key);
    return a.length === b.length && timingSafeEqual(a, b);
  };
  return (request, response, next) => {
    const cookies = (request.headers.cookie ?? '').split(/;\s*/);
    const cookie = cookies.find((c) => c.startsWith(`${COOKIE}=`))?.slice(COOKIE.length + 1);
    if (cookie && same(cookie)) return next();
    const given = request.query['key'];
    if (typeof given === 'string' && same(given)) {
      response.cookie(COOKIE, key, { httpOnly: true, sameSite: 'strict', path: '/' });
      return response.redirect(303, request.path);
    }
    throw refuse(401, 'Open the address with the key that the server printed when it started.');
  };
}
