import { gradeOf } from '../diagnosis/grades.ts';
import { ROUTES } from '../diagnosis/routes.ts';
import { costOf, priceOf, type Stakes, WORTH } from '../diagnosis/stakes.ts';
import type { Job } from '../job/job.ts';
import { linesOf } from '../plan/lines.ts';
import { cyclesOf } from './cycles.ts';

/** What a recovery has taken so far, and what its battery is worth by its capacity; money in the shop's own currency. */
export interface RecoveryAccount {
  /** On the charger in all, h; and hands, as its routes usually take them, min. */
  hours: number;
  handsMin: number;
  cost: number;
  /** By the capacity on arrival and now; null where it was not tested. */
  worthBefore: number | null;
  worthNow: number | null;
}

export function accountOf(job: Job, stakes: Stakes): RecoveryAccount {
  const cycles = cyclesOf(job);
  const { grade } = linesOf(job.plan);
  const price = priceOf(job.plan.model.c20Ah, stakes);
  const worth = (health: number | undefined, weekLoss: number | null): number | null =>
    health === undefined ? null : WORTH[gradeOf(health, weekLoss, grade)] * price;
  const done = cycles.filter((c) => c.cycle > 0);
  const spent = done.flatMap(({ route, chargedHours }) =>
    route === null ? [] : [{ handsMin: ROUTES[route].handsMin, hours: chargedHours ?? 0 }],
  );
  const last = done.findLast((c) => c.capacity);
  return {
    hours: spent.reduce((sum, s) => sum + s.hours, 0),
    handsMin: spent.reduce((sum, s) => sum + s.handsMin, 0),
    cost: spent.reduce((sum, s) => sum + costOf({ hours: s.hours, failed: null }, s, stakes), 0),
    worthBefore: worth(cycles.find((c) => c.cycle === 0)?.capacity?.health, null),
    worthNow: worth(last?.capacity?.health, last?.weekLoss ?? null),
  };
}
