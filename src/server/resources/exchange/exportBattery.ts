import { isoOf } from '../../http/isoOf.ts';
import { QueryTypes } from 'sequelize';
import type { ClaimWire, NoteWire } from '../../../contract/paperWire.ts';
import type { Battery, RecordWire } from '../../../contract/wire.ts';
import { BDF_COLUMNS, csvLine, csvText } from '../../../core/exchange/csv.ts';
import { deviationWords } from '../../../core/job/deviationWords.ts';
import { readingRemark, readingRole } from '../../../core/paper/readingWords.ts';
import { parsed } from '../../context.ts';
import { notFound } from '../../http/problem.ts';
import { jsonList } from '../../http/streaming.ts';
import type { Store } from '../../store/store.ts';
import { readingsOf } from '../batteries/records.ts';
import { EXPORT_FORMAT } from './exportSchema.ts';
import { claimsOf } from '../claims/claims.ts';
import { jobWire } from '../jobs/jobWires.ts';
import { notesOf } from '../notes/notes.ts';
import { procedureOf } from '../jobs/jobs.ts';
import { showingText } from '../../../core/chargers/showingWords.ts';

type WireReading = RecordWire['shelfReadings'][number];

const isoOrNull = (at: number | null) => (at === null ? null : isoOf(at));

function exportedReading(r: WireReading): unknown {
  const { id, by, role, attempt, values, cells, standard, marks, supersedes, supersededBy } = r;
  return {
    id,
    at: isoOf(r.at),
    enteredAt: isoOf(r.enteredAt),
    by,
    role,
    attempt,
    values,
    ...(cells ? { cells } : {}),
    ...(standard ? { standard } : {}),
    marks,
    supersedes,
    supersededBy,
  };
}

/** A battery, its jobs and readings, in the published shape, piece by piece: one job in memory at a time. */
export async function* exportParts(store: Store, battery: Battery): AsyncGenerator<string> {
  const head = {
    format: EXPORT_FORMAT,
    battery: {
      tag: battery.tag,
      model: battery.modelCode,
      dateCode: battery.dateCode,
      owner: battery.owner,
      supplier: battery.supplier,
      takenInAt: isoOf(battery.takenInAt),
      promisedAt: isoOrNull(battery.promisedAt),
    },
  };
  yield `${JSON.stringify(head).slice(0, -1)},"jobs":`;
  yield* jsonList(exportedJobs(store, battery.id));
  yield ',"shelfReadings":';
  yield* jsonList(exportedShelf(store, battery.id));
  yield `,"notes":${JSON.stringify((await notesOf(store, battery.id)).map(exportedNote))}`;
  const claims = await claimsOf(store, { batteryId: battery.id });
  yield `,"claims":${JSON.stringify(claims.map(exportedClaim))}}`;
}

function exportedNote({ at, takenBack, picture, ...note }: NoteWire): unknown {
  const { id, by, text, jobId, stepId, readingId, claimId } = note;
  return {
    id,
    at: isoOf(at),
    by,
    text,
    jobId,
    stepId,
    readingId,
    claimId,
    picture,
    takenBack: takenBack && { ...takenBack, at: isoOf(takenBack.at) },
  };
}

function exportedClaim({ id, number, jobId, openedAt, status, body, history }: ClaimWire): unknown {
  return {
    id,
    number,
    jobId,
    openedAt: isoOf(openedAt),
    status,
    ...body,
    history: history.map((move) => ({ ...move, at: isoOf(move.at) })),
  };
}

async function* exportedJobs(store: Store, batteryId: string): AsyncGenerator<string> {
  const ids = await store.tables.jobs.findAll({
    where: { batteryId },
    attributes: ['id'],
    order: [['openedAt', 'ASC']],
    raw: true,
  });
  for (const { id } of ids) {
    const { plan, state, procedureId } = await jobWire(store, id);
    const { purpose, name } = await procedureOf(store, procedureId);
    yield JSON.stringify({
      id,
      purpose,
      procedure: name,
      openedAt: isoOf(state.openedAt),
      closedAt: isoOrNull(state.closedAt),
      status: state.status,
      outcome: state.outcome,
      model: plan.model,
      figures: Object.fromEntries(
        Object.entries(plan.figures).map(([key, { label, value, unit, origin }]) => [
          key,
          { label, value, unit, origin },
        ]),
      ),
      verdict: state.verdict,
      readings: state.readings.map(exportedReading),
      steps: state.runs.map((r) => ({
        step: r.stepId,
        attempt: r.attempt,
        startedAt: isoOf(r.startedAt),
        endedAt: isoOrNull(r.endedAt),
        end: r.end,
        by: r.by,
      })),
      deviations: state.deviations.map((d) => ({
        at: isoOf(d.at),
        by: d.by,
        what: deviationWords(d.what, 'C'),
        reason: d.reason,
      })),
    });
  }
}

