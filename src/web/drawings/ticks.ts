const NICE = [1, 2, 2.5, 5, 10];
const MOST_STEPS = 3;

/** Round numbers that hold every value, at most three steps of them. */
export function valueTicks(
  values: readonly number[],
  limit: number | undefined,
  fromZero: boolean,
  decimals: number,
): number[] {
  let low = fromZero ? 0 : Infinity;
  let high = fromZero ? 0 : -Infinity;
  for (const v of limit === undefined ? values : [...values, limit]) {
    if (v < low) low = v;
    if (v > high) high = v;
  }
  const span = Math.max(high - low, 2 * 10 ** -decimals);
  const unit = 10 ** Math.floor(Math.log10(span / MOST_STEPS));
  for (const nice of NICE) {
    const step = nice * unit;
    const [from, to] = [
      Math.floor(low / step + 1e-9),
      Math.max(Math.ceil(high / step - 1e-9), Math.floor(low / step + 1e-9) + 1),
    ];
    if (to - from <= MOST_STEPS)
      return Array.from({ length: to - from + 1 }, (_, i) => (from + i) * step);
  }
  return [low, high];
}

/** As many decimals as tell one tick from the next. */
export const tickDecimals = (step: number): number =>
  [0, 1, 2, 3].find((d) => Math.abs(step * 10 ** d - Math.round(step * 10 ** d)) < 1e-6) ?? 3;

const STEPS_H = [0.25, 0.5, 1, 2, 3, 4, 6, 8, 12, 24, 48, 96];

/** Hours to mark along a time axis: at most about six. */
export function hourTicks(untilH: number): number[] {
  const step = STEPS_H.find((s) => untilH / s <= 6) ?? 168;
  return Array.from({ length: Math.floor(untilH / step + 1e-9) + 1 }, (_, i) => i * step);
}

export const hourWord = (h: number): string =>
  h === 0
    ? '0'
    : h < 1
      ? `${Math.round(h * 60)} min`
      : `${Number.isInteger(h) ? h : h.toFixed(1)} h`;
