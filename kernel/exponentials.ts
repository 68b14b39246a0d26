/**
 * e to the power and natural logarithm by table and short series: nearly all a step of the battery model does is one or
 * the other. They give the same digits on every machine.
 */

/** Parts of a factor of two that the table of powers tells apart. */
const PARTS: i32 = 32;
const FRACTIONS: usize = memory.data(PARTS * 8, 8);
const PARTS_PER_E: f64 = 32.0 / 0.6931471805599453;
/** ln 2 ÷ 32 in two pieces, so that n times the first is exact. */
const PIECE: f64 = <f64>(<f32>(0.6931471805599453 / 32.0));
const REST: f64 = 0.6931471805599453 / 32.0 - PIECE;
/** Added to a small number, it leaves no room for fractions: the last bits are the number, rounded. */
const ROUNDS: f64 = 6755399441055744.0;
const HIGHEST: f64 = 709.0;
const LOWEST: f64 = -708.0;

/** Steps of the mantissa that the table of logarithms tells apart: the centre of each, and its logarithm. */
const STEPS: i32 = 128;
const LOGS: usize = memory.data(STEPS * 16, 8);

for (let i = 0; i < PARTS; i++) store<f64>(FRACTIONS + (i << 3), NativeMath.pow(2.0, <f64>i / 32.0));
for (let i = 0; i < STEPS; i++) {
  const centre = 1.0 + (<f64>i + 0.5) / 128.0;
  store<f64>(LOGS + (i << 4), 1.0 / centre);
  store<f64>(LOGS + (i << 4), NativeMath.log(centre), 8);
}

/**
 * e^x. Relative error below 2e-12 for −708 ≤ x ≤ 709; beyond, the value at that end.
 *
 * Method: x = n·ln2/32 + r with |r| ≤ 0.011, powers of two from a table and by their bits, four terms of the series for e^r.
 */
// @ts-ignore: decorator
@inline
export function exp(x: f64): f64 {
  const inside = x > HIGHEST ? HIGHEST : x < LOWEST ? LOWEST : x;
  const shifted = inside * PARTS_PER_E + ROUNDS;
  const n = <i32>reinterpret<i64>(shifted);
  const parts = shifted - ROUNDS;
  const r = inside - parts * PIECE - parts * REST;
  const series = 1.0 + r * (1.0 + r * (0.5 + r * (1.0 / 6.0 + r * (1.0 / 24.0))));
  const power = reinterpret<f64>((<u64>((n >> 5) + 1023)) << 52);
  return load<f64>(FRACTIONS + ((n & (PARTS - 1)) << 3)) * power * series;
}

/**
 * ln x. Absolute error below 2e-14, or that share of the result where it is larger, for every normal x above zero
 * (2.3e-308 and up); not for anything else.
 *
 * Method: mantissa over the centre of its 128th from a table, four terms of the series for the logarithm of what is left.
 */
// @ts-ignore: decorator
@inline
export function log(x: f64): f64 {
  const bits = reinterpret<u64>(x);
  const at = LOGS + (<usize>((bits >> 45) & 127) << 4);
  const mantissa = reinterpret<f64>((bits & 0x000fffffffffffff) | 0x3ff0000000000000);
  const r = mantissa * load<f64>(at) - 1.0;
  const series = r * (1.0 - r * (0.5 - r * (1.0 / 3.0 - r * (0.25 - r * 0.2))));
  return <f64>(<i32>(bits >> 52) - 1023) * 0.6931471805599453 + (load<f64>(at, 8) + series);
}
