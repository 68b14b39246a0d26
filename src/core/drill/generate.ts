import { leadAcidKind } from '../batteries/kinds.ts';
import type { BatteryModel } from '../batteries/model.ts';
import { follow, GRADE_LINES, routeFit, routeFits } from '../diagnosis/outcome.ts';
import {
  FAMILIES,
  type FamilyKey,
  type PictureKey,
  PICTURES,
} from '../diagnosis/practice/families.ts';
import { priorOf } from '../diagnosis/practice/stories.ts';
import { pick } from '../diagnosis/readings/errors.ts';
import { type RouteKey, ROUTES } from '../diagnosis/routes.ts';
import { type StoryKey } from '../diagnosis/stories.ts';
import { REST, Stepper } from '../simulation/step.ts';
import { type CellCondition, type Condition, makeBattery } from '../simulation/battery.ts';
import { DESIGNS } from '../simulation/design.ts';
import { labelledSize } from '../simulation/labelled.ts';
import { type Random, seeded } from '../simulation/random.ts';
import { alike, CHARGERS, MODELS, oneOf, told } from './cases/shop.ts';
import type { Decision, DrillCase, Truth } from './case.ts';
import { seedOf } from './seed.ts';

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

/** A new code of a level. @param even evenly drawn numbers, 0–1 */
export const newCode = (level: GeneratedLevel, even: () => number): string =>
  `G1${level}-${Array.from({ length: 5 }, () => LETTERS[Math.floor(even() * LETTERS.length)]).join('')}`;

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
  const wetMassG = chemistry === 'flooded' ? undefined : Math.round(model.c20Ah * 310);
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
    teaches: `${FAMILIES[truth.family].plain}${off === null ? '' : ' And the meter was off: two instruments that disagree are worth a third.'}${liar === teller ? '' : ' The story was another one than the battery’s.'}`,
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

/** Ends beside the right one that can be defended. */
const DEFENSIBLE: Readonly<Partial<Record<Decision, readonly Decision[]>>> = {
  passed: ['light'],
  light: ['recycle'],
  recycle: [],
};

/** What a battery of a picture truly is, from mild to bad. */
function truthOf(picture: PictureKey, { cells, c20Ah }: BatteryModel, random: Random): Truth {
  const between = (low: number, high: number): number => low + (high - low) * random.even();
  const odd = Math.floor(random.even() * cells);
  const family: FamilyKey = PICTURES[picture];
  const truth = (condition: Omit<Condition, 'temperatureC'>, more: Partial<Truth> = {}): Truth => ({
    condition: { ...condition, temperatureC: 20 },
    family,
    ...more,
  });
  const ohm = (at60: number): number => (at60 * 60) / c20Ah;
  switch (picture) {
    case 'damaged':
      return truth({ charge: between(0.2, 0.7) }, { never: true });
    case 'reversed':
      return truth({ charge: 0.5, cells: alike(cells, { reversed: true }) }, { never: true });
    case 'shorted':
      return truth(
        {
          charge: between(0.6, 0.9),
          cells: oneOf(cells, odd, { shortOhm: ohm(between(0.03, 0.12)), behind: 0.6 }, {}),
        },
        { stoodH: between(4, 30) },
      );
    case 'open':
      return truth({
        charge: between(0.6, 0.95),
        cells: oneOf(cells, odd, { jointOhm: ohm(between(0.2, 3)) }, {}),
      });
    case 'leaking':
      return truth(
        {
          charge: between(0.6, 0.85),
          cells: oneOf(cells, odd, { shortOhm: ohm(between(2, 5)), behind: 0.05 }, {}),
        },
        { stoodH: 12 },
      );
    case 'weak':
      return truth({
        charge: between(0.8, 0.95),
        cells: oneOf(
          cells,
          odd,
          { active: between(0.25, 0.45), behind: between(0.15, 0.28) },
          { active: 0.93 },
        ),
      });
    case 'worn':
      return truth({
        charge: between(0.8, 0.95),
        resistance: between(1.2, 1.6),
        cells: alike(cells, { active: between(0.35, 0.6) }),
      });
    case 'dry':
      return truth({
        charge: between(0.75, 0.95),
        cells: alike(cells, { dry: between(0.18, 0.38), active: between(0.8, 0.95) }),
      });
    case 'uncovered':
      return truth({
        charge: between(0.5, 0.8),
        cells: alike(cells, { dry: between(0.28, 0.4), active: between(0.7, 0.9) }),
      });
    case 'hard':
      return truth({
        charge: between(0.08, 0.3),
        cells: alike(cells, { hard: between(0.45, 0.65), film: between(1.5, 2.3) }),
      });
    case 'light':
      return truth({
        charge: between(0.3, 0.6),
        cells: alike(cells, { hard: between(0.12, 0.26), film: between(0.4, 1) }),
      });
    case 'layered':
      return truth({ charge: between(0.7, 0.85), layeredSg: between(0.06, 0.1) });
    case 'flat': {
      const deep = random.even() < 0.2;
      return truth(
        deep
          ? { charge: -0.1, cells: alike(cells, { platesV: between(0.3, 1.2) }) }
          : { charge: between(0.08, 0.5) },
      );
    }
    case 'nothing':
      return truth({ charge: between(0.9, 0.98) });
  }
}

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

const TRIED: readonly RouteKey[] = ['recharge', 'slow-restore', 'mix'];
/** So near to a line of the verdict either side is right, share of C20. */
const NEAR_LINE = 0.06;

/** Which ends are right: by what the best of the usual routes would make of it, which only the simulation can know. */
function endsOf(truth: Truth, model: BatteryModel, open: boolean): Decision[] {
  if (truth.never) return ['recycle'];
  const { chemistry } = leadAcidKind(model.kind);
  const battery = makeBattery(DESIGNS[chemistry], labelledSize(model), truth.condition, 20);
  new Stepper(battery).run(REST, (truth.stoodH ?? 0) * 3600);
  const suspect = {
    chances: new Float64Array(0),
    battery,
    causes: new Set<never>(),
    primary: 'flat' as const,
    active: 1,
    hard: 0,
  };
  const outcomes = TRIED.filter((key) => routeFits(ROUTES[key], chemistry, open)).flatMap((key) => {
    const fit = routeFit(ROUTES[key], { chemistry, cells: model.cells, c20Ah: model.c20Ah });
    return fit ? [follow(suspect, ROUTES[key], fit, open)] : [];
  });
  const best = outcomes.toSorted((a, b) => rank(b) - rank(a))[0];
  if (!best || best.grade === 'none') {
    const near = (best?.weekLoss ?? 1) <= GRADE_LINES.weekLoss;
    return near && (best?.capacity ?? 0) > GRADE_LINES.light - NEAR_LINE
      ? ['recycle', 'light']
      : ['recycle'];
  }
  if (best.grade === 'return')
    return best.capacity < GRADE_LINES.return + NEAR_LINE ? ['passed', 'light'] : ['passed'];
  if (best.capacity > GRADE_LINES.return - NEAR_LINE) return ['light', 'passed'];
  return best.capacity < GRADE_LINES.light + NEAR_LINE ? ['light', 'recycle'] : ['light'];
}

const rank = ({ grade, capacity }: { grade: string; capacity: number }): number =>
  (grade === 'return' ? 2 : grade === 'light' ? 1 : 0) + capacity / 10;
