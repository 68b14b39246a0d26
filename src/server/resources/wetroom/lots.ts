import { randomUUID } from 'node:crypto';
import { col, fn, QueryTypes, type Transaction, where } from 'sequelize';
import type { AddLot, UseLot } from '../../../contract/asks.ts';
import type { Lot } from '../../../contract/wire.ts';
import type { LotUse, StockedLot } from '../../../core/job/context.ts';

import { type Context, once } from '../../context.ts';
import { conflict, invalid, notFound } from '../../http/problem.ts';
import type { Store } from '../../store/store.ts';
import type { LotRow } from '../../store/rows.ts';

const RECENT_USES = 12;

/** Every lot with what is left of it and its latest uses, newest lot first. */
export async function lotsInStock(store: Store): Promise<Lot[]> {
  const { lots } = store.tables;
  const rows = await lots.findAll({ order: [['addedAt', 'DESC']], raw: true });
  const uses = await store.sequelize.query<
    Lot['uses'][number] & { lot: string; used: number; place: number }
  >(
    `SELECT * FROM (
       SELECT u.lot, u.at, u."by", u.ml, u.jobId, u.why, b.tag,
         SUM(u.ml) OVER (PARTITION BY u.lot) AS used, ROW_NUMBER() OVER (PARTITION BY u.lot ORDER BY u.at DESC) AS place
       FROM lot_uses u LEFT JOIN jobs j ON j.id = u.jobId LEFT JOIN batteries b ON b.id = j.batteryId)
     WHERE place <= :most`,
    { replacements: { most: RECENT_USES }, type: QueryTypes.SELECT },
  );
  return rows.map(({ by: _, ...row }) => {
    const usesOfLot = uses.filter((u) => u.lot === row.code);
    return {
      ...row,
      leftMl: row.quantityMl - (usesOfLot[0]?.used ?? 0),
      uses: usesOfLot.map(({ at, by, ml, jobId, tag, why }) => ({ at, by, ml, jobId, tag, why })),
    };
  });
}

/** Takes a lot into stock. */
export async function addLot(context: Context, body: AddLot): Promise<{ code: string }> {
  const { lots } = context.store.tables;
  const answer = await once(context, body, async ({ by, now, transaction, log }) => {
    const { lot } = body;
    if (await lots.findByPk(lot.code, { transaction }))
      throw conflict(`Lot ${lot.code} is in stock already.`, { 'lot.code': 'In stock already.' });
    if (lot.expiresAt !== null && lot.expiresAt <= now)
      throw invalid('lot.expiresAt', 'It is past its date already.');
    await lots.create(
      { ...lot, supplier: lot.supplier || null, addedAt: now, by: by.id },
      { transaction },
    );
    const data = { type: 'lot.added', lot };
    await log(data);
    return { code: lot.code };
  });
  context.changes.announce({ topic: 'lots' });
  return answer;
}

/** Takes from a lot outside a job: mixed, spilt, thrown away. */
export async function useLot(
  context: Context,
  code: string,
  body: UseLot,
): Promise<{ leftMl: number }> {
  const answer = await once(context, body, async ({ by, now, transaction, log }) => {
    const lot = await stockedLot(context.store, code, now, transaction);
    if (!lot) throw notFound(`Lot ${code}`);
    if (body.ml > lot.leftMl)
      throw invalid('ml', `Only ${lot.leftMl.toFixed(0)} mL are left of it.`);
    const { lotUses } = context.store.tables;
    await lotUses.create(
      {
        id: randomUUID(),
        lot: lot.code,
        at: now,
        by: by.id,
        ml: body.ml,
        jobId: null,
        why: body.why,
      },
      { transaction },
    );
    const data = { type: 'lot.used', lot: lot.code, ml: body.ml, why: body.why };
    await log(data);
    return { leftMl: lot.leftMl - body.ml };
  });
  context.changes.announce({ topic: 'lots' });
  return answer;
}

/** A lot as decisions see it, or nothing where no such lot is in stock: shops may write lots they do not count. */
export async function stockedLot(
  store: Store,
  code: string,
  now: number,
  transaction: Transaction,
): Promise<StockedLot | undefined> {
  const row = (await store.tables.lots.findOne({
    where: where(fn('upper', col('code')), code.trim().toUpperCase()),
    raw: true,
    transaction,
  })) as LotRow | null;
  if (!row) return undefined;
  const used =
    ((await store.tables.lotUses.sum('ml', { where: { lot: row.code }, transaction })) as
      | number
      | null) ?? 0;
  return {
    code: row.code,
    kind: row.kind,
    packCode: row.packCode,
    expired: row.expiresAt !== null && row.expiresAt <= now,
    leftMl: row.quantityMl - used,
  };
}

/** Writes down what a job took from lots in stock. */
export async function takeFromLots(
  store: Store,
  uses: readonly LotUse[],
  about: { at: number; by: string; jobId: string },
  transaction: Transaction,
): Promise<boolean> {
  let taken = false;
  for (const { lot, ml } of uses) {
    if (!(await store.tables.lots.count({ where: { code: lot }, transaction }))) continue;
    await store.tables.lotUses.create(
      { id: randomUUID(), lot, ml, why: 'job', ...about },
      { transaction },
    );
    taken = true;
  }
  return taken;
}
