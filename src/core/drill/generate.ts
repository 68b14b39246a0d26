import { leadAcidKind } from '../batteries/kinds.ts';
import type { BatteryModel } from '../batteries/model.ts';
import { FAMILIES, type PictureKey } from '../diagnosis/practice/families.ts';
import { priorOf } from '../diagnosis/practice/stories.ts';
import { pick } from '../diagnosis/readings/errors.ts';
import { type StoryKey } from '../diagnosis/stories.ts';
import type { CellCondition } from '../simulation/battery.ts';
import { type Random, seeded } from '../simulation/random.ts';
import { CHARGERS, MODELS, told, usualWetMassG } from './cases/shop.ts';
import type { Decision, DrillCase, Truth } from './case.ts';
import { seedOf } from './seed.ts';
import { DEFENSIBLE, endsOf, truthOf } from './truth.ts';

/**
 * Cases without end. A code says the version of this generator, the level and the draw: `G12-7KQ2M`. The same code is the same
 * battery for everybody and for good, so what is drawn and in which order may not change within a version; another draw is
 * another version, and the old one stays beside it.
 */

const CODE = /^G1([1-4])-([0-9A-HJKMNP-TV-Z]{5})$/;
/** Letters and digits that are not taken for one another (Crockford's base 32). */
const LETTERS = '0123456789ABCDEFGHJKMNPQRSTVWXYZ';
export const GENERATED_LEVELS = [1, 2, 3, 4] as const;
export type GeneratedLevel = (typeof GENERATED_LEVELS)[number];

/** What changes with the level: how hard it is to be told, not how ill it is. */
const LEVELS: Readonly<
  Record<
    GeneratedLevel,
    { pictures: readonly PictureKey[] | null; wrongStory: number; meterOff: number; second: number }
  >
> = {
  1: {
    pictures: ['flat', 'light', 'shorted', 'damaged', 'nothing'],
    wrongStory: 0,
    meterOff: 0,
    second: 0,
  },
  2: { pictures: null, wrongStory: 0, meterOff: 0, second: 0 },
  3: { pictures: null, wrongStory: 0.15, meterOff: 0.1, second: 0.25 },
  4: { pictures: null, wrongStory: 0.4, meterOff: 0.3, second: 0.4 },
};

/** A new code of a level. @param chance evenly drawn numbers, 0–1 */
export const newCode = (level: GeneratedLevel, chance: () => number): string =>
  `G1${level}-${Array.from({ length: 5 }, () => LETTERS[Math.floor(chance() * LETTERS.length)]).join('')}`;

/** The case of a code, as anybody may type it; undefined where it is none of this generator's. */
export function generatedCase(typed: string): DrillCase | undefined {
  const code = typed.trim().toUpperCase();
  const level = Number(CODE.exec(code)?.[1]) as GeneratedLevel;
  if (!LEVELS[level]) return undefined;
  const known = made.get(code);
  if (known) return known;
  if (made.size >= MOST_KNOWN) made.clear();
  const drillCase = make(code, level);
  made.set(code, drillCase);
  return drillCase;
}

const made = new Map<string, DrillCase>();
const MOST_KNOWN = 50;

interface Teller {
  story: StoryKey;
  days: readonly [number, number] | null;
  years: readonly [number, number];
  says: readonly string[];
}

const TELLERS: readonly Teller[] = [
  {
    story: 'left-on',
    days: [1, 12],
    years: [0.5, 5],
    says: ['The lights were on.', 'Something was left on, I do not know for how long.'],
  },
  {
    story: 'parked',
    days: [30, 100],
    years: [1, 6],
    says: ['It stood since the season ended.', 'Nobody drove it for two or three months.'],
  },
  {
    story: 'parked',
    days: [120, 500],
    years: [2, 7],
    says: ['It stood all last year.', 'It was in the barn for a long time.'],
  },
  {
    story: 'weak',
    days: null,
    years: [0.5, 2.9],
    says: ['It has been weak for weeks.', 'It starts, and an hour later it does not.'],
  },
  {
    story: 'weak',
    days: null,
    years: [4, 9],
    says: ['It gets slower every winter.', 'It was good for years, and now it is not.'],
  },
  {
    story: 'short-runs',
    days: null,
    years: [1, 5],
    says: ['Only short ways, every day.', 'It runs ten minutes at a time.'],
  },
  {
    story: 'unknown',
    days: null,
    years: [1, 8],
    says: ['It came with the machine. I know nothing of it.', 'It was here when I began.'],
  },
];

const OPEN: readonly BatteryModel[] = [MODELS.fell45, MODELS.fell60, MODELS.fell74, MODELS.fell11];
const SEALED: readonly BatteryModel[] = [MODELS.hut60, MODELS.hut18, MODELS.hut100];

