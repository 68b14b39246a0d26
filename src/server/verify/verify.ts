import { isDeepStrictEqual } from 'node:util';
import { QueryTypes } from 'sequelize';
import type { JobEvent } from '../../core/job/events.ts';
import { evolve } from '../../core/steps/evolve.ts';
import { openJob } from '../../core/steps/openJob.ts';
import type { Job, JobState } from '../../core/job/job.ts';
import { lotUses } from '../../core/steps/lotUse.ts';
import type { JobPlan } from '../../core/plan/jobPlan.ts';
import { parsed } from '../context.ts';
import { procedureOf } from '../resources/jobs/jobs.ts';
import { shelfAfter, stockOfImport } from '../resources/shelf/moves.ts';
import { withReading } from '../resources/shelf/shelf.ts';
import type { Store } from '../store/store.ts';
import type { EventRow, StockRow } from '../store/rows.ts';
import { eventNow } from '../../core/job/stored.ts';

/** Where what is stored is not what the log tells. */
export interface Difference {
  /** “job LK-0409”, “lot B1”, … */
  what: string;
  /** Where in it, and both values in short. */
  where: string;
}

export interface Verified {
  events: number;
  jobs: number;
  readings: number;
  lots: number;
  shelf: number;
  sets: number;
  differences: Difference[];
}

type Logged = EventRow & { data: { type: string } & Record<string, unknown> };

interface Lot {
  quantityMl: number;
  usedMl: number;
}

interface SetState {
  members: unknown;
  by: string;
  endedAt: number | null;
  ended: string | null;
  endedBy: string | null;
}

/** Rows of the log read at a time. */
const PAGE = 5000;

/**
 * Tells the whole shop anew from its log of events, and compares that with what is stored: every job's state, every
 * reading, what is left of each lot, the shelf, and the sets.
 */
export async function verifyShop(store: Store): Promise<Verified> {
  const told = await tell(store);
  const differences: Difference[] = [];
  const tags = new Map(
    (await store.tables.batteries.findAll({ attributes: ['id', 'tag'], raw: true })).map((b) => [
      b.id,
      b.tag,
    ]),
  );
  const compare = (what: string, toldNow: unknown, stored: unknown): void => {
    const where = difference(plain(toldNow), plain(stored));
    if (where) differences.push({ what, where });
  };

  const jobs = await store.tables.jobs.findAll({ raw: true });
  for (const row of jobs) {
    const state = parsed(row.state) as JobState;
    compare(
      `job of ${tags.get(row.batteryId)}`,
      inTheWordsOf(state, told.jobs.get(row.id)?.state),
      state,
    );
  }

  const readings = await store.tables.readings.findAll({ raw: true });
  const stored = new Map(readings.map((r) => [r.id, r]));
  for (const { reading, batteryId } of told.readings.values()) {
    const row = stored.get(String(reading['id']));
    const { values } = reading;
    compare(
      `reading ${String(reading['id'])} of ${tags.get(batteryId)}`,
      values,
      row && parsed(row.values),
    );
  }
  if (told.readings.size !== readings.length)
    differences.push({
      what: 'readings',
      where: `${told.readings.size} told, ${readings.length} stored`,
    });

  const lots = await store.tables.lots.findAll({ raw: true });
  for (const row of lots) {
    const usedMl =
      ((await store.tables.lotUses.sum('ml', { where: { lot: row.code } })) as number | null) ?? 0;
    const lot = told.lots.get(row.code);
    compare(
      `lot ${row.code}`,
      lot && { quantityMl: lot.quantityMl, usedMl: Math.round(lot.usedMl * 1000) },
      {
        quantityMl: row.quantityMl,
        usedMl: Math.round(usedMl * 1000),
      },
    );
  }

  const shelf = await store.tables.stock.findAll({ raw: true });
  for (const row of shelf)
    compare(`shelf, ${tags.get(row.batteryId)}`, told.shelf.get(row.batteryId), {
      ...row,
      readings: parsed(row.readings),
    });
  for (const batteryId of told.shelf.keys())
    if (!shelf.some((r) => r.batteryId === batteryId))
      differences.push({ what: `shelf, ${tags.get(batteryId)}`, where: 'told, and not stored' });

  const sets = await store.tables.sets.findAll({ raw: true });
  for (const { id, members, by, endedAt, ended, endedBy } of sets)
    compare(`set ${id}`, told.sets.get(id), {
      members: parsed(members),
      by,
      endedAt,
      ended,
      endedBy,
    });

  return {
    events: told.events,
    jobs: jobs.length,
    readings: readings.length,
    lots: lots.length,
    shelf: shelf.length,
    sets: sets.length,
    differences,
  };
}

