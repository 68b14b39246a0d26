import { normal, OFF } from './errors.ts';
import type { ReadingModule } from './reading.ts';

/** How far the mass of a new one may be off what is printed, g. */
const spreadG = (wetMassG: number): number => Math.hypot(OFF.massG, OFF.massShare * wetMassG);

export const mass: ReadingModule<'mass'> = {
  compare: (showing, { wetMassG, massG }) => ({
    fits: normal(wetMassG - massG - showing.missingG, spreadG(wetMassG)),
    flat: -Math.log(0.4 * wetMassG),
  }),
  observe: (showing, { ratings: { wetMassG }, random }) =>
    wetMassG === null
      ? null
      : {
          of: 'mass',
          wetMassG,
          massG: wetMassG - showing.missingG + spreadG(wetMassG) * random.normal(),
        },
  describe: ({ wetMassG, massG }) => `${(wetMassG - massG).toFixed(0)} g lighter than when new`,
};
