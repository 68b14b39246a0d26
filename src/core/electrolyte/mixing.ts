import { REFERENCE_TEMPERATURE_C, weightPercentFromSg } from './concentration.ts';
import { acidDensity } from './density.ts';

/** A mixture of stronger acid and water. Masses in g, volumes in mL at 25 °C. */
export interface Mixture {
  acidMl: number;
  acidG: number;
  waterMl: number;
  waterG: number;
  /** How much less the mixture measures than its parts did: volumes do not add up. */
  contractionMl: number;
  /** Warming if nothing were lost to the vessel and the room, °C. */
  risesC: number;
  /** What to do, in the order of pouring. */
  order: string[];
}

/** Integral heat of solution of H₂SO₄ in water, kJ per mol of acid, by mol of water per mol of acid (NBS, Selected Values, Circular 500). */
const HEAT_OF_SOLUTION = [
  [0, 0],
  [1, 28.07],
  [2, 41.92],
  [3, 49.0],
  [4, 54.06],
  [5, 58.03],
  [10, 67.03],
  [20, 71.5],
  [50, 73.35],
  [100, 73.97],
  [1000, 78.58],
] as const;
const ACID_G_PER_MOL = 98.079;
const WATER_G_PER_MOL = 18.015;
/** Mixtures this warm are left to cool before they are measured or poured on, °C of warming. */
const WARM_C = 10;

/**
 * Acid and water for a wanted volume of a wanted gravity. Exact in mass and wt %; the volumes follow
 * from the densities at 25 °C.
 *
 * @param strongSg of the acid in hand, at 25 °C
 * @param wantedSg of the mixture, at 25 °C
 * @param wantedMl of the mixture, at 25 °C
 * @throws RangeError when the acid in hand is not stronger than what is wanted
 */
export function mixAcid(strongSg: number, wantedSg: number, wantedMl: number): Mixture {
  const strong = weightPercentFromSg(strongSg);
  const wanted = weightPercentFromSg(wantedSg);
  if (!(strong > wanted)) throw new RangeError(`Acid of SG ${strongSg.toFixed(3)} cannot make SG ${wantedSg.toFixed(3)}: it must be the stronger one.`);
  if (!(wantedMl > 0)) throw new RangeError('Say how much is wanted.');
  const totalG = wantedMl * acidDensity(wanted, REFERENCE_TEMPERATURE_C);
  const acidG = (totalG * wanted) / strong;
  const waterG = totalG - acidG;
  const acidMl = acidG / acidDensity(strong, REFERENCE_TEMPERATURE_C);
  const waterMl = waterG / acidDensity(0, REFERENCE_TEMPERATURE_C);
  const risesC = warming(strong, wanted, totalG);
  return {
    acidMl,
    acidG,
    waterMl,
    waterG,
    contractionMl: acidMl + waterMl - wantedMl,
    risesC,
    order: [
      `Measure ${waterMl.toFixed(0)} mL (${waterG.toFixed(0)} g) of distilled water into an acid-proof vessel of at least ${Math.ceil((wantedMl * 1.3) / 100) / 10} L.`,
      `Pour the acid, ${acidMl.toFixed(0)} mL (${acidG.toFixed(0)} g), into the water: slowly, stirring. Never water into acid: it boils and throws acid.`,
      risesC >= WARM_C
        ? `It warms by about ${risesC.toFixed(0)} °C. Stop at warm, let it cool to the room, then read its SG.`
        : `It warms by about ${risesC.toFixed(0)} °C. Let it come to the room, then read its SG.`,
      'Correct the reading for its temperature; adjust with a little acid or water.',
    ],
  };
}

/** Heat a mol of acid gives off in so much water, kJ; linear between the table's points. */
function heatOfSolution(waterPerAcid: number): number {
  for (let i = 1; i < HEAT_OF_SOLUTION.length; i++) {
    const [r0, h0] = HEAT_OF_SOLUTION[i - 1] as readonly [number, number];
    const [r1, h1] = HEAT_OF_SOLUTION[i] as readonly [number, number];
    if (waterPerAcid <= r1) return h0 + ((h1 - h0) * (waterPerAcid - r0)) / (r1 - r0);
  }
  return HEAT_OF_SOLUTION.at(-1)?.[1] ?? 0;
}

/** Specific heat of battery acid, J/(g K): linear between water and 60 wt %, which is about 2.2. */
const specificHeat = (weightPercent: number) => 4.18 - 0.033 * weightPercent;

function warming(strong: number, wanted: number, totalG: number): number {
  const molAcid = (totalG * wanted) / 100 / ACID_G_PER_MOL;
  const ratio = (weightPercent: number) => (100 - weightPercent) / WATER_G_PER_MOL / (weightPercent / ACID_G_PER_MOL);
  const heatKj = molAcid * (heatOfSolution(ratio(wanted)) - heatOfSolution(ratio(strong)));
  return (heatKj * 1000) / (totalG * specificHeat(wanted));
}

/**
 * SG of two liquids poured together, at 25 °C. Either may be water (SG 1).
 *
 * @returns SG and volume in mL, both at 25 °C
 */
export function blend(a: { sg: number; ml: number }, b: { sg: number; ml: number }): { weightPercent: number; ml: number } {
  const parts = [a, b].map(({ sg, ml }) => {
    const weightPercent = weightPercentFromSg(sg);
    return { weightPercent, grams: ml * acidDensity(weightPercent, REFERENCE_TEMPERATURE_C) };
  });
  const grams = parts.reduce((sum, p) => sum + p.grams, 0);
  const weightPercent = parts.reduce((sum, p) => sum + p.weightPercent * p.grams, 0) / grams;
  return { weightPercent, ml: grams / acidDensity(weightPercent, REFERENCE_TEMPERATURE_C) };
}

/** Free space above the plates for a millimetre of level in a starter battery's cell, mL per Ah of C20: its cross-section grows with its capacity. Usual small cases. */
const ML_PER_MM_AND_AH = 0.22;

/**
 * Water that brings cells back to the mark.
 *
 * @param lowMm how far each cell stands below the mark, mm
 * @param c20Ah of the battery
 * @returns mL in all, and the band that cases of different shapes make of it
 */
export function topUpEstimate(lowMm: readonly number[], c20Ah: number): { low: number; mid: number; high: number } {
  const mid = lowMm.reduce((sum, mm) => sum + Math.max(0, mm), 0) * ML_PER_MM_AND_AH * c20Ah;
  return { low: mid * 0.7, mid, high: mid * 1.4 };
}
