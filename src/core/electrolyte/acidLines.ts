/** SG this far from what is wanted is judged off; beyond the second it is another acid. */
export const SG_OFF = 0.01;
export const SG_OTHER_ACID = 0.03;
/** Acid and battery are filled between these, °C: colder fills late, warmer gasses. */
export const FILL_RANGE_C = [16, 30] as const;
