import type { FigureInput } from '../quantities/figure.ts';

/** Acid a conventional battery takes where the maker prints no volume, mL per cell and Ah of C20. Usual small sizes take 10–14. */
export const BULK_ML_PER_CELL_AND_AH = 12;

/** What the maker prints, as an input of a figure. */
export const maker = (label: string, value: string): FigureInput => ({
  label,
  value,
  origin: 'maker',
});
