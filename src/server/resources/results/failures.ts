import { QueryTypes } from 'sequelize';
import type { CommissionSummary } from '../../../core/results/commissionSummary.ts';
import { type Commissioned, type Failures, failuresOf } from '../../../core/results/failures.ts';
import { KeptByBattery } from '../../store/keptByBattery.ts';
import type { Store } from '../../store/store.ts';

/** What failed of what was commissioned here; counted anew when something has changed. */
export function failuresHere(store: Store): () => Promise<Failures> {
  const kept = new KeptByBattery<Commissioned>(store, async (batteryIds) => {
    const rows = await store.sequelize.query<{
      batteryId: string;
      body: string;
      dateCode: string;
      supplier: string | null;
    }>(
      `SELECT s.batteryId, s.body, b.dateCode, b.supplier FROM commission_summaries s JOIN batteries b ON b.id = s.batteryId
       ${batteryIds ? 'WHERE s.jobId IN (SELECT id FROM jobs WHERE batteryId IN (:batteryIds))' : ''}`,
      { replacements: { batteryIds: batteryIds ?? [] }, type: QueryTypes.SELECT },
    );
    return rows.map(({ body, ...of }) => ({ ...(JSON.parse(body) as CommissionSummary), ...of }));
  });
  let counted: { commissioned: readonly Commissioned[]; failures: Failures } | undefined;
  return async () => {
    const commissioned = await kept.everyRow();
    if (counted?.commissioned !== commissioned)
      counted = { commissioned, failures: failuresOf(commissioned) };
    return counted.failures;
  };
}
