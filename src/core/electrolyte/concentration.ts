import { acidDensity, MAX_WEIGHT_PERCENT } from './density.ts';

/** Molar mass of H₂SO₄, g/mol (IUPAC standard atomic weights). */
export const ACID_MOLAR_MASS = 98.079;

/** The temperature our specific gravities are stated at, °C. A house may print another. */
export const REFERENCE_TEMPERATURE_C = 25;

/**
 * Specific gravity at the reference temperature: density of the acid over that of water, both at
 * the reference. (A table that divides by water at 4 °C reads 0.003 lower at 25 °C.)
 *
 * @param weightPercent 0–98 wt %
 * @returns SG, dimensionless
 */
export function sgFromWeightPercent(
  weightPercent: number,
  referenceC = REFERENCE_TEMPERATURE_C,
): number {
  return acidDensity(weightPercent, referenceC) / acidDensity(0, referenceC);
}

/** Above this the gravity of acid hardly rises any more, and from 97 wt % it falls: SG says nothing there, wt %. */
export const STRONGEST_TOLD_BY_SG = 93;

/**
 * The inverse of {@link sgFromWeightPercent}, by bisection on a monotone curve; round-trips to 1e-9.
 *
 * @param sg specific gravity at the reference temperature
 * @returns wt % H₂SO₄, 0–93
 * @throws RangeError when no acid has that gravity, or acid of more than one strength has
 */
export function weightPercentFromSg(sg: number, referenceC = REFERENCE_TEMPERATURE_C): number {
  let low = 0;
  let high = STRONGEST_TOLD_BY_SG;
  const top = sgFromWeightPercent(high, referenceC);
  if (sg > top && sg < 1.85) {
    throw new RangeError(
      `Acid of more than ${high} % cannot be told by its gravity. Give the percent on its label, such as "98 %".`,
    );
  }
  if (!(sg >= 1 && sg <= top))
    throw new RangeError(`SG must lie between 1.000 and ${top.toFixed(3)}.`);
  while (high - low > 1e-11) {
    const middle = (low + high) / 2;
    if (sgFromWeightPercent(middle, referenceC) < sg) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/**
 * How strong an acid is, as a label or a person says it: "98 %", "SG 1.84", "1.400", "1,265", "1265".
 *
 * @returns wt % H₂SO₄
 * @throws RangeError with a sentence for people
 */
export function parseStrength(text: string): number {
  const [, sign, digits, percent] =
    /^\s*(sg\s*)?(\d{1,4}(?:[.,]\d{1,4})?)\s*(%|percent|wt\s*%)?\s*$/i.exec(text) ?? [];
  if (digits === undefined || (sign && percent))
    throw new RangeError('Type its SG at 25 °C, such as 1.400, or its percent, such as 98 %.');
  const number = Number(digits.replace(',', '.'));
  if (percent) {
    if (!(number > 0 && number <= MAX_WEIGHT_PERCENT))
      throw new RangeError(`Acid is sold up to ${MAX_WEIGHT_PERCENT} %.`);
    return number;
  }
  const sg = number >= 1000 && number < 1900 ? number / 1000 : number;
  if (sg >= 2) throw new RangeError(`${digits} is no SG. For a percent write "${digits} %".`);
  return weightPercentFromSg(sg);
}

/** Moles of acid per kilogram of water. */
export function molalityFromWeightPercent(weightPercent: number): number {
  return (1000 * weightPercent) / (ACID_MOLAR_MASS * (100 - weightPercent));
}

/** wt % from moles of acid per kilogram of water. */
export function weightPercentFromMolality(molPerKg: number): number {
  const grams = molPerKg * ACID_MOLAR_MASS;
  return (100 * grams) / (1000 + grams);
}

/** Hydrometer correction per °C (BCI Battery Service Manual: 0.004 per 10 °F). */
export const SG_PER_CELSIUS = 0.0007;

/**
 * A hydrometer reading brought to the reference temperature. Warmer acid reads low, so it adds.
 *
 * @param observed SG as read
 * @param temperatureC of the acid
 */
export function correctSg(
  observed: number,
  temperatureC: number,
  referenceC = REFERENCE_TEMPERATURE_C,
): number {
  return observed + SG_PER_CELSIUS * (temperatureC - referenceC);
}

/** What a hydrometer would read of acid of an SG at the reference temperature: the other way round. */
export const sgAsRead = (
  sg: number,
  temperatureC: number,
  referenceC = REFERENCE_TEMPERATURE_C,
): number => sg - SG_PER_CELSIUS * (temperatureC - referenceC);
