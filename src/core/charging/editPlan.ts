import type { ChemistryKey } from '../batteries/chemistry.ts';
import type { ChargePlan, Stage, StageKind, Until } from './chargePlan.ts';
import { ceilingPerCell, STAGE_ENDS } from './fitPlan.ts';

/** Changes to the shape of a plan. Each gives a new plan and leaves the old one as it was. */

const HOUR = 3600;
const USUAL_C = 0.1;
const LOW_C = 0.05;

/** A stage of a kind as it usually is, within the family's ceiling. */
export function usualStage(kind: StageKind, chemistry: ChemistryKey): Stage {
  const under = (perCell: number, cRate: number): number =>
    Math.min(perCell, ceilingPerCell(chemistry, cRate));
  const time = (hours: number): Until => ({ when: 'time', s: hours * HOUR });
  switch (kind) {
    case 'current':
      return {
        do: 'current',
        cRate: USUAL_C,
        until: [{ when: 'volts', perCell: under(2.4, USUAL_C) }, time(14)],
      };
    case 'voltage':
      return {
        do: 'voltage',
        perCell: under(2.4, USUAL_C),
        cRate: USUAL_C,
        until: [{ when: 'amps', cRate: 0.01 }, time(8)],
      };
    case 'pulse':
      return {
        do: 'pulse',
        cRate: 0.15,
        onS: 20,
        offS: 40,
        perCell: under(2.4, 0.15),
        until: [time(12)],
      };
    case 'rest':
      return { do: 'rest', until: [time(1)] };
    case 'discharge':
      return { do: 'discharge', cRate: LOW_C, perCell: 1.75, until: [time(22)] };
    case 'float':
      return { do: 'float', perCell: under(2.25, LOW_C), cRate: LOW_C, until: [time(12)] };
  }
}

const withStages = (plan: ChargePlan, change: (stages: Stage[]) => void): ChargePlan => {
  const stages = [...plan.stages];
  change(stages);
  return { ...plan, stages };
};

/** Puts a stage of a kind in at a place; what stood there moves down. */
export function insertStage(
  plan: ChargePlan,
  at: number,
  kind: StageKind,
  chemistry: ChemistryKey,
): ChargePlan {
  return withStages(plan, (stages) => void stages.splice(at, 0, usualStage(kind, chemistry)));
}

export function removeStage(plan: ChargePlan, at: number): ChargePlan {
  return withStages(plan, (stages) => void stages.splice(at, 1));
}

/** Moves a stage up (−1) or down (+1); at either end it stays. */
export function moveStage(plan: ChargePlan, at: number, by: -1 | 1): ChargePlan {
  const to = at + by;
  if (to < 0 || to >= plan.stages.length) return plan;
  return withStages(plan, (stages) => void stages.splice(to, 0, ...stages.splice(at, 1)));
}

/** Ends that a stage could still be given. */
export function endsToAdd(stage: Stage): Until['when'][] {
  return STAGE_ENDS[stage.do].filter((when) => !stage.until.some((u) => u.when === when));
}

function usualEnd(when: Until['when'], stage: Stage, chemistry: ChemistryKey): Until {
  const cRate = 'cRate' in stage ? stage.cRate : 0;
  switch (when) {
    case 'volts':
      return {
        when,
        perCell:
          'perCell' in stage ? stage.perCell : Math.min(2.4, ceilingPerCell(chemistry, cRate)),
      };
    case 'amps':
      return { when, cRate: Math.min(0.01, cRate / 2) };
    case 'volts-flat':
      return { when, overS: 2 * HOUR };
    case 'sg-flat':
      return { when, readings: 3 };
    case 'ah':
      return { when, share: 1 };
    case 'time':
      return { when, s: 12 * HOUR };
  }
}

/** Gives a stage another end; whichever comes first counts. */
export function addEnd(
  plan: ChargePlan,
  at: number,
  when: Until['when'],
  chemistry: ChemistryKey,
): ChargePlan {
  return withStages(plan, (stages) => {
    const stage = stages[at];
    if (stage && endsToAdd(stage).includes(when))
      stages[at] = { ...stage, until: [...stage.until, usualEnd(when, stage, chemistry)] };
  });
}

export function removeEnd(plan: ChargePlan, at: number, when: Until['when']): ChargePlan {
  return withStages(plan, (stages) => {
    const stage = stages[at];
    if (stage) stages[at] = { ...stage, until: stage.until.filter((u) => u.when !== when) };
  });
}

/** Longest the plan is given when its stages change: their times together, with some to spare. s */
export function roomForStages(plan: ChargePlan): number {
  const sum = plan.stages.reduce(
    (s, stage) => s + Math.min(...stage.until.map((u) => (u.when === 'time' ? u.s : Infinity))),
    0,
  );
  return Number.isFinite(sum) ? Math.max(plan.mostS, Math.ceil(sum / HOUR) * HOUR) : plan.mostS;
}
