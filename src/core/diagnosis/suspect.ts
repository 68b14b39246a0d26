import { type ChemistryKey, CHEMISTRIES, forCells } from '../batteries/chemistry.ts';
import { freezingPointC } from '../electrolyte/freezing.ts';
import {
  type BatterySize,
  type CellCondition,
  makeBattery,
  PAST_EMPTY,
  type SimBattery,
} from '../simulation/battery.ts';
import { viewBattery, viewCell } from '../simulation/view.ts';
import { DESIGN_KEYS, DESIGNS, type DesignKey } from '../simulation/design.ts';
import { CONSTANTS } from '../simulation/constants.ts';
import { type Random } from '../simulation/random.ts';
import { REST, Stepper, type Tolerance } from '../simulation/step.ts';
import { CAUSE_KEYS, type CauseKey } from './causes.ts';
import { WAKE_BELOW_12V } from './parallelWake.ts';
import {
  type Fault,
  FAULTS,
  type Guess,
  MOST_CHANCE,
  STORIES,
  type StoryKey,
  USUAL_FAULTS,
  WEAR_PER_YEAR,
} from './stories.ts';

/** What is known of a battery before it is measured. */
export interface Subject extends BatterySize {
  chemistry: ChemistryKey;
  /** Its size is an estimate: one deviation of the logarithm of C20. */
  sizeOff?: number;
  story: StoryKey;
  /** Days it stood and years in service, where somebody knows; null where nobody does. */
  standingDays: number | null;
  ageYears: number | null;
  /** As it stands on the bench, and the coldest it has been while it stood, °C. */
  temperatureC: number;
  coldestC: number | null;
}

/**
 * One battery that could be the one on the bench: a simulated twin at rest, what is the matter with it, and
 * the chances it was drawn by. All chances are standard normal, so that a small change of them is another
 * suspect of the same prior.
 */
export interface Suspect {
  chances: Float64Array;
  battery: SimBattery;
  causes: ReadonlySet<CauseKey>;
  /** The gravest cause that holds. */
  primary: CauseKey;
  /** Mean over its cells: active mass, and hard sulfate, share of C20. */
  active: number;
  hard: number;
}

/** Which chance decides what. Cells and design parameters have one each, after these. */
const C = {
  days: 0,
  age: 1,
  left: 2,
  drawn: 3,
  drawnWhen: 4,
  past: 5,
  collapse: 6,
  lost: 7,
  wear: 8,
  under: 9,
  underHow: 10,
  layered: 11,
  layeredHow: 12,
  dry: 13,
  dryHow: 14,
  weak: 15,
  weakHow: 16,
  shorted: 17,
  shortedHow: 18,
  joint: 19,
  jointHow: 20,
  reversed: 21,
  reversedHow: 22,
  damaged: 23,
  damagedHow: 24,
  oddCell: 25,
} as const;
const FIXED = 26;
/** For each cell: charge and active mass apart from the others, and how far its plates fell. */
const PER_CELL = 3;

/** Design parameters that a suspect has of its own. Acid and water stay with the maker's strength. */
const DRAWN_KEYS = DESIGN_KEYS.filter((key) => key !== 'recombination' && key !== 'water');

/** How many chances a suspect is drawn by. */
export function chancesOf(cells: number): number {
  return FIXED + PER_CELL * cells + DRAWN_KEYS.length;
}

/** Days a standing time may be off, and years an age, where somebody said so: as a factor. */
const SAID_TIMES = 1.2;
/** A deeply discharged battery has less charge left than this, and reads under what a charger takes. */
const DEEP_BELOW = 0.06;
const FLAT_BELOW = 0.6;
/** Limits of the names, share of C20 (hard sulfate), of active mass, of water, and SG. */
const CAUSE_LINES = { light: 0.06, hard: 0.16, worn: 0.78, dry: 0.1, layeredSg: 0.03 } as const;
/** Volts that drive a short, and how long its cell is given to settle in the model, s. */
const CELL_V = 2;
const SHORT_SETTLES_S = 900;
/** For hours on end: steps of an hour are true enough where nothing is hurried. */
export const HOURLY: Readonly<Tolerance> = {
  voltsPerCell: 0.01,
  charge: 0.01,
  longestS: 3600,
  longestRestS: 6 * 3600,
  transient: 1,
  patience: 140,
};

