import { CHEMISTRIES, forCells } from '../batteries/chemistry.ts';
import { stateOfChargePercent } from '../capacity/stateOfCharge.ts';
import { leadAcidKind } from '../batteries/kinds.ts';
import type { HouseRules } from '../house/rules.ts';
import { schoolOf } from '../house/schools.ts';
import { shelfCourse, type ShelfForecast, type ShelfReading } from './selfDischarge.ts';

/** A wet battery on the shelf, as the store keeps it. Moments in ms. */
export interface StockItem {
  batteryId: string;
  tag: string;
  modelCode: string;
  kind: string;
  cells: number;
  /** When it first came onto the shelf: the date first in, first out goes by. */
  since: number;
  /** When its last charge ended. */
  chargedAt: number;
  /** Rest voltages since that charge, oldest first. */
  readings: ShelfReading[];
  /** The job that has it on the bench, or null while it stands on the shelf. */
  jobId: string | null;
}

/** What a battery on the shelf holds, and what it wants when. */
export interface StockStanding {
  item: StockItem;
  forecast: ShelfForecast;
  /** When it is to be read next, and when it is to be charged; ms. */
  checkAt: number;
  rechargeAt: number;
  /** Why then, in words. */
  because: string;
  /** What is due now. */
  wants: 'charge' | 'check' | null;
}

/** A half-charged battery on the shelf sulfates: it is charged whatever the school says. */
const NEVER_BELOW_PERCENT = 50;
const DAY_MS = 86_400_000;
/** A forecast is looked ahead in steps of a day, at most this far. */
const MOST_DAYS = 730;

/** Where a stock item stands at `now` under the house rules. */
export function standingOf(item: StockItem, rules: HouseRules, now: number): StockStanding {
  const kind = leadAcidKind(item.kind);
  const chemistry = CHEMISTRIES[kind.chemistry];
  const place = { kind, chemistry, cells: item.cells, temperatureC: rules.shelfC };
  const { atV, everyS, checkS } = schoolOf('storageRecharge', rules.schools).school.values;
  const course = shelfCourse(place, item.readings);
  const forecast = course(now);
  const last = item.readings.at(-1) as ShelfReading;
  const checkAt = last.at + checkS * 1000;

  const line = atV === null ? null : forCells(atV, item.cells);
  const measuredLow = line !== null && last.voltageV <= line;
  const byTime = everyS === null ? Infinity : item.chargedAt + everyS * 1000;
  const linePercent = line === null ? 0 : stateOfChargePercent(line, item.cells, chemistry);
  const lowAt = firstDay(
    now,
    (at) => course.middle(at) <= Math.max(linePercent, NEVER_BELOW_PERCENT),
  );
  const rechargeAt = measuredLow ? last.at : Math.min(byTime, lowAt);
  const because = measuredLow
    ? `read ${last.voltageV.toFixed(2)} V, at or below ${line.toFixed(2)} V`
    : byTime < Infinity && rechargeAt === byTime
      ? `${Math.floor(Math.max((everyS as number) * 1000, now - item.chargedAt) / DAY_MS)} days since its charge`
      : lowAt === Infinity
        ? `nothing within ${MOST_DAYS / 365} years, by its readings`
        : line !== null && linePercent >= NEVER_BELOW_PERCENT
          ? `expected at ${line.toFixed(2)} V`
          : `expected at ${NEVER_BELOW_PERCENT} %; lower, it sulfates`;
  // A forecast alone asks for a reading; only what was read, or the calendar, asks for a charge.
  const due = measuredLow || byTime <= now;
  const wants = due ? 'charge' : checkAt <= now || lowAt <= now ? 'check' : null;
  return { item, forecast, checkAt, rechargeAt, because, wants };
}

function firstDay(from: number, holds: (at: number) => boolean): number {
  if (holds(from)) return from;
  let [low, high] = [0, MOST_DAYS];
  if (!holds(from + high * DAY_MS)) return Infinity;
  while (high - low > 1) {
    const middle = Math.floor((low + high) / 2);
    if (holds(from + middle * DAY_MS)) high = middle;
    else low = middle;
  }
  return from + high * DAY_MS;
}

/**
 * The battery to take for a sale: of a model, the one longest on the shelf that needs no charge first.
 *
 * @returns null where none of that model may go out today
 */
export function firstOut(
  standings: readonly StockStanding[],
  modelCode: string,
): StockStanding | null {
  const ready = standings.filter(
    (s) => s.item.modelCode === modelCode && s.item.jobId === null && s.wants !== 'charge',
  );
  return ready.sort((a, b) => a.item.since - b.item.since)[0] ?? null;
}

/** The shelf's own hands: what a walk along it is for today. */
export function shelfHands(standings: readonly StockStanding[]): {
  check: StockStanding[];
  charge: StockStanding[];
} {
  const standing = standings.filter((s) => s.item.jobId === null);
  const bySince = (a: StockStanding, b: StockStanding) => a.item.since - b.item.since;
  return {
    check: standing.filter((s) => s.wants === 'check').sort(bySince),
    charge: standing.filter((s) => s.wants === 'charge').sort(bySince),
  };
}

/**
 * Why a battery may not go out now, in words to act on; null where it may.
 *
 * @param standings of its model, itself among them
 * @param reason given for taking another than the one that has stood longest
 */
export function pickRefusal(
  standings: readonly StockStanding[],
  own: StockStanding,
  reason: string | undefined,
): { message: string; field: 'reason' | null } | null {
  const { tag, modelCode, batteryId } = own.item;
  if (own.wants === 'charge')
    return { message: `${tag} must be charged first: ${own.because}.`, field: null };
  const first = firstOut(standings, modelCode);
  if (!first || first.item.batteryId === batteryId || reason) return null;
  return {
    message: `${first.item.tag} has stood longer and goes first. Take that one, or give a reason.`,
    field: 'reason',
  };
}
