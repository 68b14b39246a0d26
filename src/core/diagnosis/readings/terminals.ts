import type { Suspect } from '../suspect.ts';
import type { ReadingModule } from './reading.ts';

/** Chance of white growth on the positive post: where a battery stood undercharged, seldom elsewhere. */
const whiteChance = ({ causes }: Suspect): number => {
  if (causes.has('undercharged')) return 0.6;
  return causes.has('hard') || causes.has('light') ? 0.2 : 0.07;
};

export const terminals: ReadingModule<'terminals'> = {
  compare({ suspect }, { white }) {
    const chance = whiteChance(suspect);
    return { fits: Math.log(white ? chance : 1 - chance), flat: Math.log(0.5) };
  },
  observe: ({ suspect }, { random }) => ({
    of: 'terminals',
    white: random.even() < whiteChance(suspect),
  }),
  describe: ({ white }) => (white ? 'White growth on the positive post' : 'Clean positive post'),
};
