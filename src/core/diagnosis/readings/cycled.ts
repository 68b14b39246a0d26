import { forCells } from '../../batteries/chemistry.ts';
import { viewCell } from '../../simulation/view.ts';
import { ROUTES } from '../routes.ts';
import { eachCell, normal, OFF } from './errors.ts';
import type { ReadingModule } from './reading.ts';

export const cycled: ReadingModule<'cycled'> = {
  compare(showing, { done, capacity, restV, weekLoss, sg }) {
    const came = showing.after(done);
    if (!came) return { fits: 0, flat: 0 };
    const { outcome, battery } = came;
    const { cells } = showing.suspect.battery;
    const terms = [
      capacity === null
        ? null
        : { fits: normal(capacity - outcome.capacity, OFF.cycledShare), range: 1.2 },
      restV === null
        ? null
        : {
            fits: normal(restV - outcome.restV, OFF.restPerCellV * cells),
            range: 8 * forCells(1, cells),
          },
      weekLoss === null
        ? null
        : { fits: normal(weekLoss - outcome.weekLoss, OFF.weekShare), range: 1 },
    ].filter((t) => t !== null);
    const ofCells = eachCell(
      sg,
      (k, read) => read - viewCell(battery, k).sgMixed,
      OFF.cycledSg,
      OFF.sgShared,
      0.25,
    );
    return {
      fits: terms.reduce((sum, t) => sum + t.fits, ofCells.fits),
      flat: terms.reduce((sum, t) => sum - Math.log(t.range), ofCells.flat),
    };
  },
  observe: () => null,
  describe({ done, capacity, restV, weekLoss }) {
    const route = done.routes.at(-1);
    const said = [
      capacity === null ? null : `${(100 * capacity).toFixed(0)} % in its test`,
      restV === null ? null : `${restV.toFixed(2)} V after its rest`,
      weekLoss === null ? null : `${(100 * weekLoss).toFixed(0)} % lost in the week`,
    ].filter((s) => s !== null);
    return `After “${route ? ROUTES[route].name.toLowerCase() : ''}”: ${said.join(', ')}`;
  },
};
