import { forCells } from '../batteries/chemistry.ts';

/** Least volts of a good 12 V battery at the end of a 15 s load test, by temperature (BCI): [°C, V]. */
export const LOAD_TEST_MINIMUM = {
  source: 'BCI Battery Service Manual, load test, 12 V',
  points: [
    [21, 9.6],
    [16, 9.5],
    [10, 9.4],
    [4, 9.3],
    [-1, 9.1],
    [-7, 8.9],
    [-12, 8.7],
    [-18, 8.5],
  ],
} as const;

export const LOAD_TEST_S = 15;
export const LOAD_TEST_C_RATE = 3;

/** Load-test current: three times C20 in amperes. */
export function loadTestA(c20Ah: number): number {
  return LOAD_TEST_C_RATE * c20Ah;
}

/**
 * Least volts at 15 s under load, linear between the table's points, flat beyond its ends.
 *
 * @param points of a 12 V battery, warmest first: [°C, V]
 * @returns V per battery
 */
export function loadTestMinimumV(
  temperatureC: number,
  cells: number,
  points: readonly (readonly [number, number])[] = LOAD_TEST_MINIMUM.points,
): number {
  const [warmest, coldest] = [points[0] ?? [0, 0], points.at(-1) ?? [0, 0]];
  if (temperatureC >= warmest[0]) return forCells(warmest[1], cells);
  for (let i = 1; i < points.length; i++) {
    const [warmC, warmV] = points[i - 1] as readonly [number, number];
    const [coldC, coldV] = points[i] as readonly [number, number];
    if (temperatureC >= coldC)
      return forCells(coldV + ((warmV - coldV) * (temperatureC - coldC)) / (warmC - coldC), cells);
  }
  return forCells(coldest[1], cells);
}
