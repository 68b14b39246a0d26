import { molalityFromWeightPercent, weightPercentFromSg } from './concentration.ts';

/** Rise of a cell's rest voltage with temperature, V/K (Bode 1977, about SG 1.265). */
export const REST_V_PER_KELVIN = 0.0002;

/** Coefficients of Bode's polynomial in log₁₀ of molality, V. */
export const BODE = [1.9228, 0.147519, 0.063552, 0.073772, 0.033612] as const;

/**
 * Rest voltage of one lead-acid cell from the molality of its acid, 25 °C.
 * H. Bode, Lead-Acid Batteries, Wiley 1977; a polynomial in log₁₀ of molality.
 *
 * @param molPerKg 0.1–13 mol/kg
 * @returns V per cell
 */
export function restVoltageFromMolality(molPerKg: number): number {
  const l = Math.log10(molPerKg);
  return BODE[0] + l * (BODE[1] + l * (BODE[2] + l * (BODE[3] + l * BODE[4])));
}

/** Rest voltage of one cell from SG at 25 °C: Bode's polynomial, the one we stand on. V per cell. */
export function restVoltageFromSg(sg: number): number {
  return restVoltageFromMolality(molalityFromWeightPercent(weightPercentFromSg(sg)));
}

/**
 * The shop rule u = SG + 0.845 (25 °C). V per cell. Usually given as good to ±10 mV for SG 1.10–1.30;
 * against Bode's polynomial that holds from 1.18 up, and below it the rule reads low, 19 mV at 1.08.
 */
export function restVoltageRule(sg: number): number {
  return sg + 0.845;
}
