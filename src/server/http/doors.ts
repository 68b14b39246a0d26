import { isIP } from 'node:net';
import type { RequestHandler } from 'express';
import { HttpProblem } from './problem.ts';

/** Does this host reach only this machine? */
export function isLoopback(host: string): boolean {
  return host === 'localhost' || host === '::1' || (isIP(host) === 4 && host.startsWith('127.'));
}

const refuse = (status: number, message: string) =>
  new HttpProblem(status, { code: 'forbidden', message, fields: {} });

/**
 * Writes must come from our own pages: a page elsewhere cannot post here through a browser, and a name that was
 * pointed at this machine from outside is not answered.
 *
 * @param names the names it answers under where it listens wider, besides addresses in digits; null on this machine alone
 */
export function ownPagesOnly(names: readonly string[] | null): RequestHandler {
  const known = new Set(names?.map((name) => name.toLowerCase()));
  return (request, _response, next) => {
    const host = request.headers.host ?? '';
    const hostname = host
      .replace(/:\d+$/, '')
      .replace(/^\[(.*)\]$/, '$1')
      .toLowerCase();
    if (!isLoopback(hostname) && !(names && (isIP(hostname) !== 0 || known.has(hostname))))
      throw refuse(403, 'This bench answers only under its own address.');
    const { origin } = request.headers;
    if (
      request.method !== 'GET' &&
      request.method !== 'HEAD' &&
      origin &&
      !(URL.canParse(origin) && new URL(origin).host === host)
    )
      throw refuse(403, 'Another site cannot write here.');
    next();
  };
}
