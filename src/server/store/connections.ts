import type { Sequelize } from 'sequelize';

/** The name a connection waits under for its next transaction; what is open under any name is closed with the file. */
const WAITING = 'waiting';

/** A connection to the file, as the driver has it; `uuid` is that of its transaction, while there is one. */
interface Connection {
  exec(sql: string, done: (error: Error | null) => void): void;
  uuid?: string;
}
/** What Sequelize opens and closes connections by; those that are open, by their transaction. */
interface Manager {
  connections: Record<string, Connection> & { [WAITING]?: Connection };
  getConnection(options: { uuid?: string }): Promise<Connection>;
  releaseConnection(connection: Connection, force?: boolean): void;
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
  const close = manager.releaseConnection.bind(manager);
  const { connections } = manager;

  manager.getConnection = async (options) => {
    const { uuid } = options;
    const waiting = connections[WAITING];
    if (uuid && !connections[uuid] && waiting) {
      Reflect.deleteProperty(connections, WAITING);
      connections[uuid] = waiting;
    }
    const connection = await open(options);
    if (!prepared.has(connection)) await execute(connection, pragmas);
    prepared.add(connection);
    return connection;
  };
  manager.releaseConnection = (connection, force) => {
    const { uuid } = connection;
    if (!uuid || connections[WAITING]) return close(connection, force);
    Reflect.deleteProperty(connections, uuid);
    connections[WAITING] = connection;
  };
}

const execute = (connection: Connection, sql: string): Promise<void> =>
  new Promise((resolve, reject) =>
    connection.exec(sql, (error) => (error ? reject(error) : resolve())),
  );
