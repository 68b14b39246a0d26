import { DataTypes, type Model, type ModelStatic, type Sequelize } from 'sequelize';
import type { CatalogueModel } from '../../contract/wire.ts';
import type { Procedure } from '../../core/plan/procedure.ts';
import type { Sheet } from '../../core/paper/sheetForm.ts';
import type {
  PersonRow,
  DeviceRow,
  BatteryRow,
  RecoverySummaryRow,
  SetRow,
  LotRow,
  LotUseRow,
  SessionRow,
  ReadingRow,
  ChargeLogRow,
  PlanRow,
  JobRow,
  CommandRow,
  ChargeRow,
  EventRow,
  StockRow,
  ChargerRow,
  NoteRow,
  ClaimRow,
  PromiseRow,
  HoldRow,
  CommissionSummaryRow,
} from './rows.ts';

type Table<R extends object> = ModelStatic<Model<R> & R>;

export interface Tables {
  people: Table<PersonRow>;
  models: Table<CatalogueModel>;
  batteries: Table<BatteryRow>;
  procedures: Table<{ hash: string; body: Procedure }>;
  jobs: Table<JobRow>;
  readings: Table<ReadingRow>;
  events: Table<EventRow>;
  commands: Table<CommandRow>;
  charges: Table<ChargeRow>;
  recoverySummaries: Table<RecoverySummaryRow>;
  plans: Table<PlanRow>;
  stock: Table<StockRow>;
  sets: Table<SetRow>;
  chargers: Table<ChargerRow>;
  lots: Table<LotRow>;
  lotUses: Table<LotUseRow>;
  notes: Table<NoteRow>;
  claims: Table<ClaimRow>;
  promises: Table<PromiseRow>;
  holds: Table<HoldRow>;
  commissionSummaries: Table<CommissionSummaryRow>;
  sessions: Table<SessionRow>;
  devices: Table<DeviceRow>;
  chargeLogs: Table<ChargeLogRow>;
  sheets: Table<{ jobId: string; keptAt: number; body: Sheet }>;
  settings: Table<{ key: string; value: unknown }>;
}

const { BOOLEAN, STRING, TEXT, INTEGER, BIGINT, DOUBLE, JSON: JSON_TEXT } = DataTypes;
const key = () => ({ type: STRING, primaryKey: true });

