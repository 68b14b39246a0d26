import type { BatteryModel } from '../core/batteries/model.ts';
import type { OwnCaseFacts } from '../core/drill/ownCase.ts';
import type { Decision, MarkKey } from '../core/drill/case.ts';

/** How a case went, as somebody agreed to share it. */
export interface SharedResult {
  /** Code of the case. */
  code: string;
  /** By the clock of the device it was done on, ms. */
  endedAt: number;
  decision: Decision | null;
  passed: boolean;
  /** Points of each mark, 0 to 100. */
  points: DrillPoints;
  /** Of a person's time, min, and from start to end, h. */
  handsMin: number;
  hours: number;
}

export type DrillPoints = { [K in MarkKey]: number };

/** What the drill keeps on the server: what was shared, and what a lead has given out. It is in a file of its own. */
export interface DrillWire {
  results: (SharedResult & { id: string; personId: string })[];
  assigned: {
    id: string;
    personId: string;
    code: string;
    by: string;
    at: number;
    note: string;
  }[];
  /** Cases of the shop’s own, each with the model as it was printed then. */
  cases: OwnCaseWire[];
}

export interface OwnCaseWire {
  code: string;
  facts: OwnCaseFacts;
  model: BatteryModel;
}
