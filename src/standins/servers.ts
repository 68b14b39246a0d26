import { createServer, type Server, type Socket } from 'node:net';
import type { AddressInfo } from 'node:net';
import type { Rack } from './rack.ts';
import { answer, type InstrumentName, INSTRUMENTS, SILENCE } from './scpi.ts';
import { ScpiSession } from './session.ts';

const LONGEST_LINE = 4096;

export interface RackServers {
  ports: Record<InstrumentName, number>;
  /** Drops every connection, as a power cut does. */
  drop: () => void;
  close: () => Promise<void>;
}

/** One TCP listener for each instrument, all of them looking at the same rack. Port 0 takes a free one. */
export async function serveRack(
  rack: Rack,
  firstPort: number,
  host = '127.0.0.1',
): Promise<RackServers> {
  const sockets = new Set<Socket>();
  const names = Object.keys(INSTRUMENTS) as InstrumentName[];
  const servers: Server[] = [];
  const ports = {} as Record<InstrumentName, number>;
  for (const [i, name] of names.entries()) {
    const server = createServer((socket) => {
      if (!rack.powered) {
        socket.destroy();
        return;
      }
      sockets.add(socket);
      socket.on('close', () => sockets.delete(socket));
      socket.on('error', () => socket.destroy());
      talk(socket, name, rack);
    });
    await new Promise<void>((resolve, reject) =>
      server.once('error', reject).listen(firstPort === 0 ? 0 : firstPort + i, host, resolve),
    );
    ports[name] = (server.address() as AddressInfo).port;
    servers.push(server);
  }
  const drop = (): void => sockets.forEach((socket) => socket.destroy());
  return {
    ports,
    drop,
    close: async () => {
      drop();
      await Promise.all(servers.map((server) => new Promise((resolve) => server.close(resolve))));
    },
  };
}

function talk(socket: Socket, name: InstrumentName, rack: Rack): void {
  const session = new ScpiSession();
  let pending = '';
  socket.setEncoding('utf8');
  socket.on('data', (chunk: string) => {
    pending += chunk;
    if (pending.length > LONGEST_LINE) {
      socket.destroy();
      return;
    }
    const lines = pending.split('\n');
    pending = lines.pop() ?? '';
    for (const line of lines) {
      const reply = answer(name, rack, session, line);
      if (reply !== null && reply !== SILENCE) socket.write(`${reply}\n`);
    }
  });
}
