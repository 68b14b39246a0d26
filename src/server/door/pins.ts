import { randomBytes, scrypt, timingSafeEqual } from 'node:crypto';
import { promisify } from 'node:util';
import { Semaphore } from 'async-mutex';
import { HttpProblem } from '../http/problem.ts';

/** PINs are kept by scrypt, never as they are. */

const deriveKey = promisify(scrypt) as (
  secret: string,
  salt: Buffer,
  length: number,
  options: { N: number; r: number; p: number },
) => Promise<Buffer>;
/** Interactive cost by the usual advice for scrypt; about 60 ms on a small machine. */
const COST = { N: 32_768, r: 8, p: 1, maxmem: 64 * 1024 * 1024 };
/** PINs worked out at a time, and how many may wait for that: the file is read by the same few threads. */
const AT_A_TIME = 2;
const MOST_WAITING = 8;

const slots = new Semaphore(AT_A_TIME);
let waiting = 0;

/** @throws HttpProblem when too many are being worked out already */
async function derive(pin: string, salt: Buffer): Promise<Buffer> {
  if (waiting >= MOST_WAITING)
    throw new HttpProblem(429, {
      code: 'forbidden',
      message: 'Too many are signing in at once. Try again in a moment.',
      fields: {},
    });
  waiting += 1;
  const release = (await slots.acquire())[1];
  waiting -= 1;
  try {
    return await deriveKey(pin, salt, 32, COST);
  } finally {
    release();
  }
}

export async function hashPin(pin: string, salt = randomBytes(16)): Promise<string> {
  const key = await derive(pin, salt);
  return `${salt.toString('base64url')}.${key.toString('base64url')}`;
}

export async function pinFits(pin: string, stored: string): Promise<boolean> {
  const [salt = '', key = ''] = stored.split('.');
  const given = await derive(pin, Buffer.from(salt, 'base64url'));
  return timingSafeEqual(given, Buffer.from(key, 'base64url'));
}

let made: Promise<string> | undefined;
/** The hash of a PIN nobody has: who is not on record costs the same work as who is. */
export const decoy = (): Promise<string> => (made ??= hashPin(randomBytes(8).toString('hex')));
