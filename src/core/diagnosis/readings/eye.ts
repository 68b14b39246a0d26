import type { Showing } from '../showing.ts';
import { pick } from './errors.ts';
import type { ReadingModule } from './reading.ts';

/** The eye sits over one cell; which one nobody knows, so the third from plus speaks. */
function eyeChances(showing: Showing): { full: number; low: number; 'no-acid': number } {
  const k = Math.min(showing.suspect.battery.cells - 1, 2);
  const dry = 1 / (1 + Math.exp((showing.water(k) - 0.85) / 0.02));
  const full = (1 - dry) / (1 + Math.exp(-(showing.sg(k) - 1.225) / 0.008));
  const low = Math.max(0, 1 - dry - full);
  return { full: 0.03 + 0.91 * full, low: 0.03 + 0.91 * low, 'no-acid': 0.03 + 0.91 * dry };
}

const SAYS = { full: 'full', low: 'low', 'no-acid': 'no acid' } as const;

export const eye: ReadingModule<'eye'> = {
  compare: (showing, { shows }) => ({
    fits: Math.log(eyeChances(showing)[shows]),
    flat: -Math.log(3),
  }),
  observe: (showing, { random }) => ({ of: 'eye', shows: pick(eyeChances(showing), random) }),
  describe: ({ shows }) => `Charge eye: ${SAYS[shows]}`,
};
