/** What is known beside the job where a command is decided. */

import type { JobPlan } from '../plan/jobPlan.ts';
import type { ShopCharger } from '../chargers/charger.ts';

/** A lot of electrolyte as the wet room keeps it. */
export interface StockedLot {
  code: string;
  kind: 'pack' | 'acid' | 'water';
  /** Code of its packs, for tube packs. */
  packCode: string | null;
  expired: boolean;
  leftMl: number;
}

export interface DecisionContext {
  now: number;
  by: { id: string; role: 'technician' | 'lead' };
  /** Client-made id of the command; a reading it creates takes it. */
  commandId: string;
  /** Charging places other jobs occupy. */
  takenPlaces: readonly number[];
  places: number;
  /** The shop's chargers, and which batteries of other jobs each is on, by its id. */
  chargers?: readonly ShopCharger[];
  chargersInUse?: ReadonlyMap<string, readonly string[]>;
  /** The electrolyte lot a command names, where it is in stock. */
  lot?: StockedLot | undefined;
  /** Does this shop count its lots? */
  lotsCounted?: boolean;
  /** The plan of this job for another size, Ah. */
  replan?: (c20Ah: number) => JobPlan;
  /** What the instrument has put in so far, where one runs the charge of this job. */
  live?: { ahIn: number } | undefined;
}

/** Electrolyte that an event took from a lot. */
export interface LotUse {
  lot: string;
  ml: number;
}
