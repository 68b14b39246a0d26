import type { FigureInput } from '../quantities/figure.ts';
import type { BatteryModel } from './model.ts';

/** C20 as an input of a figure: by the maker, or estimated with its band. */
export const c20Input = ({
  c20Ah,
  estimate,
}: Pick<BatteryModel, 'c20Ah' | 'estimate'>): FigureInput =>
  estimate
    ? {
        label: 'C20, estimated',
        value: `${c20Ah} Ah (${estimate.low} to ${estimate.high}), from ${estimate.from.join(', ')}`,
        origin: 'computed',
      }
    : { label: 'C20', value: `${c20Ah} Ah`, origin: 'maker' };
