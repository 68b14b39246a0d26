import { constants } from 'node:zlib';
import compression from 'compression';
import type { RequestHandler, Response } from 'express';

/** Answers are pressed as they are made: quickly, not as small as can be. */
const BROTLI_QUICK = { [constants.BROTLI_PARAM_QUALITY]: 4 };

/** The stream of changes is written line by line; pressed, it would wait for more. */
const isStream = (response: Response): boolean =>
  String(response.getHeader('Content-Type')).startsWith('text/event-stream');

/** Presses what is answered, where whoever asks can read it. */
export const pressing = (): RequestHandler =>
  compression({
    filter: (request, response) => !isStream(response) && compression.filter(request, response),
    brotli: { params: BROTLI_QUICK },
  });
