import { EVIDENCE, type Evidence, type EvidenceKind } from '../../src/core/diagnosis/evidence.ts';
import { FAMILY_KEYS, type FamilyKey } from '../../src/core/diagnosis/practice/families.ts';
import { featuresOf } from '../../src/core/diagnosis/practice/features.ts';
import { practiceOdds } from '../../src/core/diagnosis/practice/judge.ts';
import { clearingByPractice } from '../../src/core/diagnosis/practice/nextByPractice.ts';
import { type Random, seeded } from '../../src/core/simulation/random.ts';
import { fieldBattery, type FieldBattery } from './fieldBattery.ts';

/** Batteries of the field read one reading after another, in one order or another. */

/** Further readings that clear less than this a minute are not taken. */
const LEAST_PER_MINUTE = 0.004;

export type Order = (
  battery: FieldBattery,
  read: readonly Evidence[],
  left: readonly EvidenceKind[],
) => EvidenceKind | null;

const minutesOf = (kind: EvidenceKind): number => EVIDENCE[kind].minutes;

/** As a shop goes through its tools: what takes least time first. */
export const cheapestFirst: Order = (_, __, left) =>
  left.toSorted((a, b) => minutesOf(a) - minutesOf(b))[0] ?? null;

const featuresIn = (b: FieldBattery, read: readonly Evidence[]) =>
  featuresOf(
    { chemistry: b.chemistry, cells: 6, c20Ah: b.c20Ah, milliohm: b.soundMilliohm },
    read,
    null,
  );

const random = seeded(12);
export const nextBest: Order = (b, read, left) => {
  const [best] = clearingByPractice(
    b,
    featuresIn(b, read),
    new Set(read.map((e) => e.of)),
    (kind) => left.includes(kind),
    random,
  );
  return best && best.clears / best.minutes >= LEAST_PER_MINUTE ? best.kind : null;
};

/** What is said after each reading, how surely, and after how many minutes. */
export interface Said {
  family: FamilyKey;
  chance: number;
  minutes: number;
}

/** Reads until nothing is left that is worth its minutes. */
export function readAll(b: FieldBattery, order: Order): Said[] {
  const read: Evidence[] = b.evidence.filter((e) => e.of === 'rest-volts');
  let minutes = minutesOf('rest-volts');
  const said: Said[] = [];
  for (;;) {
    const { families } = practiceOdds(b, featuresIn(b, read));
    const family = FAMILY_KEYS.reduce((x, y) => (families[y] > families[x] ? y : x));
    said.push({ family, chance: families[family], minutes });
    const left = b.evidence.map((e) => e.of).filter((kind) => read.every((e) => e.of !== kind));
    const kind = order(b, read, left);
    const next = b.evidence.find((e) => e.of === kind);
    if (!next) return said;
    read.push(next);
    minutes += minutesOf(next.of);
  }
}

/** Minutes of all readings in a fixed order, and of the next-best ones alone, with how many of so many families were named. */
export function minutesToFamily(
  count: number,
  draws: Random,
): Record<'fixed' | 'best', { minutes: number; right: number }> {
  const batteries = Array.from({ length: count }, () =>
    fieldBattery(draws, { charged: false, takes: 1 }),
  );
  const over = (order: Order) => {
    const ends = batteries.map((b) => ({ b, end: readAll(b, order).at(-1) as Said }));
    return {
      minutes: ends.reduce((sum, { end }) => sum + end.minutes, 0) / count,
      right: ends.filter(({ b, end }) => end.family === b.family).length,
    };
  };
  return { fixed: over(cheapestFirst), best: over(nextBest) };
}
