import type { HouseRules } from '../../../core/house/rules.ts';
import type { Upkeep } from '../../../core/dayplan/upkeep.ts';
import type { Store } from '../../store/store.ts';
import { modelNow } from '../models/models.ts';
import { shelfStandings } from '../shelf/shelf.ts';
import { servicesDue } from './services.ts';
import { unsentClaims } from '../claims/claims.ts';

/** What the shop owes its stock and its suppliers: it is planned beside the batteries in process. */
export async function upkeepOf(store: Store, rules: HouseRules, now: number): Promise<Upkeep> {
  const models = new Map(
    (await store.tables.models.findAll({ raw: true })).map((row) => [row.code, modelNow(row)]),
  );
  const { season, due } = await servicesDue(store, rules, now);
  const standings = await shelfStandings(store, rules, now);
  return {
    shelf: standings.flatMap(({ item, standing }) => {
      const model = models.get(item.modelCode);
      return item.jobId === null && model ? [{ standing, model }] : [];
    }),
    claims: await unsentClaims(store),
    services: season && { ...season, count: due.length },
  };
}
