import { mean } from '../quantities/mean.ts';

/** One cell this far below the mean of the others after a charge is failing, SG. Shop practice. */
export const FAILING_CELL_SG = 0.05;
/** Cells read one by one may add up to this much more or less than the posts: lead drop, and a meter set down six times. V */
export const CELL_SUM_V = 0.3;

/** The cell furthest below the mean of the others, numbered from 1 at plus; null for fewer than two. */
export function lowCell(
  values: readonly (number | null)[],
): { cell: number; below: number } | null {
  const read = values.flatMap((v, k) => (v === null ? [] : [{ v, k }]));
  if (read.length < 2) return null;
  const lowest = read.reduce((a, b) => (b.v < a.v ? b : a));
  const others = mean(read.filter((r) => r !== lowest).map((r) => r.v));
  return { cell: lowest.k + 1, below: others - lowest.v };
}
