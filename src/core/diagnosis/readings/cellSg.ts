import { lowCell } from '../../batteries/cells.ts';
import { eachCell, everyCell, OFF } from './errors.ts';
import type { ReadingModule } from './reading.ts';

/** A cell this far below its neighbours is named. */
const WORTH_NAMING = 0.03;

export const cellSg: ReadingModule<'cell-sg'> = {
  compare: (showing, evidence) =>
    eachCell(evidence.sg, (k, sg) => sg - showing.sg(k), OFF.sgEach, OFF.sgShared, 0.25),
  observe: (showing, { random, shared }) => ({
    of: 'cell-sg',
    sg: everyCell(
      showing.suspect.battery.cells,
      (k) => showing.sg(k) + OFF.sgShared * shared + OFF.sgEach * random.normal(),
    ),
  }),
  describe({ sg }) {
    const low = lowCell(sg);
    const read = sg.filter((v): v is number => v !== null);
    return low && low.below >= WORTH_NAMING
      ? `Cell ${low.cell} is ${low.below.toFixed(3)} SG below its neighbours`
      : `SG of the cells even, ${Math.min(...read).toFixed(3)}–${Math.max(...read).toFixed(3)}`;
  },
};
