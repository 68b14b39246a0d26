import { dirname, join } from 'node:path';
import { Mutex } from 'async-mutex';
import { DataTypes, type Model, type ModelStatic, Sequelize } from 'sequelize';
import type { DrillWire, OwnCaseWire } from '../../contract/drillWire.ts';

/**
 * What the drill keeps lies in a file of its own beside the data file: nothing of it can be counted, planned or learnt from by the
 * shop. It is seldom asked for, so it is opened for each piece of work and closed after it.
 */

type TableOf<Row extends object> = ModelStatic<Model<Row, Row>>;
export interface DrillTables {
  results: TableOf<DrillWire['results'][number]>;
  assigned: TableOf<DrillWire['assigned'][number]>;
  cases: TableOf<OwnCaseWire & { id: string; number: number }>;
}

export const drillFile = (dataFile: string): string => join(dirname(dataFile), 'drill.sqlite');

const turn = new Mutex();

/** Does a piece of work in the drill's file, alone; the file is made where there is none. */
export const inDrillFile = <T>(
  dataFile: string,
  work: (tables: DrillTables) => Promise<T>,
): Promise<T> =>
  turn.runExclusive(async () => {
    const sequelize = new Sequelize({
      dialect: 'sqlite',
      storage: drillFile(dataFile),
      logging: false,
    });
    try {
      await sequelize.query('PRAGMA synchronous = FULL');
      const tables = tablesOf(sequelize);
      await sequelize.sync();
      return await work(tables);
    } finally {
      await sequelize.close();
    }
  });

function tablesOf(sequelize: Sequelize): DrillTables {
  // Sequelize writes into what it is given: each column has its own.
  const id = () => ({ type: DataTypes.UUID, primaryKey: true });
  const text = () => ({ type: DataTypes.TEXT, allowNull: false });
  const count = () => ({ type: DataTypes.DOUBLE, allowNull: false });
  const plain = () => ({ timestamps: false, freezeTableName: true });
  return {
    results: sequelize.define(
      'results',
      {
        id: id(),
        personId: text(),
        code: text(),
        endedAt: count(),
        decision: { type: DataTypes.TEXT, allowNull: true },
        passed: { type: DataTypes.BOOLEAN, allowNull: false },
        points: { type: DataTypes.JSON, allowNull: false },
        handsMin: count(),
        hours: count(),
      },
      plain(),
    ),
    assigned: sequelize.define(
      'assigned',
      { id: id(), personId: text(), code: text(), by: text(), at: count(), note: text() },
      plain(),
    ),
    cases: sequelize.define(
      'cases',
      {
        id: id(),
        number: { type: DataTypes.INTEGER, allowNull: false, unique: true },
        code: text(),
        facts: { type: DataTypes.JSON, allowNull: false },
        model: { type: DataTypes.JSON, allowNull: false },
      },
      plain(),
    ),
  };
}
