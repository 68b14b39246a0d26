import { acidDensity } from './density.ts';
import { ACID_MOLAR_MASS, REFERENCE_TEMPERATURE_C, weightPercentFromSg } from './concentration.ts';

/** Molar mass of NaHCO₃, g/mol. */
const BICARBONATE_MOLAR_MASS = 84.007;
/** Volume of a mole of gas at 25 °C and 1 atm, L. */
const GAS_MOLAR_VOLUME_L = 24.5;

/**
 * Bicarbonate of soda that neutralises spilt battery acid, and the gas it gives off.
 * H₂SO₄ + 2 NaHCO₃ → Na₂SO₄ + 2 H₂O + 2 CO₂.
 *
 * @param volumeL litres of acid
 * @param sg at 25 °C
 * @returns bicarbonate in kg, carbon dioxide in litres at 25 °C
 */
export function neutraliser(
  volumeL: number,
  sg: number,
): { bicarbonateKg: number; carbonDioxideL: number } {
  const weightPercent = weightPercentFromSg(sg);
  const acidG =
    volumeL * 1000 * acidDensity(weightPercent, REFERENCE_TEMPERATURE_C) * (weightPercent / 100);
  const acidMol = acidG / ACID_MOLAR_MASS;
  return {
    bicarbonateKg: (2 * acidMol * BICARBONATE_MOLAR_MASS) / 1000,
    carbonDioxideL: 2 * acidMol * GAS_MOLAR_VOLUME_L,
  };
}
