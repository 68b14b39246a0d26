import type { Sequelize } from 'sequelize';

/** The shop's chargers. One that is removed stays, for the charges it made. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(
    `CREATE TABLE chargers (id TEXT PRIMARY KEY, body TEXT NOT NULL, standingSince INTEGER NOT NULL, addedAt INTEGER NOT NULL, "by" TEXT NOT NULL, removedAt INTEGER)`,
  );
}
