import type { Sequelize } from 'sequelize';

/** Who works here still, devices known by a cookie of their own, and a calendar's address for each person. */
export async function up(sequelize: Sequelize): Promise<void> {
  for (const statement of STATEMENTS) await sequelize.query(statement);
}

const STATEMENTS = [
  `ALTER TABLE people ADD COLUMN active INTEGER NOT NULL DEFAULT 1`,
  `ALTER TABLE people ADD COLUMN calendarToken TEXT`,
  `CREATE UNIQUE INDEX people_calendar ON people (calendarToken)`,
  // One address for everybody who had it: those who follow it get one of their own.
  `DELETE FROM settings WHERE key = 'calendarToken'`,
  `CREATE TABLE devices (hash TEXT NOT NULL, personId TEXT NOT NULL REFERENCES people(id), seenAt INTEGER NOT NULL, PRIMARY KEY (hash, personId))`,
  `CREATE INDEX sessions_person ON sessions (personId)`,
];
