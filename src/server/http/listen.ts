import {
  createServer as createHttp,
  type IncomingMessage,
  type RequestListener,
  type ServerResponse,
} from 'node:http';
import { createServer as createHttps } from 'node:https';
import { createServer as createNet, type Server, type Socket } from 'node:net';

/** First byte of a TLS handshake (RFC 8446, 5.1). */
const HANDSHAKE = 22;
/** Whoever connects and says nothing is let go, ms. */
const SILENT_MS = 10_000;

/** A server for the pages, not listening yet. */
export interface PageServer {
  server: Server;
  /** Ends every connection at once. */
  dropAll: () => void;
}

/** Plain HTTP: on this machine alone. */
export function plainServer(app: RequestListener): PageServer {
  const server = createHttp(app);
  return { server, dropAll: () => server.closeAllConnections() };
}

/**
 * TLS. Whoever speaks plain HTTP to the same port is sent on to it, and told nothing else.
 *
 * @param answerOpenly what may be told without TLS: answers, or returns false
 */
export function tlsServer(
  app: RequestListener,
  { key, cert }: { key: string; cert: string },
  answerOpenly: (request: IncomingMessage, response: ServerResponse) => boolean = () => false,
): PageServer {
  const https = createHttps({ key, cert, minVersion: 'TLSv1.2' }, app);
  const http = createHttp((request, response) => {
    if (answerOpenly(request, response)) return;
    const host = request.headers.host ?? '';
    // Only a name and a port; what else somebody writes there goes nowhere.
    if (!/^[\w.\-[\]:]+$/.test(host)) response.writeHead(400).end();
    else
      response
        .writeHead(308, { Location: `https://${host}${request.url ?? '/'}`, Connection: 'close' })
        .end();
  });
  const sockets = new Set<Socket>();
  const server = createNet((socket) => {
    sockets.add(socket);
    socket.on('close', () => sockets.delete(socket));
    socket.on('error', () => socket.destroy());
    socket.setTimeout(SILENT_MS, () => socket.destroy());
    socket.once('data', (first: Buffer) => {
      socket.setTimeout(0);
      socket.pause();
      socket.unshift(first);
      (first[0] === HANDSHAKE ? https : http).emit('connection', socket);
      process.nextTick(() => socket.resume());
    });
  });
  https.on('tlsClientError', (_error, socket) => socket.destroy());
  return {
    server,
    dropAll: () => {
      for (const socket of sockets) socket.destroy();
    },
  };
}
