/**
 * Where a rest voltage that is still falling will settle.
 *
 * After a charge the open-circuit voltage relaxes as two exponentials: a fast one of minutes (acid in the
 * pores) and a slow one of an hour or more (acid between plates, gas films). The settled voltage is
 * weighed over time constants with a stated prior; for each pair the amplitudes follow in closed form.
 */

/** A voltage some time after the current stopped: s, V per battery. */
export interface RelaxingReading {
  afterS: number;
  voltageV: number;
}

export interface SettledEstimate {
  /** V per battery, and the middle 80 % of what is believed. */
  low: number;
  mid: number;
  high: number;
  /** In one sentence, for the screen. */
  sentence: string;
}

/** Time constants considered, s: relaxations of starter batteries lie between. Assumed prior, equal odds. */
const FAST_S = [180, 360, 720];
const SLOW_S = [1800, 3600, 7200, 14_400];
/** Amplitudes per cell, middle and one deviation, and a meter's error, V. Assumed prior; both fall, seldom rise. */
const FAST_V = [0.04, 0.03] as const;
const SLOW_V = [0.022, 0.015] as const;
const METER_V = 0.004;
/** Settled voltage per cell before anything is read, V. */
const SETTLED_V = [2.112, 0.03] as const;
const Z80 = 1.2816;
/** Readings closer than this to each other tell nothing about the fall, s. */
const LEAST_SPAN_S = 240;

/**
 * @param readings after the current stopped, at least two, some minutes apart
 * @param cells in series
 * @returns null where the readings are too few or too close
 */
export function settledVoltage(
  readings: readonly RelaxingReading[],
  cells: number,
): SettledEstimate | null {
  const span =
    Math.max(...readings.map((r) => r.afterS)) - Math.min(...readings.map((r) => r.afterS));
  if (readings.length < 2 || !(span >= LEAST_SPAN_S)) return null;
  const estimates = FAST_S.flatMap((fast) =>
    SLOW_S.map((slow) => posterior(readings, cells, fast, slow)),
  );
  const best = Math.max(...estimates.map((e) => e.logEvidence));
  const weights = estimates.map((e) => Math.exp(e.logEvidence - best));
  const total = weights.reduce((a, b) => a + b, 0);
  const mid = estimates.reduce((sum, e, i) => sum + e.mean * (weights[i] as number), 0) / total;
  const variance =
    estimates.reduce(
      (sum, e, i) => sum + (e.variance + (e.mean - mid) ** 2) * (weights[i] as number),
      0,
    ) / total;
  const off = Z80 * Math.sqrt(variance);
  return {
    low: mid - off,
    mid,
    high: mid + off,
    sentence: `Likely to settle near ${mid.toFixed(2)} V, between ${(mid - off).toFixed(2)} and ${(mid + off).toFixed(2)} V in 8 of 10 cases. An estimate: nothing is passed on it.`,
  };
}

/** Gaussian posterior of the settled voltage for one pair of time constants, by sequential updates of (settled, fast, slow). */
function posterior(
  readings: readonly RelaxingReading[],
  cells: number,
  fastS: number,
  slowS: number,
): { mean: number; variance: number; logEvidence: number } {
  const mean = [SETTLED_V[0] * cells, FAST_V[0] * cells, SLOW_V[0] * cells];
  const cov = [
    [(SETTLED_V[1] * cells) ** 2, 0, 0],
    [0, (FAST_V[1] * cells) ** 2, 0],
    [0, 0, (SLOW_V[1] * cells) ** 2],
  ];
  let logEvidence = 0;
  for (const { afterS, voltageV } of readings) {
    const h = [1, Math.exp(-afterS / fastS), Math.exp(-afterS / slowS)];
    const ch = cov.map((row) => row.reduce((sum, c, j) => sum + c * (h[j] as number), 0));
    const s =
      ch.reduce((sum, c, j) => sum + c * (h[j] as number), 0) + (METER_V * Math.sqrt(cells)) ** 2;
    const residual = voltageV - h.reduce((sum, x, j) => sum + x * (mean[j] as number), 0);
    logEvidence -= 0.5 * (Math.log(s) + (residual * residual) / s);
    for (let i = 0; i < 3; i++) {
      const gain = (ch[i] as number) / s;
      mean[i] = (mean[i] as number) + gain * residual;
      for (let j = 0; j < 3; j++)
        (cov[i] as number[])[j] = ((cov[i] as number[])[j] as number) - gain * (ch[j] as number);
    }
  }
  return { mean: mean[0] as number, variance: (cov[0] as number[])[0] as number, logEvidence };
}

/** After a charge or a drive, surface charge is mostly gone after so long with nothing connected, s. Usual: 2 to 12 h. */
export const SURFACE_REST_S = 4 * 3600;
/** Or a load of a tenth of C20 for a minute takes it off; then the voltage recovers within so long, s. Usual practice. */
export const SURFACE_LOAD_C = 0.1;
export const SURFACE_RECOVERS_S = 300;
