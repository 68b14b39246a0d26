import { randomUUID } from 'node:crypto';
import { Op } from 'sequelize';
import type { Battery, CatalogueModel, LoggedEvent, RecordWire, TakeIn } from '../../../contract/wire.ts';
import { kindOf } from '../../../core/batteries/kinds.ts';
import { followingTag } from '../../../core/batteries/tag.ts';
import { commissioningPlan } from '../../../core/procedures/plan.ts';
import { PROCEDURES } from '../../../core/procedures/commissionDryAgm.ts';
import type { Procedure } from '../../../core/procedures/procedure.ts';
import { type Context, once, parsed, readRules } from '../../context.ts';
import { conflict, invalid, notFound } from '../../http/problem.ts';
import type { Store } from '../../store/store.ts';
import { batteriesById, createJob, jobsOfBattery, proceduresOf } from '../jobs/jobs.ts';

/** Takes a battery in and opens its job with today's plan. */
export async function takeIn(context: Context, body: TakeIn): Promise<{ jobId: string; tag: string }> {
  const { store } = context;
  const { batteries, models, events } = store.tables;
  const answer = await once(context, body, async ({ by, now, transaction }) => {
    const model = (await models.findByPk(body.modelId, { raw: true, transaction })) as CatalogueModel | null;
    if (!model) throw invalid('modelId', 'That model is not in the catalogue.');
    const kind = kindOf(model.kind);
    if ('refusal' in kind) throw invalid('modelId', kind.refusal);
    if (body.promisedAt !== null && body.promisedAt <= now) throw invalid('promisedAt', 'That time is already past.');
    const taken = await batteries.findOne({ where: { tag: body.tag }, raw: true, transaction });
    if (taken) throw conflict(`Tag ${body.tag} is on another battery.`, { tag: 'On another battery.' });

    const { id: _, ...printed } = model;
    const plan = commissioningPlan(printed, await readRules(store, transaction));
    const battery = {
      id: randomUUID(),
      tag: body.tag,
      modelId: model.id,
      dateCode: body.dateCode,
      owner: body.owner,
      promisedAt: body.promisedAt,
      takenInAt: now,
    };
    await batteries.create(battery, { transaction });
    const jobId = await createJob(store, battery.id, PROCEDURES[kind.procedure] as Procedure, plan, now, by.id, transaction);
    const data = { type: 'battery.taken-in', tag: body.tag, modelCode: model.code };
    await events.create({ at: now, by: by.id, batteryId: battery.id, jobId, commandId: body.commandId, type: data.type, data }, { transaction });
    return { jobId, tag: body.tag };
  });
  context.changes.announce({ topic: 'bench', tag: body.tag });
  return answer;
}

/** The tag after the latest one. */
export async function nextTag(store: Store): Promise<string> {
  const last = await store.tables.batteries.findOne({
    order: [
      ['takenInAt', 'DESC'],
      ['tag', 'DESC'],
    ],
    raw: true,
  });
  let tag = last ? followingTag(last.tag) : 'CE-0001';
  while (await store.tables.batteries.count({ where: { tag } })) tag = followingTag(tag);
  return tag;
}

export interface FoundBattery extends Battery {
  status: string;
}

/** Batteries whose tag, owner or model holds the words, newest first, with how their last job stands. */
export async function findBatteries(store: Store, q: string, limit: number): Promise<{ batteries: FoundBattery[]; total: number }> {
  const { batteries, models, jobs } = store.tables;
  const like = { [Op.like]: `%${q.replaceAll(/[\\%_]/g, '')}%` };
  const modelIds = q ? (await models.findAll({ where: { [Op.or]: [{ code: like }, { name: like }] }, attributes: ['id'], raw: true })).map((m) => m.id) : [];
  const where = q ? { [Op.or]: [{ tag: like }, { owner: like }, { dateCode: like }, { modelId: modelIds }] } : {};
  const { rows, count } = await batteries.findAndCountAll({ where, order: [['takenInAt', 'DESC']], limit, attributes: ['id'], raw: true });
  const ids = rows.map((r) => r.id);
  const known = await batteriesById(store, ids);
  const last = await jobs.findAll({ where: { batteryId: ids }, attributes: ['batteryId', 'state'], order: [['openedAt', 'ASC']], raw: true });
  const standing = new Map(
    last.map((row) => {
      const state = parsed(row.state) as { outcome: string | null; status: string };
      return [row.batteryId, state.outcome ?? state.status];
    }),
  );
  return { total: count, batteries: ids.map((id) => ({ ...(known.get(id) as Battery), status: standing.get(id) ?? 'running' })) };
}

/** Everything known of one battery. */
export async function recordOf(store: Store, tag: string): Promise<RecordWire> {
  const row = await store.tables.batteries.findOne({ where: { tag }, raw: true });
  if (!row) throw notFound(`Battery ${tag}`);
  const jobs = await jobsOfBattery(store, row.id);
  const events = await store.tables.events.findAll({ where: { batteryId: row.id }, order: [['seq', 'ASC']], raw: true });
  return {
    battery: (await batteriesById(store, [row.id])).get(row.id) as Battery,
    procedures: await proceduresOf(store, jobs),
    jobs,
    events: events.map((e) => ({ seq: e.seq as number, at: e.at, by: e.by, jobId: e.jobId, event: parsed(e.data) as LoggedEvent['event'] })),
  };
}
