import { randomUUID } from 'node:crypto';
import type { AddModel } from '../../../contract/asks.ts';
import type { CatalogueModel } from '../../../contract/wire.ts';
import { kindOf } from '../../../core/batteries/kinds.ts';
import { modelFaults } from '../../../core/batteries/model.ts';
import { type Context, once } from '../../context.ts';
import { conflict, HttpProblem } from '../../http/problem.ts';

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
