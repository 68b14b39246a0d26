import { forCells } from '../../batteries/chemistry.ts';
import { LOAD_TEST_C_RATE, LOAD_TEST_S } from '../../capacity/loadTest.ts';
import { normal, OFF } from './errors.ts';
import type { ReadingModule } from './reading.ts';

export const load: ReadingModule<'load'> = {
  compare(showing, evidence) {
    const { cells } = showing.suspect.battery;
    const volt = forCells(1, cells);
    const { underV, afterV } = showing.load(evidence.currentA, evidence.seconds);
    const drop = Math.max(0, showing.restV - underV);
    let fits = normal(
      evidence.underV - underV,
      Math.hypot(OFF.loadPerCellV * cells, OFF.loadShare * drop),
    );
    let flat = -Math.log(14 * volt);
    if (evidence.afterV !== undefined) {
      fits += normal(
        evidence.afterV - afterV,
        Math.hypot(OFF.reboundPerCellV * cells, OFF.emptyPerCellV * showing.fallen),
      );
      flat -= Math.log(8 * volt);
    }
    return { fits, flat };
  },
  observe(showing, { random }) {
    const { cells, c20Ah } = showing.suspect.battery;
    const currentA = LOAD_TEST_C_RATE * c20Ah;
    const { underV, afterV } = showing.load(currentA, LOAD_TEST_S);
    const drop = Math.max(0, showing.restV - underV);
    return {
      of: 'load',
      currentA,
      seconds: LOAD_TEST_S,
      underV: Math.max(
        0,
        underV +
          OFF.loadPerCellV * cells * random.normal() +
          OFF.loadShare * drop * random.normal(),
      ),
      afterV:
        afterV +
        OFF.reboundPerCellV * cells * random.normal() +
        OFF.emptyPerCellV * showing.fallen * random.normal(),
    };
  },
  describe: ({ underV, currentA, afterV }) =>
    `${underV.toFixed(2)} V under ${currentA.toFixed(0)} A${afterV === undefined ? '' : `, back to ${afterV.toFixed(2)} V`}`,
};
