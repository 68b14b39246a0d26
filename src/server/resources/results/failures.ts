import { QueryTypes } from 'sequelize';
import type { CommissionSummary } from '../../../core/results/commissionSummary.ts';
import { type Commissioned, type Failures, failuresOf } from '../../../core/results/failures.ts';
import type { Store } from '../../store/store.ts';

/** What failed of what was commissioned here. */
export async function failures(store: Store): Promise<Failures> {
  const rows = await store.sequelize.query<{
    body: string;
    dateCode: string;
    supplier: string | null;
  }>(
    'SELECT s.body, b.dateCode, b.supplier FROM commission_summaries s JOIN batteries b ON b.id = s.batteryId',
    { type: QueryTypes.SELECT },
  );
  return failuresOf(
    rows.map(({ body, ...of }): Commissioned => ({
      ...(JSON.parse(body) as CommissionSummary),
      ...of,
    })),
  );
}
