import { Op, type Transaction } from 'sequelize';
import type { JobState } from '../../../core/job/job.ts';
import { parsed } from '../../context.ts';
import type { Store } from '../../store/store.ts';

/** Does another job have its charge on that place? */
export async function placeTaken(store: Store, place: number, exceptJob: string): Promise<boolean> {
  return (await takenPlaces(store, exceptJob)).includes(place);
}

export async function takenPlaces(
  store: Store,
  exceptJob: string,
  transaction?: Transaction,
): Promise<number[]> {
  const where = { status: OPEN, id: { [Op.ne]: exceptJob } };
  const rows = await store.tables.jobs.findAll({
    where,
    attributes: ['state'],
    raw: true,
    ...(transaction ? { transaction } : {}),
  });
  return rows.flatMap((r) => {
    const { charge } = parsed(r.state) as JobState;
    return charge && charge.mode !== 'ended' ? [charge.place] : [];
  });
}

const OPEN = ['running', 'with-lead'];

/** Jobs that are not over, oldest first. */
export async function openJobIds(store: Store): Promise<string[]> {
  const rows = await store.tables.jobs.findAll({
    where: { status: OPEN },
    attributes: ['id'],
    order: [['openedAt', 'ASC']],
    raw: true,
  });
  return rows.map((r) => r.id);
}

/** Recoveries in process, by their ids, oldest first. */
export async function runningRecoveries(store: Store): Promise<string[]> {
  const rows = await store.tables.jobs.findAll({
    where: { status: 'running', purpose: 'recover' },
    attributes: ['id'],
    order: [['openedAt', 'ASC']],
    raw: true,
  });
  return rows.map((r) => r.id);
}
