/** What comes out of a battery with its acid and the rinsing water. */
export const SEDIMENTS = ['clear', 'grey', 'brown'] as const;
export type Sediment = (typeof SEDIMENTS)[number];

export const SEDIMENT_WORDS: Readonly<Record<Sediment, { name: string; means: string }>> = {
  clear: { name: 'Clear', means: 'The plates hold together.' },
  grey: { name: 'Grey, cloudy', means: 'Some fine lead from the negative plates: usual with age.' },
  brown: {
    name: 'Brown flakes',
    means:
      'The positive plates are shedding. What has come off is capacity that nothing brings back, and it may bridge plates below.',
  },
};