const uniform = (z: number): number => {
  // Normal distribution function, Abramowitz and Stegun 26.2.17, error below 1e-7.
  const t = 1 / (1 + 0.2316419 * Math.abs(z));
  const tail =
    0.3989422804 *
    Math.exp((-z * z) / 2) *
    t *
    (0.31938153 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))));
  return z > 0 ? 1 - tail : tail;
};
const clamp = (x: number, low: number, high: number): number =>
  x < low ? low : x > high ? high : x;
const guess = ({ middle, times }: Guess, z: number): number =>
  middle * times ** clamp(z, -2.5, 2.5);

/** Chance of a fault in a battery of this family with this story, 0–1. */
function faultChance({ story, chemistry }: Subject, fault: Fault): number {
  return clamp(
    STORIES[story].raised[fault] ?? USUAL_FAULTS[chemistry][fault] * STORIES[story].faults,
    0,
    MOST_CHANCE,
  );
}

/** Has a set of chances this fault? */
const hasFault = (subject: Subject, chances: Float64Array, fault: Fault): boolean =>
  uniform(chances[C[fault]] as number) < faultChance(subject, fault);

/**
 * Chances of a suspect of the prior, or, if `fault` is given, of one that has that fault: a fault in a hundred
 * would otherwise be met by hardly anybody of a small population.
 */
export function drawChances(subject: Subject, random: Random, fault: Fault | null): Float64Array {
  const length = chancesOf(subject.cells) + (subject.sizeOff ? 1 : 0);
  const chances = Float64Array.from({ length }, () => random.normal());
  if (fault && faultChance(subject, fault) > 0)
    while (!hasFault(subject, chances, fault)) chances[C[fault]] = random.normal();
  return chances;
}

/** How much likelier the prior draws these chances than half of it and half one fault after the other do. */
export function priorWeight(subject: Subject, chances: Float64Array): number {
  const possible = possibleFaults(subject);
  const forced = possible.reduce(
    (sum, fault) => sum + (hasFault(subject, chances, fault) ? 1 / faultChance(subject, fault) : 0),
    0,
  );
  return 1 / (0.5 + (0.5 * forced) / possible.length);
}

/** The faults that {@link drawChances} can be asked for. */
export function possibleFaults(subject: Subject): Fault[] {
  return FAULTS.filter((fault) => faultChance(subject, fault) > 0);
}

