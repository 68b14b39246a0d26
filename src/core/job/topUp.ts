import type { Moment } from '../quantities/moment.ts';

/** Liquid added to cells by hand, apart from the fill. */
export interface TopUp {
  at: Moment;
  by: string;
  liquid: Liquid;
  /** Cells, numbered from 1 at the plus end. */
  cells: number[];
  ml: number | null;
  lot: string | null;
}
export type Liquid = 'acid' | 'water';
