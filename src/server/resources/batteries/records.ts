import { QueryTypes } from 'sequelize';
import type { Battery, CatalogueModel, RecordWire } from '../../../contract/wire.ts';
import type { Reading } from '../../../core/job/reading.ts';
import { parsed } from '../../context.ts';
import type { Store } from '../../store/store.ts';
import { stockItem } from '../shelf/shelf.ts';
import { procedureOf } from '../jobs/jobs.ts';
import { jsonList } from '../../http/streaming.ts';
import type { ReadingRow } from '../../store/rows.ts';
import type { JobEvent } from '../../../core/job/events.ts';
import { eventNow, RETOLD } from '../../../core/job/stored.ts';
import type { Procedure } from '../../../core/plan/procedure.ts';
import { modelNow } from '../models/models.ts';

/**
 * Everything known of one battery, as the text of a {@link RecordWire}, piece by piece: what lies in the file as
 * JSON is handed on as it lies there, and years of it are never in memory at once.
 */
export async function* recordParts(store: Store, battery: Battery): AsyncGenerator<string> {
  const { id } = battery;
  const heads = await store.tables.jobs.findAll({
    where: { batteryId: id },
    attributes: ['id', 'procedureHash'],
    order: [['openedAt', 'ASC']],
    raw: true,
  });
  const hashes = [...new Set(heads.map((j) => j.procedureHash))];
  const procedures = Object.fromEntries(
    await Promise.all(hashes.map(async (hash) => [hash, await procedureOf(store, hash)] as const)),
  );
  const model = modelNow(
    (await store.tables.models.findByPk(battery.modelId, { raw: true })) as CatalogueModel,
  );
  const logs = (
    await store.tables.chargeLogs.findAll({
      where: { batteryId: id },
      order: [['startedAt', 'ASC']],
      raw: true,
    })
  ).map(({ body, batteryId: _b, startedAt: _s, ...log }) => ({
    ...log,
    log: parsed(body) as RecordWire['logs'][number]['log'],
  }));
  const head = JSON.stringify({
    battery,
    model,
    procedures,
    logs,
    stock: await stockItem(store, id),
  });
  yield `${head.slice(0, -1)},"jobs":`;
  yield* jsonList(
    jobTexts(
      store,
      battery,
      heads.map((j) => j.id),
    ),
  );
  yield ',"shelfReadings":';
  yield* jsonList(asJson(readingsOf(store, id, 'shelf')));
  yield ',"events":';
  const procedureOfJob = new Map(heads.map((j) => [j.id, procedures[j.procedureHash]]));
  yield* jsonList(eventTexts(store, id, (jobId) => procedureOfJob.get(jobId)));
  yield '}';
}

async function* jobTexts(
  store: Store,
  battery: Battery,
  ids: readonly string[],
): AsyncGenerator<string> {
  for (const id of ids) {
    const [row] = await store.sequelize.query<{
      procedureHash: string;
      plan: string;
      state: string;
      seq: number;
    }>('SELECT procedureHash, plan, state, seq FROM jobs WHERE id = :id', {
      replacements: { id },
      type: QueryTypes.SELECT,
    });
    if (!row) continue;
    const head = JSON.stringify({ id, battery, procedureId: row.procedureHash, seq: row.seq });
    yield `${head.slice(0, -1)},"plan":${row.plan},"state":${row.state}}`;
  }
}

/** Rows read at a time. */
const PAGE = 1000;

/** A battery's readings, oldest first, each with what corrected it: all of them, or those outside any job. */
export async function* readingsOf(
  store: Store,
  batteryId: string,
  which: 'all' | 'shelf',
): AsyncGenerator<Reading> {
  for (let [at, id] = [-1, '']; ;) {
    const rows = await store.sequelize.query<ReadingRow & { supersededBy: string | null }>(
      `SELECT r.*, s.id AS supersededBy FROM readings r LEFT JOIN readings s ON s.supersedes = r.id
       WHERE r.batteryId = :batteryId ${which === 'shelf' ? 'AND r.jobId IS NULL' : ''} AND (r.at, r.id) > (:at, :id) ORDER BY r.at, r.id LIMIT :page`,
      { replacements: { batteryId, at, id, page: PAGE }, type: QueryTypes.SELECT },
    );
    for (const { batteryId: _b, jobId: _j, values, cells, marks, ...row } of rows)
      yield {
        ...row,
        values: parsed(values) as Reading['values'],
        cells: parsed(cells) as NonNullable<Reading['cells']>,
        marks: parsed(marks) as Reading['marks'],
      };
    const last = rows.at(-1);
    if (!last || rows.length < PAGE) return;
    [at, id] = [last.at, last.id];
  }
}

async function* asJson(values: AsyncIterable<unknown>): AsyncGenerator<string> {
  for await (const value of values) yield JSON.stringify(value);
}

/** Events as they lie in the file; those an earlier version told in other words are told anew. */
async function* eventTexts(
  store: Store,
  batteryId: string,
  procedureOfJob: (jobId: string) => Procedure | undefined,
): AsyncGenerator<string> {
  for (let after = 0; ;) {
    const rows = await store.sequelize.query<{
      seq: number;
      at: number;
      by: string;
      jobId: string | null;
      type: string;
      data: string;
    }>(
      'SELECT seq, at, "by", jobId, type, data FROM events WHERE batteryId = :batteryId AND seq > :after ORDER BY seq LIMIT :page',
      { replacements: { batteryId, after, page: PAGE }, type: QueryTypes.SELECT },
    );
    for (const { data, type, ...row } of rows) {
      const procedure =
        row.jobId !== null && (RETOLD as readonly string[]).includes(type)
          ? procedureOfJob(row.jobId)
          : undefined;
      const event = procedure
        ? JSON.stringify(eventNow(JSON.parse(data) as JobEvent, procedure))
        : data;
      yield `${JSON.stringify(row).slice(0, -1)},"event":${event}}`;
    }
    const last = rows.at(-1);
    if (!last || rows.length < PAGE) return;
    after = last.seq;
  }
}
