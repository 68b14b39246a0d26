import {
  ACID_MOLAR_MASS,
  REFERENCE_TEMPERATURE_C,
  sgFromWeightPercent,
  weightPercentFromSg,
} from './concentration.ts';
import { acidDensity } from './density.ts';

/** A mixture of stronger acid and water. Masses in g, volumes in mL at the temperature of the room. */
export interface Mixture {
  acidMl: number;
  acidG: number;
  waterMl: number;
  waterG: number;
  /** How much less the mixture measures than its parts did: volumes do not add up. */
  contractionMl: number;
  /** Warming of the whole if nothing were lost to the vessel and the room, °C. */
  risesC: number;
  /** The acid goes in by so many equal pours, each after the last has cooled. */
  pours: number;
  /** The most that one pour warms it, °C. */
  pourRisesC: number;
  /** Is the acid in hand so strong that it chars? Would it boil, all at once? */
  concentrated: boolean;
  boils: boolean;
}

/** Integral heat of solution of H₂SO₄ in water, kJ per mol of acid, by mol of water per mol of acid (NBS, Selected Values, Circular 500). */
const HEAT_OF_SOLUTION = [
  [0, 0],
  [0.5, 15.73],
  [1, 28.07],
  [1.5, 36.9],
  [2, 41.92],
  [3, 49.0],
  [4, 54.06],
  [5, 58.03],
  [6, 60.75],
  [8, 64.6],
  [10, 67.03],
  [20, 71.5],
  [50, 73.35],
  [100, 73.97],
  [1000, 78.58],
] as const;
const WATER_G_PER_MOL = 18.015;
/** Mixtures this warm are left to cool before they are measured or poured on, °C of warming. */
const WARM_C = 10;
/** What one pour may warm the vessel by: from a room of 25 °C it stays well under the 60 °C at which plastic ones soften, °C. */
const MOST_FOR_A_POUR_C = 25;
/** From here acid takes water out of whatever it touches, and each drop of water into it spits, wt %. */
const CONCENTRATED = 75;
/** Mixed acid this warm boils and spits where it is poured, °C. */
const NEAR_BOILING_C = 90;

/**
 * Acid and water for a wanted volume of a wanted gravity. Exact in mass and wt %; the volumes follow
 * from the densities at the temperature of the room.
 *
 * @param strong wt % of the acid in hand, up to 98
 * @param wantedSg of the mixture, at 25 °C
 * @param wantedMl of the mixture, at 25 °C
 * @param roomC of acid, water and room, 0–50 °C
 * @throws RangeError when the acid in hand is not stronger than what is wanted
 */
export function mixAcid(
  strong: number,
  wantedSg: number,
  wantedMl: number,
  roomC = REFERENCE_TEMPERATURE_C,
): Mixture {
  const wanted = weightPercentFromSg(wantedSg);
  if (!(strong > wanted))
    throw new RangeError(
      `${nameOf(strong)} cannot make SG ${wantedSg.toFixed(3)}: it must be the stronger one.`,
    );
  if (!(wantedMl > 0)) throw new RangeError('Say how much is wanted.');
  if (!(roomC >= 0 && roomC <= 50)) throw new RangeError('Mix between 0 and 50 °C.');
  const totalG = wantedMl * acidDensity(wanted, REFERENCE_TEMPERATURE_C);
  const acidG = (totalG * wanted) / strong;
  const waterG = totalG - acidG;
  const acidMl = acidG / acidDensity(strong, roomC);
  const waterMl = waterG / acidDensity(0, roomC);
  const totalMl = totalG / acidDensity(wanted, roomC);
  const { pours, pourRisesC } = inPours(strong, acidG, waterG);
  const risesC = warmingByPour(strong, acidG, waterG, 1, 1);
  return {
    acidMl,
    acidG,
    waterMl,
    waterG,
    contractionMl: acidMl + waterMl - totalMl,
    risesC,
    pours,
    pourRisesC,
    concentrated: strong >= CONCENTRATED,
    boils: roomC + risesC > NEAR_BOILING_C,
  };
}

/** How a shop says amounts and warmth. */
export interface MixingUnits {
  volume: (ml: number) => string;
  rise: (celsius: number) => string;
}

