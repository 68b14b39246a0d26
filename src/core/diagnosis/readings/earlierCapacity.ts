import { normal, OFF } from './errors.ts';
import type { ReadingModule } from './reading.ts';

/** A battery in use loses about this share of its rating a year. */
const LOST_PER_YEAR = 0.05;

export const earlierCapacity: ReadingModule<'earlier-capacity'> = {
  // What it held then it cannot hold more of now, apart from what has hardened since and comes back.
  compare(showing, { share, yearsAgo }) {
    const lost = LOST_PER_YEAR * yearsAgo;
    const then = Math.min(1, showing.suspect.active + lost);
    return {
      fits: normal(share - then, Math.hypot(OFF.capacityShare, 0.5 * lost)),
      flat: -Math.log(1.2),
    };
  },
  observe: () => null,
  describe: ({ share, yearsAgo }) =>
    `Held ${(100 * share).toFixed(0)} % ${yearsAgo < 1 ? 'within the last year' : `${yearsAgo.toFixed(0)} years ago`}`,
};
