import { randomUUID } from 'node:crypto';
import type { PlansWire } from '../../../contract/wire.ts';
import type { SavePlan } from '../../../contract/asks.ts';
import { sayStage } from '../../../core/charging/planSentences.ts';
import { type ChargePlan, STANDARD_PLANS } from '../../../core/charging/chargePlan.ts';
import { fitPlan } from '../../../core/charging/fitPlan.ts';
import { type Context, once, parsed } from '../../context.ts';
import { conflict, HttpProblem } from '../../http/problem.ts';
import type { Store } from '../../store/store.ts';

export async function plansOf(store: Store): Promise<PlansWire> {
  const rows = await store.tables.plans.findAll({ order: [['name', 'ASC']], raw: true });
  return { standard: [...STANDARD_PLANS], own: rows.map((r) => parsed(r.body) as ChargePlan) };
}

/** Keeps a plan under its name. A plan that fits none of its kinds is not kept; one of the same name is replaced only by who has seen it. */
export async function savePlan(context: Context, body: SavePlan): Promise<ChargePlan> {
  const { plans } = context.store.tables;
  const saved = await once(context, body, async ({ by, now, transaction, log }) => {
    if (STANDARD_PLANS.some((p) => p.name === body.plan.name))
      throw conflict('That name belongs to a standard plan. Give yours another.', {
        name: 'In use already.',
      });
    const [kind] = body.plan.kinds;
    const { faults } = fitPlan(body.plan, { chemistry: kind ?? 'flooded', cells: 6, c20Ah: 60 });
    if (faults[0])
      throw new HttpProblem(422, {
        code: 'invalid',
        message: faults[0].sentence,
        fields: { [faults[0].part]: faults[0].sentence },
      });
    const known = await plans.findOne({ where: { name: body.plan.name }, transaction, raw: true });
    if (known && known.id !== body.replaces) {
      const keeper = await context.store.tables.people.findByPk(known.by, {
        raw: true,
        transaction,
      });
      const sentences = (parsed(known.body) as ChargePlan).stages.map((s) =>
        sayStage(s, { c20Ah: 60, cells: 6 }),
      );
      throw conflict(
        `${keeper?.name ?? 'Somebody'} keeps a plan of that name already: ${sentences.join(' ')} Replace it, or give yours another name.`,
        {
          name: 'Kept already.',
          replaces: known.id,
        },
      );
    }
    // Replaced, it is another plan: who saw the one before replaces nothing with it.
    const plan: ChargePlan = { ...body.plan, id: randomUUID() };
    if (known) await plans.destroy({ where: { id: known.id }, transaction });
    await plans.upsert(
      { id: plan.id, name: plan.name, body: plan, by: by.id, at: now },
      { transaction },
    );
    const data = { type: 'plan.saved', plan };
    await log(data);
    return plan;
  });
  context.changes.announce({ topic: 'plans' });
  return saved;
}
