import type { Transaction } from 'sequelize';
import { QueryTypes } from 'sequelize';
import type { PickFromShelf, ReadOnShelf } from '../../../contract/asks.ts';
import type { ShelfItem } from '../../../contract/wire.ts';
import { askAbout } from '../../../core/quantities/plausibility.ts';
import { Refused } from '../../../core/job/commands.ts';
import type { ShelfReading } from '../../../core/storage/selfDischarge.ts';
import type { HouseRules } from '../../../core/house/rules.ts';
import { pickRefusal, standingOf, type StockStanding } from '../../../core/storage/stock.ts';
import { type Context, once, parsed, readRules } from '../../context.ts';
import { HttpProblem, notFound } from '../../http/problem.ts';
import type { Store } from '../../store/store.ts';
import type { StockRow } from '../../store/rows.ts';

interface ShelfRow extends Omit<ShelfItem, 'readings'> {
  readings: string | ShelfReading[];
}

const SELECT = `SELECT s.batteryId, b.tag, m.code AS modelCode, m.kind, m.cells, b.owner, b.dateCode, b.place, s.since, s.chargedAt, s.readings, s.jobId
  FROM stock s JOIN batteries b ON b.id = s.batteryId JOIN models m ON m.id = b.modelId`;

/** The whole shelf, longest standing first. */
export async function shelfItems(store: Store, transaction?: Transaction): Promise<ShelfItem[]> {
  const rows = await store.sequelize.query<ShelfRow>(`${SELECT} ORDER BY s.since`, {
    type: QueryTypes.SELECT,
    ...(transaction ? { transaction } : {}),
  });
  return rows.map((row) => ({ ...row, readings: parsed(row.readings) as ShelfReading[] }));
}

/** A forecast is worked out once in so long: it moves by days, and three hundred of them take a moment. ms */
const FORECAST_FOR_MS = 15 * 60_000;
const forecasts = new WeakMap<Store, { madeFor: string; byBattery: Map<string, StockStanding> }>();

/** The shelf with its forecasts, longest standing first. */
export async function shelfStandings(
  store: Store,
  rules: HouseRules,
  now: number,
): Promise<{ item: ShelfItem; standing: StockStanding }[]> {
  const madeAt = now - (now % FORECAST_FOR_MS);
  const madeFor = JSON.stringify([madeAt, rules.shelfC, rules.schools]);
  const known = forecasts.get(store);
  const byBattery = known?.madeFor === madeFor ? known.byBattery : new Map<string, StockStanding>();
  forecasts.set(store, { madeFor, byBattery });
  return (await shelfItems(store)).map((item) => {
    const what = JSON.stringify(item);
    const standing = byBattery.get(what) ?? standingOf(item, rules, madeAt);
    byBattery.set(what, standing);
    return { item, standing };
  });
}

/** One battery on the shelf, or null where it is not there. */
export async function stockItem(store: Store, batteryId: string): Promise<ShelfItem | null> {
  const [row] = await store.sequelize.query<ShelfRow>(`${SELECT} WHERE s.batteryId = :batteryId`, {
    replacements: { batteryId },
    type: QueryTypes.SELECT,
  });
  return row ? { ...row, readings: parsed(row.readings) as ShelfReading[] } : null;
}

async function onShelf(
  store: Store,
  tag: string,
  transaction: Transaction,
): Promise<{ row: StockRow; cells: number; c20Ah: number; modelCode: string }> {
  const battery = await store.tables.batteries.findOne({ where: { tag }, raw: true, transaction });
  if (!battery) throw notFound(`Battery ${tag}`);
  const row = await store.tables.stock.findByPk(battery.id, { raw: true, transaction });
  if (!row)
    throw new HttpProblem(409, {
      code: 'out-of-order',
      message: `${tag} does not stand on the shelf.`,
      fields: {},
    });
  if (row.jobId !== null)
    throw new HttpProblem(409, {
      code: 'out-of-order',
      message: `${tag} is on the bench; its job has its readings.`,
      fields: {},
    });
  const model = await store.tables.models.findByPk(battery.modelId, { raw: true, transaction });
  return {
    row: { ...row, readings: parsed(row.readings) as ShelfReading[] },
    cells: model?.cells ?? 6,
    c20Ah: model?.c20Ah ?? 1,
    modelCode: model?.code ?? '',
  };
}