/** What to do, in the order of pouring. */
export function mixingOrder(mixture: Mixture, { volume, rise }: MixingUnits): string[] {
  const {
    acidMl,
    acidG,
    waterMl,
    waterG,
    contractionMl,
    risesC,
    pours,
    pourRisesC,
    concentrated,
    boils,
  } = mixture;
  const grams = (g: number) => `${g.toFixed(0)}\u00a0g`;
  const vessel = 1.3 * (acidMl + waterMl - contractionMl);
  const never = 'slowly, stirring. Never water into acid: it boils and throws acid.';
  return [
    `Measure ${volume(waterMl)} (${grams(waterG)}) of distilled water into an acid-proof vessel of at least ${volume(Math.ceil(vessel / 100) * 100)}.`,
    pours === 1
      ? `Pour the acid, ${volume(acidMl)} (${grams(acidG)}), into the water: ${never}`
      : `Pour the acid, ${volume(acidMl)} (${grams(acidG)}) in all, into the water in ${pours} pours of ${volume(acidMl / pours)}: ${never}`,
    pours > 1
      ? `A pour warms it by up to ${rise(pourRisesC)}. Stand the vessel in cold water, and wait until it is back at the room before the next; all at once it would warm by ${rise(risesC)}${boils ? ' and boil' : ''}.`
      : `It warms by about ${rise(risesC)}. ${risesC >= WARM_C ? 'Stop at warm, let it cool to the room, then read its SG.' : 'Let it come to the room, then read its SG.'}`,
    'Correct the reading for its temperature; adjust with a little acid or water.',
    ...(concentrated
      ? [
          'Concentrated acid chars skin, cloth and paper at once: face shield, long gloves, its safety data sheet read; in many places only licensed people may buy or pour it.',
        ]
      : []),
  ];
}

/** "Acid of SG 1.400", or of its percent where gravity says too little. */
const nameOf = (weightPercent: number) =>
  weightPercent <= 60
    ? `Acid of SG ${sgFromWeightPercent(weightPercent).toFixed(3)}`
    : `Acid of ${weightPercent.toFixed(0)} %`;

/** The fewest equal pours of which none warms the vessel too much. */
function inPours(
  strong: number,
  acidG: number,
  waterG: number,
): { pours: number; pourRisesC: number } {
  for (let pours = 1; ; pours++) {
    const rises = Array.from({ length: pours }, (_, i) =>
      warmingByPour(strong, acidG, waterG, pours, i + 1),
    );
    const pourRisesC = Math.max(...rises);
    if (pourRisesC <= MOST_FOR_A_POUR_C || pours === 50) return { pours, pourRisesC };
  }
}

/** What the n-th of so many equal pours of acid into the water warms it by, if nothing is lost, °C. */
function warmingByPour(
  strong: number,
  acidG: number,
  waterG: number,
  pours: number,
  nth: number,
): number {
  const after = (count: number) => {
    const poured = (acidG * count) / pours;
    const h2so4 = (poured * strong) / 100;
    return {
      mol: h2so4 / ACID_MOLAR_MASS,
      grams: waterG + poured,
      weightPercent: (100 * h2so4) / (waterG + poured),
    };
  };
  /** Heat given off so far, kJ; acid that holds water already has given off its share of it. */
  const heat = ({ mol, weightPercent }: ReturnType<typeof after>) =>
    mol === 0
      ? 0
      : mol * (heatOfSolution(waterPerAcid(weightPercent)) - heatOfSolution(waterPerAcid(strong)));
  const now = after(nth);
  return (
    ((heat(now) - heat(after(nth - 1))) * 1000) / (now.grams * specificHeat(now.weightPercent))
  );
}

/** Mol of water to a mol of acid. */
const waterPerAcid = (weightPercent: number) =>
  (100 - weightPercent) / WATER_G_PER_MOL / (weightPercent / ACID_MOLAR_MASS);

/** Heat a mol of acid gives off in so much water, kJ; linear between the table's points. */
function heatOfSolution(molWater: number): number {
  for (let i = 1; i < HEAT_OF_SOLUTION.length; i++) {
    const [r0, h0] = HEAT_OF_SOLUTION[i - 1] as readonly [number, number];
    const [r1, h1] = HEAT_OF_SOLUTION[i] as readonly [number, number];
    if (molWater <= r1) return h0 + ((h1 - h0) * (molWater - r0)) / (r1 - r0);
  }
  return HEAT_OF_SOLUTION.at(-1)?.[1] ?? 0;
}

/** Specific heat of battery acid, J/(g K): linear between water and 60 wt %, which is about 2.2. */
const specificHeat = (weightPercent: number) => 4.18 - 0.033 * weightPercent;

/**
 * SG of two liquids poured together, at 25 °C. Either may be water (SG 1).
 *
 * @returns SG and volume in mL, both at 25 °C
 */
export function blend(
  a: { sg: number; ml: number },
  b: { sg: number; ml: number },
): { weightPercent: number; ml: number } {
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
export function topUpEstimate(
  lowMm: readonly number[],
  c20Ah: number,
): { low: number; mid: number; high: number } {
  const mid = lowMm.reduce((sum, mm) => sum + Math.max(0, mm), 0) * ML_PER_MM_AND_AH * c20Ah;
  return { low: mid * 0.7, mid, high: mid * 1.4 };
}
