import type { Sequelize } from 'sequelize';

/** The name a connection waits under for its next transaction; it is closed before the others. */
const WAITING = 'waiting';

/** A connection to the file, as the driver has it; `uuid` is that of its transaction, while there is one. */
interface Connection {
  exec(sql: string, done: (error: Error | null) => void): void;
  all(sql: string, ...rest: unknown[]): unknown;
  serialize(work: () => void): void;
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

/** What Sequelize asks of the file before each read, again and again: the columns of a table. */
const ASKS_FOR_COLUMNS = /^PRAGMA table_info\(/;
type Rows = readonly object[];
type Heard = (error: Error | null, rows: Rows) => void;

/**
 * Sequelize opens a connection for each transaction, closes it after, and sets no pragmas: here each is prepared when it is
 * opened, so that durability holds on all of them, and one waits for the next transaction, which need not open the file and read
 * its layout again. Whoever failed to commit or to roll back never gets here: Sequelize destroys such a connection.
 *
 * Before each read it asks the file for the columns of the table, too, and at each query it writes down where it stands: once the
 * layout stands the columns are asked for once, and where a query came from is written down when it fails.
 *
 * @param pragmas said on every connection before it is used
 * @returns says that the layout of the file changes no more
 */
export function manageConnections(sequelize: Sequelize, pragmas: string): () => void {
  const manager = sequelize.connectionManager as unknown as Manager;
  const prepared = new WeakSet<Connection>();
  const columns = new Map<string, Rows>();
  let layoutStands = false;
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
    if (prepared.has(connection)) return connection;
    await done((tell) => connection.exec(pragmas, tell));
    keepColumns(connection);
    writeDownNothing(connection);
    prepared.add(connection);
    return connection;
  };
  const keepColumns = (connection: Connection): void => {
    const ask = connection.all.bind(connection);
    connection.all = (sql, ...rest) => {
      const heard = rest.at(-1) as Heard;
      if (!layoutStands || !ASKS_FOR_COLUMNS.test(sql)) return ask(sql, ...rest);
      const known = columns.get(sql);
      if (known) return heard(null, known);
      return ask(sql, (error: Error | null, rows: Rows) => {
        if (!error) columns.set(sql, rows);
        heard(error, rows);
      });
    };
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
  const query = sequelize.query.bind(sequelize) as (...asked: unknown[]) => Promise<unknown>;
  sequelize.query = (async (...asked: unknown[]) => {
    const from = new Error();
    try {
      return await query(...asked);
    } catch (error) {
      if (error instanceof Error)
        error.stack = `${error.name}: ${error.message}\n${framesOf(from)}`;
      throw error;
    }
  }) as typeof sequelize.query;
  return () => void (layoutStands = true);
}

/** Sequelize makes an error at the start of each query, and has its stack told at the end: without places that costs nothing. */
function writeDownNothing(connection: Connection): void {
  const serialize = connection.serialize.bind(connection);
  connection.serialize = (work) => {
    const { stackTraceLimit } = Error;
    Error.stackTraceLimit = 0;
    try {
      serialize(work);
    } finally {
      Error.stackTraceLimit = stackTraceLimit;
    }
  };
}

/** Places a stack names, without what was said. */
const framesOf = ({ stack }: Error): string => stack?.slice(stack.indexOf('\n') + 1) ?? '';

const done = (ask: (tell: (error: Error | null) => void) => void): Promise<void> =>
  new Promise((resolve, reject) => ask((error) => (error ? reject(error) : resolve())));
