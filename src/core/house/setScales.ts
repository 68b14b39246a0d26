/** Difference of each measure that weighs as much as one; house rule. */
export interface SetScales {
  ageYears: number;
  /** Share of the mean. */
  capacity: number;
  resistance: number;
  restV: number;
  /** Two batteries further apart than this never share a set. */
  limit: number;
}

export const DEFAULT_SCALES: SetScales = {
  ageYears: 2,
  capacity: 0.1,
  resistance: 0.2,
  restV: 0.08,
  limit: 1.5,
};
