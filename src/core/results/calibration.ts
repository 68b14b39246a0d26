import { FAMILY_KEYS, type FamilyKey, type FamilyOdds } from '../diagnosis/practice/families.ts';
import { shareOfFew, type ShareOfFew } from '../recovery/record.ts';

/** What a first diagnosis said of a battery, and what it was found to be in the end. */
export interface SaidAndFound {
  tag: string;
  said: readonly FamilyOdds[];
  found: FamilyKey;
}

/** Batteries whose likeliest family was said about so surely, and how many of them were that. */
export interface SurenessRow {
  /** From this chance up, and the mean of what was said. */
  from: number;
  said: number;
  right: ShareOfFew;
}

/** A family as it was said and as it was found. */
export interface FamilyRow {
  family: FamilyKey;
  /** Batteries that it was said of first, and how many of them were it. */
  right: ShareOfFew;
  /** Found in so many, whatever was said; and the sum of its odds: how many should have been. */
  found: number;
  expected: number;
}

export interface Calibration {
  of: number;
  right: ShareOfFew;
  bySureness: SurenessRow[];
  byFamily: FamilyRow[];
}

/** Lower ends of the bands a lead reads: less than even, about even, 2 in 3, 5 in 6, almost surely. */
const BANDS = [0, 0.4, 0.6, 0.75, 0.9] as const;

/** How what was said of batteries held. */
export function calibration(cases: readonly SaidAndFound[]): Calibration {
  const first = cases.flatMap(({ said, found }) => {
    const [leading] = said;
    return leading ? [{ ...leading, right: leading.family === found }] : [];
  });
  const share = (judged: readonly { right: boolean }[]): ShareOfFew =>
    shareOfFew(judged.filter((c) => c.right).length, judged.length);
  return {
    of: first.length,
    right: share(first),
    bySureness: BANDS.flatMap((from, i): SurenessRow[] => {
      const inBand = first.filter((c) => c.chance >= from && c.chance < (BANDS[i + 1] ?? 2));
      if (inBand.length === 0) return [];
      const said = inBand.reduce((sum, c) => sum + c.chance, 0) / inBand.length;
      return [{ from, said, right: share(inBand) }];
    }).reverse(),
    byFamily: FAMILY_KEYS.map((family) => ({
      family,
      right: share(first.filter((c) => c.family === family)),
      found: cases.filter((c) => c.found === family).length,
      expected: cases.reduce(
        (sum, c) => sum + (c.said.find((s) => s.family === family)?.chance ?? 0),
        0,
      ),
    })).filter((r) => r.right.of + r.found > 0),
  };
}
