import { type Chemistry, CHEMISTRIES, type ChemistryKey } from '../batteries/chemistry.ts';
import type { BatterySize } from '../simulation/battery.ts';
import {
  type ChargePlan,
  type GuardAction,
  type GuardKey,
  type Stage,
  STAGE_NAMES,
  type StageKind,
  type Until,
} from './chargePlan.ts';
import { GUARD_LIMITS, type GuardLimits } from './guardLimits.ts';
import { MOST_C, SMALL_SIZE_AH, SMALL_SIZE_CAP_A } from './limits.ts';

/** The battery a plan is fitted to. */
export interface PlanBattery extends BatterySize {
  chemistry: ChemistryKey;
  /** Maker's own limits where printed: A, and V per battery at 25 °C. */
  mostA?: number | undefined;
  mostV?: number | undefined;
}

export type FittedUntil =
  | { when: 'volts'; v: number }
  | { when: 'amps'; a: number }
  | { when: 'volts-flat'; overS: number }
  | { when: 'sg-flat'; readings: number }
  | { when: 'ah'; ah: number }
  | { when: 'time'; s: number };

/** A stage in amps and volts of this battery. Discharges have a negative current and end at or below `limitV`. */
export interface FittedStage {
  do: StageKind;
  currentA: number;
  /** Ceiling at 25 °C while charging, cut-off while discharging, V per battery. */
  limitV: number;
  onS: number;
  offS: number;
  until: readonly FittedUntil[];
}

export interface FittedPlan {
  planId: string;
  name: string;
  battery: PlanBattery;
  stages: readonly FittedStage[];
  guards: Readonly<Partial<Record<GuardKey, GuardAction>>>;
  mostS: number;
  /** What its guards compare with, as it was when the plan was fitted; absent in charges older than the keeping of it. */
  limits?: Partial<GuardLimits>;
}

/** What is wrong with a plan for this battery: which stage, which of its parts, and why. */
export interface PlanFault {
  /** Index of the stage, or null for the plan as a whole. */
  stage: number | null;
  part: string;
  sentence: string;
}

export interface PlanFit {
  /** Null when there are faults. */
  fitted: FittedPlan | null;
  faults: PlanFault[];
  /** What was lowered to fit, and why. */
  notes: string[];
}

const HOUR = 3600;
/** Bursts stay below this. */
const MOST_PULSE_C = 0.5;
const MOST_DISCHARGE_C = 1;
/** Below this current volts may go higher: the expert's ceiling for a stubborn battery. */
const LOW_CURRENT_C = 0.05;
const EXPERT_V_PER_CELL: Readonly<Record<ChemistryKey, number>> = {
  flooded: 16 / 6,
  agm: 15 / 6,
  gel: 14.2 / 6,
};
/** Guards that a plan may not soften to a pause. */
const NEVER_BY_ITSELF: readonly GuardKey[] = ['hot', 'heating-fast', 'reversed', 'over-volts'];
const MOST_PLAN_S = 14 * 24 * HOUR;
/** Below this volts per cell a charger puts nothing in; below that a discharge does harm. */
const LEAST_CHARGE_V = 2.15;
const LEAST_CUT_V = 1.6;
const MOST_CUT_V = 2.0;

/** Highest volts per cell for a family at a current, 25 °C. */
export function ceilingPerCell(chemistry: ChemistryKey, cRate: number): number {
  return cRate <= LOW_CURRENT_C
    ? EXPERT_V_PER_CELL[chemistry]
    : CHEMISTRIES[chemistry].absorptionV[1] / 6;
}

/** What may end a stage of each kind. */
export const STAGE_ENDS: Readonly<Record<StageKind, readonly Until['when'][]>> = {
  current: ['volts', 'volts-flat', 'sg-flat', 'ah', 'time'],
  voltage: ['amps', 'sg-flat', 'ah', 'time'],
  pulse: ['volts', 'volts-flat', 'sg-flat', 'ah', 'time'],
  rest: ['time'],
  discharge: ['ah', 'time'],
  float: ['time'],
};

const UNTIL_WORDS: Record<Until['when'], string> = {
  volts: 'a voltage is reached',
  amps: 'the current tails off',
  'volts-flat': 'the volts no longer rise',
  'sg-flat': 'the SG no longer rises',
  ah: 'so much has gone in',
  time: 'a time has passed',
};

/**
 * Turns a plan into amps and volts for one battery, or says which of its sentences cannot be followed.
 * Limits: family, size (small batteries at most 3 A), maker.
 */
