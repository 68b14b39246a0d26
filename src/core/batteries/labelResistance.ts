import type { BatteryModel, CcaStandard } from './model.ts';

/** Resistance times CCA by EN, mΩ·A at 12 V: analysers' own constant (2,500–3,000). */
const CCA_MILLIOHM = 2700;
/**
 * CCA by each test over that by EN of one and the same battery. The tests differ, so this is good to a tenth: enough for the
 * resistance of a simulated battery, never to compare one rating with another.
 */
const OVER_EN: Readonly<Record<CcaStandard, number>> = { EN: 1, SAE: 1.04, DIN: 0.6, IEC: 0.67, JIS: 0.95 };

/**
 * Short-pulse resistance of a model, full and at 25 °C, that its printed CCA stands for. For its simulated twin; no reading
 * is judged by it.
 *
 * @returns mΩ of the whole battery; undefined where no CCA is printed
 */
export function labelMilliohm({ cca, ccaStandard, cells }: Pick<BatteryModel, 'cca' | 'ccaStandard' | 'cells'>): number | undefined {
  if (cca === null || ccaStandard === null || cca <= 0) return undefined;
  return ((CCA_MILLIOHM * OVER_EN[ccaStandard]) / cca) * (cells / 6);
}
