import { leadAcidKind } from '../../batteries/kinds.ts';
import type { DrillCase } from '../case.ts';
import { CHARGERS, told } from './shop.ts';

/** A new battery; what a case does not say is as it should be. */
export type NewBattery = Pick<
  DrillCase,
  'code' | 'level' | 'title' | 'about' | 'model' | 'right' | 'teaches'
> &
  Partial<DrillCase>;

/** A case of a new battery: dry ones with their acid at hand, wet ones as charged as they usually come. */
export function newBattery(given: NewBattery): DrillCase {
  const { fill, arrivesShare } = leadAcidKind(given.model.kind);
  return {
    purpose: 'commission',
    forWhom: 'Over the counter',
    dateCode: '2026-01',
    story: { says: 'New, in its box.', told: told('unknown') },
    finds: {},
    truth: {
      condition: { charge: arrivesShare, temperatureC: 20 },
      ...(fill === null ? {} : { dry: true as const }),
      family: 'nothing',
    },
    roomC: 20,
    chargers: [CHARGERS.supply, CHARGERS.one, CHARGERS.four],
    ...(fill === 'tubes'
      ? { packs: [{ code: given.model.electrolyteCode ?? '', lot: 'Q-311' }] }
      : fill === 'bulk'
        ? { acid: { sg25: given.model.fillSg ?? 1.265, temperatureC: 21, lot: 'B-207' } }
        : {}),
    ...given,
  };
}
