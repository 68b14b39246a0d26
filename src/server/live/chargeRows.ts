import { parsed } from '../context.ts';
import { notFound } from '../http/problem.ts';
import type { ChargeWire } from '../../contract/chargeWire.ts';
import type { Store } from '../store/store.ts';
import type { ChargeRow } from '../store/rows.ts';
import type { LiveDesk } from './liveDesk.ts';
import { sampleColumns } from './samples.ts';

/** @throws HttpProblem when there is no such charge */
export async function chargeRow(store: Store, id: string): Promise<ChargeRow> {
  const row = await store.tables.charges.findOne({ where: { id }, raw: true });
  if (!row) throw notFound('That live charge');
  return revive(row);
}

/** Charges that were not over when the server last wrote them down. */
export async function openCharges(store: Store): Promise<ChargeRow[]> {
  return (await store.tables.charges.findAll({ where: { endedAt: null }, raw: true })).map(revive);
}

/** A charge for the page: as it lies in the file, and as it stands now where it is under way. */
export async function chargeWire(
  store: Store,
  desk: Pick<LiveDesk, 'standing'>,
  id: string,
  points: number,
): Promise<ChargeWire> {
  const row = await chargeRow(store, id);
  const live = row.endedAt === null ? await desk.standing(id) : null;
  const { columns, count } = await sampleColumns(store, row.seq as number, points);
  const { seq: _, guess: __, lastAt: ___, ...shown } = row;
  return {
    ...shown,
    left: null,
    ...live,
    samples: columns,
    sampleCount: count,
  };
}

function revive(row: ChargeRow): ChargeRow {
  return {
    ...row,
    plan: parsed(row.plan) as ChargeRow['plan'],
    run: parsed(row.run) as ChargeRow['run'],
    trip: parsed(row.trip) as ChargeRow['trip'],
    guess: parsed(row.guess) as ChargeRow['guess'],
    expected: parsed(row.expected) as ChargeRow['expected'],
    stretches: parsed(row.stretches) as ChargeRow['stretches'],
  };
}