export function fitPlan(plan: ChargePlan, battery: PlanBattery): PlanFit {
  const chemistry = CHEMISTRIES[battery.chemistry];
  const faults: PlanFault[] = [];
  const notes: string[] = [];
  const wrong = (stage: number | null, part: string, sentence: string): number =>
    faults.push({ stage, part, sentence });

  if (!plan.kinds.includes(battery.chemistry))
    wrong(null, 'kinds', `This plan is not for ${chemistry.name}.`);
  if (plan.stages.length === 0) wrong(null, 'stages', 'A plan needs at least one stage.');
  if (!(plan.mostS > 0 && plan.mostS <= MOST_PLAN_S))
    wrong(null, 'mostS', `The whole of it must end within ${MOST_PLAN_S / HOUR / 24} days.`);
  for (const key of NEVER_BY_ITSELF)
    if (plan.guards?.[key] === 'pause')
      wrong(
        null,
        'guards',
        'A battery that is hot, heating fast, reversed or over its ceiling never goes on by itself.',
      );
  plan.stages.forEach((stage, i) => {
    for (const fault of stageFaults(stage, chemistry)) wrong(i, fault.part, fault.sentence);
    const next = plan.stages[i + 1];
    if (stage.do === 'rest' && next?.do === 'rest')
      wrong(i + 1, 'do', 'Two rests in a row are one rest.');
  });
  const sum = plan.stages.reduce(
    (s, stage) => s + Math.min(...stage.until.map((u) => (u.when === 'time' ? u.s : Infinity))),
    0,
  );
  if (plan.stages.length > 0 && plan.stages.every((s) => s.do === 'rest'))
    wrong(null, 'stages', 'A plan of rests alone charges nothing.');

  const caps = currentCaps(battery);
  const stages = plan.stages.map((stage) => fitStage(stage, battery, caps, notes));
  if (Number.isFinite(sum) && sum > plan.mostS * 1.5)
    notes.push(
      'Its stages together may last longer than the whole plan is given; it will ask when that time is over.',
    );
  const fitted: FittedPlan = {
    planId: plan.id,
    name: plan.name,
    battery,
    stages,
    guards: plan.guards ?? {},
    mostS: plan.mostS,
    limits: GUARD_LIMITS,
  };
  return { fitted: faults.length === 0 ? fitted : null, faults, notes: [...new Set(notes)] };
}

function stageFaults(stage: Stage, chemistry: Chemistry): { part: string; sentence: string }[] {
  const faults: { part: string; sentence: string }[] = [];
  const wrong = (part: string, sentence: string): number => faults.push({ part, sentence });
  const name = STAGE_NAMES[stage.do];
  const cRate = 'cRate' in stage ? stage.cRate : 0;
  const perCell = 'perCell' in stage ? stage.perCell : null;

  if (stage.do !== 'rest' && !(cRate > 0)) wrong('cRate', `${name} needs a current above zero.`);
  const most =
    stage.do === 'pulse' ? MOST_PULSE_C : stage.do === 'discharge' ? MOST_DISCHARGE_C : MOST_C;
  if (cRate > most)
    wrong(
      'cRate',
      `${name} at ${(100 * cRate).toFixed(0)} % of C20 is more than the ${(100 * most).toFixed(0)} % allowed.`,
    );
  if (stage.do === 'discharge') {
    if (!(stage.perCell >= LEAST_CUT_V && stage.perCell <= MOST_CUT_V))
      wrong(
        'perCell',
        `A cut-off lies between ${LEAST_CUT_V.toFixed(2)} and ${MOST_CUT_V.toFixed(2)} V per cell; below, the discharge itself does harm.`,
      );
  } else if (perCell !== null) checkVolts(perCell, 'perCell');
  if (stage.do === 'pulse') {
    if (!(stage.onS >= 1 && stage.onS <= 3600)) wrong('onS', 'A burst lasts between 1 s and 1 h.');
    if (!(stage.offS >= 1 && stage.offS <= 3600))
      wrong('offS', 'A pause between bursts lasts between 1 s and 1 h.');
  }
  if (stage.until.length === 0) wrong('until', `${name} needs an end: say until when.`);
  for (const [at, until] of stage.until.entries()) {
    const part = `until.${at}`;
    if (!STAGE_ENDS[stage.do].includes(until.when)) {
      wrong(part, `${name} cannot end when ${UNTIL_WORDS[until.when]}.`);
      continue;
    }
    if (until.when === 'volts') {
      checkVolts(until.perCell, part);
      if (stage.do === 'pulse' && until.perCell > stage.perCell)
        wrong(part, 'It ends at a voltage above its own ceiling, which it never reaches.');
    }
    if (until.when === 'amps' && !(until.cRate > 0 && until.cRate < cRate))
      wrong(part, 'The current it ends at must lie below the current it starts with.');
    if (until.when === 'time' && !(until.s > 0 && until.s <= MOST_PLAN_S))
      wrong(part, 'A time lies above zero and within a fortnight.');
    if (until.when === 'ah' && !(until.share > 0 && until.share <= 3))
      wrong(part, 'Charge in lies above zero and within three times C20.');
    if (until.when === 'volts-flat' && !(until.overS >= 600))
      wrong(part, 'Volts that no longer rise need at least 10 minutes to show it.');
    if (until.when === 'sg-flat' && !(until.readings >= 2))
      wrong(part, 'At least two SG readings are needed to see that it no longer rises.');
    if (stage.until.some((other, k) => k < at && other.when === until.when))
      wrong(part, `It says twice when ${UNTIL_WORDS[until.when]}.`);
  }
  if (
    stage.do !== 'voltage' &&
    stage.do !== 'rest' &&
    stage.do !== 'float' &&
    stage.until.length > 0 &&
    stage.until.every((u) => u.when === 'sg-flat')
  )
    wrong('until', 'SG readings come by hand and may not come: add a time.');
  return faults;

  function checkVolts(volts: number, part: string): void {
    const ceiling = ceilingPerCell(chemistry.key, cRate);
    if (volts > ceiling + 1e-6) {
      const low = ceilingPerCell(chemistry.key, 0);
      const more =
        low > ceiling + 1e-6 && volts <= low
          ? ` Up to ${(low * 6).toFixed(1)} V is for currents of C/20 and less.`
          : '';
      wrong(
        part,
        `${(volts * 6).toFixed(2)} V per 12 V battery is above the ${(ceiling * 6).toFixed(2)} V that ${chemistry.name} takes at this current.${more}`,
      );
    }
    if (volts < LEAST_CHARGE_V)
      wrong(
        part,
        `${(volts * 6).toFixed(2)} V per 12 V battery is about its rest voltage: nothing would go in.`,
      );
  }
}

