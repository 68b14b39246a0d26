import { forCells } from '../batteries/chemistry.ts';

/** Copper, Ω·mm²/m at 20 °C. */
const COPPER = 0.0175;
/** Clips and posts, both leads, Ω. Usual. */
const CLIPS_OHM = 0.004;

/** Both leads with their clips and posts, Ω. */
export const leadsOhm = ({ leadM, leadMm2 }: Pick<WakeSetUp, 'leadM' | 'leadMm2'>): number =>
  (2 * COPPER * leadM) / leadMm2 + CLIPS_OHM;

/** Inner resistance of a full 60 Ah battery, Ω; in proportion to size. A flat one has several to many times that. */
const FULL_60AH_OHM = 0.005;
const FLAT_TIMES = 3;
/** Usual amperes a copper lead carries for minutes, A per mm². */
const AMPS_PER_MM2 = 10;
/** What copper stands while its heat has nowhere to go: (I/mm²)²·s, with I²t ≤ (115 A·√s/mm² × mm²)² (IEC 60364-5-54, PVC). */
const ADIABATIC_A_ROOT_S = 115;
/** The rush lasts seconds; from then on what flows is for the usual rule. s */
const RUSH_S = 10;
/** Of the rush, so much still flows after those seconds. The sleeper's plates charge up. Assumed. */
const AFTER_RUSH = 0.5;
export const GAUGES_MM2 = [2.5, 4, 6, 10, 16, 25, 35] as const;
/** A donor below this per 12 V has nothing to give. */
const DONOR_LEAST_12V = 12;
/** From here on a clip sparks. A */
const SPARKS_A = 30;
/** Most chargers refuse a battery below this per 12 V; woken to it, it carries on alone. */
export const WAKE_BELOW_12V = 10.5;

export interface WakeSetUp {
  donorV: number;
  donorAh: number;
  leadM: number;
  leadMm2: number;
  chargerA: number;
}

export interface WakePair extends WakeSetUp {
  sleeperV: number;
  sleeperAh: number;
  cells: number;
}

export interface WakeCurrents {
  /** At the moment the clips go on: expected, and with a sleeper that is soft (a third of the resistance). */
  inrushA: number;
  worstA: number;
  /** Least copper that carries the worst, mm²; null when none of the usual does. */
  gaugeMm2: number | null;
  /** Why it may not be done at all, and what of the pair it lies in. */
  problems: { of: 'donorV' | 'leadMm2'; sentence: string }[];
  /** What to mind while it is done. */
  warnings: string[];
}

/** What flows when a donor is put beside a sleeper: I = ΔU ÷ all that is in the way. Worked out before the clips go on. */
export function wakeCurrents(pair: WakePair): WakeCurrents {
  const donorOhm = (FULL_60AH_OHM * 60) / pair.donorAh;
  const sleeperOhm = (FLAT_TIMES * FULL_60AH_OHM * 60) / pair.sleeperAh;
  const across = pair.donorV - pair.sleeperV;
  const inrushA = Math.max(0, across / (donorOhm + sleeperOhm + leadsOhm(pair)));
  const worstA = Math.max(0, across / (donorOhm + sleeperOhm / 3 + leadsOhm(pair)));
  const problems: WakeCurrents['problems'] = [];
  const never = (of: 'donorV' | 'leadMm2', sentence: string): void =>
    void problems.push({ of, sentence });
  const least = forCells(DONOR_LEAST_12V, pair.cells);
  if (pair.donorV < least)
    never(
      'donorV',
      `The donor reads ${pair.donorV.toFixed(2)} V; ${least.toFixed(2)} V is the least. Charge it first, or take another.`,
    );
  if (pair.sleeperV < -0.3)
    never('donorV', 'The sleeper is reversed. It is never put beside another battery.');
  if (pair.donorV > forCells(15.5, pair.cells))
    never(
      'donorV',
      'That donor is of another voltage. Batteries of different voltage are never put side by side.',
    );
  const carries = (mm2: number): boolean =>
    rushStands(mm2, worstA) && mm2 * AMPS_PER_MM2 >= AFTER_RUSH * worstA;
  const warnings: string[] = [];
  if (!rushStands(pair.leadMm2, worstA))
    never(
      'leadMm2',
      `Up to ${worstA.toFixed(0)} A may rush through the leads when the clips go on; ${pair.leadMm2} mm² would burn its insulation within ${RUSH_S} s.`,
    );
  else if (!carries(pair.leadMm2))
    warnings.push(
      `Up to ${worstA.toFixed(0)} A may flow when the clips go on. ${pair.leadMm2} mm² stands that for seconds, not minutes: feel the leads, and take them off when they get warm.`,
    );
  if (worstA > SPARKS_A)
    warnings.push(
      'It sparks when the last clip goes on. Put that one on last, away from the battery, standing aside; caps on, no gas about.',
    );
  return {
    inrushA,
    worstA,
    gaugeMm2: GAUGES_MM2.find(carries) ?? null,
    problems,
    warnings,
  };
}

/** Does copper of this section stand a rush of seconds? */
function rushStands(mm2: number, amps: number): boolean {
  return amps * amps * RUSH_S <= (ADIABATIC_A_ROOT_S * mm2) ** 2;
}
