/** How a cell's liquid stands: plates bare, below the mark, at it, above it. */
export const CELL_LEVELS = ['dry', 'low', 'mark', 'over'] as const;
export type CellLevel = (typeof CELL_LEVELS)[number];
