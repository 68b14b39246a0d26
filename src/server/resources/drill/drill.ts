import type { AssignDrill, SaveDrillCase, ShareDrill } from '../../../contract/asks.ts';
import type { DrillWire } from '../../../contract/drillWire.ts';
import type { Person } from '../../../contract/wire.ts';
import { caseByCode } from '../../../core/drill/cases/catalogue.ts';
import { SAID_LATER } from '../../../core/drill/ownCase.ts';
import type { Context } from '../../context.ts';
import { invalid } from '../../http/problem.ts';
import { modelNow } from '../models/models.ts';
import { type DrillTables, inDrillFile } from '../../store/drillFile.ts';

/**
 * What was shared and what was given out.
 *
 * @param reader who asks, where the server knows; a technician who is signed in sees what is their own
 */
export const drillOf = (
  { store }: Context,
  reader: Pick<Person, 'id' | 'role'> | null,
): Promise<DrillWire> =>
  inDrillFile(store.file, async ({ results, assigned, cases }) => {
    const where = reader && reader.role !== 'lead' ? { where: { personId: reader.id } } : {};
    const shared = await results.findAll({ ...where, order: [['endedAt', 'DESC']], limit: MOST });
    const given = await assigned.findAll({ ...where, order: [['at', 'DESC']], limit: MOST });
    return {
      results: shared.map((row) => row.toJSON()),
      assigned: given.map((row) => row.toJSON()),
      cases: (await cases.findAll({ order: [['number', 'ASC']], limit: MOST })).map((row) => {
        const { code, facts, model } = row.toJSON();
        return { code, facts: { ...SAID_LATER, ...facts }, model };
      }),
    };
  });

const MOST = 2000;

/** Keeps a result; sent twice it is kept once. */
export async function shareDrill(
  context: Context,
  { commandId, by, result }: ShareDrill,
): Promise<{ id: string }> {
  await mustBeHere(context, by, 'by');
  await inDrillFile(context.store.file, async (tables) => {
    await mustBeACase(tables, result.code);
    await tables.results.findOrCreate({
      where: { id: commandId },
      defaults: { id: commandId, personId: by, ...result },
    });
  });
  return { id: commandId };
}

/** Gives somebody a case to do. */
export async function assignDrill(
  context: Context,
  { commandId, by, personId, code, note }: AssignDrill,
): Promise<{ id: string }> {
  await mustBeHere(context, personId, 'personId');
  await inDrillFile(context.store.file, async (tables) => {
    await mustBeACase(tables, code);
    await tables.assigned.findOrCreate({
      where: { id: commandId },
      defaults: { id: commandId, personId, code, by, note, at: context.clock.now() },
    });
  });
  return { id: commandId };
}

async function mustBeHere({ store }: Context, id: string, field: string): Promise<void> {
  const person = await store.tables.people.findByPk(id, { raw: true });
  if (!person?.active) throw invalid(field, 'Nobody of that name works here.');
}

async function mustBeACase({ cases }: DrillTables, code: string): Promise<void> {
  if (caseByCode(code) || (await cases.count({ where: { code } })) > 0) return;
  throw invalid('code', 'No case has this code.');
}

/** Keeps a case of the shop's own; it gets the next number. Sent twice it is kept once. */
export async function saveDrillCase(
  { store }: Context,
  { commandId, modelId, facts }: SaveDrillCase,
): Promise<{ code: string }> {
  const row = await store.tables.models.findByPk(modelId, { raw: true });
  if (!row) throw invalid('modelId', 'That model is not in the catalogue.');
  const { id: _, ...model } = modelNow(row);
  return inDrillFile(store.file, async ({ cases }) => {
    const before = await cases.findByPk(commandId);
    if (before) return { code: before.toJSON().code };
    const last = await cases.findOne({ order: [['number', 'DESC']] });
    const number = (last?.toJSON().number ?? 0) + 1;
    const code = `S-${String(number).padStart(2, '0')}`;
    await cases.create({ id: commandId, number, code, facts, model });
    return { code };
  });
}
