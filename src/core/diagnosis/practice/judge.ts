import type { ChemistryKey } from '../../batteries/chemistry.ts';
import { type Band, bandOf } from '../../rehearsal/outlook.ts';
import type { Random } from '../../simulation/random.ts';
import { pick } from '../readings/errors.ts';
import type { StoryKey } from '../stories.ts';
import {
  familiesOfPictures,
  type FamilyKey,
  type PictureKey,
  PICTURE_KEYS,
  PICTURES,
} from './families.ts';
import { type Feature, FULL_CELL_V, isCharged } from './features.ts';
import { priorOf } from './stories.ts';
import { BEFORE_CHARGE, type FeatureKey, FEATURES, type Range, TABLE, type Way } from './table.ts';

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
/**
 * What a reading from before the charge still counts, once it has been charged. Of the field as many are named rightly as if it
 * counted whole; of simulated batteries, 3 in 100 more.
 */
const OLD_COUNTS = 0.6;
/** The range of flooded batteries is shifted for acid that is stronger, from this voltage up, V. */
const SHIFT_FROM_V = 12.05;
const FLOODED_FULL_V = 6 * FULL_CELL_V.flooded;

/**
 * Weighs pictures by what was read.
 *
 * @param times how many times as likely the shop has found each family as practice has it
 */
export const practiceOdds = (
  told: Told,
  features: readonly Feature[],
  times: Partial<Record<FamilyKey, number>> = {},
): PracticeOdds => new Practice(told, features, times).odds([]);

/** A picture as it may look, one of its ways, mild or bad: where its readings lie, and the log likelihood of what was read. */
interface Case {
  lies: Lying;
  log: number;
}

/** Pictures with what was read of a battery, ready to be weighed with readings that might yet come. */
export class Practice {
  readonly #charged: boolean;
  readonly #cases: { key: PictureKey; prior: number; cases: Case[] }[];

  constructor(
    readonly told: Told,
    features: readonly Feature[],
    times: Partial<Record<FamilyKey, number>> = {},
  ) {
    this.#charged = isCharged(features);
    const prior = priorOf(told.chemistry, told.story, told.standingDays, told.ageYears);
    this.#cases = PICTURE_KEYS.filter((key) => prior[key] > 0).map((key) => ({
      key,
      prior: Math.log(prior[key] * (times[PICTURES[key]] ?? 1)),
      cases: TABLE[key].ways.flatMap((way) =>
        lyingIn(told.chemistry, key, way).map((lies) => ({
          lies,
          log: Math.log(way.share / CASES.length) + this.#fits(key, lies, features),
        })),
      ),
    }));
  }

  /** Log likelihood of readings in a case of a picture. */
  #fits(key: PictureKey, lies: Lying, features: readonly Feature[]): number {
    let log = 0;
    for (const { key: feature, value } of features)
      log +=
        (this.#charged && BEFORE_CHARGE.has(feature) ? OLD_COUNTS : 1) *
        (feature === 'bare'
          ? Math.log(
              value > 0.5 ? Math.max(0.01, TABLE[key].bare) : 1 - Math.min(0.97, TABLE[key].bare),
            )
          : Math.log(density(feature, value, lies[feature])));
    return log;
  }

  /** Chances with further readings besides. */
  odds(more: readonly Feature[]): PracticeOdds {
    const said = this.#cases.map(({ key, prior, cases }) => ({
      key,
      log:
        prior +
        logSum(
          cases.map((c) => (more.length === 0 ? c.log : c.log + this.#fits(key, c.lies, more))),
        ),
    }));
    const best = Math.max(...said.map((s) => s.log));
    const total = said.reduce((sum, s) => sum + Math.exp(s.log - best), 0);
    const pictures = Object.fromEntries(PICTURE_KEYS.map((key) => [key, 0])) as Record<
      PictureKey,
      number
    >;
    for (const { key, log } of said) pictures[key] = Math.exp(log - best) / total;
    return { pictures, families: familiesOfPictures(pictures) };
  }

  /**
   * Draws what these readings could be: a picture by its chance, a case of it by what was read already, and the reading as
   * practice has it there. One that the picture has no range for is left out.
   *
   * @param pictures their chances by what was read
   */
  draw(
    wanted: readonly FeatureKey[],
    pictures: Readonly<Record<PictureKey, number>>,
    random: Random,
  ): Feature[] {
    const drawnKey = pick(pictures, random);
    const cases = this.#cases.find((c) => c.key === drawnKey)?.cases ?? [];
    const best = Math.max(...cases.map((c) => c.log));
    let left = random.even() * cases.reduce((sum, c) => sum + Math.exp(c.log - best), 0);
    const drawn = cases.find((c) => (left -= Math.exp(c.log - best)) <= 0) ?? cases.at(-1);
    return wanted.flatMap((feature): Feature[] => {
      if (feature === 'bare')
        return [{ key: feature, value: Number(random.even() < TABLE[drawnKey].bare), from: null }];
      const lies = drawn?.lies[feature];
      if (!lies) return [];
      const { middle, deviation } = lies;
      const value = middle + deviation * random.normal();
      return [{ key: feature, value: isLog(feature) ? Math.exp(value) : value, from: null }];
    });
  }
}

/** Where a reading lies in a case, on the feature's own scale. */
interface Lies {
  middle: number;
  deviation: number;
}
type Lying = Partial<Record<FeatureKey, Lies>>;

/** How densely readings lie at a value; never 0. */
function density(feature: FeatureKey, value: number, lies: Lies | undefined): number {
  const { least, most } = FEATURES[feature];
  const anything = 1 / scaled(feature, most, least);
  if (!lies) return anything;
  const off = toScale(feature, value) - lies.middle;
  let fits = normal(off, lies.deviation);
  if (feature === 'short')
    fits =
      (1 - EARLY.share) * fits +
      EARLY.share * normal(off + EARLY.byV, Math.hypot(lies.deviation, EARLY.offV));
  return (1 - SLIP) * fits + SLIP * anything;
}

/** Worked out once for each kind of battery: the table stands, and a question asks for it thousands of times. */
const lying = new WeakMap<Way, Partial<Record<ChemistryKey, Lying[]>>>();

/** Where the readings of one way of a picture lie, from mild to bad. */
function lyingIn(chemistry: ChemistryKey, key: PictureKey, way: Way): readonly Lying[] {
  const known = lying.get(way) ?? {};
  lying.set(way, known);
  return (known[chemistry] ??= CASES.map(
    (bad) =>
      Object.fromEntries(
        Object.entries(way.ranges).map(([feature, range]) => [
          feature,
          liesAt(chemistry, key, feature as FeatureKey, range, bad),
        ]),
      ) as Lying,
  ));
}

/** Where readings of a case lie within its range, and how widely. */
function liesAt(
  chemistry: ChemistryKey,
  key: PictureKey,
  feature: FeatureKey,
  range: Range,
  bad: number,
): Lies {
  const [mild, worst] = shifted(chemistry, key, feature, range);
  const width = scaled(feature, worst, mild);
  return {
    middle:
      toScale(feature, mild) +
      (toScale(feature, worst) - toScale(feature, mild)) * (0.5 + WITH_CASE * (bad - 0.5)),
    deviation: Math.hypot(BESIDE_CASE * width, isLog(feature) ? 0.08 : FEATURES[feature].off),
  };
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
