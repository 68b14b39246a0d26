import { forCells } from '../../batteries/chemistry.ts';
import { normal, OFF } from './errors.ts';
import type { ReadingModule } from './reading.ts';

/** A meter that shows its lowest value is off by so much, V per cell. */
const METER_PER_CELL_V = 0.03;

const flatOf = (cells: number): number => -Math.log(14 * forCells(1, cells));

export const cranking: ReadingModule<'cranking'> = {
  compare(showing, { dipV }) {
    const { cells } = showing.suspect.battery;
    const drop = Math.max(0, showing.restV - showing.crankV);
    return {
      fits: normal(
        dipV - showing.crankV,
        Math.hypot(METER_PER_CELL_V * cells, OFF.crankShare * drop),
      ),
      flat: flatOf(cells),
    };
  },
  most: (_, cells) => ({ fits: normal(0, METER_PER_CELL_V * cells), flat: flatOf(cells) }),
  observe(showing, { random }) {
    const drop = Math.max(0, showing.restV - showing.crankV);
    return {
      of: 'cranking',
      dipV: Math.max(0, showing.crankV + OFF.crankShare * drop * random.normal()),
    };
  },
  describe: ({ dipV }) => `${dipV.toFixed(1)} V while cranking`,
};
