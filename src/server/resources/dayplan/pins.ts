import type { Transaction } from 'sequelize';
import type { PinJob } from '../../../contract/asks.ts';
import { type Pin, saysSomething } from '../../../core/dayplan/pins.ts';
import { type Context, once } from '../../context.ts';
import { notFound } from '../../http/problem.ts';
import { openJobIds } from '../jobs/openJobs.ts';
import type { Store } from '../../store/store.ts';

/** What is set by hand in the day plan, as one setting: it is small, and of jobs that are open. */
const PINS = 'dayPlanPins';

export async function keptPins(store: Store, transaction?: Transaction): Promise<Pin[]> {
  const row = await store.tables.settings.findByPk(PINS, transaction ? { transaction } : {});
  // Pins that were set before there was a rush say nothing of it.
  return ((row?.value as Pin[] | undefined) ?? []).map((pin) => ({
    ...pin,
    rush: pin.rush ?? false,
  }));
}

/** The pins with this one in place of the battery's own; one that says nothing takes it away. */
export const withPin = (pins: readonly Pin[], pin: Pin): Pin[] => [
  ...pins.filter((p) => p.jobId !== pin.jobId),
  ...(saysSomething(pin) ? [pin] : []),
];

/** Sets where or when a battery charges, or leaves it to the plan again. */
export async function pinJob(context: Context, body: PinJob): Promise<{ ok: true }> {
  const { settings, jobs } = context.store.tables;
  const { pin } = body;
  const answer = await once(context, body, async ({ transaction, log }) => {
    const job = await jobs.findByPk(pin.jobId, {
      attributes: ['id', 'batteryId'],
      raw: true,
      transaction,
    });
    if (!job) throw notFound(`Job ${pin.jobId}`);
    const open = new Set(await openJobIds(context.store, transaction));
    const kept = withPin(await keptPins(context.store, transaction), pin).filter((p) =>
      open.has(p.jobId),
    );
    await settings.upsert({ key: PINS, value: kept }, { transaction });
    await log({ type: 'dayplan.pinned', pin }, job.batteryId);
    return { ok: true as const };
  });
  context.changes.announce({ topic: 'plannedByHand' });
  return answer;
}
