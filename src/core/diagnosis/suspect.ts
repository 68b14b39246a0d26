import { forCells } from '../batteries/chemistry.ts';
import { freezingPointC } from '../electrolyte/freezing.ts';
import {
  type CellCondition,
  makeBattery,
  PAST_EMPTY,
  type SimBattery,
} from '../simulation/battery.ts';
import { viewBattery, viewCell } from '../simulation/view.ts';
import { DESIGNS, type DesignKey } from '../simulation/design.ts';
import { CONSTANTS } from '../simulation/constants.ts';
import { REST, Stepper, type Tolerance } from '../simulation/step.ts';
import { CAUSE_KEYS, type CauseKey } from './causes.ts';
import {
  C,
  chancesOf,
  clamp,
  DRAWN_KEYS,
  FIXED,
  guess,
  hasFault,
  PER_CELL,
  uniform,
} from './chances.ts';
import { type Lived, livedThrough } from './lived.ts';
import { WAKE_BELOW_12V } from './wakeCurrents.ts';
import type { Fault } from './stories.ts';
import type { Subject } from './subject.ts';

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

/** The suspect that a set of chances stands for. */
export function suspectOf(subject: Subject, chances: Float64Array): Suspect {
  const { cells, chemistry } = subject;
  const design = DESIGNS[chemistry];
  // The chance of a size that nobody could read is the last one.
  const c20Ah = subject.sizeOff
    ? subject.c20Ah *
      Math.exp(subject.sizeOff * clamp(chances[chancesOf(cells)] as number, -2.5, 2.5))
    : subject.c20Ah;
  const z = (i: number): number => chances[i] as number;
  const happens = (fault: Fault): boolean => hasFault(subject, chances, fault);

  const factors: Partial<Record<DesignKey, number>> = {};
  DRAWN_KEYS.forEach((key, i) => {
    const { spread } = design.parameters[key];
    if (spread !== 1) factors[key] = spread ** clamp(z(FIXED + PER_CELL * cells + i), -2.5, 2.5);
  });
  factors.water = factors.acid ?? 1;

  const lived = livedThrough(subject, chances, factors);
  const { charge, hard, active, months } = lived;
  const has = {
    damaged: happens('damaged'),
    reversed: happens('reversed'),
    shorted: happens('shorted'),
    joint: happens('joint'),
    weak: happens('weak'),
    dry: happens('dry'),
    layered: happens('layered'),
  };
  const list = cellConditions({ cells, c20Ah }, chances, lived, has);
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

/** Each cell as its chances make it, from plus to minus: one of them may be another than the rest. */
function cellConditions(
  { cells, c20Ah }: Pick<Subject, 'cells' | 'c20Ah'>,
  chances: Float64Array,
  { days, charge, hard, film, active }: Lived,
  has: Readonly<Record<Fault, boolean>>,
): CellCondition[] {
  const z = (i: number): number => chances[i] as number;
  const odd = Math.min(cells - 1, Math.floor(uniform(z(C.oddCell)) * cells));
  const wholly = has.reversed && z(C.reversedHow) > 0.3;
  const dry = has.dry
    ? clamp(guess({ middle: 0.2, times: 1.6 }, z(C.dryHow)), CAUSE_LINES.dry, 0.55)
    : clamp(0.02 * 2 ** z(C.dryHow), 0, 0.06);
  const past = charge < -0.12;
  const scale = 60 / c20Ah;
  const shortOhm = scale * 0.05 * 6 ** clamp(z(C.shortedHow), -2, 2);
  return Array.from({ length: cells }, (_, k): CellCondition => {
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
