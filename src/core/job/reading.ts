import type { CellLevel } from '../batteries/cellLevel.ts';
import type { Showing } from '../chargers/showing.ts';
import type { CcaStandard } from '../batteries/model.ts';
import type { Moment } from '../quantities/moment.ts';

/** `light`: what the charger shows · `arrival`: as it came · `analyser`: instead of a load test · `cells`: cell by cell · `hold`: after a week on the shelf · `shelf`: on a round, outside any job. */
export type ReadingRole =
  | 'arrival'
  | 'charge'
  | 'light'
  | 'rest'
  | 'load'
  | 'analyser'
  | 'cells'
  | 'hold'
  | 'spot'
  | 'shelf';

/** One cell: SG as read, V, and the level of its liquid. */
export interface CellValues {
  specificGravity?: number;
  voltageV?: number;
  level?: CellLevel;
  bubbling?: boolean;
}

/** What a reading may hold: V per battery, A, °C, SG, mΩ, g. */
export interface ReadingValues {
  voltageV?: number;
  currentA?: number;
  temperatureC?: number;
  specificGravity?: number;
  /** By an analyser: mΩ, and A by the model's own standard. */
  resistanceMilliohm?: number;
  ccaA?: number;
  massG?: number;
  /** By a scope: bursts a second, and the peak and mean of their current, A. */
  pulseHz?: number;
  peakA?: number;
  meanA?: number;
  /** Load test: before the load, and after it came off, V. */
  beforeV?: number;
  afterV?: number;
}

/** `fresh`: just off a charger, or driven within the hour · `early`: before the rest was over · `surface`: too high to be rested · `confirmed`: implausible, asked, confirmed. */
export type ReadingMark = 'fresh' | 'early' | 'surface' | 'confirmed';

export interface Reading {
  id: string;
  at: Moment;
  enteredAt: Moment;
  by: string;
  role: ReadingRole;
  stepId: string | null;
  attempt: number;
  values: ReadingValues;
  /** Cell by cell from plus to minus, where it was read so. */
  cells?: CellValues[] | null;
  /** The test an analyser's CCA is by. */
  standard?: CcaStandard | null;
  /** What its charger showed. */
  showing?: Showing | null;
  marks: ReadingMark[];
  /** Reading this one corrects, and the reading that corrected this one. */
  supersedes: string | null;
  supersededBy: string | null;
}
