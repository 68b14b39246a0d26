import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { Response } from 'express';
import { notFound } from './problem.ts';

/** Sends an answer piece by piece, as fast as it is taken: however long it is, little of it lies in memory at a time. */
export async function sendParts(response: Response, parts: AsyncIterable<string>): Promise<void> {
  await pipeline(Readable.from(inChunks(parts)), response).catch((error: NodeJS.ErrnoException) => {
    // Whoever asked has gone; for anything else the answer is cut off, and is told to be by its missing end.
    if (error.code !== 'ERR_STREAM_PREMATURE_CLOSE') throw error;
  });
}

/** Characters sent at a time. */
const CHUNK = 65_536;

async function* inChunks(parts: AsyncIterable<string>): AsyncGenerator<string> {
  let chunk = '';
  for await (const part of parts) {
    chunk += part;
    if (chunk.length < CHUNK) continue;
    yield chunk;
    chunk = '';
  }
  yield chunk;
}

/** A list of JSON values with its commas, one piece a value. */
export async function* jsonList(values: AsyncIterable<string>): AsyncGenerator<string> {
  let first = true;
  yield '[';
  for await (const value of values) {
    yield first ? value : `,${value}`;
    first = false;
  }
  yield ']';
}

/** A file that lies on the disk, as it is. @throws HttpProblem when it does not */
export async function sendKept(response: Response, path: string, what: string): Promise<void> {
  const found = await stat(path).catch(() => null);
  if (!found?.isFile()) throw notFound(what);
  response.type('image/jpeg').setHeader('Content-Length', found.size);
  await pipeline(createReadStream(path), response).catch((error: NodeJS.ErrnoException) => {
    if (error.code !== 'ERR_STREAM_PREMATURE_CLOSE') throw error;
  });
}

/** A paper to be kept under this name. */
export function sendPdf(response: Response, name: string, pdf: Buffer): void {
  response.type('application/pdf').attachment(name).send(pdf);
}
