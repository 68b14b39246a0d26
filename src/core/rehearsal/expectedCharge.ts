import type { BatteryModel } from '../batteries/model.ts';
import type { ChemistryKey } from '../batteries/chemistry.ts';
import { fitPlan } from '../charging/fitPlan.ts';
import { firstChargePlan, planBattery } from '../charging/jobChargePlan.ts';
import { TEMPERATURE_LIMITS } from '../charging/limits.ts';
import { makeBattery } from '../simulation/battery.ts';
import { DESIGNS } from '../simulation/design.ts';
import { hasten } from './hasten.ts';

const known = new Map<string, number | null>();
const MOST_KNOWN = 400;
/** Shares are told apart by a fiftieth: the length of a charge is not known better. */
const SHARES = 50;

/**
 * How long a sound battery of a model takes to its end at a current and a ceiling: its twin is charged by the plan
 * a job follows where nobody chose another. Worked out once for each.
 *
 * @param share of C20 that is in it when the charge begins, 0–1
 * @returns s; null where no plan of that current and ceiling fits the battery
 */
export function simulatedChargeS(
  model: BatteryModel,
  chemistry: ChemistryKey,
  chargeA: number,
  ceilingV: number,
  share: number,
  roomC = 20,
): number | null {
  const begins = Math.round(Math.min(1, Math.max(0, share)) * SHARES) / SHARES;
  const battery = planBattery(model, chemistry);
  const key = JSON.stringify([battery, chargeA, ceilingV, begins, Math.round(roomC)]);
  const before = known.get(key);
  if (before !== undefined) return before;
  const { fitted } = fitPlan(firstChargePlan(model, chemistry, chargeA, ceilingV), battery);
  const twin =
    fitted &&
    makeBattery(DESIGNS[chemistry], battery, { charge: begins, temperatureC: Math.round(roomC) });
  const lasts =
    fitted && twin ? Math.round(hasten(twin, fitted, TEMPERATURE_LIMITS.stopC).hours * 3600) : null;
  if (known.size >= MOST_KNOWN) known.clear();
  known.set(key, lasts);
  return lasts;
}
