import { lowCell } from '../../batteries/cells.ts';
import { everyCell, normal, OFF, together } from './errors.ts';
import type { ReadingModule } from './reading.ts';

/** A cell this far below its neighbours is named, V. */
const WORTH_NAMING = 0.08;

export const cellVolts: ReadingModule<'cell-volts'> = {
  compare(showing, { volts }) {
    const read = volts.flatMap((v, k) => (v === null ? [] : [{ k, off: v - showing.cellV(k) }]));
    const held = read.filter(({ k }) => !showing.collapsed(k)).map(({ off }) => off);
    const fallen = read.filter(({ k }) => showing.collapsed(k));
    return {
      fits:
        (held.length > 0 ? together(held, OFF.cellV, OFF.cellSharedV) : 0) +
        fallen.reduce((sum, { off }) => sum + normal(off, OFF.emptyPerCellV), 0),
      flat: -read.length * Math.log(3),
    };
  },
  observe: (showing, { random, shared }) => ({
    of: 'cell-volts',
    volts: everyCell(
      showing.suspect.battery.cells,
      (k) =>
        showing.cellV(k) +
        (showing.collapsed(k)
          ? OFF.emptyPerCellV * random.normal()
          : OFF.cellSharedV * shared + OFF.cellV * random.normal()),
    ),
  }),
  describe({ volts }) {
    const low = lowCell(volts);
    return low && low.below >= WORTH_NAMING
      ? `Cell ${low.cell} is ${low.below.toFixed(2)} V below its neighbours`
      : 'Volts of the cells even';
  },
};