async function* exportedShelf(store: Store, batteryId: string): AsyncGenerator<string> {
  for await (const reading of readingsOf(store, batteryId, 'shelf'))
    yield JSON.stringify(exportedReading(reading));
}

/** A battery's readings as a table, corrected ones included and marked, piece by piece. */
export async function* readingsCsv(store: Store, { id, cells }: Battery): AsyncGenerator<string> {
  const [found] = await store.sequelize.query<{ most: number | null }>(
    'SELECT MAX(json_array_length(cells)) AS most FROM readings WHERE batteryId = :id',
    {
      replacements: { id },
      type: QueryTypes.SELECT,
    },
  );
  const perCell = Array.from({ length: Math.min(found?.most ?? 0, cells) }, (_, i) => i);
  yield csvLine(
    [
      'Time / ISO 8601',
      'Kind',
      'Voltage / V',
      'Current / A',
      'Surface Temperature T1 / degC',
      'SG',
      'Resistance / mOhm',
      'CCA / A',
      'CCA standard',
      'Mass / g',
      'Before load / V',
      'After load / V',
      'Charger shows',
      'Pulses / Hz',
      'Pulse peak / A',
      'Pulse mean / A',
    ]
      .concat(
        perCell.flatMap((i) => [`Cell ${i + 1} SG`, `Cell ${i + 1} / V`, `Cell ${i + 1} level`]),
      )
      .concat(['Remark', 'By']),
  );
  for await (const r of readingsOf(store, id, 'all'))
    yield csvLine([
      isoOf(r.at),
      readingRole(r),
      r.values.voltageV,
      r.values.currentA,
      r.values.temperatureC,
      r.values.specificGravity,
      r.values.resistanceMilliohm,
      r.values.ccaA,
      r.standard,
      r.values.massG,
      r.values.beforeV,
      r.values.afterV,
      r.showing ? showingText(r.showing) : undefined,
      r.values.pulseHz,
      r.values.peakA,
      r.values.meanA,
      ...perCell.flatMap((i) => [
        r.cells?.[i]?.specificGravity,
        r.cells?.[i]?.voltageV,
        r.cells?.[i]?.level,
      ]),
      readingRemark(r),
      r.by,
    ]);
}

/** Every sample of a live charge, in the Battery Data Format's columns; what was thinned gives the means of its blocks. */
export async function samplesCsv(store: Store, chargeId: string): Promise<string> {
  const charge = await store.tables.charges.findOne({ where: { id: chargeId }, raw: true });
  if (!charge) throw notFound('That charge');
  const rows = await store.sequelize.query<{ t: number; v: number; a: number; c: number }>(
    `SELECT t, v, a, c FROM sample_blocks WHERE charge = :seq UNION ALL SELECT t, v, a, c FROM samples WHERE charge = :seq ORDER BY t`,
    { replacements: { seq: charge.seq }, type: QueryTypes.SELECT },
  );
  return csvText(
    BDF_COLUMNS,
    rows.map(({ t, v, a, c }) => [t / 1000, v / 1000, a / 1000, c / 100]),
  );
}

export async function logCsv(store: Store, id: string): Promise<string> {
  const row = await store.tables.chargeLogs.findByPk(id, { raw: true });
  if (!row) throw notFound('That log');
  const log = parsed(row.body) as RecordWire['logs'][number]['log'];
  return csvText(
    BDF_COLUMNS,
    log.seconds.map((s, i) => [s, log.voltageV[i], log.currentA[i], log.temperatureC?.[i]]),
  );
}
