import { c20Input } from '../batteries/c20Input.ts';
import { type Chemistry } from '../batteries/chemistry.ts';
import type { BatteryModel } from '../batteries/model.ts';
import { FINISH_RULES } from '../charging/progress.ts';
import type { Figure } from '../quantities/figure.ts';
import { simulatedChargeS } from './expectedCharge.ts';

/**
 * Expected length of a charge, by a simulated sound battery of the model; by what is missing and two hours of proof
 * where no plan of that current and ceiling fits it.
 *
 * @param share of C20 that is in it when the charge begins, 0–1
 */
export function chargeDuration(
  model: BatteryModel,
  chemistry: Chemistry,
  current: Figure,
  ceiling: Figure,
  share: number,
  because: string,
): Figure {
  const simulated = simulatedChargeS(model, chemistry.key, current.value, ceiling.value, share);
  const missingAh = (1 - share) * model.c20Ah * chemistry.rechargeFactor;
  const proofS = (FINISH_RULES.readings - 1) * FINISH_RULES.apartS;
  return {
    key: 'chargeS',
    label: 'Expected charge',
    unit: 's',
    value: simulated ?? Math.round((missingAh / current.value) * 3600) + proofS,
    origin: 'computed',
    formula:
      simulated === null
        ? 'C20 × missing share × recharge factor ÷ current + 2 h of proof'
        : 'A sound battery of this model, simulated: at this current to the ceiling, held until the current no longer falls',
    inputs: [
      c20Input(model),
      { label: 'Missing', value: `${Math.round((1 - share) * 100)} %`, origin: 'default' },
      ...(simulated === null
        ? [
            {
              label: 'Recharge factor',
              value: chemistry.rechargeFactor.toFixed(2),
              origin: 'default' as const,
            },
          ]
        : [{ label: 'Ceiling', value: `${ceiling.value.toFixed(2)} V`, origin: ceiling.origin }]),
      { label: 'Current', value: `${current.value.toFixed(1)} A`, origin: current.origin },
    ],
    source: `${because}; the end is judged by readings, not by this estimate`,
  };
}
