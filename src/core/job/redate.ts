/** The smallest number that is a moment: September 2001 in ms. No quantity of this trade comes near it. */
const SMALLEST_MOMENT = 1e12;

/**
 * The same data with every moment in it later by `byMs`. The machine's clock was wrong and has been put right: what
 * has gone by stays what it was, and what is waited for keeps what was left of it.
 *
 * @param value JSON-like data whose moments are ms since the epoch
 */
export function redated<T>(value: T, byMs: number): T {
  if (typeof value === 'number') return (value >= SMALLEST_MOMENT ? value + byMs : value) as T;
  if (Array.isArray(value)) return value.map((part: unknown) => redated(part, byMs)) as T;
  if (value === null || typeof value !== 'object') return value;
  return Object.fromEntries(
    Object.entries(value).map(([key, part]) => [key, redated(part as unknown, byMs)]),
  ) as T;
}
