import type { AssignDrill, ShareDrill } from '../../../contract/asks.ts';
import type { DrillWire } from '../../../contract/drillWire.ts';
import type { Person } from '../../../contract/wire.ts';
import { caseByCode } from '../../../core/drill/cases/catalogue.ts';
import type { Context } from '../../context.ts';
import { invalid } from '../../http/problem.ts';
import { inDrillFile } from './drillFile.ts';

/**
 * What was shared and what was given out.
 *
 * @param reader who asks, where the server knows; a technician who is signed in sees what is their own
 */
export const drillOf = (
  { store }: Context,
  reader: Pick<Person, 'id' | 'role'> | null,
): Promise<DrillWire> =>
  inDrillFile(store.file, async ({ results, assigned }) => {
    const where = reader && reader.role !== 'lead' ? { where: { personId: reader.id } } : {};
    const shared = await results.findAll({ ...where, order: [['endedAt', 'DESC']], limit: MOST });
    const given = await assigned.findAll({ ...where, order: [['at', 'DESC']], limit: MOST });
    return {
      results: shared.map((row) => row.toJSON()),
      assigned: given.map((row) => row.toJSON()),
    };
  });

const MOST = 2000;

/** Keeps a result; sent twice it is kept once. */
export async function shareDrill(
  context: Context,
  { commandId, by, result }: ShareDrill,
): Promise<{ id: string }> {
  await mustBeHere(context, by, 'by');
  mustBeACase(result.code);
  await inDrillFile(context.store.file, ({ results }) =>
    results.findOrCreate({
      where: { id: commandId },
      defaults: { id: commandId, personId: by, ...result },
    }),
  );
  return { id: commandId };
}

/** Gives somebody a case to do. */
export async function assignDrill(
  context: Context,
  { commandId, by, personId, code, note }: AssignDrill,
): Promise<{ id: string }> {
  await mustBeHere(context, personId, 'personId');
  mustBeACase(code);
  await inDrillFile(context.store.file, ({ assigned }) =>
    assigned.findOrCreate({
      where: { id: commandId },
      defaults: { id: commandId, personId, code, by, note, at: context.clock.now() },
    }),
  );
  return { id: commandId };
}

async function mustBeHere({ store }: Context, id: string, field: string): Promise<void> {
  const person = await store.tables.people.findByPk(id, { raw: true });
  if (!person?.active) throw invalid(field, 'Nobody of that name works here.');
}

function mustBeACase(code: string): void {
  if (!caseByCode(code)) throw invalid('code', 'No case has this code.');
}
