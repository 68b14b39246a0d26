import { QueryTypes } from 'sequelize';
import type { AskedIn } from '../../../contract/asks.ts';
import type { ServicesWire } from '../../../contract/dayPlanWire.ts';
import type { HouseRules } from '../../../core/house/rules.ts';
import { type ServiceDue, serviceSeason } from '../../../core/storage/services.ts';
import { type Context, once } from '../../context.ts';
import { notFound } from '../../http/problem.ts';
import type { Store } from '../../store/store.ts';

/**
 * Batteries that were last handed to a customer, long enough ago, and whose owner has not been asked this season; longest away
 * first. What is here, on the shelf or at the recycler is not among them.
 */
const DUE = `
  SELECT b.tag, b.owner, m.code AS modelCode, MAX(j.closedAt) AS since
    FROM jobs j JOIN batteries b ON b.id = j.batteryId JOIN models m ON m.id = b.modelId
   WHERE j.closedAt BETWEEN :goneBefore AND :freshFrom
   GROUP BY j.batteryId
  HAVING NOT EXISTS (SELECT 1 FROM jobs n WHERE n.batteryId = b.id AND (n.closedAt IS NULL OR n.closedAt > :freshFrom))
     AND NOT EXISTS (SELECT 1 FROM events a WHERE a.batteryId = b.id AND a.type = 'service.asked' AND a.at >= :begins)
     AND (SELECT json_extract(e.data, '$.destination') FROM events e
           WHERE e.batteryId = b.id AND e.type = 'job.closed' ORDER BY e.seq DESC LIMIT 1) = 'customer'
   ORDER BY since`;

/** What was found last, and what it was found by: jobs begin and end, owners are asked, seasons turn. */
const found = new WeakMap<Store, { by: string; due: ServiceDue[] }>();

/** Whose batteries are to be asked in now. */
export async function servicesDue(
  store: Store,
  rules: HouseRules,
  now: number,
): Promise<ServicesWire> {
  const season = serviceSeason(rules, now);
  if (!season) return { season: null, due: [] };
  const { begins, freshFrom, goneBefore, name, from } = season;
  const [last] = await store.sequelize.query<{ seq: number }>(
    'SELECT COALESCE(MAX(seq), 0) AS seq FROM events',
    { type: QueryTypes.SELECT },
  );
  const by = `${begins} ${last?.seq ?? 0}`;
  const known = found.get(store);
  if (known?.by === by) return { season: { name, from }, due: known.due };
  const due = await store.sequelize.query<ServiceDue>(DUE, {
    replacements: { begins, freshFrom, goneBefore },
    type: QueryTypes.SELECT,
  });
  found.set(store, { by, due });
  return { season: { name, from }, due };
}

/** The owners were asked: they are not asked again this season. */
export async function askedIn(context: Context, body: AskedIn): Promise<{ tags: string[] }> {
  const answer = await once(context, body, async ({ transaction, log }) => {
    for (const tag of body.tags) {
      const battery = await context.store.tables.batteries.findOne({
        where: { tag },
        raw: true,
        transaction,
      });
      if (!battery) throw notFound(`Battery ${tag}`);
      await log({ type: 'service.asked' }, battery.id);
    }
    return { tags: body.tags };
  });
  context.changes.announce({ topic: 'services' });
  return answer;
}
