import { normal, OFF } from './errors.ts';
import type { ReadingModule } from './reading.ts';

export const resistance: ReadingModule<'resistance'> = {
  compare: (showing, { milliohm }) => ({
    fits: normal(Math.log(Math.max(0.01, milliohm) / (1000 * showing.ohms)), OFF.resistanceLog),
    flat: -Math.log(6),
  }),
  observe: (showing, { random }) => ({
    of: 'resistance',
    milliohm: 1000 * showing.ohms * Math.exp(OFF.resistanceLog * random.normal()),
  }),
  describe: ({ milliohm }) => `${milliohm.toFixed(1)} mΩ inside`,
};
