import type { Sequelize } from 'sequelize';

/** The first shape: catalogue, batteries, jobs, readings, and the log that may only grow. */
export async function up(sequelize: Sequelize): Promise<void> {
  for (const statement of STATEMENTS) await sequelize.query(statement);
}

const appendOnly = (table: string) =>
  (['UPDATE', 'DELETE'] as const).map(
    (verb) =>
      `CREATE TRIGGER ${table}_no_${verb.toLowerCase()} BEFORE ${verb} ON ${table} BEGIN SELECT RAISE(ABORT, '${table} is append-only'); END`,
  );

const STATEMENTS = [
  `CREATE TABLE people (id TEXT PRIMARY KEY, name TEXT NOT NULL, initials TEXT NOT NULL, role TEXT NOT NULL CHECK (role IN ('technician', 'lead')))`,
  `CREATE TABLE models (id TEXT PRIMARY KEY, code TEXT NOT NULL UNIQUE, kind TEXT NOT NULL, name TEXT NOT NULL, nominalV REAL NOT NULL, cells INTEGER NOT NULL,
    c20Ah REAL NOT NULL, cca REAL, ccaStandard TEXT, electrolyteCode TEXT NOT NULL, electrolyteMl REAL NOT NULL, fillSg REAL, chargeA REAL, ceilingV REAL, dwellS REAL, soakS REAL, passV REAL)`,
  `CREATE TABLE batteries (id TEXT PRIMARY KEY, tag TEXT NOT NULL UNIQUE, modelId TEXT NOT NULL REFERENCES models(id), dateCode TEXT NOT NULL, owner TEXT NOT NULL, promisedAt INTEGER, takenInAt INTEGER NOT NULL)`,
  `CREATE INDEX batteries_taken_in ON batteries (takenInAt)`,
  `CREATE TABLE procedures (hash TEXT PRIMARY KEY, body TEXT NOT NULL)`,
  `CREATE TABLE jobs (id TEXT PRIMARY KEY, batteryId TEXT NOT NULL REFERENCES batteries(id), procedureHash TEXT NOT NULL REFERENCES procedures(hash), plan TEXT NOT NULL,
    state TEXT NOT NULL, status TEXT NOT NULL, openedAt INTEGER NOT NULL, closedAt INTEGER, seq INTEGER NOT NULL)`,
  `CREATE INDEX jobs_battery ON jobs (batteryId)`,
  `CREATE INDEX jobs_status ON jobs (status, closedAt)`,
  `CREATE TABLE readings (id TEXT PRIMARY KEY, batteryId TEXT NOT NULL REFERENCES batteries(id), jobId TEXT NOT NULL REFERENCES jobs(id), at INTEGER NOT NULL, enteredAt INTEGER NOT NULL,
    "by" TEXT NOT NULL, role TEXT NOT NULL, stepId TEXT, attempt INTEGER NOT NULL, "values" TEXT NOT NULL, marks TEXT NOT NULL, supersedes TEXT UNIQUE REFERENCES readings(id))`,
  `CREATE INDEX readings_battery ON readings (batteryId, at)`,
  `CREATE TABLE events (seq INTEGER PRIMARY KEY AUTOINCREMENT, at INTEGER NOT NULL, "by" TEXT NOT NULL, batteryId TEXT REFERENCES batteries(id), jobId TEXT REFERENCES jobs(id),
    commandId TEXT NOT NULL, type TEXT NOT NULL, data TEXT NOT NULL)`,
  `CREATE INDEX events_battery ON events (batteryId, seq)`,
  `CREATE TABLE commands (id TEXT PRIMARY KEY, at INTEGER NOT NULL, bodyHash TEXT NOT NULL, response TEXT NOT NULL)`,
  `CREATE TABLE settings (key TEXT PRIMARY KEY, value TEXT NOT NULL)`,
  ...appendOnly('events'),
  ...appendOnly('readings'),
];
