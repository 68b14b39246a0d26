import { buildOf } from './builds.ts';
import { leadAcidKind } from './kinds.ts';
import type { BatteryModel, CcaStandard } from './model.ts';

/** Resistance times CCA by EN, mΩ·A at 12 V: analysers' own constant (2,500–3,000). */
const CCA_MILLIOHM = 2700;
/**
 * CCA by each test over that by EN of one and the same battery. The tests differ, so this is good to a tenth: enough for the
 * resistance of a simulated battery, never to compare one rating with another.
 */
const OVER_EN: Readonly<Record<CcaStandard, number>> = {
  EN: 1,
  SAE: 1.04,
  DIN: 0.6,
  IEC: 0.67,
  JIS: 0.95,
};

/** CCA by a test over that by EN of one and the same battery, good to a tenth. For sizes and resistances, never to compare ratings. */
export const overEn = (standard: CcaStandard): number => OVER_EN[standard];

/**
 * Short-pulse resistance of a model, full and at 25 °C: printed, by its printed CCA, or by what it is built for. For its
 * simulated twin; no reading is judged by it.
 *
 * @returns mΩ of the whole battery
 */
export function labelMilliohm(
  model: Pick<
    BatteryModel,
    'kind' | 'c20Ah' | 'cca' | 'ccaStandard' | 'cells' | 'build' | 'milliohm'
  >,
): number {
  const { cca, ccaStandard, cells, c20Ah, milliohm } = model;
  if (milliohm) return milliohm;
  if (cca !== null && ccaStandard !== null && cca > 0)
    return ((CCA_MILLIOHM * OVER_EN[ccaStandard]) / cca) * (cells / 6);
  const [ohmAh, power] = buildOf(model).resistance[leadAcidKind(model.kind).chemistry];
  return ((1000 * ohmAh) / c20Ah) * (c20Ah / 60) ** power * (cells / 6);
}
