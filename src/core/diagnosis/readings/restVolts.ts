import { forCells } from '../../batteries/chemistry.ts';
import { normal, OFF } from './errors.ts';
import type { ReadingModule } from './reading.ts';

export const restVolts: ReadingModule<'rest-volts'> = {
  compare(showing, { voltageV }) {
    const { cells } = showing.suspect.battery;
    const sigma = Math.hypot(OFF.restPerCellV * cells, OFF.emptyPerCellV * showing.fallen, 0.01);
    // Below nought even a slip is rare: somebody would have had to swap the leads of the meter.
    return {
      fits: normal(voltageV - showing.restV, sigma),
      flat: -Math.log((voltageV < 0 ? 10 : 1) * 16 * forCells(1, cells)),
    };
  },
  observe: (showing, { random, shared }) => ({
    of: 'rest-volts',
    voltageV:
      showing.restV +
      OFF.restPerCellV * showing.suspect.battery.cells * shared +
      OFF.emptyPerCellV * showing.fallen * random.normal(),
  }),
  describe: ({ voltageV }) => `${voltageV.toFixed(2)} V at rest`,
};
