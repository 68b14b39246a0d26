import { randomUUID } from 'node:crypto';
import type { Transaction } from 'sequelize';
import type { SaveCharger, Write } from '../../../contract/asks.ts';
import type { ChargerFacts, ShopCharger } from '../../../core/chargers/charger.ts';
import { type Context, once, parsed } from '../../context.ts';
import { conflict, notFound } from '../../http/problem.ts';
import type { ChargerRow } from '../../store/rows.ts';
import type { Store } from '../../store/store.ts';
import { chargersInUse } from '../jobs/openJobs.ts';

/** The shop's chargers, by name. */
export async function shopChargers(
  store: Store,
  transaction?: Transaction,
): Promise<ShopCharger[]> {
  const rows = await store.tables.chargers.findAll({
    where: { removedAt: null },
    raw: true,
    ...(transaction ? { transaction } : {}),
  });
  return rows
    .map(chargerOf)
    .toSorted((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }));
}

/** Chargers written down by an earlier version have no days away. */
function chargerOf({ id, body, standingSince }: ChargerRow): ShopCharger {
  const facts = parsed(body) as Omit<ChargerFacts, 'outages'> & Partial<ChargerFacts>;
  return { ...facts, outages: facts.outages ?? [], id, standingSince };
}

export async function addCharger(context: Context, body: SaveCharger): Promise<{ id: string }> {
  const answer = await once(context, body, async ({ by, now, transaction, log }) => {
    await demandNewName(context.store, body.charger.name, null, transaction);
    const id = randomUUID();
    await context.store.tables.chargers.create(
      { id, body: body.charger, standingSince: now, addedAt: now, by: by.id, removedAt: null },
      { transaction },
    );
    const data = { type: 'charger.added', id, charger: body.charger };
    await log(data);
    return { id };
  });
  context.changes.announce({ topic: 'chargers' });
  return answer;
}

/** What is written down of a charger from now on; charges that run on it keep what it was set to. */
export async function changeCharger(
  context: Context,
  id: string,
  body: SaveCharger,
): Promise<{ id: string }> {
  const answer = await once(context, body, async ({ now, transaction, log }) => {
    const before = await chargerRow(context.store, id, transaction);
    await demandNewName(context.store, body.charger.name, id, transaction);
    const standingSince =
      chargerOf(before).standing === body.charger.standing ? before.standingSince : now;
    await context.store.tables.chargers.update(
      { body: body.charger, standingSince },
      { where: { id }, transaction },
    );
    const data = { type: 'charger.changed', id, charger: body.charger };
    await log(data);
    return { id };
  });
  context.changes.announce({ topic: 'chargers' });
  return answer;
}

/** Removes a charger that is on no battery. */
export async function removeCharger(
  context: Context,
  id: string,
  body: Write,
): Promise<{ id: string }> {
  const answer = await once(context, body, async ({ now, transaction, log }) => {
    const { name } = chargerOf(await chargerRow(context.store, id, transaction));
    const tags = (await chargersInUse(context.store, null, transaction)).get(id);
    if (tags) throw conflict(`${name} is on ${tags.join(', ')}. End that charge first.`);
    await context.store.tables.chargers.update({ removedAt: now }, { where: { id }, transaction });
    const data = { type: 'charger.removed', id, name };
    await log(data);
    return { id };
  });
  context.changes.announce({ topic: 'chargers' });
  return answer;
}

async function chargerRow(store: Store, id: string, transaction: Transaction): Promise<ChargerRow> {
  const row = await store.tables.chargers.findByPk(id, { raw: true, transaction });
  if (!row || row.removedAt !== null) throw notFound('That charger');
  return row;
}

/** Two stickers alike could not be told apart. */
async function demandNewName(
  store: Store,
  name: string,
  except: string | null,
  transaction: Transaction,
): Promise<void> {
  const chargers = await shopChargers(store, transaction);
  if (chargers.some((c) => c.id !== except && c.name.toLowerCase() === name.toLowerCase()))
    throw conflict(`There is a charger named ${name} already.`, {
      'charger.name': 'Named so already.',
    });
}
