import type { Moment } from '../quantities/moment.ts';
import { shareOfFew, type ShareOfFew } from '../recovery/record.ts';

/** A promise whose hour or whose battery has come, and what the day plan said of it when it was made. */
export interface PastPromise {
  jobId: string;
  tag: string;
  owner: string;
  promisedAt: Moment;
  saidAt: Moment;
  /** The chance that was said, 0–1. */
  said: number;
  /** When its even chance was. */
  middle: Moment | null;
  /** When it was ready; null where it is not yet, though its hour is over. */
  readyAt: Moment | null;
}

/** Bands of chances, as they are read: each from its first number to below the next. */
const CHANCE_BANDS = [0.9, 0.75, 0.5, 0.25, 0] as const;

/** Promises of about the same chance. */
export interface PromiseBand {
  from: number;
  /** Chance that was said, in the middle of them, 0–1. */
  said: number;
  kept: ShareOfFew;
  /** Fits what was said: the band that so few leave open (Wilson, 8 in 10) holds it. */
  says: 'fits' | 'too-sure' | 'too-careful' | 'too-few';
}

export interface PromisesKept {
  all: ShareOfFew;
  bands: PromiseBand[];
  /** Those not kept, the latest first, and all others after them. */
  past: PastPromise[];
}

/** Fewer than this many tell nothing. */
const FEW = 5;
const MOST_LISTED = 100;

export const wasKept = ({ promisedAt, readyAt }: PastPromise): boolean =>
  readyAt !== null && readyAt <= promisedAt;

/** How what was said of promises compares with what came. */
export function promisesKept(past: readonly PastPromise[]): PromisesKept {
  const counted = (of: readonly PastPromise[]): ShareOfFew =>
    shareOfFew(of.filter(wasKept).length, of.length);
  const bands = CHANCE_BANDS.flatMap((from, i): PromiseBand[] => {
    const below = CHANCE_BANDS[i - 1] ?? Infinity;
    const those = past.filter((p) => p.said >= from && p.said < below);
    if (those.length === 0) return [];
    const said = those.reduce((sum, p) => sum + p.said, 0) / those.length;
    const kept = counted(those);
    const says =
      kept.of < FEW
        ? 'too-few'
        : said > kept.high
          ? 'too-sure'
          : said < kept.low
            ? 'too-careful'
            : 'fits';
    return [{ from, said, kept, says }];
  });
  const latestFirst = past.toSorted(
    (a, b) => Number(wasKept(a)) - Number(wasKept(b)) || b.promisedAt - a.promisedAt,
  );
  return { all: counted(past), bands, past: latestFirst.slice(0, MOST_LISTED) };
}
