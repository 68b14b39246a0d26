import type { Transaction } from 'sequelize';
import { type JobState, standingReadings, runsWith } from '../../../core/job/job.ts';
import { parsed, logEvent } from '../../context.ts';
import type { Store } from '../../store/store.ts';
import type { JobRow, StockRow } from '../../store/rows.ts';

/**
 * What the end of a job does to the shelf: onto it with its new charge, or off it.
 *
 * @param known how it stood on the shelf before, null where it did not
 */
export function shelfAfter(
  known: StockRow | null,
  batteryId: string,
  state: JobState,
): StockRow | null {
  // A recovered battery has its outcome instead of a verdict; what it read after its hold is what it went onto the shelf with.
  const last = standingReadings(state).findLast(
    (r) => (r.role === 'rest' || r.role === 'hold') && r.marks.every((m) => m === 'confirmed'),
  );
  const restV = state.verdict?.restV ?? (state.recovery ? last?.values.voltageV : undefined);
  if (state.destination !== 'shelf' || restV === null || restV === undefined) return null;
  const closedAt = state.closedAt ?? 0;
  const rest = standingReadings(state).findLast(
    (r) => (r.role === 'rest' || r.role === 'hold') && r.values.voltageV === restV,
  );
  const charged = runsWith(state, 'charge').at(-1)?.endedAt ?? closedAt;
  return {
    batteryId,
    since: known?.since ?? closedAt,
    chargedAt: charged,
    readings: [{ at: rest?.at ?? closedAt, voltageV: restV }],
    jobId: null,
  };
}

/** Whose hand moves a battery on or off the shelf, and when. */
interface ShelfHand {
  at: number;
  by: string;
  commandId: string;
}

/** Does so in the file; how a battery stood that leaves the shelf is kept with the event. @returns whether the shelf has changed */
async function shelveAfter(
  store: Store,
  batteryId: string,
  state: JobState,
  hand: ShelfHand,
  transaction: Transaction,
): Promise<boolean> {
  const known = await store.tables.stock.findByPk(batteryId, { raw: true, transaction });
  const after = shelfAfter(known, batteryId, state);
  if (after) await store.tables.stock.upsert(after, { transaction });
  else if (known) {
    await store.tables.stock.destroy({ where: { batteryId }, transaction });
    const { since, chargedAt, jobId } = known;
    const data = { type: 'shelf.left', since, chargedAt, readings: parsed(known.readings), jobId };
    await logEvent(store, { ...hand, batteryId }, data, transaction);
  }
  return after !== null || known !== null;
}

/** Puts a battery back as it stood before its job took it off the shelf; nothing where it did not. @returns whether the shelf has changed */
async function putBackOnShelf(
  store: Store,
  batteryId: string,
  jobId: string,
  hand: ShelfHand,
  transaction: Transaction,
): Promise<boolean> {
  const left = await store.tables.events.findOne({
    where: { batteryId, type: 'shelf.left' },
    order: [['seq', 'DESC']],
    raw: true,
    transaction,
  });
  const stood = left && (parsed(left.data) as Omit<StockRow, 'batteryId'>);
  if (!stood || stood.jobId !== jobId) return false;
  const { since, chargedAt, readings } = stood;
  await store.tables.stock.upsert(
    { batteryId, since, chargedAt, readings, jobId },
    { transaction },
  );
  const data = { type: 'shelf.put-back', since, chargedAt, readings, jobId };
  await logEvent(store, { ...hand, batteryId }, data, transaction);
  return true;
}

/** A shelf entry for wet stock that came with an import. */
export function stockOfImport(
  batteryId: string,
  restV: number,
  readAt: number,
  chargedAt: number,
): StockRow {
  return {
    batteryId,
    since: chargedAt,
    chargedAt,
    readings: [{ at: readAt, voltageV: restV }],
    jobId: null,
  };
}

/** A job that ends moves its battery on or off the shelf; a refusal that is taken back puts it where it stood. */
export async function moveOnShelf(
  store: Store,
  row: JobRow,
  before: JobState,
  after: JobState,
  hand: ShelfHand,
  transaction: Transaction,
): Promise<boolean> {
  if (after.closedAt !== null && before.closedAt === null)
    return shelveAfter(store, row.batteryId, after, hand, transaction);
  if (after.closedAt === null && before.closedAt !== null)
    return putBackOnShelf(store, row.batteryId, row.id, hand, transaction);
  return false;
}
