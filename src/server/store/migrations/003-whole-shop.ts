import type { Sequelize } from 'sequelize';

/**
 * Every kind of battery, the shelf, the wet room, sign-in: models without a pack, readings outside a job
 * and cell by cell, trays, stock, lots and what was taken from them, logs brought in from outside.
 */
export async function up(sequelize: Sequelize): Promise<void> {
  for (const statement of STATEMENTS) await sequelize.query(statement);
}

const appendOnly = (table: string) =>
  (['UPDATE', 'DELETE'] as const).map(
    (verb) =>
      `CREATE TRIGGER ${table}_no_${verb.toLowerCase()} BEFORE ${verb} ON ${table} BEGIN SELECT RAISE(ABORT, '${table} is append-only'); END`,
  );

const nullable = (column: string, type: string) => [
  `ALTER TABLE models RENAME COLUMN ${column} TO old_${column}`,
  `ALTER TABLE models ADD COLUMN ${column} ${type}`,
  `UPDATE models SET ${column} = old_${column}`,
  `ALTER TABLE models DROP COLUMN old_${column}`,
];

const STATEMENTS = [
  ...nullable('electrolyteCode', 'TEXT'),
  ...nullable('electrolyteMl', 'REAL'),
  `ALTER TABLE models ADD COLUMN caps TEXT`,
  // Until now there was one procedure, a commissioning of batteries that came under foil.
  `UPDATE procedures SET body = json_set(body, '$.purpose', 'commission', '$.arrives', 'foil')`,
  `UPDATE jobs SET state = json_set(state, '$.topUps', json('[]')), plan = json_set(plan, '$.overNeedsReason', json('true'), '$.words.caps', '')`,
  `ALTER TABLE jobs ADD COLUMN purpose TEXT NOT NULL DEFAULT 'commission'`,
  `ALTER TABLE batteries ADD COLUMN trayId TEXT`,
  `CREATE INDEX batteries_tray ON batteries (trayId) WHERE trayId IS NOT NULL`,
  `CREATE TABLE readings_wider (id TEXT PRIMARY KEY, batteryId TEXT NOT NULL REFERENCES batteries(id), jobId TEXT REFERENCES jobs(id), at INTEGER NOT NULL, enteredAt INTEGER NOT NULL,
    "by" TEXT NOT NULL, role TEXT NOT NULL, stepId TEXT, attempt INTEGER NOT NULL, "values" TEXT NOT NULL, cells TEXT, standard TEXT, marks TEXT NOT NULL,
    supersedes TEXT UNIQUE REFERENCES readings_wider(id))`,
  `INSERT INTO readings_wider SELECT id, batteryId, jobId, at, enteredAt, "by", role, stepId, attempt, "values", NULL, NULL, marks, supersedes FROM readings`,
  `DROP TABLE readings`,
  `ALTER TABLE readings_wider RENAME TO readings`,
  `CREATE INDEX readings_battery ON readings (batteryId, at)`,
  ...appendOnly('readings'),
  `CREATE TABLE stock (batteryId TEXT PRIMARY KEY REFERENCES batteries(id), since INTEGER NOT NULL, chargedAt INTEGER NOT NULL, readings TEXT NOT NULL, jobId TEXT REFERENCES jobs(id))`,
  `CREATE TABLE lots (code TEXT PRIMARY KEY, kind TEXT NOT NULL CHECK (kind IN ('pack', 'acid', 'water')), packCode TEXT, sg REAL, quantityMl REAL NOT NULL, expiresAt INTEGER, addedAt INTEGER NOT NULL, "by" TEXT NOT NULL)`,
  `CREATE TABLE lot_uses (id TEXT PRIMARY KEY, lot TEXT NOT NULL REFERENCES lots(code), at INTEGER NOT NULL, "by" TEXT NOT NULL, ml REAL NOT NULL, jobId TEXT REFERENCES jobs(id), why TEXT NOT NULL)`,
  `CREATE INDEX lot_uses_lot ON lot_uses (lot)`,
  ...appendOnly('lot_uses'),
  `ALTER TABLE people ADD COLUMN pinHash TEXT`,
  `CREATE TABLE sessions (hash TEXT PRIMARY KEY, personId TEXT NOT NULL REFERENCES people(id), openedAt INTEGER NOT NULL, seenAt INTEGER NOT NULL)`,
  `CREATE TABLE charge_logs (id TEXT PRIMARY KEY, batteryId TEXT NOT NULL REFERENCES batteries(id), name TEXT NOT NULL, startedAt INTEGER NOT NULL, "by" TEXT NOT NULL, addedAt INTEGER NOT NULL, body TEXT NOT NULL)`,
  `CREATE INDEX charge_logs_battery ON charge_logs (batteryId)`,
];
