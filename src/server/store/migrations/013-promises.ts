import type { Sequelize } from 'sequelize';

/** What was promised when, and its chance by the day plan then; written once, compared later with what came. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(
    'CREATE TABLE promises (jobId TEXT NOT NULL REFERENCES jobs(id), promisedAt INTEGER NOT NULL, saidAt INTEGER NOT NULL, kept REAL NOT NULL, low INTEGER, middle INTEGER, high INTEGER, PRIMARY KEY (jobId, promisedAt))',
  );
}
