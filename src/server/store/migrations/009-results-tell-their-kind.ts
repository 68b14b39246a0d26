import { QueryTypes, type Sequelize } from 'sequelize';
import type { PlanRun } from '../../../core/charging/runPlan.ts';
import type { JobState } from '../../../core/job/job.ts';
import { stageEndNow, stateNow, tripNow } from '../../../core/job/stored.ts';
import type { Procedure } from '../../../core/plan/procedure.ts';

/** Rows brought over at a time. */
const PAGE = 200;

/**
 * The states of jobs and live charges, which are told from the log, are told as of now: a result knows its kind, and why a
 * charge stopped or a battery was refused is kept as its figures. The log itself stays as it is.
 */
export async function up(sequelize: Sequelize): Promise<void> {
  const procedures = new Map(
    (
      await select<{ hash: string; body: string }>(sequelize, 'SELECT hash, body FROM procedures')
    ).map((p) => [p.hash, JSON.parse(p.body) as Procedure]),
  );
  await eachRow<{ row: number; procedureHash: string; state: string }>(
    sequelize,
    'jobs',
    'procedureHash, state',
    async ({ row, procedureHash, state }) => {
      const procedure = procedures.get(procedureHash);
      if (procedure)
        await set(
          sequelize,
          'UPDATE jobs SET state = ? WHERE rowid = ?',
          [stateNow(JSON.parse(state) as JobState, procedure)],
          row,
        );
    },
  );
  await eachRow<{ row: number; run: string; trip: string | null }>(
    sequelize,
    'charges',
    'run, trip',
    async ({ row, run: stored, trip }) => {
      const run = JSON.parse(stored) as PlanRun;
      const told = { ...run, ended: run.ended.map(stageEndNow) };
      await set(
        sequelize,
        'UPDATE charges SET run = ?, trip = ? WHERE rowid = ?',
        [told, tripNow(trip && JSON.parse(trip))],
        row,
      );
    },
  );
}

const select = <T extends object>(
  sequelize: Sequelize,
  sql: string,
  replacements: unknown[] = [],
): Promise<T[]> => sequelize.query<T>(sql, { replacements, type: QueryTypes.SELECT });

async function set(
  sequelize: Sequelize,
  sql: string,
  values: readonly unknown[],
  row: number,
): Promise<void> {
  await sequelize.query(sql, {
    replacements: [...values.map((value) => value && JSON.stringify(value)), row],
  });
}

/** Every row of a table, a few at a time: a shop of ten years is never in memory at once. */
async function eachRow<R extends { row: number }>(
  sequelize: Sequelize,
  table: string,
  columns: string,
  work: (row: R) => Promise<void>,
): Promise<void> {
  for (let after = 0; ;) {
    const rows = await select<R>(
      sequelize,
      `SELECT rowid AS row, ${columns} FROM ${table} WHERE rowid > ? ORDER BY rowid LIMIT ${PAGE}`,
      [after],
    );
    for (const row of rows) await work(row);
    const last = rows.at(-1);
    if (!last) return;
    after = last.row;
  }
}
