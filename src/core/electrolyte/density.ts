/**
 * Sulfuric acid in water, density in g/mL. Perry's Chemical Engineers' Handbook, density tables. The
 * columns at 20 and 25 °C stand to the last digit; the others within 0.0003.
 */
export const ACID_DENSITY = {
  source: "Perry's Chemical Engineers' Handbook, densities of aqueous sulfuric acid",
  temperaturesC: [0, 10, 20, 25, 30, 40, 50],
  /** wt % H₂SO₄, and g/mL at each of the temperatures. */
  rows: [
    [0, [0.9998, 0.9997, 0.9982, 0.997, 0.9957, 0.9922, 0.988]],
    [10, [1.0735, 1.07, 1.0661, 1.064, 1.0617, 1.057, 1.0519]],
    [20, [1.151, 1.1453, 1.1394, 1.1365, 1.1335, 1.1275, 1.1214]],
    [30, [1.2326, 1.2255, 1.2185, 1.215, 1.2115, 1.2046, 1.1977]],
    [40, [1.3179, 1.3103, 1.3028, 1.2991, 1.2953, 1.288, 1.2806]],
    [50, [1.411, 1.4029, 1.3951, 1.3911, 1.3872, 1.3795, 1.3719]],
    [60, [1.5154, 1.5067, 1.4983, 1.494, 1.4898, 1.4816, 1.4735]],
    [70, [1.6293, 1.6198, 1.6105, 1.6059, 1.6014, 1.5925, 1.5838]],
    [80, [1.7482, 1.7376, 1.7272, 1.7221, 1.717, 1.7069, 1.6971]],
    [85, [1.8009, 1.7897, 1.7786, 1.7732, 1.7678, 1.7571, 1.7466]],
    [90, [1.8361, 1.8252, 1.8144, 1.8091, 1.8038, 1.7933, 1.7829]],
    [93, [1.849, 1.8384, 1.8279, 1.8227, 1.8176, 1.8074, 1.7974]],
    [96, [1.856, 1.8457, 1.8355, 1.8305, 1.8255, 1.8157, 1.806]],
    [98, [1.8567, 1.8463, 1.8361, 1.831, 1.8261, 1.8163, 1.8068]],
  ],
} as const;

const STRENGTHS = ACID_DENSITY.rows.map(([weightPercent]) => weightPercent);
export const MAX_WEIGHT_PERCENT = STRENGTHS.at(-1) as number;

/** One temperature's densities, with a slope at each strength. */
interface Column {
  temperatureC: number;
  gPerMl: readonly number[];
  slopes: readonly number[];
}
const COLUMNS: readonly Column[] = ACID_DENSITY.temperaturesC.map((temperatureC, i) => {
  const gPerMl = ACID_DENSITY.rows.map(([, row]) => row[i] as number);
  return { temperatureC, gPerMl, slopes: smoothSlopes(STRENGTHS, gPerMl) };
});

/**
 * Density of sulfuric acid.
 *
 * A cubic in wt % without a kink in slope or curvature, linear in temperature between the columns.
 * Exact at the tabulated points, within 0.0005 between them from 0 to 50 °C; outside of those
 * temperatures the nearest two columns are drawn on.
 *
 * @param weightPercent 0–98 wt % H₂SO₄
 * @param temperatureC °C
 * @returns g/mL
 * @throws RangeError outside 0–98 wt %
 */
export function acidDensity(weightPercent: number, temperatureC: number): number {
  if (!(weightPercent >= 0 && weightPercent <= MAX_WEIGHT_PERCENT)) {
    throw new RangeError(`Acid strength must lie between 0 and ${MAX_WEIGHT_PERCENT} wt %.`);
  }
  let right = 1;
  while (right < COLUMNS.length - 1 && temperatureC > (COLUMNS[right] as Column).temperatureC)
    right++;
  const [cool, warm] = [COLUMNS[right - 1], COLUMNS[right]] as [Column, Column];
  const along = (temperatureC - cool.temperatureC) / (warm.temperatureC - cool.temperatureC);
  const atCool = along === 1 ? 0 : interpolate(cool, weightPercent);
  const atWarm = along === 0 ? 0 : interpolate(warm, weightPercent);
  return atCool * (1 - along) + atWarm * along;
}

/**
 * Slopes of the cubic spline that bends evenly through all points and has no curvature change over
 * its outer spans (de Boor, A Practical Guide to Splines, ch. IV), by the Thomas algorithm.
 */
function smoothSlopes(x: readonly number[], y: readonly number[]): number[] {
  const spans = x.slice(1).map((right, i) => right - (x[i] as number));
  const secants = spans.map((span, i) => ((y[i + 1] as number) - (y[i] as number)) / span);
  // One row a point: below · m[i−1] + middle · m[i] + above · m[i+1] = right.
  const rows = x.map((_, i) => {
    const [before, after] = [spans[i - 1], spans[i]];
    const [rise, next] = [secants[i - 1] ?? 0, secants[i] ?? 0];
    if (before === undefined) return { below: 0, middle: 1, above: 1, right: 2 * next };
    if (after === undefined) return { below: 1, middle: 1, above: 0, right: 2 * rise };
    return {
      below: after,
      middle: 2 * (before + after),
      above: before,
      right: 3 * (after * rise + before * next),
    };
  });
  type Row = (typeof rows)[number];
  for (let i = 1; i < rows.length; i++) {
    const [above, row] = [rows[i - 1], rows[i]] as [Row, Row];
    const share = row.below / above.middle;
    row.middle -= share * above.above;
    row.right -= share * above.right;
  }
  const slopes = new Array<number>(x.length);
  for (let i = rows.length - 1; i >= 0; i--) {
    const { middle, above, right } = rows[i] as Row;
    slopes[i] = (right - above * (slopes[i + 1] ?? 0)) / middle;
  }
  return slopes;
}

/** Cubic Hermite between the two tabulated strengths around one. */
function interpolate({ gPerMl, slopes }: Column, weightPercent: number): number {
  let i = 0;
  while (i < STRENGTHS.length - 2 && weightPercent >= (STRENGTHS[i + 1] as number)) i++;
  const [x0, x1] = [STRENGTHS[i], STRENGTHS[i + 1]] as [number, number];
  const [y0, y1, m0, m1] = [gPerMl[i], gPerMl[i + 1], slopes[i], slopes[i + 1]] as [
    number,
    number,
    number,
    number,
  ];
  const step = x1 - x0;
  const t = (weightPercent - x0) / step;
  const t2 = t * t;
  const t3 = t2 * t;
  return (
    (2 * t3 - 3 * t2 + 1) * y0 +
    (t3 - 2 * t2 + t) * step * m0 +
    (3 * t2 - 2 * t3) * y1 +
    (t3 - t2) * step * m1
  );
}