/** The suspect that a set of chances stands for. */
export function suspectOf(subject: Subject, chances: Float64Array): Suspect {
  const { cells, chemistry } = subject;
  const story = STORIES[subject.story];
  const design = DESIGNS[chemistry];
  // The chance of a size that nobody could read is the last one.
  const c20Ah = subject.sizeOff
    ? subject.c20Ah *
      Math.exp(subject.sizeOff * clamp(chances[chancesOf(cells)] as number, -2.5, 2.5))
    : subject.c20Ah;
  const z = (i: number): number => chances[i] as number;
  const happens = (fault: Fault): boolean => hasFault(subject, chances, fault);

  const days =
    subject.standingDays === null
      ? guess(story.standingDays, z(C.days))
      : guess({ middle: Math.max(0.1, subject.standingDays), times: SAID_TIMES }, z(C.days));
  const age =
    subject.ageYears === null
      ? guess(story.ageYears, z(C.age))
      : guess({ middle: Math.max(0.05, subject.ageYears), times: SAID_TIMES }, z(C.age));
  const factors: Partial<Record<DesignKey, number>> = {};
  DRAWN_KEYS.forEach((key, i) => {
    const { spread } = design.parameters[key];
    if (spread !== 1) factors[key] = spread ** clamp(z(FIXED + PER_CELL * cells + i), -2.5, 2.5);
  });
  factors.water = factors.acid ?? 1;

  const logit =
    Math.log(story.leftCharge.middle / (1 - story.leftCharge.middle)) +
    story.leftCharge.off * clamp(z(C.left), -2.5, 2.5);
  const put = 1 / (1 + Math.exp(-logit));
  const drawn = uniform(z(C.drawn)) < story.drawnEmpty;
  const monthly =
    CHEMISTRIES[chemistry].selfDischargePerMonth *
    (1 + 0.25 * age) *
    1.5 ** clamp(z(C.lost), -2.5, 2.5);
  const kept = put * Math.exp((-monthly * days) / 30);
  // Drawn empty within some days of those it stood; then it waited, empty.
  const emptyDays = drawn ? days * uniform(z(C.drawnWhen)) : 0;
  const charge = drawn ? PAST_EMPTY * uniform(z(C.past)) ** 2 : kept;

  const months =
    uniform(z(C.under)) < story.undercharged ? guess({ middle: 4, times: 1.8 }, z(C.underHow)) : 0;
  const empty = clamp(1 - charge, 0, 1.2);
  const rate = design.parameters.hardening.value * (factors.hardening ?? 1) * 24;
  const standing = drawn
    ? emptyDays * empty ** 2
    : days * ((1 - put) ** 2 + (1 - put) * empty + empty ** 2) * (1 / 3);
  // Second order in the fresh sulfate, as the kernel hardens it: S − S/(1 + k S t).
  const hardened = (share: number, dayWeight: number): number =>
    share <= 0 ? 0 : share - share / (1 + (rate * dayWeight) / share);
  const hard = clamp(
    hardened(Math.max(empty, 0.05), standing) + hardened(0.4, months * 30 * 0.16),
    0,
    0.85,
  );
  // The film closes likewise, towards its most.
  const filming =
    design.parameters.filming.value * (factors.filming ?? 1) * 24 * (standing + months * 30 * 0.16);
  const film = CONSTANTS.MOST_FILM * (1 - Math.exp(-filming / CONSTANTS.MOST_FILM));
  const wear = guess(WEAR_PER_YEAR, z(C.wear)) * story.wear * age;
  const active = clamp(1.03 - wear, 0.25, 1.03);

  const odd = Math.min(cells - 1, Math.floor(uniform(z(C.oddCell)) * cells));
  const has = {
    damaged: happens('damaged'),
    reversed: happens('reversed'),
    shorted: happens('shorted'),
    joint: happens('joint'),
    weak: happens('weak'),
    dry: happens('dry'),
    layered: happens('layered'),
  };
  const wholly = has.reversed && z(C.reversedHow) > 0.3;
  const dry = has.dry
    ? clamp(guess({ middle: 0.2, times: 1.6 }, z(C.dryHow)), CAUSE_LINES.dry, 0.55)
    : clamp(0.02 * 2 ** z(C.dryHow), 0, 0.06);
  const past = charge < -0.12;
  const scale = 60 / c20Ah;
  const shortOhm = scale * 0.05 * 6 ** clamp(z(C.shortedHow), -2, 2);
  const list = Array.from({ length: cells }, (_, k): CellCondition => {
    const drawnOwn = (offset: number): number => clamp(z(FIXED + PER_CELL * k + offset), -2.5, 2.5);
    const isOdd = k === odd;
    const weakBy = has.weak && isOdd ? clamp(0.45 + 0.17 * z(C.weakHow), 0.15, 0.8) : 1;
    const works = clamp(active * weakBy * (1 + 0.012 * drawnOwn(1)), 0.1, 1.05);
    const cell: CellCondition = {
      active: works,
      hard: clamp(hard * works * (1 + 0.08 * drawnOwn(0)), 0, works - 0.05),
      dry: clamp(
        dry * (1 + 0.1 * drawnOwn(1)) + (has.weak && isOdd && z(C.weakHow) < -0.3 ? 0.08 : 0),
        0,
        0.6,
      ),
      film: clamp(film * (1 + 0.08 * drawnOwn(0)), 0, CONSTANTS.MOST_FILM),
      // A weak cell is emptied as far as the others by the same charge, and filled less: 0.03–0.08 SG below them.
      behind:
        0.012 * Math.abs(drawnOwn(0)) +
        (has.weak && isOdd ? clamp(0.3 - 0.1 * z(C.weakHow), 0.12, 0.55) : 0),
    };
    if (has.shorted && isOdd)
      Object.assign(cell, {
        shortOhm,
        behind: Math.min(1.2, ((CELL_V / shortOhm) * 24 * Math.min(days, 30)) / c20Ah),
      });
    if (has.joint && isOdd) cell.jointOhm = scale * 0.02 * 8 ** clamp(z(C.jointHow), -2, 2.5);
    if (wholly || (has.reversed && isOdd)) cell.reversed = true;
    // Past empty the acid holds nothing up: how far the volts fell is chance, some of it shared by the cells.
    if (past) cell.platesV = 2 * uniform(0.8 * z(C.collapse) + 0.6 * drawnOwn(2));
    if (has.damaged && (isOdd || z(C.damagedHow) > 0.8))
      Object.assign(cell, {
        active: works * 0.4,
        hard: Math.min(cell.hard ?? 0, works * 0.4 - 0.04),
        shortOhm: scale * 0.2,
      });
    return cell;
  });
  const layeredSg = has.layered
    ? clamp(guess({ middle: 0.06, times: 1.5 }, z(C.layeredHow)), CAUSE_LINES.layeredSg, 0.14)
    : 0;
  const battery = makeBattery(
    design,
    subject.sizeOff ? { ...subject, c20Ah } : subject,
    {
      charge: clamp(charge, PAST_EMPTY, 1),
      temperatureC: subject.temperatureC,
      layeredSg,
      cells: list,
    },
    subject.temperatureC,
    factors,
  );
  // The current of the short flows now, too.
  if (has.shorted || has.damaged) new Stepper(battery, HOURLY).run(REST, SHORT_SETTLES_S);

  const frozen = subject.coldestC !== null && freezes(battery, subject.coldestC);
  const causes = new Set<CauseKey>();
  if (has.damaged || (frozen && uniform(z(C.damaged)) < 0.8)) causes.add('damaged');
  for (const key of ['reversed', 'shorted', 'joint', 'weak', 'dry', 'layered'] as const)
    if (has[key]) causes.add(key);
  if (active < CAUSE_LINES.worn) causes.add('worn');
  if (hard >= CAUSE_LINES.hard) causes.add('hard');
  else if (hard >= CAUSE_LINES.light) causes.add('light');
  if (months > 0) causes.add('undercharged');
  if (isDeep(battery, charge)) causes.add('deep');
  else if (charge < FLAT_BELOW) causes.add('flat');
  if (causes.size === 0) causes.add('sound');
  return {
    chances,
    battery,
    causes,
    primary: CAUSE_KEYS.find((key) => causes.has(key)) ?? 'sound',
    active,
    hard,
  };
}

/** Emptied so far that it has to be woken? By its charge and by its volts: a cell that is dead lowers the volts alone. */
export function isDeep(battery: SimBattery, charge: number): boolean {
  return (
    charge < DEEP_BELOW && viewBattery(battery).openV < forCells(WAKE_BELOW_12V, battery.cells)
  );
}

/** Would the acid of its weakest cell have frozen? Below SG 1.10 it freezes between there and 0 °C. */
function freezes(battery: SimBattery, coldestC: number): boolean {
  let weakest = Infinity;
  for (let k = 0; k < battery.cells; k++) weakest = Math.min(weakest, viewCell(battery, k).sgTop);
  return (
    coldestC <=
    (freezingPointC(weakest) ?? (weakest < 1.1 ? -8 * Math.max(0, (weakest - 1) / 0.1) : -70))
  );
}
