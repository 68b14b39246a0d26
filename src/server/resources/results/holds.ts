import { randomUUID } from 'node:crypto';
import type { LiftHold, PutOnHold } from '../../../contract/asks.ts';
import type { HoldWire } from '../../../contract/paperWire.ts';
import { type Context, once } from '../../context.ts';
import { conflict, invalid, notFound } from '../../http/problem.ts';
import type { Store } from '../../store/store.ts';

/** Models and lots on hold, newest first, with those that were. */
export async function holdsOf(store: Store): Promise<HoldWire[]> {
  return store.tables.holds.findAll({ order: [['at', 'DESC']], raw: true });
}

/** Puts a model or a lot on hold: whoever takes it in or fills from it is told why. */
export async function putOnHold(context: Context, body: PutOnHold): Promise<{ id: string }> {
  const { holds, models, lots } = context.store.tables;
  const answer = await once(context, body, async ({ by, now, transaction, log }) => {
    const { what, code, why } = body;
    const known =
      what === 'model'
        ? await models.count({ where: { code }, transaction })
        : await lots.count({ where: { code }, transaction });
    if (!known) throw invalid('code', `No ${what} is called ${code} here.`);
    if (await holds.count({ where: { what, code, liftedAt: null }, transaction }))
      throw conflict(`${code} is on hold already.`);
    const id = randomUUID();
    await holds.create(
      { id, what, code, why, at: now, by: by.id, liftedAt: null, liftedBy: null, liftedWhy: null },
      { transaction },
    );
    await log({ type: 'hold.put', what, code, why });
    return { id };
  });
  context.changes.announce({ topic: 'holds' });
  return answer;
}

export async function liftHold(
  context: Context,
  id: string,
  body: LiftHold,
): Promise<{ id: string }> {
  const { holds } = context.store.tables;
  const answer = await once(context, body, async ({ by, now, transaction, log }) => {
    const hold = await holds.findByPk(id, { raw: true, transaction });
    if (!hold) throw notFound('That hold');
    if (hold.liftedAt !== null) throw conflict('It was lifted already.');
    await holds.update(
      { liftedAt: now, liftedBy: by.id, liftedWhy: body.why },
      { where: { id }, transaction },
    );
    await log({ type: 'hold.lifted', what: hold.what, code: hold.code, why: body.why });
    return { id };
  });
  context.changes.announce({ topic: 'holds' });
  return answer;
}