/** Binds the tables to a connection. Their shape is made by the migrations, never by `sync`. */
export function bindTables(sequelize: Sequelize): Tables {
  const define = <R extends object>(name: string, columns: Record<string, unknown>) =>
    sequelize.define(name, columns as never, {
      tableName: name,
      timestamps: false,
    }) as unknown as Table<R>;
  return {
    people: define('people', {
      id: key(),
      name: STRING,
      initials: STRING,
      role: STRING,
      pinHash: STRING,
      active: BOOLEAN,
      calendarToken: STRING,
    }),
    models: define('models', {
      id: key(),
      code: STRING,
      kind: STRING,
      name: STRING,
      nominalV: DOUBLE,
      cells: INTEGER,
      c20Ah: DOUBLE,
      cca: DOUBLE,
      ccaStandard: STRING,
      electrolyteCode: STRING,
      electrolyteMl: DOUBLE,
      fillSg: DOUBLE,
      chargeA: DOUBLE,
      ceilingV: DOUBLE,
      dwellS: DOUBLE,
      soakS: DOUBLE,
      passV: DOUBLE,
      caps: STRING,
      build: STRING,
      reserveMin: DOUBLE,
      c10Ah: DOUBLE,
      milliohm: DOUBLE,
      estimate: JSON_TEXT,
    }),
    batteries: define('batteries', {
      id: key(),
      tag: STRING,
      modelId: STRING,
      dateCode: STRING,
      owner: STRING,
      promisedAt: BIGINT,
      takenInAt: BIGINT,
      trayId: STRING,
      place: STRING,
      supplier: STRING,
    }),
    procedures: define('procedures', { hash: key(), body: JSON_TEXT }),
    jobs: define('jobs', {
      id: key(),
      batteryId: STRING,
      procedureHash: STRING,
      plan: JSON_TEXT,
      state: JSON_TEXT,
      status: STRING,
      purpose: STRING,
      openedAt: BIGINT,
      closedAt: BIGINT,
      seq: INTEGER,
    }),
    readings: define('readings', {
      id: key(),
      batteryId: STRING,
      jobId: STRING,
      at: BIGINT,
      enteredAt: BIGINT,
      by: STRING,
      role: STRING,
      stepId: STRING,
      attempt: INTEGER,
      values: JSON_TEXT,
      cells: JSON_TEXT,
      standard: STRING,
      marks: JSON_TEXT,
      supersedes: STRING,
    }),
    events: define('events', {
      seq: { type: INTEGER, primaryKey: true, autoIncrement: true },
      at: BIGINT,
      by: STRING,
      batteryId: STRING,
      jobId: STRING,
      commandId: STRING,
      type: STRING,
      data: JSON_TEXT,
    }),
    commands: define('commands', { id: key(), at: BIGINT, bodyHash: STRING, response: JSON_TEXT }),
    charges: define('charges', {
      seq: { type: INTEGER, primaryKey: true, autoIncrement: true },
      id: STRING,
      jobId: STRING,
      place: INTEGER,
      instrument: STRING,
      startedAt: BIGINT,
      endedAt: BIGINT,
      mode: STRING,
      plan: JSON_TEXT,
      run: JSON_TEXT,
      trip: JSON_TEXT,
      guess: JSON_TEXT,
      expected: JSON_TEXT,
      stretches: JSON_TEXT,
      lastAt: BIGINT,
    }),
    recoverySummaries: define('recovery_summaries', {
      jobId: key(),
      batteryId: STRING,
      closedAt: BIGINT,
      version: INTEGER,
      body: JSON_TEXT,
    }),
    plans: define('charge_plans', {
      id: key(),
      name: STRING,
      body: JSON_TEXT,
      by: STRING,
      at: BIGINT,
    }),
    stock: define('stock', {
      batteryId: key(),
      since: BIGINT,
      chargedAt: BIGINT,
      readings: JSON_TEXT,
      jobId: STRING,
    }),
    sets: define('battery_sets', {
      id: key(),
      modelCode: STRING,
      members: JSON_TEXT,
      madeAt: BIGINT,
      by: STRING,
      endedAt: BIGINT,
      ended: STRING,
      endedBy: STRING,
    }),
    chargers: define('chargers', {
      id: key(),
      body: JSON_TEXT,
      standingSince: BIGINT,
      addedAt: BIGINT,
      by: STRING,
      removedAt: BIGINT,
    }),
    lots: define('lots', {
      code: key(),
      kind: STRING,
      packCode: STRING,
      sg: DOUBLE,
      quantityMl: DOUBLE,
      expiresAt: BIGINT,
      addedAt: BIGINT,
      by: STRING,
      supplier: STRING,
    }),
    notes: define('notes', {
      id: key(),
      batteryId: STRING,
      jobId: STRING,
      stepId: STRING,
      readingId: STRING,
      claimId: STRING,
      at: BIGINT,
      by: STRING,
      text: STRING,
      picture: JSON_TEXT,
      takenBack: JSON_TEXT,
    }),
    claims: define('claims', {
      id: key(),
      number: INTEGER,
      batteryId: STRING,
      jobId: STRING,
      openedAt: BIGINT,
      by: STRING,
      status: STRING,
      body: JSON_TEXT,
      history: JSON_TEXT,
    }),
    promises: define('promises', {
      jobId: key(),
      promisedAt: { ...key(), type: BIGINT },
      saidAt: BIGINT,
      kept: DOUBLE,
      low: BIGINT,
      middle: BIGINT,
      high: BIGINT,
    }),
    holds: define('holds', {
      id: key(),
      what: STRING,
      code: STRING,
      why: STRING,
      at: BIGINT,
      by: STRING,
      liftedAt: BIGINT,
      liftedBy: STRING,
      liftedWhy: STRING,
    }),
    commissionSummaries: define('commission_summaries', {
      jobId: key(),
      batteryId: STRING,
      closedAt: BIGINT,
      version: INTEGER,
      body: JSON_TEXT,
    }),
    lotUses: define('lot_uses', {
      id: key(),
      lot: STRING,
      at: BIGINT,
      by: STRING,
      ml: DOUBLE,
      jobId: STRING,
      why: STRING,
    }),
    sessions: define('sessions', {
      hash: key(),
      personId: STRING,
      openedAt: BIGINT,
      seenAt: BIGINT,
    }),
    devices: define('devices', {
      hash: key(),
      personId: { type: STRING, primaryKey: true },
      seenAt: BIGINT,
    }),
    chargeLogs: define('charge_logs', {
      id: key(),
      batteryId: STRING,
      name: STRING,
      startedAt: BIGINT,
      by: STRING,
      addedAt: BIGINT,
      body: JSON_TEXT,
    }),
    sheets: define('sheets', { jobId: key(), keptAt: BIGINT, body: JSON_TEXT }),
    settings: define('settings', {
      key: key(),
      value: {
        type: TEXT,
        get(this: Model) {
          return JSON.parse(this.getDataValue('value' as never));
        },
        set(this: Model, v: unknown) {
          this.setDataValue('value' as never, JSON.stringify(v) as never);
        },
      },
    }),
  };
}
