import { connect, createServer, type Server, type Socket } from 'node:net';
import type { AddressInfo } from 'node:net';

/** What an instrument may turn to. */
export const HOSTILE = {
  frozen: () => undefined,
  'a byte a second': (socket: Socket) => setInterval(() => socket.write('1'), 1000),
  'an endless line': (socket: Socket) => setInterval(() => socket.write('9'.repeat(32_768)), 20),
  garbage: (socket: Socket) => void socket.write('\u0007\u0000ÿ;;banana;0x1F\n'),
  "another's answers": (socket: Socket) => void socket.write('12.4;1.0\n12.4;1.0\n'),
  'not a number': (socket: Socket) => void socket.write('NaN;NaN;NaN;NaN\n'),
  'closing within a line': (socket: Socket) => void socket.write('12.', () => socket.destroy()),
} as const satisfies Record<string, (socket: Socket) => unknown>;

export type Hostility = keyof typeof HOSTILE;

/** Stands between the server and an instrument; hands everything on until it turns. */
export class TurncoatLine {
  private turned: Hostility | null = null;
  private readonly sockets = new Set<Socket>();
  private readonly timers = new Set<NodeJS.Timeout>();

  private constructor(
    readonly server: Server,
    readonly port: number,
  ) {}

  static async before(port: number): Promise<TurncoatLine> {
    const made: { line?: TurncoatLine } = {};
    const server = createServer((socket) => {
      const far = connect(port, '127.0.0.1');
      for (const s of [socket, far]) {
        s.on('error', () => s.destroy());
        s.on('close', () => {
          socket.destroy();
          far.destroy();
        });
        made.line?.sockets.add(s);
      }
      far.on('data', (data: Buffer) => void (made.line?.turned ? undefined : socket.write(data)));
      socket.on('data', (data: Buffer) => {
        const turned = made.line?.turned;
        if (!turned) return void far.write(data);
        const timer = HOSTILE[turned](socket) as NodeJS.Timeout | undefined;
        if (timer) {
          made.line?.timers.add(timer);
          socket.on('close', () => clearInterval(timer));
        }
      });
    });
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    made.line = new TurncoatLine(server, (server.address() as AddressInfo).port);
    return made.line;
  }

  turn(into: Hostility): void {
    this.turned = into;
  }

  close(): void {
    for (const timer of this.timers) clearInterval(timer);
    for (const socket of this.sockets) socket.destroy();
    this.server.close();
  }
}
