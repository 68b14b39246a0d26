import { CHEMISTRIES, type ChemistryKey } from '../batteries/chemistry.ts';
import type { BatteryModel } from '../batteries/model.ts';
import type { ChargePlan } from './chargePlan.ts';
import { labelledSize } from '../simulation/labelled.ts';
import { ceilingPerCell, type FittedPlan, type PlanBattery } from './fitPlan.ts';
import { FINISH_RULES } from './progress.ts';

const HOUR = 3600;
/** A tail that no longer falls is there within so long, h. */
const HELD_H = 14;

/**
 * The plan a commissioning charge follows when nobody chose another: the job's own current to its own
 * ceiling, held there until the current has tailed off.
 *
 * @param chargeA and ceilingV (25 °C) as the job's figures say
 */
export function firstChargePlan(
  model: BatteryModel,
  chemistry: ChemistryKey,
  chargeA: number,
  ceilingV: number,
): ChargePlan {
  const cRate = chargeA / model.c20Ah;
  const perCell = Math.min(ceilingV / model.cells, ceilingPerCell(chemistry, cRate));
  const hours = Math.min(36, Math.ceil((0.9 / cRate) * CHEMISTRIES[chemistry].rechargeFactor));
  return {
    id: 'first-of-job',
    name: 'First charge of this job',
    plain: 'The current and the ceiling of the job, held until the current tails off.',
    kinds: [chemistry],
    stages: [
      {
        do: 'current',
        cRate,
        until: [
          { when: 'volts', perCell },
          { when: 'time', s: hours * HOUR },
        ],
      },
      {
        do: 'voltage',
        perCell,
        cRate,
        until: [
          { when: 'amps', cRate: Math.min(FINISH_RULES.tailC, cRate / 2) },
          { when: 'time', s: HELD_H * HOUR },
        ],
      },
    ],
    mostS: (hours + HELD_H) * HOUR,
  };
}

/** A job's battery as plans are fitted to it. The maker's figures bind where the maker printed them. */
export function planBattery(model: BatteryModel, chemistry: ChemistryKey): PlanBattery {
  return {
    chemistry,
    ...labelledSize(model),
    mostA: model.chargeA ?? undefined,
    mostV: model.ceilingV ?? undefined,
  };
}

/** What a charge by a plan is said to be set to: its largest mean current (A), and the volts it works towards. Zero where it never charges. */
export function chargeSettings({ stages }: FittedPlan): { setA: number; setV: number } {
  const charging = stages.filter((s) => s.do !== 'rest' && s.do !== 'discharge');
  return {
    setA: Math.max(
      0,
      ...charging.map((s) =>
        s.do === 'pulse' ? (s.currentA * s.onS) / (s.onS + s.offS) : s.currentA,
      ),
    ),
    // A constant current is held by its end, not by the slack its limit has above it.
    setV: Math.max(
      0,
      ...charging.map((s) => s.until.find((u) => u.when === 'volts')?.v ?? s.limitV),
    ),
  };
}
