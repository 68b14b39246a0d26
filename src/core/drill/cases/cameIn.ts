import type { DrillCase } from '../case.ts';
import { CHARGERS } from './shop.ts';

/** A battery that came in “dead”; what a case does not say is as usual. */
type CameIn = Pick<
  DrillCase,
  'code' | 'level' | 'title' | 'about' | 'model' | 'story' | 'truth' | 'right' | 'teaches'
> &
  Partial<DrillCase>;

/** A case of it, with what the shop of the cases usually has on its wall. */
export const cameIn = (given: CameIn): DrillCase => ({
  purpose: 'recover',
  forWhom: 'A customer, who waits',
  dateCode: '2023-04',
  finds: {},
  roomC: 20,
  chargers: [CHARGERS.supply, CHARGERS.four, CHARGERS.ten, CHARGERS.recovery],
  ...given,
});
