import type { Sequelize } from 'sequelize';

/** Live charges with their samples, fresh and thinned, and the shop's own charge plans; jobs under way learn that theirs run by hand. */
export async function up(sequelize: Sequelize): Promise<void> {
  for (const statement of STATEMENTS) await sequelize.query(statement);
}

const STATEMENTS = [
  `UPDATE jobs SET state = json_set(state, '$.chargePlan', json('null'))`,
  `UPDATE jobs SET state = json_set(state, '$.charge.live', json('null'), '$.charge.resumesItself', json('false')) WHERE json_type(state, '$.charge') = 'object'`,
  `CREATE TABLE charges (seq INTEGER PRIMARY KEY AUTOINCREMENT, id TEXT NOT NULL UNIQUE, jobId TEXT NOT NULL REFERENCES jobs(id), place INTEGER NOT NULL, instrument TEXT NOT NULL,
    startedAt INTEGER NOT NULL, endedAt INTEGER, mode TEXT NOT NULL, plan TEXT NOT NULL, run TEXT NOT NULL, trip TEXT, guess TEXT NOT NULL, expected TEXT NOT NULL, stretches TEXT NOT NULL, lastAt INTEGER NOT NULL)`,
  `CREATE INDEX charges_open ON charges (mode) WHERE endedAt IS NULL`,
  `CREATE INDEX charges_job ON charges (jobId)`,
  // t: ms since the charge began; mV, mA, hundredths of a °C.
  `CREATE TABLE samples (charge INTEGER NOT NULL REFERENCES charges(seq), t INTEGER NOT NULL, v INTEGER NOT NULL, a INTEGER NOT NULL, c INTEGER NOT NULL, PRIMARY KEY (charge, t)) WITHOUT ROWID`,
  `CREATE TABLE sample_blocks (charge INTEGER NOT NULL REFERENCES charges(seq), t INTEGER NOT NULL, n INTEGER NOT NULL,
    v INTEGER NOT NULL, vLow INTEGER NOT NULL, vHigh INTEGER NOT NULL, a INTEGER NOT NULL, aLow INTEGER NOT NULL, aHigh INTEGER NOT NULL, c INTEGER NOT NULL, cHigh INTEGER NOT NULL,
    PRIMARY KEY (charge, t)) WITHOUT ROWID`,
  `CREATE TABLE charge_plans (id TEXT PRIMARY KEY, name TEXT NOT NULL UNIQUE, body TEXT NOT NULL, "by" TEXT NOT NULL, at INTEGER NOT NULL)`,
];
