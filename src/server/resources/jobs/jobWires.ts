import { QueryTypes } from 'sequelize';
import type { Battery, JobWire } from '../../../contract/wire.ts';
import type { JobState } from '../../../core/job/job.ts';
import type { JobPlan } from '../../../core/plan/jobPlan.ts';
import { parsed } from '../../context.ts';
import { notFound } from '../../http/problem.ts';
import type { Store } from '../../store/store.ts';
import type { JobRow } from '../../store/rows.ts';
import { procedureOf } from './jobs.ts';

/** A job that has ended stays on the bench for a day. */
const BENCH_KEEPS_MS = 24 * 3_600_000;
/** Their ids, by an index alone: a scan would read the long texts of every job there ever was. */
const ON_THE_BENCH = `SELECT id FROM jobs INDEXED BY jobs_status WHERE status IN ('running', 'with-lead')
  UNION ALL SELECT id FROM jobs INDEXED BY jobs_status WHERE status IN ('closed', 'refused') AND closedAt >= :since`;

/** Jobs in process, and those that ended within the day before `now`. */
export async function benchJobs(store: Store, now: number): Promise<JobWire[]> {
  const ids = await store.sequelize.query<{ id: string }>(ON_THE_BENCH, {
    replacements: { since: now - BENCH_KEEPS_MS },
    type: QueryTypes.SELECT,
  });
  return wires(
    store,
    await store.tables.jobs.findAll({
      where: { id: ids.map((r) => r.id) },
      order: [['openedAt', 'ASC']],
      raw: true,
    }),
  );
}

/**
 * The bench as its answer's text. A full bench is some hundred kilobytes of JSON that lies in the file as
 * text already; it is handed on as it lies, not read and written again. Ended jobs leave their readings behind.
 * `CROSS JOIN` keeps the order of the joins: from the few open jobs outwards, whatever the statistics say.
 */
export async function benchText(store: Store, now: number): Promise<string> {
  interface Row extends Battery {
    jobId: string;
    procedureHash: string;
    plan: string;
    state: string;
    seq: number;
  }
  const rows = await store.sequelize.query<Row>(
    `SELECT j.id AS jobId, j.procedureHash, j.plan, CASE WHEN j.closedAt IS NULL THEN j.state ELSE json_set(j.state, '$.readings', json('[]')) END AS state, j.seq,
       b.*, m.code AS modelCode, m.name AS modelName, m.cells
     FROM (${ON_THE_BENCH}) w CROSS JOIN jobs j ON j.id = w.id CROSS JOIN batteries b ON b.id = j.batteryId CROSS JOIN models m ON m.id = b.modelId
     ORDER BY j.openedAt`,
    { replacements: { since: now - BENCH_KEEPS_MS }, type: QueryTypes.SELECT },
  );
  const jobs = rows.map(({ jobId, procedureHash, plan, state, seq, ...battery }) => {
    const head = JSON.stringify({ id: jobId, procedureId: procedureHash, seq, battery });
    return `${head.slice(0, -1)},"plan":${plan},"state":${state}}`;
  });
  const hashes = [...new Set(rows.map((r) => r.procedureHash))];
  const procedures = Object.fromEntries(
    await Promise.all(hashes.map(async (hash) => [hash, await procedureOf(store, hash)] as const)),
  );
  return `{"procedures":${JSON.stringify(procedures)},"jobs":[${jobs.join(',')}]}`;
}

export async function jobsOfBattery(store: Store, batteryId: string): Promise<JobWire[]> {
  const rows = await store.tables.jobs.findAll({
    where: { batteryId },
    order: [['openedAt', 'ASC']],
    raw: true,
  });
  return wires(store, rows);
}

export async function jobWire(store: Store, id: string): Promise<JobWire> {
  const row = await store.tables.jobs.findByPk(id, { raw: true });
  if (!row) throw notFound('That job');
  return (await wires(store, [row]))[0] as JobWire;
}

async function wires(store: Store, rows: JobRow[]): Promise<JobWire[]> {
  const batteries = await batteriesById(
    store,
    rows.map((r) => r.batteryId),
  );
  return rows.map((row) => {
    const state = parsed(row.state) as JobState;
    return {
      id: row.id,
      battery: batteries.get(row.batteryId) as Battery,
      procedureId: row.procedureHash,
      plan: state.replanned ?? (parsed(row.plan) as JobPlan),
      state,
      seq: row.seq,
    };
  });
}

/** Batteries with the words of their models, by id. */
export async function batteriesById(
  store: Store,
  ids: readonly string[],
): Promise<Map<string, Battery>> {
  const { batteries, models } = store.tables;
  const rows = await batteries.findAll({ where: { id: [...new Set(ids)] }, raw: true });
  const known = await models.findAll({
    where: { id: [...new Set(rows.map((r) => r.modelId))] },
    raw: true,
  });
  return new Map(
    rows.map((row) => {
      const model = known.find((m) => m.id === row.modelId);
      return [
        row.id,
        {
          ...row,
          modelCode: model?.code ?? '',
          modelName: model?.name ?? '',
          cells: model?.cells ?? 6,
        },
      ];
    }),
  );
}