/** A rest voltage read on a round. It belongs to the battery, and its forecast learns from it. */
export async function readOnShelf(
  context: Context,
  tag: string,
  body: ReadOnShelf,
): Promise<{ tag: string }> {
  const { store, changes } = context;
  const answer = await once(context, body, async ({ by, now, transaction, log }) => {
    const { row, cells, c20Ah } = await onShelf(store, tag, transaction);
    const old =
      body.supersedes === undefined
        ? null
        : await shelfReading(store, row.batteryId, body.supersedes, transaction);
    const readAt = old?.at ?? Math.min(body.takenAt, now);
    if (readAt < row.chargedAt)
      throw new Refused('That time is before it was charged.', 'invalid', 'takenAt');
    const question = askAbout('voltage', body.voltageV, { cells, c20Ah });
    if (question && !body.sure) throw new Refused(question, 'ask', 'voltageV');
    const reading = {
      id: body.commandId,
      batteryId: row.batteryId,
      jobId: null,
      at: readAt,
      enteredAt: now,
      by: by.id,
      role: 'shelf' as const,
      stepId: null,
      attempt: 1,
      values: {
        voltageV: body.voltageV,
        ...(body.temperatureC === undefined ? {} : { temperatureC: body.temperatureC }),
      },
      marks: question ? ['confirmed' as const] : [],
      supersedes: old?.id ?? null,
    };
    await store.tables.readings.create(reading, { transaction });
    const readings = withReading(row.readings, { at: readAt, voltageV: body.voltageV }, old);
    await store.tables.stock.update(
      { readings },
      { where: { batteryId: row.batteryId }, transaction },
    );
    const data = {
      type: 'shelf.read',
      readingId: reading.id,
      at: readAt,
      ...reading.values,
      ...(old ? { supersedes: old.id } : {}),
    };
    await log(data, row.batteryId);
    return { tag };
  });
  changes.announce({ topic: 'shelf', tag });
  return answer;
}

/** A reading of a round, to be corrected. @throws Refused when it is none of this battery's, or was corrected already */
async function shelfReading(
  store: Store,
  batteryId: string,
  id: string,
  transaction: Transaction,
): Promise<ShelfReading & { id: string }> {
  const old = await store.tables.readings.findOne({
    where: { id, batteryId, role: 'shelf' },
    raw: true,
    transaction,
  });
  if (!old)
    throw new Refused('That is no reading of a round of this battery.', 'invalid', 'supersedes');
  if (await store.tables.readings.count({ where: { supersedes: id }, transaction }))
    throw new Refused(
      'That reading was corrected already. Correct the newer one.',
      'out-of-order',
      'supersedes',
    );
  return {
    id: old.id,
    at: old.at,
    voltageV: (parsed(old.values) as { voltageV: number }).voltageV,
  };
}

/** Readings with one more, in their order; instead of the one it corrects. */
export function withReading(
  readings: readonly ShelfReading[],
  { at, voltageV }: ShelfReading,
  instead: ShelfReading | null | undefined,
): ShelfReading[] {
  const was = instead
    ? readings.findIndex((r) => r.at === instead.at && r.voltageV === instead.voltageV)
    : -1;
  return [...readings.filter((_, i) => i !== was), { at, voltageV }].sort((a, b) => a.at - b.at);
}

/** Takes a battery off the shelf. The one longest there goes first; another wants a reason, and one that wants charge stays. */
export async function pickFromShelf(
  context: Context,
  tag: string,
  body: PickFromShelf,
): Promise<{ tag: string }> {
  const { store, changes } = context;
  const answer = await once(context, body, async ({ now, transaction, log }) => {
    const { row, modelCode } = await onShelf(store, tag, transaction);
    const rules = await readRules(store, transaction);
    const standings = (await shelfItems(store, transaction))
      .filter((i) => i.modelCode === modelCode)
      .map((i) => standingOf(i, rules, now));
    const standing = standings.find((s) => s.item.batteryId === row.batteryId);
    const refused = standing && pickRefusal(standings, standing, body.reason);
    if (refused)
      throw new Refused(
        refused.message,
        refused.field ? 'invalid' : 'forbidden',
        refused.field ?? undefined,
      );
    await store.tables.stock.destroy({ where: { batteryId: row.batteryId }, transaction });
    await store.tables.batteries.update(
      { owner: body.owner },
      { where: { id: row.batteryId }, transaction },
    );
    const data = { type: 'shelf.picked', owner: body.owner, reason: body.reason ?? null };
    await log(data, row.batteryId);
    return { tag };
  });
  changes.announce({ topic: 'shelf', tag });
  return answer;
}

/** The shelf as rows of a table, for paper and spreadsheets. */
export interface ShelfLine {
  tag: string;
  model: string;
  since: number;
  chargedAt: number;
  lastV: number;
  lastAt: number;
  percent: string;
  volts: string;
  rechargeAt: number;
  wants: string;
}

export async function shelfLines(store: Store, now: number): Promise<ShelfLine[]> {
  const rules = await readRules(store);
  return (await shelfStandings(store, rules, now)).map(
    ({ item, standing: { forecast, rechargeAt, wants } }) => {
      const last = item.readings.at(-1) as ShelfReading;
      return {
        tag: item.tag,
        model: item.modelCode,
        since: item.since,
        chargedAt: item.chargedAt,
        lastV: last.voltageV,
        lastAt: last.at,
        percent: `${forecast.percent.mid.toFixed(0)} % (${forecast.percent.low.toFixed(0)}–${forecast.percent.high.toFixed(0)})`,
        volts: `${forecast.volts.mid.toFixed(2)} (${forecast.volts.low.toFixed(2)}–${forecast.volts.high.toFixed(2)})`,
        rechargeAt,
        wants: item.jobId ? 'on the bench' : (wants ?? ''),
      };
    },
  );
}
