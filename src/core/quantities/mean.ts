/** Mean of some values; NaN of none. */
export const mean = (values: readonly number[]): number =>
  values.reduce((a, b) => a + b, 0) / values.length;
