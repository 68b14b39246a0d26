import type { ChemistryKey } from '../../batteries/chemistry.ts';
import type { StoryKey } from '../stories.ts';
import { type PictureKey, PICTURE_KEYS } from './families.ts';

/** How often each thing is met, by what happened to a battery; per cent, flooded. Bench experience, wide on purpose. */
interface Shares {
  flat: number;
  light: number;
  hard: number;
  badCell: number;
  dry: number;
  worn: number;
  layered: number;
  nothing: number;
}

const row = (
  flat: number,
  light: number,
  hard: number,
  badCell: number,
  dry: number,
  worn: number,
  layered: number,
  nothing: number,
): Shares => ({ flat, light, hard, badCell, dry, worn, layered, nothing });

const LEFT_ON = row(72, 8, 2, 5, 2, 6, 2, 3);
const PARKED_SHORT = row(38, 34, 6, 6, 3, 7, 2, 4);
const PARKED_LONG = row(8, 26, 42, 10, 4, 8, 0, 2);
const WEAK_YOUNG = row(14, 16, 4, 22, 6, 10, 16, 12);
const WEAK_OLD = row(6, 12, 6, 18, 10, 42, 3, 3);
const SHELF = row(22, 46, 20, 5, 2, 1, 2, 2);
const UNKNOWN = row(22, 20, 16, 14, 6, 14, 3, 5);
/** Of these two nobody has said how often; they are taken between the others. */
const SHORT_RUNS = row(16, 28, 8, 7, 3, 9, 23, 6);
const BOILED = row(6, 5, 3, 14, 42, 22, 1, 7);

/** A battery parked for so long is one that stood for months, days; and one so old is an old one, years. */
const LONG_DAYS = 105;
const OLD_YEARS = 3.5;

/** Of bad cells. */
const BAD_CELLS = { shorted: 0.38, weak: 0.34, leaking: 0.13, open: 0.1, reversed: 0.05 } as const;
/** Frozen, cracked: met by itself this often whatever the story, per cent. */
const DAMAGED = 1.2;

/**
 * Chance of each picture before anything is measured, 0–1.
 *
 * @param standingDays how long it stood; null where nobody knows
 * @param ageYears years in service; null where nobody knows
 */
export function priorOf(
  chemistry: ChemistryKey,
  story: StoryKey,
  standingDays: number | null,
  ageYears: number | null,
): Record<PictureKey, number> {
  const shares = sharesOf(story, standingDays, ageYears);
  const sealed = chemistry !== 'flooded';
  const dry = shares.dry * (sealed ? 2 : 1);
  const chances: Record<PictureKey, number> = {
    damaged: DAMAGED,
    reversed: shares.badCell * BAD_CELLS.reversed,
    shorted: shares.badCell * BAD_CELLS.shorted,
    open: shares.badCell * BAD_CELLS.open,
    leaking: shares.badCell * BAD_CELLS.leaking,
    weak: shares.badCell * BAD_CELLS.weak,
    worn: shares.worn,
    dry: sealed ? dry : 0,
    uncovered: sealed ? 0 : dry,
    hard: shares.hard,
    light: shares.light,
    layered: sealed ? 0 : shares.layered,
    flat: shares.flat,
    nothing: shares.nothing,
  };
  const total = PICTURE_KEYS.reduce((sum, key) => sum + chances[key], 0);
  for (const key of PICTURE_KEYS) chances[key] /= total;
  return chances;
}

function sharesOf(story: StoryKey, standingDays: number | null, ageYears: number | null): Shares {
  switch (story) {
    case 'left-on':
      return LEFT_ON;
    case 'parked':
      return (standingDays ?? LONG_DAYS) < LONG_DAYS ? PARKED_SHORT : PARKED_LONG;
    case 'weak':
      return (ageYears ?? OLD_YEARS) < OLD_YEARS ? WEAK_YOUNG : WEAK_OLD;
    case 'short-runs':
      return SHORT_RUNS;
    case 'shelf':
      return SHELF;
    case 'boiled':
      return BOILED;
    case 'unknown':
      return UNKNOWN;
  }
}
