import type { Reading } from '../../../core/procedures/job.ts';
import { parsed } from '../../context.ts';
import type { ReadingRow } from '../../store/tables.ts';

/** Readings of a battery outside any job, with what corrected what worked out. */
export function shelfReadingsOf(rows: readonly ReadingRow[]): Reading[] {
  const correctedBy = new Map(rows.flatMap((r) => (r.supersedes ? [[r.supersedes, r.id] as const] : [])));
  return rows.map(({ batteryId: _b, jobId: _j, ...row }) => ({
    ...row,
    values: parsed(row.values) as Reading['values'],
    cells: parsed(row.cells) as NonNullable<Reading['cells']>,
    marks: parsed(row.marks) as Reading['marks'],
    supersededBy: correctedBy.get(row.id) ?? null,
  }));
}
