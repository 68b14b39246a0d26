import type { FittedStage } from './fitPlan.ts';

/** A record of what an instrument gave, evenly spaced: A, charging positive, and V. */
export interface Waveform {
  /** Length of the record, s. */
  seconds: number;
  currentA: readonly number[];
  voltageV: readonly number[];
}

/** What a record says of its pulses. */
export interface WaveformFigures {
  /** Bursts a second, and the share of a period with current; null where fewer than two bursts begin in the record. */
  perSecond: number | null;
  duty: number | null;
  peakA: number;
  meanA: number;
  /** Root of the mean square: what warms leads and cells. */
  rmsA: number;
}

/** How a record stands to the pulses that were ordered. */
export type WaveformFinding =
  | 'as-ordered'
  | 'no-pulses'
  | 'no-current'
  | 'held-lower'
  | 'another-rate';

/** Lower than this share of the peak, the current is off. */
const HALF = 0.5;
/** A record whose ups and downs are less than this share of its peak has no pulses in it. */
const FLAT = 0.2;
/** Peak, and rate, within this share of what was ordered are as ordered: a tenth for the instrument, the rest for noise. */
const NEAR = 0.15;
const NOTHING_A = 0.02;

/** Rate, duty, mean, peak and RMS of a record. Peak is the level that one moment in fifty exceeds, so that a spike is none. */
export function waveformFigures({ seconds, currentA }: Waveform): WaveformFigures {
  const n = currentA.length;
  const sorted = currentA.toSorted((a, b) => a - b);
  const peakA = sorted[Math.floor(0.98 * (n - 1))] ?? 0;
  const lowA = sorted[Math.floor(0.02 * (n - 1))] ?? 0;
  const none = { perSecond: null, duty: null, peakA, ...means(currentA) };
  if (peakA - lowA < FLAT * Math.max(peakA, NOTHING_A)) return none;
  const limit = lowA + HALF * (peakA - lowA);
  const begins: number[] = [];
  for (let i = 1; i < n; i++)
    if ((currentA[i - 1] as number) < limit && (currentA[i] as number) >= limit) begins.push(i);
  const [first, last] = [begins[0], begins.at(-1)];
  if (first === undefined || last === undefined || begins.length < 2) return none;
  const periods = begins.length - 1;
  const perSecond = (periods * n) / ((last - first) * seconds);
  const whole = currentA.slice(first, last);
  return {
    peakA,
    // Over whole periods: a part of one more would weigh too much.
    ...means(whole),
    perSecond,
    duty: whole.filter((a) => a >= limit).length / whole.length,
  };
}

const means = (currentA: readonly number[]): { meanA: number; rmsA: number } => ({
  meanA: currentA.reduce((sum, a) => sum + a, 0) / currentA.length,
  rmsA: Math.sqrt(currentA.reduce((sum, a) => sum + a * a, 0) / currentA.length),
});

/** How what was recorded stands to the bursts of a stage. */
export function waveformFinding(
  figures: WaveformFigures,
  { currentA, onS, offS }: Pick<FittedStage, 'currentA' | 'onS' | 'offS'>,
): WaveformFinding {
  const { perSecond, peakA } = figures;
  if (peakA < Math.max(NOTHING_A, 0.02 * currentA)) return 'no-current';
  if (perSecond === null) return 'no-pulses';
  if (Math.abs(perSecond * (onS + offS) - 1) > NEAR) return 'another-rate';
  return peakA < (1 - NEAR) * currentA ? 'held-lower' : 'as-ordered';
}

/** What a finding means, as a sentence. */
export const WAVEFORM_FINDINGS: Readonly<Record<WaveformFinding, string>> = {
  'as-ordered': 'It pulses as ordered.',
  'no-pulses': 'It says that it pulses, and gives a steady current.',
  'no-current': 'Nothing flows: look at the clips.',
  'held-lower':
    'The bursts are held at the ceiling: the battery takes less than the current ordered.',
  'another-rate': 'It pulses at another rate than ordered.',
};

/** How long a record of a stage's pulses must be to hold two beginnings of a burst, s. */
export const recordSeconds = ({ onS, offS }: Pick<FittedStage, 'onS' | 'offS'>): number =>
  2.2 * (onS + offS);

/** The shape that was ordered, at so many moments of a record whose first burst begins at `beginsS`. A. */
export function orderedShape(
  { currentA, onS, offS }: Pick<FittedStage, 'currentA' | 'onS' | 'offS'>,
  seconds: number,
  points: number,
  beginsS: number,
): number[] {
  const period = onS + offS;
  return Array.from({ length: points }, (_, i) => {
    const at = (seconds * i) / points - beginsS;
    return ((at % period) + period) % period < onS ? currentA : 0;
  });
}

/** When the first whole burst of a record begins, s; 0 where none does. */
export function firstBurstS({ seconds, currentA }: Waveform, peakA: number): number {
  const i = currentA.findIndex(
    (a, k) => k > 0 && (currentA[k - 1] as number) < HALF * peakA && a >= HALF * peakA,
  );
  return i < 0 ? 0 : (seconds * i) / currentA.length;
}
