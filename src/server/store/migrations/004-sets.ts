import type { Sequelize } from 'sequelize';

/** Sets of recovered batteries: made once, and ended by being taken apart or given out. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(
    `CREATE TABLE battery_sets (id TEXT PRIMARY KEY, modelCode TEXT NOT NULL, members TEXT NOT NULL, madeAt INTEGER NOT NULL, "by" TEXT NOT NULL, endedAt INTEGER, ended TEXT)`,
  );
}
