import type { Sequelize } from 'sequelize';

/** What a model is built for, and the ratings its label prints beside C20 and CCA. */
export async function up(sequelize: Sequelize): Promise<void> {
  for (const column of ['build TEXT', 'reserveMin REAL', 'c10Ah REAL', 'milliohm REAL'])
    await sequelize.query(`ALTER TABLE models ADD COLUMN ${column}`);
}
