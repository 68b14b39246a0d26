import { randomUUID } from 'node:crypto';
import { Op, QueryTypes } from 'sequelize';
import type { FoundBattery } from '../../../contract/answers.ts';
import type { Battery, CatalogueModel, TakenIn } from '../../../contract/wire.ts';
import type { OpenJob, TakeIn, PlaceBattery } from '../../../contract/asks.ts';
import { kindOf } from '../../../core/batteries/kinds.ts';
import { followingTag } from '../../../core/batteries/tag.ts';
import { jobPlan } from '../../../core/plan/plan.ts';
import { procedureFor } from '../../../core/catalogue/catalogue.ts';
import { earlierCapacity } from '../../../core/recovery/recovery.ts';
import type { JobState } from '../../../core/job/job.ts';
import { type Context, once, parsed, readRules } from '../../context.ts';
import { conflict, HttpProblem, invalid, notFound } from '../../http/problem.ts';
import type { Store } from '../../store/store.ts';
import { batteriesById } from '../jobs/jobWires.ts';
import { createJob } from '../jobs/jobs.ts';
import { addUnlabelled, modelNow } from '../models/models.ts';

/** Takes batteries in, one or a tray of equal ones with tags that run on, and opens their jobs with today's plan. */
export async function takeIn(context: Context, body: TakeIn): Promise<TakenIn> {
  const { store } = context;
  const { batteries, models, events } = store.tables;
  const answer = await once(context, body, async ({ by, now, transaction }) => {
    const model = body.unlabelled
      ? await addUnlabelled(store, body.tag, body.unlabelled, body.count, transaction)
      : ((await models.findByPk(body.modelId ?? '', {
          raw: true,
          transaction,
        })) as CatalogueModel | null);
    if (!model) throw invalid('modelId', 'That model is not in the catalogue.');
    const kind = kindOf(model.kind);
    if ('refusal' in kind) throw invalid('modelId', kind.refusal);
    if (body.promisedAt !== null && body.promisedAt <= now)
      throw invalid('promisedAt', 'That time is already past.');
    const tags = [body.tag];
    while (tags.length < body.count) tags.push(followingTag(tags.at(-1) as string));
    const taken = await batteries.findAll({ where: { tag: tags }, raw: true, transaction });
    if (taken[0])
      throw conflict(`Tag ${taken[0].tag} is on another battery.`, {
        tag: `${taken[0].tag} is on another battery.`,
      });

    const { id: _, ...printed } = model;
    const rules = await readRules(store, transaction);
    const procedure = procedureFor(model.kind, body.purpose);
    const plan = jobPlan(printed, rules, body.purpose);
    const trayId = body.count > 1 ? randomUUID() : null;
    const { dateCode, owner, promisedAt } = body;
    const jobIds: string[] = [];
    for (const tag of tags) {
      const id = randomUUID();
      await batteries.create(
        {
          id,
          tag,
          modelId: model.id,
          dateCode,
          owner,
          promisedAt,
          takenInAt: now,
          trayId,
          place: null,
          supplier: body.supplier || null,
        },
        { transaction },
      );
      const jobId = await createJob(store, id, procedure, plan, now, by.id, transaction);
      const data = { type: 'battery.taken-in', tag, modelCode: model.code };
      await events.create(
        {
          at: now,
          by: by.id,
          batteryId: id,
          jobId,
          commandId: body.commandId,
          type: data.type,
          data,
        },
        { transaction },
      );
      jobIds.push(jobId);
    }
    return { jobId: jobIds[0] as string, tag: body.tag, jobIds, tags };
  });
  context.changes.announce({ topic: 'bench', tag: body.tag });
  return answer;
}

/** Says where a battery stands; nowhere in particular where the place is empty. */
export async function placeBattery(
  context: Context,
  tag: string,
  body: PlaceBattery,
): Promise<{ ok: true }> {
  const { batteries, events } = context.store.tables;
  const answer = await once(context, body, async ({ by, now, transaction }) => {
    const battery = await batteries.findOne({ where: { tag }, raw: true, transaction });
    if (!battery) throw notFound(`Battery ${tag}`);
    const place = body.place === '' ? null : body.place;
    await batteries.update({ place }, { where: { id: battery.id }, transaction });
    const data = { type: 'battery.placed', place };
    await events.create(
      {
        at: now,
        by: by.id,
        batteryId: battery.id,
        jobId: null,
        commandId: body.commandId,
        type: data.type,
        data,
      },
      { transaction },
    );
    return { ok: true as const };
  });
  context.changes.announce({ topic: 'bench', tag });
  context.changes.announce({ topic: 'shelf', tag });
  return answer;
}

