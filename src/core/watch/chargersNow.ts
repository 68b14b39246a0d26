import type { ShopCharger } from '../chargers/charger.ts';
import { type InstrumentSetting, instrumentAt } from '../house/instruments.ts';
import { chargeStatus } from '../job/chargeStatus.ts';
import { type ChargeState, chargeStartedAt } from '../job/chargeState.ts';
import type { Job } from '../job/job.ts';
import type { Moment } from '../quantities/moment.ts';

/** A charge that runs or waits to go on, and when it is next looked at. */
export interface ChargeNow<T> {
  item: T;
  charge: ChargeState;
  since: Moment;
  /** When a reading is due; null where an instrument reads, or no current flows. */
  nextLookAt: Moment | null;
  endsAt: Moment | null;
}

/** One charger of the shop, or an instrument that charges, with what is on it. */
export type ChargerNow<T> =
  | { of: 'charger'; charger: ShopCharger; on: ChargeNow<T>[] }
  | { of: 'instrument'; instrument: InstrumentSetting; on: ChargeNow<T>[] };

/** The wall as it is at a moment. */
export interface Wall<T> {
  chargers: ChargerNow<T>[];
  /** Charges of which nobody said what they run on. */
  unsaid: ChargeNow<T>[];
}

/**
 * Which charger is on which battery: what wants a look first, then what charges, what is free, and what is not in the shop.
 *
 * @param items jobs in process
 */
export function wallNow<T extends { job: Job }>(
  chargers: readonly ShopCharger[],
  instruments: readonly InstrumentSetting[],
  items: readonly T[],
  now: Moment,
): Wall<T> {
  const charges = items.flatMap((item) => chargeNow(item, now));
  const entries: ChargerNow<T>[] = [
    ...chargers.map((charger) => ({
      of: 'charger' as const,
      charger,
      on: charges.filter(({ charge }) => charge.charger?.id === charger.id),
    })),
    ...instruments
      .filter((i) => i.kind === 'charger')
      .map((instrument) => ({
        of: 'instrument' as const,
        instrument,
        on: charges.filter(
          ({ charge }) =>
            charge.live && instrumentAt([instrument], 'charger', charge.place) !== null,
        ),
      })),
  ];
  const placed = new Set(entries.flatMap((e) => e.on));
  return {
    chargers: entries.toSorted((a, b) => rank(a) - rank(b) || nextLook(a) - nextLook(b)),
    unsaid: charges.filter((c) => !placed.has(c)),
  };
}

function chargeNow<T extends { job: Job }>(item: T, now: Moment): ChargeNow<T>[] {
  const { charge } = item.job.state;
  if (!charge || charge.mode === 'ended') return [];
  const { nextReadingAt, expectedEndAt } = chargeStatus(item.job, now);
  return [
    {
      item,
      charge,
      since: chargeStartedAt(charge),
      nextLookAt: charge.live ? null : nextReadingAt,
      endsAt: expectedEndAt,
    },
  ];
}

const nextLook = (entry: ChargerNow<unknown>): number =>
  Math.min(...entry.on.map((c) => c.nextLookAt ?? c.endsAt ?? Infinity));

/** Readings by hand, then instruments at work, then what is free, then what is not in the shop. */
function rank(entry: ChargerNow<unknown>): number {
  if (entry.on.some((c) => !c.charge.live)) return 0;
  if (entry.on.length > 0) return 1;
  return entry.of === 'charger' && entry.charger.standing !== 'ready' ? 3 : 2;
}
