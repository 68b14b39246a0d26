import type { Moment } from '../quantities/moment.ts';

/** Why a battery was refused for good. */
export type RefusedWhy =
  /** A check of the step was answered with its no. */
  | { by: 'check'; check: string }
  /** Cells that were hot while it was woken, from 1 at the plus end. */
  | { by: 'hot-cells'; cells: number[] }
  /** As an earlier version said it. */
  | { by: 'said'; text: string };

export interface Refusal {
  at: Moment;
  by: string;
  stepId: string;
  why: RefusedWhy;
}
