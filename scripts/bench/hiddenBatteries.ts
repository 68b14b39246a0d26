import type { ChemistryKey } from '../../src/core/batteries/chemistry.ts';
import { CAUSE_KEYS, type CauseKey } from '../../src/core/diagnosis/causes.ts';
import type { Evidence, EvidenceKind } from '../../src/core/diagnosis/evidence.ts';
import { observe } from '../../src/core/diagnosis/readings/readings.ts';
import { Showing, soundOhms } from '../../src/core/diagnosis/showing.ts';
import { STORY_KEYS, type StoryKey } from '../../src/core/diagnosis/stories.ts';
import type { Subject } from '../../src/core/diagnosis/subject.ts';
import { isDeep, type Suspect } from '../../src/core/diagnosis/suspect.ts';
import {
  type CellCondition,
  makeBattery,
  type SimBattery,
} from '../../src/core/simulation/battery.ts';
import { DESIGNS } from '../../src/core/simulation/design.ts';
import { type Random } from '../../src/core/simulation/random.ts';
import { REST, Stepper } from '../../src/core/simulation/step.ts';
import { drawFactors } from '../../src/core/simulation/twins.ts';

/**
 * Batteries with a hidden cause, drawn unlike the prior: the cause first and evenly spread numbers after it,
 * a wider design, a story that often does not fit, meters with a bias, now and then a slip of the pen.
 */
export interface Hidden {
  subject: Subject;
  /** The same build, new and full: what its maker rated. */
  sound: SimBattery;
  truth: Suspect;
  evidence: Evidence[];
}

const MIX: readonly (readonly [CauseKey, number])[] = [
  ['flat', 0.27],
  ['deep', 0.13],
  ['light', 0.11],
  ['hard', 0.12],
  ['layered', 0.05],
  ['dry', 0.07],
  ['worn', 0.09],
  ['weak', 0.05],
  ['shorted', 0.05],
  ['joint', 0.02],
  ['undercharged', 0.03],
  ['reversed', 0.01],
];

const LIKELY_STORIES: Partial<Record<CauseKey, readonly StoryKey[]>> = {
  flat: ['left-on', 'unknown', 'shelf'],
  deep: ['left-on', 'parked'],
  light: ['parked', 'shelf', 'short-runs'],
  hard: ['parked', 'unknown', 'shelf'],
  layered: ['short-runs', 'unknown'],
  dry: ['boiled', 'unknown', 'weak'],
  worn: ['weak', 'unknown'],
  weak: ['weak', 'unknown'],
  shorted: ['weak', 'unknown'],
  joint: ['weak', 'unknown'],
  undercharged: ['short-runs'],
};