function make(code: string, level: GeneratedLevel): DrillCase {
  const random = seeded(seedOf(code));
  const { pictures: only, wrongStory, meterOff, second } = LEVELS[level];
  const between = (low: number, high: number): number => low + (high - low) * random.even();
  const oneFrom = <T>(list: readonly T[]): T => list[Math.floor(random.even() * list.length)] as T;
  const model = random.even() < 0.6 ? oneFrom(OPEN) : oneFrom(SEALED);
  const { chemistry, ports } = leadAcidKind(model.kind);
  const teller = oneFrom(TELLERS);
  const days = teller.days && Math.round(between(...teller.days));
  const years = Number(between(...teller.years).toFixed(1));
  const prior = priorOf(chemistry, teller.story, days, years);
  const picture = pick(
    Object.fromEntries(
      Object.entries(prior).map(([key, chance]) => [
        key,
        only === null || only.includes(key as PictureKey) ? chance : 0,
      ]),
    ) as Record<PictureKey, number>,
    random,
  );
  const truth = truthOf(picture, model, random);
  const another = random.even() < second ? oneFrom(SECOND_FAULTS) : null;
  if (another && !truth.never) another(truth, model.cells, random);
  const liar = random.even() < wrongStory ? oneFrom(TELLERS) : teller;
  const off = random.even() < meterOff ? (random.even() < 0.5 ? 1.025 : 0.975) : null;
  const finds = findsOf(picture, random);
  const wetMassG = usualWetMassG(model);
  const open = ports === 'serviceable';
  const right = picture === 'damaged' ? (['refused'] as const) : endsOf(truth, model, open);
  return {
    code,
    level,
    title: oneFrom(TITLES),
    about: `Drawn for level ${level}. Nobody knows what it is.`,
    purpose: 'recover',
    model,
    forWhom: oneFrom(OWNERS),
    dateCode: `20${String(26 - Math.ceil(years)).padStart(2, '0')}-0${1 + Math.floor(random.even() * 9)}`,
    story: {
      says: oneFrom(liar.says),
      told: told(
        liar.story,
        liar === teller ? days : liar.days && Math.round(between(...liar.days)),
        years,
      ),
    },
    finds,
    truth,
    roomC: Math.round(between(17, 23)),
    chargers: [
      CHARGERS.supply,
      model.nominalV === 12 ? CHARGERS.four : CHARGERS.one,
      ...(random.even() < 0.5 ? [CHARGERS.recovery] : []),
    ],
    ...(off === null ? {} : { meterShows: off }),
    ...(wetMassG === undefined ? {} : { wetMassG }),
    right,
    defensible: DEFENSIBLE[right[0] as Decision] ?? [],
    teaches: `${FAMILIES[truth.family].plain}${off === null ? '' : ' And the meter was off: two instruments that disagree are worth a third.'}${liar === teller ? '' : ' What was told did not go with the battery.'}`,
  };
}

const TITLES = [
  'From the counter',
  'Left at the door',
  'On the bench this morning',
  'Out of a machine',
  'With a note on it',
  'From the back of the shelf',
] as const;
const OWNERS = [
  'A farm up the valley',
  'The sawmill',
  'A camp site',
  'A fishing hut',
  'The school bus',
] as const;

/** A second fault beside the first, mild enough not to be the main one. */
const SECOND_FAULTS: readonly ((truth: Truth, cells: number, random: Random) => void)[] = [
  (truth, cells, random) =>
    eachCell(truth, cells, (cell) => ({
      ...cell,
      active: (cell.active ?? 1) * (0.82 + 0.1 * random.even()),
    })),
  (truth, cells, random) =>
    eachCell(truth, cells, (cell) => ({ ...cell, hard: (cell.hard ?? 0) + 0.08 * random.even() })),
  (truth, _, random) => {
    truth.condition = { ...truth.condition, resistance: 1.1 + 0.2 * random.even() };
  },
];

function eachCell(
  truth: Truth,
  cells: number,
  change: (cell: CellCondition) => CellCondition,
): void {
  truth.condition = {
    ...truth.condition,
    cells: Array.from({ length: cells }, (_, k) => change(truth.condition.cells?.[k] ?? {})),
  };
}

function findsOf(picture: PictureKey, random: Random): DrillCase['finds'] {
  if (picture === 'uncovered')
    return { levels: { good: false, says: 'Plates bare in every cell.' } };
  if (picture !== 'damaged') return {};
  const draw = random.even();
  if (draw < 0.4) return { case: { good: false, says: 'A crack along the bottom edge, wet.' } };
  if (draw < 0.7) return { frost: { good: false, says: 'Ice under its caps.' } };
  return { posts: { good: false, says: 'The negative post turns in the lid.' } };
}
