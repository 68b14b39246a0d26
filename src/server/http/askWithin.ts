import { createServer, get, type OutgoingHttpHeaders, type RequestListener } from 'node:http';
import { text } from 'node:stream/consumers';
import DuplexPair from 'native-duplexpair';

export interface AnswerWithin {
  status: number;
  text: string;
}

/**
 * Asks a server within its own process: through its doors as a request from outside, over a line that is no network.
 *
 * @param listener what answers, as an application of Express does
 * @returns asks for a path with headers
 */
export function askWithin(
  listener: RequestListener,
): (path: string, headers: OutgoingHttpHeaders) => Promise<AnswerWithin> {
  // It listens nowhere: lines are handed to it.
  const server = createServer({ keepAliveTimeout: 1 }, listener);
  return (path, headers) => {
    const { socket1, socket2 } = new DuplexPair();
    server.emit('connection', socket1);
    return new Promise((resolve, reject) => {
      get({ path, headers, createConnection: () => socket2 }, (response) => {
        text(response).then((said) => {
          socket2.destroy();
          resolve({ status: response.statusCode ?? 0, text: said });
        }, reject);
      }).on('error', reject);
    });
  };
}
