import type { PictureKey } from './families.ts';
import type { Range } from './table.ts';

/**
 * What batteries of each picture do while they are charged at a tenth of C20 or less: ranges from the bench, each from a mild case
 * to a bad one, between whose ends 8 in 10 lie.
 */
export interface OnCharge {
  /** Charge that has gone in when it comes to its ceiling, share of what was missing; null where it does not get there. */
  ceilingAt: Range | null;
  /** Hours at the ceiling with next to no current before it takes some; null where it takes it at once, `never` where it never does. */
  turnsAfterH: Range | 'never' | null;
  /** Warmer than the air, K. */
  warms: Range;
}

export const ON_CHARGE: Readonly<Record<PictureKey, OnCharge>> = {
  flat: { ceilingAt: [1.15, 0.8], turnsAfterH: null, warms: [0, 9] },
  nothing: { ceilingAt: [1.2, 0.6], turnsAfterH: null, warms: [0, 9] },
  light: { ceilingAt: [0.95, 0.55], turnsAfterH: null, warms: [0, 9] },
  hard: { ceilingAt: [0.6, 0.02], turnsAfterH: [0.17, 24], warms: [0, 9] },
  shorted: { ceilingAt: null, turnsAfterH: null, warms: [5, 28] },
  leaking: { ceilingAt: [1.3, 0.8], turnsAfterH: null, warms: [0, 12] },
  weak: { ceilingAt: [0.8, 0.3], turnsAfterH: null, warms: [0, 12] },
  open: { ceilingAt: [0.02, 0], turnsAfterH: 'never', warms: [0, 5] },
  reversed: { ceilingAt: null, turnsAfterH: null, warms: [0, 20] },
  dry: { ceilingAt: [0.95, 0.5], turnsAfterH: null, warms: [5, 20] },
  uncovered: { ceilingAt: [0.85, 0.35], turnsAfterH: null, warms: [0, 12] },
  worn: { ceilingAt: [0.65, 0.25], turnsAfterH: null, warms: [0, 12] },
  layered: { ceilingAt: [1.15, 0.8], turnsAfterH: null, warms: [0, 9] },
  damaged: { ceilingAt: null, turnsAfterH: null, warms: [0, 20] },
};
