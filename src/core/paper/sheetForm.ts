import type { WallStyle } from '../quantities/format.ts';
import type { TemperatureUnit } from '../quantities/quantity.ts';

export interface SheetWords extends WallStyle {
  temperatureUnit: TemperatureUnit;
  /** Temperature gravities are printed at, °C; 25 where the shop has not said. */
  sgReferenceC?: number;
  /** Name behind a signature. */
  nameOf: (id: string) => string;
}

export interface SheetReading {
  when: string;
  what: string;
  values: string;
  remark: string;
  corrected: boolean;
}

/** The handover sheet as words and numbers; the screen and the PDF only set it. */
export interface Sheet {
  verdict: string;
  reasons: string[];
  headline: { label: string; value: string }[];
  facts: { label: string; value: string }[];
  /** What a lead decided. */
  decisions: { when: string; what: string; reason: string; by: string }[];
  steps: { when: string; title: string; by: string; remark: string }[];
  readings: SheetReading[];
  /** Charges that an instrument ran: the plan in its sentences, and how it ended. */
  charges: { title: string; said: string[]; ended: string }[];
  deviations: { when: string; what: string; reason: string; by: string }[];
  notes: { when: string; text: string; by: string }[];
}
