import { Op, type Transaction } from 'sequelize';
import type { JobState } from '../../../core/job/job.ts';
import { parsed } from '../../context.ts';
import type { Store } from '../../store/store.ts';
import type { ChargeState } from '../../../core/job/chargeState.ts';
import { tagsByCharger } from '../../../core/chargers/fit.ts';

/** Does another job have its charge on that place? */
export async function placeTaken(store: Store, place: number, exceptJob: string): Promise<boolean> {
  return (await takenPlaces(store, exceptJob)).includes(place);
}

export async function takenPlaces(
  store: Store,
  exceptJob: string,
  transaction?: Transaction,
): Promise<number[]> {
  return (await runningCharges(store, exceptJob, transaction)).map(({ charge }) => charge.place);
}

/** Tags of the batteries that each of the shop's chargers is on, by its id. */
export async function chargersInUse(
  store: Store,
  exceptJob: string | null,
  transaction?: Transaction,
): Promise<Map<string, string[]>> {
  const charges = await runningCharges(store, exceptJob, transaction);
  const batteries = await store.tables.batteries.findAll({
    where: { id: charges.map((c) => c.batteryId) },
    attributes: ['id', 'tag'],
    raw: true,
    ...(transaction ? { transaction } : {}),
  });
  const tagOf = new Map(batteries.map((b) => [b.id, b.tag]));
  return tagsByCharger(
    charges.map(({ charge, batteryId }) => ({
      chargerId: charge.charger?.id,
      tag: tagOf.get(batteryId) ?? batteryId,
    })),
  );
}

/** Charges that are not over, of jobs that are open. */
async function runningCharges(
  store: Store,
  exceptJob: string | null,
  transaction?: Transaction,
): Promise<{ charge: ChargeState; batteryId: string }[]> {
  const rows = await store.tables.jobs.findAll({
    where: { status: OPEN, ...(exceptJob === null ? {} : { id: { [Op.ne]: exceptJob } }) },
    attributes: ['state', 'batteryId'],
    raw: true,
    ...(transaction ? { transaction } : {}),
  });
  return rows.flatMap(({ state, batteryId }) => {
    const { charge } = parsed(state) as JobState;
    return charge && charge.mode !== 'ended' ? [{ charge, batteryId }] : [];
  });
}

const OPEN = ['running', 'with-lead'];

/** Jobs that are not over, oldest first. */
export async function openJobIds(store: Store, transaction?: Transaction): Promise<string[]> {
  const rows = await store.tables.jobs.findAll({
    where: { status: OPEN },
    attributes: ['id'],
    order: [['openedAt', 'ASC']],
    raw: true,
    ...(transaction ? { transaction } : {}),
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
