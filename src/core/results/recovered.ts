import type { RecoveryBrought } from '../recovery/brought.ts';
import type { Moment } from '../quantities/moment.ts';
import { median, shareOfFew, type ShareOfFew } from '../recovery/record.ts';

/** A recovery that has ended, with what became of its battery afterwards. */
export interface Recovered extends RecoveryBrought {
  tag: string;
  closedAt: number;
  /** Was it in recovery again within a year? Null while the year is not over and it was not. */
  cameBack: boolean | null;
}

export const YEAR_MS = 365.25 * 86_400_000;

/**
 * Was a battery in recovery again within a year?
 *
 * @param again it was, by what is on record
 */
export const cameBackWithinYear = (closedAt: Moment, again: boolean, now: Moment): boolean | null =>
  again || (now - closedAt >= YEAR_MS ? false : null);

export const RECOVERED_BY = ['route', 'found', 'kind'] as const;
export type RecoveredBy = (typeof RECOVERED_BY)[number];

/** What recoveries of one kind, cause or route came to. Medians; null where none was measured. */
export interface RecoveredRow {
  key: string;
  tried: number;
  /** Returned to service in full, and kept at all (light duty too), with what so few leave open (Wilson, 8 in 10). */
  returned: ShareOfFew;
  kept: ShareOfFew;
  before: number | null;
  after: number | null;
  /** Gain of those measured both times, share of C20. */
  gain: number | null;
  hours: number | null;
  weekLoss: number | null;
  /** Of those that were kept and whose year is over, or that came back before. */
  cameBack: ShareOfFew;
}

/** Fewer than this many say little. */
export const FEW_RECOVERED = 8;

/** Counts recoveries, the most tried first. Those of which the key is not known stand under `unknown`. */
export function recoveredBy(recovered: readonly Recovered[], by: RecoveredBy): RecoveredRow[] {
  const groups = new Map<string, Recovered[]>();
  for (const r of recovered) {
    const key = r[by] ?? 'unknown';
    groups.set(key, [...(groups.get(key) ?? []), r]);
  }
  return [...groups]
    .map(([key, own]) => rowOf(key, own))
    .sort((a, b) => b.tried - a.tried || a.key.localeCompare(b.key));
}

function rowOf(key: string, own: readonly Recovered[]): RecoveredRow {
  const kept = own.filter((r) => r.outcome !== 'recycle');
  const known = kept.filter((r) => r.cameBack !== null);
  return {
    key,
    tried: own.length,
    returned: shareOfFew(own.filter((r) => r.outcome === 'return').length, own.length),
    kept: shareOfFew(kept.length, own.length),
    before: median(own.map((r) => r.before)),
    after: median(own.map((r) => r.after)),
    gain: median(
      own.map((r) => (r.before === null || r.after === null ? null : r.after - r.before)),
    ),
    hours: median(own.map((r) => r.hours)),
    weekLoss: median(own.map((r) => r.weekLoss)),
    cameBack: shareOfFew(known.filter((r) => r.cameBack).length, known.length),
  };
}
