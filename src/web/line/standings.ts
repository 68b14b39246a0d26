import { useMemo } from 'react';
import type { ShelfItem } from '../../contract/wire.ts';
import { standingOf, type StockStanding } from '../../core/storage/stock.ts';
import { useMinute } from './benchClock.ts';
import { useRules, useShelf } from './queries.ts';

export type ShelfStanding = StockStanding & { item: ShelfItem };

/** The shelf with its forecasts at the present minute, longest standing first; null while it is on its way. */
export function useStandings(): ShelfStanding[] | null {
  const { data } = useShelf();
  const rules = useRules();
  const minute = useMinute();
  return useMemo(
    () => data?.items.map((item) => ({ ...standingOf(item, rules, minute), item })) ?? null,
    [data, rules, minute],
  );
}
