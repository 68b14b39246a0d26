import { forCells } from '../../batteries/chemistry.ts';
import { OFF, SQRT_TWO_PI } from './errors.ts';
import type { ReadingModule } from './reading.ts';

/** Errors of the model do not average out: a whole trace counts as so many readings of their mean square. */
const COUNTS_AS = 3;

export const charging: ReadingModule<'charging'> = {
  compare(showing, evidence) {
    const { cells } = showing.suspect.battery;
    const volts = showing.charging(evidence);
    const residuals = evidence.volts.map((v, i) => v - (volts[i] ?? v));
    const n = Math.max(1, residuals.length);
    const sigma = OFF.chargingPerCellV * cells;
    const quad = residuals.reduce((sum, r) => sum + Math.min(25, (r / sigma) ** 2), 0) / n;
    return {
      fits: -0.5 * COUNTS_AS * quad - COUNTS_AS * Math.log(sigma * SQRT_TWO_PI),
      flat: -COUNTS_AS * Math.log(6 * forCells(1, cells)),
    };
  },
  observe: () => null,
  describe({ volts, hours }, { cells }) {
    const last = volts.at(-1) ?? 0;
    return `On charge, ${last.toFixed(2)} V after ${(hours.at(-1) ?? 0).toFixed(1)} h (${(last / forCells(1, cells)).toFixed(1)} V per 12 V)`;
  },
};
