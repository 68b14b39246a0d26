import { forCells } from '../../batteries/chemistry.ts';
import { LOAD_TEST_C_RATE, LOAD_TEST_S } from '../../capacity/loadTest.ts';
import { normal, OFF } from './errors.ts';
import type { EvidenceOf, ReadingModule } from './reading.ts';

/** Log density of volts that could be anything: under the load, and after it where that was read. */
function flatOf({ afterV }: EvidenceOf<'load'>, cells: number): number {
  const volt = forCells(1, cells);
  return -Math.log(14 * volt) - (afterV === undefined ? 0 : Math.log(8 * volt));
}

export const load: ReadingModule<'load'> = {
  compare(showing, evidence) {
    const { cells } = showing.suspect.battery;
    const shown = showing.load(evidence.currentA, evidence.seconds);
    const drop = Math.max(0, showing.restV - shown.underV);
    let fits = normal(
      evidence.underV - shown.underV,
      Math.hypot(OFF.loadPerCellV * cells, OFF.loadShare * drop),
    );
    if (evidence.afterV !== undefined)
      fits += normal(
        evidence.afterV - shown.afterV,
        Math.hypot(OFF.reboundPerCellV * cells, OFF.emptyPerCellV * showing.fallen),
      );
    return { fits, flat: flatOf(evidence, cells) };
  },
  most(evidence, cells) {
    const under = normal(0, OFF.loadPerCellV * cells);
    const after = evidence.afterV === undefined ? 0 : normal(0, OFF.reboundPerCellV * cells);
    return { fits: under + after, flat: flatOf(evidence, cells) };
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
