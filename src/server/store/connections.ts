import type { Sequelize } from 'sequelize';

/** The name a connection waits under for its next transaction; it is closed before the others. */
const WAITING = 'waiting';

/** A connection to the file, as the driver has it; `uuid` is that of its transaction, while there is one. */
interface Connection {
  exec(sql: string, done: (error: Error | null) => void): void;
  close(done: (error: Error | null) => void): void;
  uuid?: string;
}
/** What Sequelize opens and closes connections by; those that are open, by their transaction. */
interface Manager {
  connections: Record<string, Connection> & { [WAITING]?: Connection };
  getConnection(options: { uuid?: string }): Promise<Connection>;
  releaseConnection(connection: Connection, force?: boolean): void;
  close(): Promise<void>;
}

/**
 * Sequelize opens a connection for each transaction, closes it after, and sets no pragmas: here each is prepared when it is
 * opened, so that durability holds on all of them, and one waits for the next transaction, which need not open the file and read
 * its layout again. Whoever failed to commit or to roll back never gets here: Sequelize destroys such a connection.
 *
 * @param pragmas said on every connection before it is used
 */
export function manageConnections(sequelize: Sequelize, pragmas: string): void {
  const manager = sequelize.connectionManager as unknown as Manager;
  const prepared = new WeakSet<Connection>();
  const open = manager.getConnection.bind(manager);
  const release = manager.releaseConnection.bind(manager);
  const closeAll = manager.close.bind(manager);
  const { connections } = manager;

  manager.getConnection = async (options) => {
    const { uuid } = options;
    const waiting = connections[WAITING];
    if (uuid && !connections[uuid] && waiting) {
      Reflect.deleteProperty(connections, WAITING);
      connections[uuid] = waiting;
    }
    const connection = await open(options);
    if (!prepared.has(connection)) await done((tell) => connection.exec(pragmas, tell));
    prepared.add(connection);
    return connection;
  };
  manager.releaseConnection = (connection, force) => {
    const { uuid } = connection;
    if (!uuid || connections[WAITING]) return release(connection, force);
    Reflect.deleteProperty(connections, uuid);
    connections[WAITING] = connection;
  };
  // The last connection takes the log of writes into the file; two that close at once may each take the other for the last.
  manager.close = async () => {
    const waiting = connections[WAITING];
    Reflect.deleteProperty(connections, WAITING);
    if (waiting) await done((tell) => waiting.close(tell));
    await closeAll();
  };
}

const done = (ask: (tell: (error: Error | null) => void) => void): Promise<void> =>
  new Promise((resolve, reject) => ask((error) => (error ? reject(error) : resolve())));
