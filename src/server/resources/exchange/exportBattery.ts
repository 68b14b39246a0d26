import Joi from 'joi';
import { QueryTypes } from 'sequelize';
import { jsonSchemaOf } from '../../../contract/jsonSchema.ts';
import type { Battery, RecordWire } from '../../../contract/wire.ts';
import { BDF_COLUMNS, csvLine, csvText } from '../../../core/exchange/csv.ts';
import { deviationWords } from '../../../core/job/deviationWords.ts';
import { CELL_LEVELS } from '../../../core/batteries/cellLevel.ts';
import { readingRemark, readingRole } from '../../../core/paper/readingWords.ts';
import { parsed } from '../../context.ts';
import { notFound } from '../../http/problem.ts';
import { jsonList } from '../../http/streaming.ts';
import type { Store } from '../../store/store.ts';
import { readingsOf } from '../batteries/records.ts';
import { jobWire } from '../jobs/jobWires.ts';
import { procedureOf } from '../jobs/jobs.ts';
import { showingText } from '../../../core/chargers/showingWords.ts';

/** Version of the exported shape; a reader may count on it. */
const FORMAT = 'cork-ember-battery/1';

const moment = Joi.string().isoDate();
const numbers = Joi.object().pattern(Joi.string(), Joi.number());
const readingSchema = Joi.object({
  id: Joi.string().required(),
  at: moment.required(),
  enteredAt: moment.required(),
  by: Joi.string().required(),
  role: Joi.string().required(),
  attempt: Joi.number().integer().required(),
  values: numbers.required(),
  cells: Joi.array().items(
    Joi.object({
      specificGravity: Joi.number(),
      voltageV: Joi.number(),
      level: Joi.string().valid(...CELL_LEVELS),
      bubbling: Joi.boolean(),
    }),
  ),
  standard: Joi.string(),
  marks: Joi.array().items(Joi.string()).required(),
  supersedes: Joi.string().allow(null).required(),
  supersededBy: Joi.string().allow(null).required(),
});

/** What an exported battery holds. Published as JSON Schema beside it. */
export const exportSchema = Joi.object({
  format: Joi.string().valid(FORMAT).required(),
  battery: Joi.object({
    tag: Joi.string().required(),
    model: Joi.string().required(),
    dateCode: Joi.string().required(),
    owner: Joi.string().required(),
    takenInAt: moment.required(),
    promisedAt: moment.allow(null).required(),
  }).required(),
  jobs: Joi.array()
    .items(
      Joi.object({
        id: Joi.string().required(),
        purpose: Joi.string().required(),
        procedure: Joi.string().required(),
        openedAt: moment.required(),
        closedAt: moment.allow(null).required(),
        status: Joi.string().required(),
        outcome: Joi.string().allow(null).required(),
        model: Joi.object().unknown().required(),
        figures: Joi.object()
          .pattern(
            Joi.string(),
            Joi.object({
              label: Joi.string().required(),
              value: Joi.number().required(),
              unit: Joi.string().allow('').required(),
              origin: Joi.string().required(),
            }),
          )
          .required(),
        verdict: Joi.object().unknown().allow(null).required(),
        readings: Joi.array().items(readingSchema).required(),
        steps: Joi.array()
          .items(
            Joi.object({
              step: Joi.string().required(),
              attempt: Joi.number().integer().required(),
              startedAt: moment.required(),
              endedAt: moment.allow(null).required(),
              end: Joi.string().allow(null).required(),
              by: Joi.string().allow(null).required(),
            }),
          )
          .required(),
        deviations: Joi.array()
          .items(
            Joi.object({
              at: moment.required(),
              by: Joi.string().required(),
              what: Joi.string().required(),
              reason: Joi.string().required(),
            }),
          )
          .required(),
      }),
    )
    .required(),
  shelfReadings: Joi.array().items(readingSchema).required(),
});

/** Published at the address of the battery's schema. */
export const exportJsonSchema = (): unknown => ({
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  title: 'Battery with its jobs and readings; SI units, temperatures in °C, volts per battery',
  ...jsonSchemaOf(exportSchema, 'output'),
});

type WireReading = RecordWire['shelfReadings'][number];

const iso = (at: number) => new Date(at).toISOString();
const isoOrNull = (at: number | null) => (at === null ? null : iso(at));

function exportedReading(r: WireReading): unknown {
  const { id, by, role, attempt, values, cells, standard, marks, supersedes, supersededBy } = r;
  return {
    id,
    at: iso(r.at),
    enteredAt: iso(r.enteredAt),
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
    format: FORMAT,
    battery: {
      tag: battery.tag,
      model: battery.modelCode,
      dateCode: battery.dateCode,
      owner: battery.owner,
      takenInAt: iso(battery.takenInAt),
      promisedAt: isoOrNull(battery.promisedAt),
    },
  };
  yield `${JSON.stringify(head).slice(0, -1)},"jobs":`;
  yield* jsonList(exportedJobs(store, battery.id));
  yield ',"shelfReadings":';
  yield* jsonList(exportedShelf(store, battery.id));
  yield '}';
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
      openedAt: iso(state.openedAt),
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
        startedAt: iso(r.startedAt),
        endedAt: isoOrNull(r.endedAt),
        end: r.end,
        by: r.by,
      })),
      deviations: state.deviations.map((d) => ({
        at: iso(d.at),
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
      iso(r.at),
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
