import { trip, type Trip } from '../../core/charging/trips.ts';
import { type Context } from '../context.ts';
import { instantOf } from '../clock.ts';
import { type Channel, WATCHDOG_S } from '../instruments/channel.ts';
import { readJob, recordInJob } from '../resources/jobs/jobs.ts';
import type { ChargeRow } from '../store/rows.ts';
import { LiveCharge } from './liveCharge.ts';

/** A charge that was under way when the server stopped: off since, and why. */
interface TakenUp {
  live: LiveCharge;
  offAt: number;
  stopped: Trip;
}

/**
 * Takes up a charge after a restart, and says in its job that it is off.
 *
 * @param channel of its place; null where it has no instrument any more
 * @returns null where there is nothing to go on with: its job has ended it, or its instrument is gone
 */
export async function takenUp(
  context: Context,
  row: ChargeRow,
  channel: Channel | null,
): Promise<TakenUp | null> {
  const { store, clock } = context;
  const { charge } = (await readJob(store, row.jobId)).state;
  if (charge?.live?.chargeId !== row.id || charge.mode === 'ended') {
    // Its job has ended it; only the row did not hear of that any more.
    await channel?.off().catch(() => undefined);
    const ended = { mode: 'ended', endedAt: row.lastAt } as const;
    await store.write((transaction) =>
      store.tables.charges.update(ended, { where: { id: row.id }, transaction }),
    );
    return null;
  }
  // The device's watchdog works in real seconds; bench time may run faster.
  const offAt = Math.min(clock.now(), row.lastAt + WATCHDOG_S * 1000 * clock.rate);
  const interrupted = trip('interrupted', { place: row.place, instrument: channel !== null });
  const stopped = row.mode === 'running' || !row.trip ? interrupted : row.trip;
  // The pages may have been told less than was done: what the row says is written into the job again.
  await recordInJob(context, row.jobId, offAt, ({ state }) =>
    state.charge?.mode === 'running' &&
    state.charge.live?.chargeId === row.id &&
    row.mode !== 'ended'
      ? [{ type: 'charge.paused', why: { by: 'guard', trip: stopped } }]
      : [],
  );
  return channel && { live: new LiveCharge(row, channel, instantOf(clock)), offAt, stopped };
}
