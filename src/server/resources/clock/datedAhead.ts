import type { Transaction } from 'sequelize';
import { Op } from 'sequelize';
import type { DatedAhead } from '../../../contract/wire.ts';
import { redated } from '../../../core/job/redate.ts';
import type { ShelfReading } from '../../../core/storage/selfDischarge.ts';
import { type Context, parsed, logEvent } from '../../context.ts';
import type { Store } from '../../store/store.ts';
import { recordInJob } from '../jobs/jobs.ts';

/** What is dated later than the right time: it was written while the machine's clock was ahead. */
export async function datedAhead(store: Store, rightNow: number): Promise<DatedAhead> {
  const { jobs, batteries } = store.tables;
  return {
    jobs: await jobs.count({
      where: {
        [Op.or]: [{ openedAt: { [Op.gt]: rightNow } }, { closedAt: { [Op.gt]: rightNow } }],
      },
    }),
    batteries: await batteries.count({ where: { takenInAt: { [Op.gt]: rightNow } } }),
    shelf: (await shelfAhead(store, rightNow)).length,
  };
}

async function shelfAhead(store: Store, rightNow: number, transaction?: Transaction) {
  const rows = await store.tables.stock.findAll({
    raw: true,
    ...(transaction ? { transaction } : {}),
  });
  return rows
    .map((row) => ({ ...row, readings: parsed(row.readings) as ShelfReading[] }))
    .filter(
      (row) =>
        row.since > rightNow ||
        row.chargedAt > rightNow ||
        row.readings.some((r) => r.at > rightNow),
    );
}

/**
 * Dates all of that by the right clock: jobs that are over through an event of their own, batteries and the shelf in
 * their rows, with the shelf as it now stands in the log. Readings and events keep the dates they were written with.
 *
 * @param byMs how far the dates move, below 0
 */
export async function redateAhead(
  context: Context,
  rightNow: number,
  byMs: number,
  by: string,
  openJobs: readonly string[],
): Promise<void> {
  const { store } = context;
  const { jobs, batteries, stock } = store.tables;
  const over = await jobs.findAll({
    where: { closedAt: { [Op.gt]: rightNow } },
    attributes: ['id'],
    raw: true,
  });
  for (const { id } of over)
    if (!openJobs.includes(id))
      await recordInJob(context, id, rightNow, () => [{ type: 'clock.set', byMs }], by);
  const one = (at: number): number => (at > rightNow ? at + byMs : at);
  await store.write(async (transaction) => {
    for (const { id, openedAt } of await jobs.findAll({
      where: { openedAt: { [Op.gt]: rightNow } },
      attributes: ['id', 'openedAt'],
      raw: true,
      transaction,
    }))
      await jobs.update({ openedAt: one(openedAt) }, { where: { id }, transaction });
    for (const { id, takenInAt, promisedAt } of await batteries.findAll({
      where: { takenInAt: { [Op.gt]: rightNow } },
      raw: true,
      transaction,
    }))
      await batteries.update(
        { takenInAt: one(takenInAt), promisedAt: promisedAt && redated(promisedAt, byMs) },
        { where: { id }, transaction },
      );
    for (const row of await shelfAhead(store, rightNow, transaction)) {
      const stands = {
        since: one(row.since),
        chargedAt: one(row.chargedAt),
        readings: row.readings.map((r) => ({ ...r, at: one(r.at) })).sort((a, b) => a.at - b.at),
      };
      await stock.update(stands, { where: { batteryId: row.batteryId }, transaction });
      const data = { type: 'shelf.as-found', ...stands, jobId: row.jobId };
      await logEvent(
        context.store,
        { at: rightNow, by, commandId: 'clock', batteryId: row.batteryId },
        data,
        transaction,
      );
    }
  });
  context.changes.announce({ topic: 'shelf' });
}
