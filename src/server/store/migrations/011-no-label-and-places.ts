import type { Sequelize } from 'sequelize';

/** A model may be one battery without a readable label, its size estimated; a battery has a place in the shop. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query('ALTER TABLE models ADD COLUMN estimate TEXT');
  await sequelize.query('ALTER TABLE batteries ADD COLUMN place TEXT');
}
