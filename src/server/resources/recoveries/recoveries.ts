import { QueryTypes, type Transaction } from 'sequelize';
import type { Job } from '../../../core/job/job.ts';
import type { RecoveryResult } from '../../../core/recovery/record.ts';
import {
  recoverySummary,
  type RecoverySummary,
  SUMMARY_VERSION,
} from '../../../core/sets/recoverySummary.ts';
import { COMMISSION_VERSION, commissionSummary } from '../../../core/results/commissionSummary.ts';
import type { Store } from '../../store/store.ts';

/** Sums up a recovery or a commissioning that has ended, again whenever a correction changes what it says. */
export async function summarise(
  store: Store,
  jobId: string,
  batteryId: string,
  job: Job,
  transaction: Transaction,
): Promise<void> {
  const { closedAt } = job.state;
  if (closedAt === null) return;
  if (job.procedure.purpose === 'commission')
    await store.tables.commissionSummaries.upsert(
      { jobId, batteryId, closedAt, version: COMMISSION_VERSION, body: commissionSummary(job) },
      { transaction },
    );
  if (job.procedure.purpose !== 'recover') return;
  await store.tables.recoverySummaries.upsert(
    { jobId, batteryId, closedAt, version: SUMMARY_VERSION, body: recoverySummary(job) },
    { transaction },
  );
}

/**
 * Sums up what was ended by an earlier version, one job at a time.
 *
 * @param readJob reads a job by its id
 * @returns how many were summed up
 */
export async function catchUpSummaries(
  store: Store,
  readJob: (jobId: string) => Promise<Job>,
): Promise<number> {
  const rows = await store.sequelize.query<{ id: string; batteryId: string }>(
    `SELECT j.id, j.batteryId FROM jobs j LEFT JOIN recovery_summaries s ON s.jobId = j.id
     WHERE j.purpose = 'recover' AND j.closedAt IS NOT NULL AND (s.version IS NULL OR s.version < :recovery)
     UNION ALL SELECT j.id, j.batteryId FROM jobs j LEFT JOIN commission_summaries s ON s.jobId = j.id
     WHERE j.purpose = 'commission' AND j.closedAt IS NOT NULL AND (s.version IS NULL OR s.version < :commission)`,
    {
      replacements: { recovery: SUMMARY_VERSION, commission: COMMISSION_VERSION },
      type: QueryTypes.SELECT,
    },
  );
  for (const { id, batteryId } of rows) {
    const job = await readJob(id);
    await store.write((transaction) => summarise(store, id, batteryId, job, transaction));
  }
  return rows.length;
}

/** Every cycle of every recovery that has ended here, oldest first. */
export async function recoveryResults(store: Store): Promise<RecoveryResult[]> {
  const rows = await store.sequelize.query<{ body: string; tag: string }>(
    'SELECT s.body, b.tag FROM recovery_summaries s JOIN batteries b ON b.id = s.batteryId ORDER BY s.closedAt',
    { type: QueryTypes.SELECT },
  );
  return rows.flatMap(({ body, tag }) =>
    (JSON.parse(body) as RecoverySummary).results.map((result) => ({ tag, ...result })),
  );
}
