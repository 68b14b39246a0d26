import type { ChemistryKey } from '../../batteries/chemistry.ts';
import { type Band, bandOf } from '../../rehearsal/outlook.ts';
import type { StoryKey } from '../stories.ts';
import {
  familiesOfPictures,
  type FamilyKey,
  type PictureKey,
  PICTURE_KEYS,
  PICTURES,
} from './families.ts';
import { type Feature, FULL_CELL_V } from './features.ts';
import { priorOf } from './stories.ts';
import { type FeatureKey, FEATURES, type Range, TABLE, type Way } from './table.ts';

/** What practice says of a battery: how likely each picture is, and each family, by its readings and its story. */
export interface PracticeOdds {
  pictures: Record<PictureKey, number>;
  families: Record<FamilyKey, number>;
}

/** What happened to a battery, where somebody knows. */
export interface Told {
  chemistry: ChemistryKey;
  story: StoryKey;
  standingDays: number | null;
  ageYears: number | null;
}

/** Cases from mild to bad that a picture is looked at in: readings of one battery are mild or bad together. */
const CASES = [0.05, 0.2, 0.35, 0.5, 0.65, 0.8, 0.95] as const;
/** How much of a range goes with the case, and how wide what is left is, share of the range. */
const WITH_CASE = 0.75;
const BESIDE_CASE = 0.2;
/** One reading in so many is a slip: typed wrong, another meter's, another battery's. */
const SLIP = 0.04;
/** One voltage in so many after a charge is read while the surface still holds it up, by so much, V. */
const EARLY = { share: 0.1, byV: 0.2, offV: 0.1 };
/** Readings tell less together than each by itself: they share meters, hands and history. */
const TRUST = 0.95;
/** The range of flooded batteries is shifted for acid that is stronger, from this voltage up, V. */
const SHIFT_FROM_V = 12.05;
const FLOODED_FULL_V = 6 * FULL_CELL_V.flooded;

/**
 * Weighs pictures by what was read.
 *
 * @param times how many times as likely the shop has found each family as practice has it
 */
export function practiceOdds(
  told: Told,
  features: readonly Feature[],
  times: Partial<Record<FamilyKey, number>> = {},
): PracticeOdds {
  const prior = priorOf(told.chemistry, told.story, told.standingDays, told.ageYears);
  const said = PICTURE_KEYS.map((key) =>
    prior[key] > 0
      ? Math.log(prior[key] * (times[PICTURES[key]] ?? 1)) +
        TRUST * pictureLikelihood(told.chemistry, key, features)
      : -Infinity,
  );
  const best = Math.max(...said);
  const weights = said.map((l) => Math.exp(l - best));
  const total = weights.reduce((a, b) => a + b, 0);
  const pictures = Object.fromEntries(
    PICTURE_KEYS.map((key, i) => [key, (weights[i] as number) / total]),
  ) as Record<PictureKey, number>;
  return { pictures, families: familiesOfPictures(pictures) };
}

/** Log likelihood of what was read, if this were the picture. */
function pictureLikelihood(
  chemistry: ChemistryKey,
  key: PictureKey,
  features: readonly Feature[],
): number {
  const { ways, bare } = TABLE[key];
  const likelihoods: number[] = [];
  for (const way of ways)
    for (const bad of CASES) {
      let sum = Math.log(way.share / CASES.length);
      for (const { key: feature, value } of features)
        sum +=
          feature === 'bare'
            ? Math.log(value > 0.5 ? Math.max(0.01, bare) : 1 - Math.min(0.97, bare))
            : Math.log(density(chemistry, key, way, feature, value, bad));
      likelihoods.push(sum);
    }
  return logSum(likelihoods);
}

/** How densely readings of a picture lie at a value; never 0. */
function density(
  chemistry: ChemistryKey,
  key: PictureKey,
  way: Way,
  feature: FeatureKey,
  value: number,
  bad: number,
): number {
  const { least, most, off } = FEATURES[feature];
  const anything = 1 / scaled(feature, most, least);
  const range = way.ranges[feature];
  if (!range) return anything;
  const [mild, worst] = shifted(chemistry, key, feature, range);
  const width = scaled(feature, worst, mild);
  const middle =
    toScale(feature, mild) +
    (toScale(feature, worst) - toScale(feature, mild)) * (0.5 + WITH_CASE * (bad - 0.5));
  const deviation = Math.hypot(BESIDE_CASE * width, isLog(feature) ? 0.08 : off);
  const scaledValue = toScale(feature, value);
  let fits = normal(scaledValue - middle, deviation);
  if (feature === 'short')
    fits =
      (1 - EARLY.share) * fits +
      EARLY.share * normal(scaledValue - middle + EARLY.byV, Math.hypot(deviation, EARLY.offV));
  return (1 - SLIP) * fits + SLIP * anything;
}

/** Resistance goes by ratios: 2 to 4 is as far as 10 to 20. */
const isLog = (feature: FeatureKey): boolean => feature === 'ohms' || feature === 'ohmsAfter';
const toScale = (feature: FeatureKey, value: number): number =>
  isLog(feature) ? Math.log(Math.max(0.2, value)) : value;
const scaled = (feature: FeatureKey, a: number, b: number): number =>
  Math.abs(toScale(feature, a) - toScale(feature, b));

/** A range of flooded batteries, as it lies where the acid is stronger; ranges of sealed ones stand as they are. */
function shifted(
  chemistry: ChemistryKey,
  key: PictureKey,
  feature: FeatureKey,
  [mild, bad]: Range,
): Range {
  if (feature !== 'volts' || key === 'dry') return [mild, bad];
  const by = 6 * FULL_CELL_V[chemistry] - FLOODED_FULL_V;
  const move = (v: number): number => (v > SHIFT_FROM_V ? v + by : v);
  return [move(mild), move(bad)];
}

const normal = (off: number, deviation: number): number =>
  Math.exp(-0.5 * (off / deviation) ** 2) / (deviation * 2.5066);

function logSum(logs: readonly number[]): number {
  const best = Math.max(...logs);
  return best + Math.log(logs.reduce((sum, l) => sum + Math.exp(l - best), 0));
}

/** The range of a reading in a picture, of the way that a value lies nearest to; null where practice has none. */
export function rangeOf(
  chemistry: ChemistryKey,
  key: PictureKey,
  feature: FeatureKey,
  value: number | null,
): Range | null {
  const ranges = TABLE[key].ways.flatMap(({ ranges: r }) => {
    const range = r[feature];
    return range ? [shifted(chemistry, key, feature, range)] : [];
  });
  const away = ([a, b]: Range): number =>
    value === null ? 0 : Math.max(0, Math.min(a, b) - value, value - Math.max(a, b));
  return ranges.toSorted((a, b) => away(a) - away(b))[0] ?? null;
}

/** Steps that a range is counted in. */
const STEPS = 20;

/** What it will hold in the end by practice, over all pictures: share of C20, middle and 8 of 10. */
export function recoverable(pictures: Readonly<Record<PictureKey, number>>): Band {
  const values: number[] = [];
  const weights: number[] = [];
  for (const key of PICTURE_KEYS) {
    const [mild, bad] = TABLE[key].ends;
    for (let i = 0; i < STEPS; i++) {
      values.push(mild + ((bad - mild) * (i + 0.5)) / STEPS);
      weights.push(pictures[key] / STEPS);
    }
  }
  return bandOf(values, weights);
}
