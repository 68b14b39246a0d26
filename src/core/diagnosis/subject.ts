import type { ChemistryKey } from '../batteries/chemistry.ts';
import type { BatterySize } from '../simulation/battery.ts';
import type { StoryKey } from './stories.ts';

/** What is known of a battery before it is measured. */
export interface Subject extends BatterySize {
  chemistry: ChemistryKey;
  /** Its size is an estimate: one deviation of the logarithm of C20. */
  sizeOff?: number;
  /** SG of its acid when full, 25 °C, where its label or its kind says; absent where nobody knows. */
  fullSg?: number;
  story: StoryKey;
  /** Days it stood and years in service, where somebody knows; null where nobody does. */
  standingDays: number | null;
  ageYears: number | null;
  /** As it stands on the bench, and the coldest it has been while it stood, °C. */
  temperatureC: number;
  coldestC: number | null;
}
