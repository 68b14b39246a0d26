import type { Sequelize } from 'sequelize';

/**
 * Papers and pictures: notes (a line of text, a picture, or both) on whatever they are about; claims; models and lots
 * on hold; what each commissioning brought, summed up; and who sold a battery or a lot.
 */
export async function up(sequelize: Sequelize): Promise<void> {
  const tables = [
    `notes (id TEXT PRIMARY KEY, batteryId TEXT NOT NULL REFERENCES batteries(id), jobId TEXT, stepId TEXT, readingId TEXT, claimId TEXT,
      at INTEGER NOT NULL, "by" TEXT NOT NULL, text TEXT NOT NULL, picture TEXT, takenBack TEXT)`,
    `claims (id TEXT PRIMARY KEY, number INTEGER NOT NULL UNIQUE, batteryId TEXT NOT NULL REFERENCES batteries(id), jobId TEXT,
      openedAt INTEGER NOT NULL, "by" TEXT NOT NULL, status TEXT NOT NULL, body TEXT NOT NULL, history TEXT NOT NULL)`,
    `holds (id TEXT PRIMARY KEY, what TEXT NOT NULL, code TEXT NOT NULL, why TEXT NOT NULL, at INTEGER NOT NULL, "by" TEXT NOT NULL,
      liftedAt INTEGER, liftedBy TEXT, liftedWhy TEXT)`,
    `commission_summaries (jobId TEXT PRIMARY KEY, batteryId TEXT NOT NULL, closedAt INTEGER NOT NULL, version INTEGER NOT NULL, body TEXT NOT NULL)`,
  ];
  for (const table of tables) await sequelize.query(`CREATE TABLE ${table}`);
  await sequelize.query('CREATE INDEX notes_of_battery ON notes(batteryId, at)');
  await sequelize.query('CREATE INDEX claims_of_battery ON claims(batteryId)');
  await sequelize.query('ALTER TABLE batteries ADD COLUMN supplier TEXT');
  await sequelize.query('ALTER TABLE lots ADD COLUMN supplier TEXT');
}
