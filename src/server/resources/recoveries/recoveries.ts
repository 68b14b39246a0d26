import type { JobState } from '../../../core/procedures/job.ts';
import type { JobPlan } from '../../../core/procedures/plan.ts';
import { type RecoveryResult, resultsOf } from '../../../core/procedures/recoveryRecord.ts';
import { parsed } from '../../context.ts';
import type { Store } from '../../store/store.ts';
import { batteriesById, procedureOf } from '../jobs/jobs.ts';

/** Every cycle of every recovery that has ended here, oldest first. */
export async function recoveryResults(store: Store): Promise<RecoveryResult[]> {
  const rows = await store.tables.jobs.findAll({ where: { purpose: 'recover', status: 'closed' }, order: [['closedAt', 'ASC']], raw: true });
  const batteries = await batteriesById(
    store,
    rows.map((r) => r.batteryId),
  );
  const results = await Promise.all(
    rows.map(async (row) => {
      const job = { procedure: await procedureOf(store, row.procedureHash), plan: parsed(row.plan) as JobPlan, state: parsed(row.state) as JobState };
      return resultsOf(job, batteries.get(row.batteryId)?.tag ?? '');
    }),
  );
  return results.flat();
}
