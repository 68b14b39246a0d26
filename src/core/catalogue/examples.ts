import type { BatteryModel } from '../batteries/model.ts';
import type { KindKey } from '../batteries/kinds.ts';

const PLAIN: BatteryModel = {
  code: 'Example',
  name: 'Example',
  kind: 'agm-dry',
  nominalV: 12,
  cells: 6,
  c20Ah: 12,
  cca: null,
  ccaStandard: null,
  electrolyteCode: 'A-66',
  electrolyteMl: 660,
  fillSg: null,
  chargeA: null,
  ceilingV: null,
  dwellS: null,
  soakS: null,
  passV: null,
  caps: null,
};
const SEALED: BatteryModel = { ...PLAIN, electrolyteCode: null, electrolyteMl: null };

/** A plain 12 V, 12 Ah battery of each kind, of no maker, by which a procedure is shown where there is no battery yet. */
export const EXAMPLES: Readonly<Record<Exclude<KindKey, 'lithium'>, BatteryModel>> = {
  'agm-dry': PLAIN,
  'flooded-dry': {
    ...PLAIN,
    kind: 'flooded-dry',
    electrolyteCode: null,
    electrolyteMl: 850,
    caps: 'screw',
  },
  'agm-sealed': { ...SEALED, kind: 'agm-sealed' },
  gel: { ...SEALED, kind: 'gel' },
  'flooded-sealed': { ...SEALED, kind: 'flooded-sealed' },
};
