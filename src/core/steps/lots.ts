import { Refused } from '../job/commands.ts';
import type { DecisionContext, StockedLot } from '../job/context.ts';

/** @throws Refused where a lot is not of the kind that is wanted, past its date, or used up */
export function mayUse(lot: StockedLot | undefined, kind: StockedLot['kind']): void {
  if (!lot) return;
  if (lot.kind !== kind)
    throw new Refused(
      `Lot ${lot.code} is ${lot.kind === 'water' ? 'distilled water' : lot.kind === 'pack' ? 'tube packs' : 'bulk acid'}.`,
      'forbidden',
      'lot',
    );
  if (lot.expired)
    throw new Refused(`Lot ${lot.code} is past its date. Take a fresh one.`, 'forbidden', 'lot');
  if (lot.leftMl <= 0)
    throw new Refused(`Lot ${lot.code} is used up, says the wet room.`, 'invalid', 'lot');
}

/** A lot as the wet room spells it, or as it was typed where it is not counted. */
export const lotSaid = (typed: string, { lot }: DecisionContext): string =>
  lot?.code ?? typed.trim();

/**
 * Where lots are counted, one that is not among them is asked about: a slip of the pen takes from no lot.
 *
 * @throws Refused that asks
 */
export function knownLot(
  { lot, sure }: { lot?: string; sure?: boolean },
  { lot: found, lotsCounted }: DecisionContext,
): void {
  if (lot && !found && lotsCounted && !sure)
    throw new Refused(`The wet room has no lot ${lot.trim()}. Is it written right?`, 'ask', 'lot');
}