/** Opens another job for a battery on record: a recharge, a service, a battery out of a display machine. */
export async function openJobFor(
  context: Context,
  tag: string,
  body: OpenJob,
): Promise<{ jobId: string }> {
  const { store } = context;
  const { batteries, models, jobs, events } = store.tables;
  const answer = await once(context, body, async ({ by, now, transaction }) => {
    const battery = await batteries.findOne({ where: { tag }, raw: true, transaction });
    if (!battery) throw notFound(`Battery ${tag}`);
    const open = await jobs.findOne({
      where: { batteryId: battery.id, status: ['running', 'with-lead'] },
      raw: true,
      transaction,
    });
    if (open) throw conflict(`${tag} is on the bench already.`);
    const past = await jobs.findAll({
      where: { batteryId: battery.id },
      attributes: ['state'],
      raw: true,
      transaction,
    });
    const states = past.map((j) => parsed(j.state) as JobState);
    const outcomes = states.map((s) => s.outcome);
    if (outcomes.includes('recycle'))
      throw new HttpProblem(403, {
        code: 'forbidden',
        message: `${tag} was sent to the recycler. It is not charged again.`,
        fields: {},
      });
    if (body.purpose === 'commission' && outcomes.includes('passed'))
      throw invalid('purpose', `${tag} was commissioned already. Recharge or service it.`);
    const { id: _, ...printed } = modelNow(
      (await models.findByPk(battery.modelId, { raw: true, transaction })) as CatalogueModel,
    );
    const earlier = body.purpose === 'recover' ? earlierCapacity(states, printed) : null;
    const plan = {
      ...jobPlan(printed, await readRules(store, transaction), body.purpose),
      ...(earlier ? { earlier } : {}),
    };
    if (body.promisedAt !== battery.promisedAt)
      await batteries.update(
        { promisedAt: body.promisedAt },
        { where: { id: battery.id }, transaction },
      );
    const jobId = await createJob(
      store,
      battery.id,
      procedureFor(printed.kind, body.purpose),
      plan,
      now,
      by.id,
      transaction,
    );
    const data = { type: 'battery.taken-in', tag, modelCode: printed.code };
    await events.create(
      {
        at: now,
        by: by.id,
        batteryId: battery.id,
        jobId,
        commandId: body.commandId,
        type: data.type,
        data,
      },
      { transaction },
    );
    return { jobId };
  });
  context.changes.announce({ topic: 'bench', tag });
  context.changes.announce({ topic: 'shelf', tag });
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
  if (!last) return 'CE-0001';
  const following = followingTag(last.tag);
  if (!(await store.tables.batteries.count({ where: { tag: following } }))) return following;
  // An older battery has that tag: then the one after the highest of its series.
  const series = following.replace(/\d+$/, '');
  const [highest] = await store.sequelize.query<{ tag: string }>(
    `SELECT tag FROM batteries WHERE tag GLOB :series ORDER BY CAST(substr(tag, :digits) AS INTEGER) DESC LIMIT 1`,
    {
      replacements: { series: `${series}[0-9]*`, digits: series.length + 1 },
      type: QueryTypes.SELECT,
    },
  );
  return followingTag(highest?.tag ?? following);
}

/** Batteries whose tag, owner or model holds the words, newest first, with how their last job stands. */
export async function findBatteries(
  store: Store,
  q: string,
  limit: number,
): Promise<{ batteries: FoundBattery[]; total: number }> {
  const { batteries, models } = store.tables;
  const like = { [Op.like]: `%${q.replaceAll(/[\\%_]/g, '')}%` };
  const modelIds = q
    ? (
        await models.findAll({
          where: { [Op.or]: [{ code: like }, { name: like }] },
          attributes: ['id'],
          raw: true,
        })
      ).map((m) => m.id)
    : [];
  const where = q
    ? { [Op.or]: [{ tag: like }, { owner: like }, { dateCode: like }, { modelId: modelIds }] }
    : {};
  const { rows, count } = await batteries.findAndCountAll({
    where,
    order: [['takenInAt', 'DESC']],
    limit,
    attributes: ['id'],
    raw: true,
  });
  const ids = rows.map((r) => r.id);
  const known = await batteriesById(store, ids);
  const last =
    ids.length === 0
      ? []
      : await store.sequelize.query<{ batteryId: string; stands: string }>(
          `SELECT batteryId, COALESCE(json_extract(state, '$.outcome'), status) AS stands, MAX(openedAt) FROM jobs WHERE batteryId IN (:ids) GROUP BY batteryId`,
          { replacements: { ids }, type: QueryTypes.SELECT },
        );
  const standing = new Map(last.map((row) => [row.batteryId, row.stands]));
  return {
    total: count,
    batteries: ids.map((id) => ({
      ...(known.get(id) as Battery),
      status: standing.get(id) ?? 'imported',
    })),
  };
}

/** One battery by its tag. @throws HttpProblem when it is not on record */
export async function batteryByTag(store: Store, tag: string): Promise<Battery> {
  const row = await store.tables.batteries.findOne({
    where: { tag },
    attributes: ['id'],
    raw: true,
  });
  if (!row) throw notFound(`Battery ${tag}`);
  return (await batteriesById(store, [row.id])).get(row.id) as Battery;
}
