/** Freezing point of battery acid by SG at 25 °C (BCI Battery Service Manual, rounded). */
export const FREEZING_POINTS = {
  source: 'BCI Battery Service Manual, rounded',
  points: [
    [1.1, -8],
    [1.15, -15],
    [1.2, -27],
    [1.25, -52],
    [1.265, -57],
    [1.28, -69],
  ],
} as const;

/**
 * Temperature at which acid of this SG begins to freeze, linear between the table's points.
 *
 * @returns °C, or null outside SG 1.100–1.280 where the table says nothing
 */
export function freezingPointC(sg: number): number | null {
  const { points } = FREEZING_POINTS;
  const above = points.findIndex(([at]) => at >= sg);
  if (above < 0 || sg < points[0][0]) return null;
  const [s1, t1] = points[above] as readonly [number, number];
  if (above === 0) return t1;
  const [s0, t0] = points[above - 1] as readonly [number, number];
  return t0 + ((t1 - t0) * (sg - s0)) / (s1 - s0);
}
