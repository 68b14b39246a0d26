import { QueryTypes } from 'sequelize';
import type { ToldPlan } from '../../../core/dayplan/told.ts';
import {
  type PastPromise,
  type PromisesKept,
  promisesKept,
} from '../../../core/results/promises.ts';
import type { Store } from '../../store/store.ts';
import type { PromiseRow } from '../../store/rows.ts';

const MINUTE_MS = 60_000;

/** Writes down what a plan says of each promise it has not spoken of before. What stands is never changed: it is compared later with what came. */
export async function keepPromises(store: Store, plan: ToldPlan, now: number): Promise<void> {
  const known = new Set(
    (await store.tables.promises.findAll({ attributes: ['jobId', 'promisedAt'], raw: true })).map(
      keyOf,
    ),
  );
  const momentOf = (minute: number | undefined): number | null =>
    minute === undefined ? null : plan.from + minute * MINUTE_MS;
  const said = plan.works.flatMap((work): PromiseRow[] => {
    const promisedAt = momentOf(work.promisedAt ?? undefined);
    if (work.of !== 'job' || promisedAt === null || work.kept === null || promisedAt <= now)
      return [];
    const { low, middle, high } = work.ready ?? {};
    return [
      {
        jobId: work.id,
        promisedAt,
        saidAt: now,
        kept: work.kept,
        low: momentOf(low),
        middle: momentOf(middle),
        high: momentOf(high),
      },
    ];
  });
  const fresh = said.filter((row) => !known.has(keyOf(row)));
  if (fresh.length > 0)
    await store.write((transaction) =>
      store.tables.promises.bulkCreate(fresh, { transaction, ignoreDuplicates: true }),
    );
}

const keyOf = ({ jobId, promisedAt }: Pick<PromiseRow, 'jobId' | 'promisedAt'>): string =>
  `${jobId} ${promisedAt}`;

/**
 * What was said of promises, beside what came: of those whose hour is over or whose battery is ready. A battery that was refused
 * or became a claim was owed to nobody any more, and counts for nothing.
 */
export async function promisesOf(store: Store, now: number): Promise<PromisesKept> {
  const past = await store.sequelize.query<PastPromise>(
    `SELECT p.jobId, b.tag, b.owner, p.promisedAt, p.saidAt, p.kept AS said, p.middle, j.closedAt AS readyAt
       FROM promises p JOIN jobs j ON j.id = p.jobId JOIN batteries b ON b.id = j.batteryId
      WHERE j.status <> 'refused' AND COALESCE(json_extract(j.state, '$.outcome'), '') NOT IN ('refused', 'claim')
        AND (j.closedAt IS NOT NULL OR p.promisedAt < :now)`,
    { replacements: { now }, type: QueryTypes.SELECT },
  );
  return promisesKept(past);
}