interface Told {
  events: number;
  jobs: Map<string, Job>;
  readings: Map<string, { reading: Record<string, unknown>; batteryId: string }>;
  lots: Map<string, Lot>;
  shelf: Map<string, StockRow>;
  sets: Map<string, SetState>;
}

async function tell(store: Store): Promise<Told> {
  const told: Told = {
    events: 0,
    jobs: new Map(),
    readings: new Map(),
    lots: new Map(),
    shelf: new Map(),
    sets: new Map(),
  };
  let group: Logged[] = [];
  const close = async (): Promise<void> => {
    if (group.length > 0) await tellGroup(store, told, group);
    group = [];
  };
  for (let after = 0; ;) {
    const rows = await store.sequelize.query<EventRow>(
      'SELECT * FROM events WHERE seq > :after ORDER BY seq LIMIT :page',
      {
        replacements: { after, page: PAGE },
        type: QueryTypes.SELECT,
      },
    );
    for (const row of rows) {
      const logged = { ...row, data: parsed(row.data) } as Logged;
      const [first] = group;
      // What one command brought about was decided, and folded in, together.
      if (first && (first.commandId !== logged.commandId || first.jobId !== logged.jobId))
        await close();
      group.push(logged);
    }
    told.events += rows.length;
    const last = rows.at(-1);
    if (!last) break;
    after = last.seq as number;
  }
  await close();
  return told;
}

async function tellGroup(store: Store, told: Told, group: readonly Logged[]): Promise<void> {
  const inJob = group.filter((e) => e.jobId !== null && e.type !== 'battery.taken-in');
  for (const event of group) if (!inJob.includes(event)) await tellOne(store, told, event);
  const [first] = inJob;
  const job = first?.jobId ? told.jobs.get(first.jobId) : undefined;
  if (!first?.jobId || !job) return;
  const events = inJob.map((e) => eventNow(e.data as unknown as JobEvent, job.procedure));
  const after = inJob.reduce(
    (folded, { at, by }, i) => evolve(folded, { at, by, event: events[i] as JobEvent }),
    job,
  );
  told.jobs.set(first.jobId, after);
  const batteryId = first.batteryId as string;
  for (const event of events)
    if (event.type === 'reading.taken')
      told.readings.set(event.reading.id, { reading: { ...event.reading }, batteryId });
  for (const { lot, ml } of lotUses(job, events)) {
    const known = told.lots.get(lot);
    if (known) known.usedMl += ml;
  }
  if (after.state.closedAt !== null && job.state.closedAt === null) {
    const stands = shelfAfter(told.shelf.get(batteryId) ?? null, batteryId, after.state);
    if (stands) told.shelf.set(batteryId, stands);
    else told.shelf.delete(batteryId);
  }
}

