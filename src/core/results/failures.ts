import { shareOfFew, type ShareOfFew } from '../recovery/record.ts';
import type { CommissionEnd, CommissionSummary } from './commissionSummary.ts';

/** By what failures are counted. */
export const FAILURE_BY = ['model', 'dateCode', 'lot', 'supplier'] as const;
export type FailureBy = (typeof FAILURE_BY)[number];

/** An ended commissioning with what its battery and its acid came with. */
export interface Commissioned extends CommissionSummary {
  dateCode: string;
  supplier: string | null;
}

/** How the batteries of one model, date code, lot or supplier came through. */
export interface FailureRow {
  key: string;
  commissioned: number;
  first: number;
  later: number;
  failed: number;
  /** Share that failed, with the band that so few leave open (Wilson, 8 in 10). */
  share: ShareOfFew;
  /** How it stands beside the others: worse or better when the bands do not meet, else too few to tell or no different. */
  says: 'worse' | 'better' | 'same' | 'too-few';
}

/** Fewer than this many tell nothing, whatever their share. */
const FEW = 5;

const keysOf = (c: Commissioned, by: FailureBy): string[] => {
  if (by === 'lot') return c.lots;
  const key = by === 'supplier' ? (c.supplier ?? '') : c[by];
  return key === '' || key === '—' ? [] : [key];
};

/** What failed, counted in every way, worst first; and all of them together. */
export interface Failures {
  all: ShareOfFew;
  by: Record<FailureBy, FailureRow[]>;
}

export function failuresOf(commissioned: readonly Commissioned[]): Failures {
  const failed = commissioned.filter((c) => c.end === 'failed').length;
  return {
    all: shareOfFew(failed, commissioned.length),
    by: {
      model: failuresBy(commissioned, 'model'),
      dateCode: failuresBy(commissioned, 'dateCode'),
      lot: failuresBy(commissioned, 'lot'),
      supplier: failuresBy(commissioned, 'supplier'),
    },
  };
}

/** Counts what failed, worst first. Batteries of which the key is not known count among the others. */
function failuresBy(commissioned: readonly Commissioned[], by: FailureBy): FailureRow[] {
  const counts = new Map<string, Record<CommissionEnd, number>>();
  let allFailed = 0;
  for (const c of commissioned) {
    if (c.end === 'failed') allFailed += 1;
    for (const key of keysOf(c, by)) {
      const ends = counts.get(key) ?? { first: 0, later: 0, failed: 0 };
      ends[c.end] += 1;
      counts.set(key, ends);
    }
  }
  return [...counts]
    .map(([key, ends]): FailureRow => {
      const count = ends.first + ends.later + ends.failed;
      const share = shareOfFew(ends.failed, count);
      const rest = shareOfFew(allFailed - ends.failed, commissioned.length - count);
      return { key, commissioned: count, ...ends, share, says: saysOf(share, rest) };
    })
    .sort(
      (a, b) => b.share.low - a.share.low || b.failed - a.failed || b.commissioned - a.commissioned,
    );
}

function saysOf(own: ShareOfFew, others: ShareOfFew): FailureRow['says'] {
  if (own.of < FEW || others.of < FEW) return 'too-few';
  if (own.low > others.high) return 'worse';
  return own.high < others.low ? 'better' : 'same';
}
