import { useMemo } from 'react';
import type { ShelfItem } from '../../contract/wire.ts';
import { standingOf, type StockStanding } from '../../core/storage/stock.ts';
import { useNow } from './benchClock.ts';
import { useRules, useShelf } from './queries.ts';

export type ShelfStanding = StockStanding & { item: ShelfItem };

const MINUTE_MS = 60_000;

/** The shelf with its forecasts at the present minute, longest standing first; null while it is on its way. */
export function useStandings(): ShelfStanding[] | null {
  const { data } = useShelf();
  const rules = useRules();
  const minute = Math.floor(useNow() / MINUTE_MS) * MINUTE_MS;
  return useMemo(
    () => data?.items.map((item) => ({ ...standingOf(item, rules, minute), item })) ?? null,
    [data, rules, minute],
  );
}
