/** The lines the ways are drawn with: never told apart by colour alone. */
export const WAYS = [
  { letter: 'A', colour: 'var(--color-ink)', dash: '' },
  { letter: 'B', colour: 'var(--color-slate)', dash: '7 4' },
  { letter: 'C', colour: 'var(--color-moss)', dash: '2 3' },
] as const;
export const MOST_WAYS = WAYS.length;