export function hiddenBattery(random: Random): Hidden {
  const between = (low: number, high: number): number => low + (high - low) * random.even();
  const oneOf = <T>(list: readonly T[]): T => list[Math.floor(random.even() * list.length)] as T;
  const maybe = (share: number): boolean => random.even() < share;
  let left = random.even();
  const cause = (
    MIX.find(([, share]) => (left -= share) <= 0) ?? (MIX[0] as (typeof MIX)[number])
  )[0];
  const chemistry: ChemistryKey =
    cause === 'layered' || maybe(0.55) ? 'flooded' : maybe(0.88) ? 'agm' : 'gel';
  const cells = maybe(0.88) ? 6 : 3;
  const c20Ah = oneOf([7, 12, 14, 20, 36, 45, 60, 74, 100]);
  const story = maybe(0.7) ? oneOf(LIKELY_STORIES[cause] ?? STORY_KEYS) : oneOf(STORY_KEYS);
  const temperatureC = between(8, 28);

  const causes = new Set<CauseKey>([cause]);
  let charge =
    cause === 'flat' || cause === 'joint'
      ? between(0.06, 0.58)
      : cause === 'deep'
        ? between(-0.28, 0.05)
        : between(0.02, 0.85);
  if (cause === 'deep' || (cause === 'hard' && maybe(0.5))) charge = between(-0.28, 0.05);
  const hard =
    cause === 'hard'
      ? between(0.17, 0.6)
      : cause === 'light' || cause === 'undercharged'
        ? between(0.05, 0.16)
        : between(0, 0.07);
  const years = cause === 'worn' ? between(3, 11) : between(0.3, 7);
  const active =
    cause === 'worn' ? between(0.35, 0.77) : Math.max(0.79, 1.03 - years * between(0.005, 0.05));
  const dry = cause === 'dry' ? between(0.11, 0.5) : between(0, 0.06);
  const layeredSg =
    cause === 'layered'
      ? between(0.03, 0.12)
      : chemistry === 'flooded' && maybe(0.1)
        ? between(0.03, 0.08)
        : 0;
  if (layeredSg > 0) causes.add('layered');
  if (hard >= 0.16) causes.add('hard');
  else if (hard >= 0.06) causes.add('light');
  if (active < 0.78) causes.add('worn');
  const odd = Math.floor(random.even() * cells);
  const collapse = between(0, 1);
  const list = Array.from({ length: cells }, (_, k): CellCondition => {
    const works = active * between(0.975, 1);
    const cell: CellCondition = {
      active: works,
      hard: Math.min(works - 0.05, hard * between(0.85, 1.15)),
      dry: dry * between(0.85, 1.15),
      behind: between(0, 0.03),
    };
    if (k === odd && cause === 'weak')
      Object.assign(cell, {
        active: works * between(0.2, 0.75),
        hard: Math.min(hard, 0.1 * works),
        behind: between(0.05, 0.25),
      });
    if (k === odd && cause === 'shorted')
      Object.assign(cell, { shortOhm: (60 / c20Ah) * 10 ** between(-2, 0), behind: 0.5 });
    if (k === odd && cause === 'joint') cell.jointOhm = (60 / c20Ah) * 10 ** between(-2.2, 0.5);
    if (cause === 'reversed' && (k === odd || collapse > 0.5)) cell.reversed = true;
    if (charge < -0.12)
      cell.platesV = Math.max(0, Math.min(1.95, 2 * collapse + between(-0.35, 0.35)));
    return cell;
  });
  const factors = drawFactors(DESIGNS[chemistry], random, 1.25);
  const battery = makeBattery(
    DESIGNS[chemistry],
    { cells, c20Ah },
    {
      charge,
      temperatureC,
      layeredSg,
      cells: list,
      // Plates that have shed have corroded, too: practice finds 1.3 to 2 times the resistance.
      ...(cause === 'worn' ? { resistance: between(1.2, 1.9) } : {}),
    },
    temperatureC,
    factors,
  );
  const sound = makeBattery(
    DESIGNS[chemistry],
    { cells, c20Ah },
    { charge: 1, temperatureC },
    temperatureC,
    factors,
  );
  if (cause === 'shorted') new Stepper(battery).run(REST, between(6, 96) * 3600);
  causes.delete('deep');
  if (isDeep(battery, charge)) causes.add('deep');
  else if (charge < 0.6) causes.add('flat');
  const truth: Suspect = {
    chances: new Float64Array(0),
    battery,
    causes,
    primary: CAUSE_KEYS.find((key) => causes.has(key)) ?? 'flat',
    active,
    hard,
  };
  const subject: Subject = {
    chemistry,
    cells,
    c20Ah,
    story,
    standingDays: maybe(0.6)
      ? Math.max(
          0.2,
          (hard / 0.0043 / Math.max(0.15, (1 - Math.max(0, charge)) ** 2)) * between(0.5, 2),
        )
      : null,
    ageYears: maybe(0.6) ? years : null,
    temperatureC,
    coldestC: null,
  };
  return { subject, sound, truth, evidence: readings(truth, subject, sound, random) };
}

/**
 * A maker rates what it builds: the CCA that an analyser shows is a share of what this build gives when it is sound, not of what
 * the usual build of its size does.
 */
export const ofItsOwnRating = (
  read: Extract<Evidence, { of: 'cca' }>,
  sound: SimBattery,
  subject: Subject,
): Extract<Evidence, { of: 'cca' }> => ({
  ...read,
  ccaA: read.ccaA * (new Stepper(sound).pulseOhm / soundOhms(subject)),
});

const TAKEN: readonly (readonly [EvidenceKind, number])[] = [
  ['rest-volts', 0.97],
  ['terminals', 0.5],
  ['levels', 0.5],
  ['cell-sg', 0.6],
  ['load', 0.65],
  ['cca', 0.4],
  ['mass', 0.3],
];

/** What somebody would have read of it, with the bias of the meters in this shop, and a slip in a hundred. */
function readings(truth: Suspect, subject: Subject, sound: SimBattery, random: Random): Evidence[] {
  const showing = new Showing(truth, subject);
  const open = subject.chemistry === 'flooded';
  const ratings = {
    ratedCca: (0.06 * subject.cells) / soundOhms(subject),
    wetMassG: subject.c20Ah * 380,
  };
  const biasV = 0.015 * random.normal();
  const biasSg = 0.004 * random.normal();
  return TAKEN.flatMap(([kind, share]): Evidence[] => {
    if (random.even() > share || (!open && (kind === 'levels' || kind === 'cell-sg'))) return [];
    const read = observe(showing, kind, ratings, random);
    if (!read) return [];
    if (read.of === 'rest-volts')
      return [
        { ...read, voltageV: random.even() < 0.01 ? read.voltageV + 1 : read.voltageV + biasV },
      ];
    if (read.of === 'cca') return [ofItsOwnRating(read, sound, subject)];
    if (read.of === 'cell-sg')
      return [{ ...read, sg: read.sg.map((sg) => (sg === null ? null : sg + biasSg)) }];
    return [read];
  });
}
