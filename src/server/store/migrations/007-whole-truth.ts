import type { Sequelize } from 'sequelize';

/**
 * Until now sets, and what was taken from lots outside a job, stood in their tables alone, and the shelf's imported
 * stock came without its readings. What is known of them is written into the log, so that all of it can be told from there.
 */
export async function up(sequelize: Sequelize): Promise<void> {
  for (const statement of STATEMENTS) await sequelize.query(statement);
}

const log = (type: string, at: string, by: string, batteryId: string, data: string, from: string) =>
  `INSERT INTO events (at, "by", batteryId, jobId, commandId, type, data)
   SELECT ${at}, ${by}, ${batteryId}, NULL, 'as-found', '${type}', json_object('type', '${type}', ${data}) FROM ${from}`;

const STATEMENTS = [
  `CREATE TABLE sheets (jobId TEXT PRIMARY KEY REFERENCES jobs(id), keptAt INTEGER NOT NULL, body TEXT NOT NULL)`,
  // What corrected a reading is looked up for each of many.
  `CREATE INDEX readings_supersedes ON readings (supersedes) WHERE supersedes IS NOT NULL`,
  `ALTER TABLE battery_sets ADD COLUMN endedBy TEXT`,
  // What stands there from here on is what was found: earlier versions put some on it, and some not.
  `INSERT INTO events (at, "by", batteryId, jobId, commandId, type, data)
   SELECT MAX(at), 'clock', NULL, NULL, 'as-found', 'shelf.counted', json_object('type', 'shelf.counted') FROM events HAVING COUNT(*) > 0`,
  log(
    'shelf.as-found',
    'COALESCE((SELECT MAX(at) FROM events), 0)',
    `'clock'`,
    'batteryId',
    `'since', since, 'chargedAt', chargedAt, 'readings', json(readings), 'jobId', jobId`,
    'stock ORDER BY batteryId',
  ),
  log(
    'lot.used',
    'at',
    '"by"',
    'NULL',
    `'lot', lot, 'ml', ml, 'why', why`,
    'lot_uses WHERE jobId IS NULL ORDER BY at',
  ),
  log(
    'set.made',
    'madeAt',
    '"by"',
    'NULL',
    `'id', id, 'modelCode', modelCode, 'members', json(members)`,
    'battery_sets ORDER BY madeAt',
  ),
  // Who ended it was not kept.
  log(
    'set.ended',
    'endedAt',
    `'unknown'`,
    'NULL',
    `'id', id, 'reason', ended`,
    'battery_sets WHERE endedAt IS NOT NULL ORDER BY endedAt',
  ),
];
