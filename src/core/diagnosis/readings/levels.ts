import { everyCell, pick } from './errors.ts';
import type { ReadingModule } from './reading.ts';

/** Chances of what a look into a cell finds, by the water it has: dry once its plates show. */
function levelChances(
  water: number,
  dryBegins: number,
): { dry: number; low: number; mark: number; over: number } {
  const step = (at: number): number => 1 / (1 + Math.exp((water - at) / 0.02));
  const dry = step(dryBegins);
  const low = Math.max(0, step(0.95) - dry);
  const over = 0.04;
  const sum = dry + low + Math.max(0, 1 - dry - low) + 0.08 + over;
  return {
    dry: (dry + 0.02) / sum,
    low: (low + 0.04) / sum,
    mark: (Math.max(0, 1 - dry - low) + 0.02) / sum,
    over: over / sum,
  };
}

const cellsSaid = (count: number): string => (count === 1 ? 'one cell' : `${count} cells`);

export const levels: ReadingModule<'levels'> = {
  compare(showing, evidence) {
    let fits = 0;
    let n = 0;
    evidence.levels.forEach((level, k) => {
      if (level === null) return;
      n++;
      fits += Math.log(
        levelChances(showing.water(k), showing.suspect.battery.design.dryBegins)[level],
      );
    });
    return { fits, flat: -n * Math.log(4) };
  },
  observe: (showing, { random }) => ({
    of: 'levels',
    levels: everyCell(showing.suspect.battery.cells, (k) =>
      pick(levelChances(showing.water(k), showing.suspect.battery.design.dryBegins), random),
    ),
  }),
  describe(evidence) {
    const dry = evidence.levels.filter((l) => l === 'dry').length;
    const low = evidence.levels.filter((l) => l === 'low').length;
    if (dry > 0) return `Plates bare in ${cellsSaid(dry)}`;
    return low > 0 ? `Level low in ${cellsSaid(low)}` : 'Plates covered in every cell';
  },
};