interface Cap {
  a: number;
  why: string;
}

function currentCaps(battery: PlanBattery): Cap[] {
  const caps: Cap[] = [];
  if (battery.c20Ah <= SMALL_SIZE_AH)
    caps.push({
      a: SMALL_SIZE_CAP_A,
      why: `small sizes never see more than ${SMALL_SIZE_CAP_A} A`,
    });
  if (battery.mostA !== undefined)
    caps.push({ a: battery.mostA, why: `the maker allows ${battery.mostA} A` });
  return caps;
}

function fitStage(
  stage: Stage,
  battery: PlanBattery,
  caps: readonly Cap[],
  notes: string[],
): FittedStage {
  const { c20Ah, cells } = battery;
  const wantedA = 'cRate' in stage ? stage.cRate * c20Ah : 0;
  let currentA = wantedA;
  if (stage.do !== 'discharge') {
    for (const cap of caps) {
      if (cap.a < currentA) {
        currentA = cap.a;
        notes.push(`Current lowered to ${cap.a} A: ${cap.why}.`);
      }
    }
  }
  const ceiling = ceilingPerCell(battery.chemistry, currentA / c20Ah) * cells;
  const held = (volts: number): number => {
    if (battery.mostV === undefined || volts <= battery.mostV || stage.do === 'discharge')
      return round(volts, 1e4);
    notes.push(`Volts lowered to the maker's ${battery.mostV.toFixed(2)} V.`);
    return battery.mostV;
  };
  const untilVolts = stage.until.find((u) => u.when === 'volts');
  const perCell =
    'perCell' in stage
      ? stage.perCell
      : untilVolts?.when === 'volts'
        ? Math.min(untilVolts.perCell + 0.03, ceiling / cells)
        : ceiling / cells;
  return {
    do: stage.do,
    currentA: round(stage.do === 'discharge' ? -currentA : currentA, 1e4),
    limitV:
      stage.do === 'rest'
        ? 0
        : held(Math.min(perCell, stage.do === 'discharge' ? Infinity : ceiling / cells) * cells),
    onS: stage.do === 'pulse' ? stage.onS : 0,
    offS: stage.do === 'pulse' ? stage.offS : 0,
    until: stage.until.map((u): FittedUntil => {
      if (u.when === 'volts') return { when: 'volts', v: held(u.perCell * cells) };
      if (u.when === 'amps')
        return { when: 'amps', a: round(Math.min(u.cRate * c20Ah, currentA * 0.9), 1e4) };
      if (u.when === 'ah') return { when: 'ah', ah: round(u.share * c20Ah, 1e4) };
      return u;
    }),
  };
}

const round = (value: number, parts: number): number => Math.round(value * parts) / parts;