async function tellOne(
  store: Store,
  told: Told,
  { at, by, batteryId, jobId, commandId, type, data }: Logged,
): Promise<void> {
  switch (type) {
    case 'battery.taken-in': {
      const row = jobId === null ? null : await store.tables.jobs.findByPk(jobId, { raw: true });
      if (!row || jobId === null) return;
      told.jobs.set(
        jobId,
        openJob(await procedureOf(store, row.procedureHash), parsed(row.plan) as JobPlan, at, by),
      );
      const stands = told.shelf.get(batteryId as string);
      if (stands) told.shelf.set(batteryId as string, { ...stands, jobId });
      return;
    }
    case 'battery.imported':
      if (typeof data['restV'] === 'number')
        told.shelf.set(
          batteryId as string,
          stockOfImport(
            batteryId as string,
            data['restV'],
            Number(data['readAt']),
            Number(data['chargedAt']),
          ),
        );
      return;
    case 'shelf.counted':
      told.shelf.clear();
      return;
    case 'shelf.as-found':
    case 'shelf.put-back':
      told.shelf.set(batteryId as string, {
        batteryId: batteryId as string,
        since: Number(data['since']),
        chargedAt: Number(data['chargedAt']),
        readings: data['readings'] as StockRow['readings'],
        jobId: data['jobId'] as string | null,
      });
      return;
    case 'shelf.read': {
      const id = String(data['readingId']);
      const values = {
        voltageV: data['voltageV'],
        ...(data['temperatureC'] === undefined ? {} : { temperatureC: data['temperatureC'] }),
      };
      told.readings.set(id, { reading: { id, values }, batteryId: batteryId as string });
      const stands = told.shelf.get(batteryId as string);
      const readAt =
        typeof data['at'] === 'number'
          ? data['at']
          : ((await store.tables.readings.findByPk(id, { raw: true }))?.at ?? at);
      const oldValues = told.readings.get(String(data['supersedes']))?.reading['values'] as
        | { voltageV: number }
        | undefined;
      const old = oldValues && { at: readAt, voltageV: oldValues.voltageV };
      const read = { at: readAt, voltageV: Number(data['voltageV']) };
      if (stands)
        told.shelf.set(batteryId as string, {
          ...stands,
          readings: withReading(stands.readings, read, old),
        });
      return;
    }
    case 'shelf.picked':
      told.shelf.delete(batteryId as string);
      return;
    case 'lot.added': {
      const { code, quantityMl } = data['lot'] as { code: string; quantityMl: number };
      told.lots.set(code, { quantityMl, usedMl: 0 });
      return;
    }
    case 'lot.used': {
      const lot = told.lots.get(String(data['lot']));
      if (lot) lot.usedMl += Number(data['ml']);
      return;
    }
    case 'set.made':
      told.sets.set(String(data['id']), {
        members: data['members'],
        by,
        endedAt: null,
        ended: null,
        endedBy: null,
      });
      return;
    case 'set.ended': {
      const set = told.sets.get(String(data['id']));
      if (set)
        Object.assign(set, {
          endedAt: at,
          ended: data['reason'],
          endedBy: commandId === 'as-found' ? null : by,
        });
      return;
    }
  }
}

/** Earlier versions kept a deviation as a sentence: it stays as they wrote it, and is no difference. */
function inTheWordsOf(stored: JobState, told: JobState | undefined): JobState | undefined {
  if (!told) return undefined;
  const deviations = told.deviations.map((d, i) => {
    const what = stored.deviations[i]?.what;
    return typeof what === 'string' ? { ...d, what } : d;
  });
  return { ...told, deviations };
}

/** As JSON keeps it: absent and undefined are one, numbers are numbers. */
const plain = (value: unknown): unknown =>
  value === undefined ? null : (JSON.parse(JSON.stringify(value)) as unknown);

/** The first place in which two values differ, with both; null where they are the same. */
function difference(told: unknown, stored: unknown, path = ''): string | null {
  if (isDeepStrictEqual(told, stored)) return null;
  if (typeof told === 'object' && typeof stored === 'object' && told !== null && stored !== null)
    for (const key of new Set([...Object.keys(told), ...Object.keys(stored)])) {
      const found = difference(
        (told as Record<string, unknown>)[key],
        (stored as Record<string, unknown>)[key],
        path ? `${path}.${key}` : key,
      );
      if (found) return found;
    }
  const short = (value: unknown) =>
    value === undefined ? 'nothing' : JSON.stringify(value).slice(0, 60);
  return `${path || 'all of it'}: told ${short(told)}, stored ${short(stored)}`;
}
