import { randomUUID } from 'node:crypto';
import type { ImportBatteries, ImportLog, ImportModels } from '../../../contract/asks.ts';
import { kindOf, leadAcidKind } from '../../../core/batteries/kinds.ts';
import { modelFaults } from '../../../core/batteries/model.ts';
import { type Context, once } from '../../context.ts';
import { HttpProblem, notFound } from '../../http/problem.ts';
import { stockOfImport } from '../shelf/moves.ts';

/** Throws what is wrong with the rows, a message each; then nothing of the import is kept. */
function refuseRows(faults: Record<string, string>): void {
  const count = Object.keys(faults).length;
  if (count === 0) return;
  const message =
    count === 1
      ? 'One row cannot be taken. Nothing was imported.'
      : `${count} rows cannot be taken. Nothing was imported.`;
  throw new HttpProblem(422, { code: 'invalid', message, fields: faults });
}

/** Adds many models, all or none. Faults are keyed by their index in the request. */
export async function importModels(
  context: Context,
  body: ImportModels,
): Promise<{ added: number }> {
  const { models } = context.store.tables;
  const answer = await once(context, body, async ({ transaction, log }) => {
    const known = new Set(
      (await models.findAll({ attributes: ['code'], raw: true, transaction })).map((m) => m.code),
    );
    const faults: Record<string, string> = {};
    body.models.forEach((model, i) => {
      const kind = kindOf(model.kind);
      const [first] = modelFaults(model);
      if ('refusal' in kind) faults[i] = kind.refusal;
      else if (first) faults[i] = first.message;
      else if (known.has(model.code))
        faults[i] = `Model ${model.code} is in the catalogue already, or stands twice.`;
      known.add(model.code);
    });
    refuseRows(faults);
    await models.bulkCreate(
      body.models.map((model) => ({ id: randomUUID(), ...model })) as never[],
      { transaction },
    );
    const data = { type: 'models.imported', codes: body.models.map((m) => m.code) };
    await log(data);
    return { added: body.models.length };
  });
  context.changes.announce({ topic: 'models' });
  return answer;
}

/** Adds many batteries, all or none; wet stock with a rest voltage goes onto the shelf. */
export async function importBatteries(
  context: Context,
  body: ImportBatteries,
): Promise<{ added: number; shelved: number }> {
  const { models, batteries, stock } = context.store.tables;
  const answer = await once(context, body, async ({ by, now, transaction }) => {
    const catalogue = new Map(
      (await models.findAll({ raw: true, transaction })).map((m) => [m.code, m]),
    );
    const taken = new Set(
      (
        await batteries.findAll({
          where: { tag: body.batteries.map((b) => b.tag) },
          attributes: ['tag'],
          raw: true,
          transaction,
        })
      ).map((b) => b.tag),
    );
    const faults: Record<string, string> = {};
    body.batteries.forEach((battery, i) => {
      const model = catalogue.get(battery.modelCode);
      const { restV, readAt, chargedAt } = battery;
      if (!model)
        faults[i] =
          `Model ${battery.modelCode} is not in the catalogue. Bring the models in first.`;
      else if (taken.has(battery.tag)) faults[i] = `Tag ${battery.tag} is on another battery.`;
      else if (restV !== null && (restV < 1.5 * model.cells || restV > 2.4 * model.cells))
        faults[i] = `${restV} V at rest is no ${model.nominalV} V battery for the shelf.`;
      else if (restV === null && (readAt !== null || chargedAt !== null))
        faults[i] = 'A date of reading or charge needs its rest voltage.';
      else if ((readAt ?? 0) > now || (chargedAt ?? 0) > now)
        faults[i] = 'Its reading or charge is still to come.';
      else if (chargedAt !== null && readAt !== null && chargedAt > readAt)
        faults[i] = 'It was read before it was charged.';
      else leadAcidKind(model.kind);
    });
    refuseRows(faults);
    const rows = body.batteries.map((b) => ({
      ...b,
      id: randomUUID(),
      model: catalogue.get(b.modelCode),
    }));
    await batteries.bulkCreate(
      rows.map(({ id, tag, model, dateCode, owner }) => ({
        id,
        tag,
        modelId: model?.id ?? '',
        dateCode,
        owner,
        promisedAt: null,
        takenInAt: now,
        trayId: null,
        place: null,
        supplier: null,
      })),
      { transaction },
    );
    const shelved = rows.flatMap(({ id, restV, readAt, chargedAt }) =>
      restV === null ? [] : [stockOfImport(id, restV, readAt ?? now, chargedAt ?? readAt ?? now)],
    );
    await stock.bulkCreate(shelved, { transaction });
    await context.store.tables.events.bulkCreate(
      rows.map(({ id, tag, modelCode, restV, readAt, chargedAt }) => {
        const stands =
          restV === null
            ? {}
            : { restV, readAt: readAt ?? now, chargedAt: chargedAt ?? readAt ?? now };
        const data = { type: 'battery.imported', tag, modelCode, ...stands };
        return {
          at: now,
          by: by.id,
          batteryId: id,
          jobId: null,
          commandId: body.commandId,
          type: data.type,
          data,
        };
      }),
      { transaction },
    );
    return { added: rows.length, shelved: shelved.length };
  });
  context.changes.announce({ topic: 'shelf' });
  return answer;
}

/** Keeps a log from outside with its battery. */
export async function importLog(
  context: Context,
  tag: string,
  body: ImportLog,
): Promise<{ id: string }> {
  const { batteries, chargeLogs } = context.store.tables;
  const answer = await once(context, body, async ({ by, now, transaction, log }) => {
    const battery = await batteries.findOne({ where: { tag }, raw: true, transaction });
    if (!battery) throw notFound(`Battery ${tag}`);
    const { log: columns } = body;
    const lengths = [
      columns.voltageV.length,
      columns.currentA.length,
      columns.temperatureC?.length ?? columns.seconds.length,
    ];
    if (lengths.some((n) => n !== columns.seconds.length))
      throw new HttpProblem(422, {
        code: 'invalid',
        message: 'Its columns differ in length.',
        fields: { log: 'Columns differ in length.' },
      });
    if (columns.seconds.some((s, i) => i > 0 && s <= (columns.seconds[i - 1] as number)))
      throw new HttpProblem(422, {
        code: 'invalid',
        message: 'Its time does not run forwards.',
        fields: { 'log.seconds': 'Time must run forwards.' },
      });
    const id = randomUUID();
    await chargeLogs.create(
      {
        id,
        batteryId: battery.id,
        name: body.name,
        startedAt: columns.startedAt ?? now,
        by: by.id,
        addedAt: now,
        body: columns,
      },
      { transaction },
    );
    const data = { type: 'log.imported', name: body.name };
    await log(data, battery.id);
    return { id };
  });
  context.changes.announce({ topic: 'bench', tag });
  return answer;
}
