import { forCells } from '../batteries/chemistry.ts';

/** Copper, Ω·mm²/m at 20 °C. */
const COPPER = 0.0175;
/** Clips and posts, both leads, Ω. Usual. */
const CLIPS_OHM = 0.004;
/** Inner resistance of a full 60 Ah battery, Ω; in proportion to size. A flat one has several to many times that. */
const FULL_60AH_OHM = 0.005;
const FLAT_TIMES = 3;
/** Usual short-time amperes a copper lead carries, A per mm². */
const AMPS_PER_MM2 = 10;
const GAUGES_MM2 = [2.5, 4, 6, 10, 16, 25, 35] as const;
/** A donor below this per 12 V has nothing to give. */
export const DONOR_LEAST_12V = 12;
/** Reached after an hour, the sleeper carries on alone. */
export const AWAKE_12V = 10.5;

export interface WakePair {
  donorV: number;
  donorAh: number;
  sleeperV: number;
  sleeperAh: number;
  cells: number;
  leadM: number;
  leadMm2: number;
  chargerA: number;
}

export interface WakeCurrents {
  /** At the moment the clips go on: expected, and with a sleeper that is soft (a third of the resistance). */
  inrushA: number;
  worstA: number;
  /** Least copper that carries the worst, mm²; null when none of the usual does. */
  gaugeMm2: number | null;
  /** Who takes what of the charger once it has settled, A. */
  sleeperTakesA: number;
  donorTakesA: number;
  problems: string[];
}

/** What flows when a donor is put beside a sleeper: I = ΔU ÷ all that is in the way. Worked out before the clips go on. */
export function wakeCurrents(pair: WakePair): WakeCurrents {
  const donorOhm = (FULL_60AH_OHM * 60) / pair.donorAh;
  const sleeperOhm = (FLAT_TIMES * FULL_60AH_OHM * 60) / pair.sleeperAh;
  const leadOhm = (2 * COPPER * pair.leadM) / pair.leadMm2 + CLIPS_OHM;
  const across = pair.donorV - pair.sleeperV;
  const inrushA = Math.max(0, across / (donorOhm + sleeperOhm + leadOhm));
  const worstA = Math.max(0, across / (donorOhm + sleeperOhm / 3 + leadOhm));
  const problems: string[] = [];
  const least = forCells(DONOR_LEAST_12V, pair.cells);
  if (pair.donorV < least) problems.push(`The donor reads ${pair.donorV.toFixed(2)} V; ${least.toFixed(2)} V is the least. Charge it first, or take another.`);
  if (pair.sleeperV < -0.3) problems.push('The sleeper is reversed. It is never put beside another battery.');
  if (pair.donorV > forCells(15.5, pair.cells)) problems.push('That donor is of another voltage. Batteries of different voltage are never put side by side.');
  if (pair.leadMm2 * AMPS_PER_MM2 < worstA)
    problems.push(
      `Up to ${worstA.toFixed(0)} A may rush through the leads when the clips go on; ${pair.leadMm2} mm² carries ${(pair.leadMm2 * AMPS_PER_MM2).toFixed(0)} A.`,
    );
  const share = donorOhm / (donorOhm + sleeperOhm + leadOhm);
  return {
    inrushA,
    worstA,
    gaugeMm2: GAUGES_MM2.find((mm2) => mm2 * AMPS_PER_MM2 >= worstA) ?? null,
    sleeperTakesA: pair.chargerA * share + inrushA * 0.1,
    donorTakesA: Math.max(0, pair.chargerA * (1 - share) - inrushA * 0.1),
    problems,
  };
}
