import { type KindKey, leadAcidKind } from '../batteries/kinds.ts';
import type { Procedure, Purpose } from '../plan/procedure.ts';
import { COMMISSION_DRY_AGM } from './commissionDryAgm.ts';
import { COMMISSION_DRY_FLOODED } from './commissionDryFlooded.ts';
import {
  COMMISSION_GEL,
  COMMISSION_SEALED_AGM,
  COMMISSION_SEALED_FLOODED,
} from './commissionSealed.ts';
import { recoverProcedure } from './recover.ts';
import { displayProcedure, rechargeProcedure, serviceProcedure } from './keepStock.ts';

const COMMISSIONING: Readonly<Record<Exclude<KindKey, 'lithium'>, Procedure>> = {
  'flooded-dry': COMMISSION_DRY_FLOODED,
  'agm-dry': COMMISSION_DRY_AGM,
  'agm-sealed': COMMISSION_SEALED_AGM,
  gel: COMMISSION_GEL,
  'flooded-sealed': COMMISSION_SEALED_FLOODED,
};

/**
 * The procedure for a kind and a purpose.
 *
 * @throws Error with the refusal for a kind the shop turns away
 */
export function procedureFor(kind: string, purpose: Purpose): Procedure {
  const { key, ports } = leadAcidKind(kind);
  const open = ports === 'serviceable';
  switch (purpose) {
    case 'commission':
      return COMMISSIONING[key as Exclude<KindKey, 'lithium'>];
    case 'recharge':
      return rechargeProcedure(open);
    case 'display':
      return displayProcedure(open);
    case 'recover':
      return recoverProcedure(open);
    case 'service':
      return serviceProcedure(open);
  }
}
