import { randomUUID } from 'node:crypto';
import type { Transaction } from 'sequelize';
import type { AddModel } from '../../../contract/asks.ts';
import type { CatalogueModel } from '../../../contract/wire.ts';
import { kindOf } from '../../../core/batteries/kinds.ts';
import { type UnlabelledBattery, unlabelledModel } from '../../../core/batteries/unlabelled.ts';
import { modelFaults } from '../../../core/batteries/model.ts';
import { type Context, once, parsed } from '../../context.ts';
import type { Store } from '../../store/store.ts';
import { conflict, HttpProblem, invalid } from '../../http/problem.ts';

/**
 * A battery without a readable label, as a model of its own: its size is estimated, and stays marked as such.
 *
 * @throws HttpProblem for a kind that is turned away, and for more than one of them
 */
export async function addUnlabelled(
  store: Store,
  tag: string,
  battery: UnlabelledBattery,
  count: number,
  transaction: Transaction,
): Promise<CatalogueModel> {
  const kind = kindOf(battery.kind);
  if ('refusal' in kind) throw invalid('kind', kind.refusal);
  if (count > 1) throw invalid('count', 'Batteries without a label are taken in one by one.');
  const model: CatalogueModel = { id: randomUUID(), ...unlabelledModel(tag, battery) };
  await store.tables.models.create(model, { transaction });
  return model;
}

/** A model as it is kept: an estimate is a text of its own. */
export const modelNow = (row: CatalogueModel): CatalogueModel => ({
  ...row,
  estimate: (parsed(row.estimate) ?? null) as CatalogueModel['estimate'],
});

/** What became known of the size of a battery without a label: its later jobs are planned by that. */
export async function knowSize(
  store: Store,
  batteryId: string,
  size: Pick<CatalogueModel, 'c20Ah' | 'estimate'>,
  transaction: Transaction,
): Promise<void> {
  const { batteries, models } = store.tables;
  const battery = await batteries.findByPk(batteryId, { raw: true, transaction });
  if (battery) await models.update(size, { where: { id: battery.modelId }, transaction });
}

/** Adds a model to the catalogue, as the maker prints it. */
export async function addModel(context: Context, body: AddModel): Promise<CatalogueModel> {
  const { models, events } = context.store.tables;
  const added = await once(context, body, async ({ by, now, transaction }) => {
    const kind = kindOf(body.model.kind);
    if ('refusal' in kind)
      throw new HttpProblem(422, {
        code: 'forbidden',
        message: kind.refusal,
        fields: { kind: kind.refusal },
      });
    const faults = modelFaults(body.model);
    const [first] = faults;
    if (first)
      throw new HttpProblem(422, {
        code: 'invalid',
        message: first.message,
        fields: Object.fromEntries(faults.map((f) => [f.field, f.message])),
      });
    if (await models.count({ where: { code: body.model.code }, transaction }))
      throw conflict(`Model ${body.model.code} is in the catalogue already.`, {
        code: 'In the catalogue already.',
      });
    const model: CatalogueModel = { id: randomUUID(), ...body.model };
    await models.create(model, { transaction });
    await events.create(
      {
        at: now,
        by: by.id,
        batteryId: null,
        jobId: null,
        commandId: body.commandId,
        type: 'model.added',
        data: { type: 'model.added', model },
      },
      { transaction },
    );
    return model;
  });
  context.changes.announce({ topic: 'models' });
  return added;
}
