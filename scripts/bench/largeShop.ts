// The server with a generated shop: 5,000 batteries, 20,000 jobs, 400,000 readings.
import { randomUUID } from 'node:crypto';
import { performance } from 'node:perf_hooks';
import autocannon from 'autocannon';
import type { JobWire } from '../../src/contract/wire.ts';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';
import { procedureFor } from '../../src/core/catalogue/catalogue.ts';
import { judgeRecovery } from '../../src/core/recovery/judging.ts';
import {
  forecastRecord,
  type RecoveryResult,
  routeRecords,
} from '../../src/core/recovery/record.ts';
import type { Candidate } from '../../src/core/sets/candidate.ts';
import { partition } from '../../src/core/sets/match.ts';
import { DEFAULT_SCALES } from '../../src/core/house/setScales.ts';
import { jobPlan } from '../../src/core/plan/plan.ts';
import { seeded } from '../../src/core/simulation/random.ts';
import { BY_KIND, Driver, HOUR, START } from '../../test/support/battery.ts';
import { readJob } from '../../src/server/resources/jobs/jobs.ts';
import { catchUpSummaries } from '../../src/server/resources/recoveries/recoveries.ts';
import { TestBench } from '../../test/support/bench.ts';
import { Technician } from '../../test/support/browser.ts';
import { measure, ms, say, spreadOf, title } from './figures.ts';

const BATTERIES = 5000;
const JOBS_EACH = 4;
const READINGS_EACH = 20;
const IN_PROCESS = 24;
const ON_SHELF = 300;
/** As the page gives it. */
const SETS_BUDGET_MS = 3500;
/** Different capacities that are told. */
const TESTED = 12;
const DAY = 24 * HOUR;

const MODELS = Object.values(BY_KIND);

/** A finished job of a model as its runner makes it, padded with spot readings; moved to another moment by {@link movedBy}. */
function finished(model: (typeof MODELS)[number]): Driver {
  const d = new Driver(model).to('handover');
  while (d.job.state.readings.length < READINGS_EACH)
    d.send({ type: 'read', role: 'spot', values: { voltageV: d.rested() } });
  d.send({ type: 'handOver', stepId: 'handover', destination: 'shelf' });
  return d;
}

/** A finished recovery of a model, its capacity test lasting so long: kept on the shelf. */
function recovered(model: (typeof MODELS)[number], minutes: number): Driver {
  const d = new Driver(model, DEFAULT_RULES, 'recover');
  d.capacityMinutes = minutes;
  d.to('outcome');
  const { suggested, best } = judgeRecovery(d.job);
  const outcome = suggested === 'return' ? suggested : best === 'light' ? best : 'recycle';
  d.send({
    type: 'giveOutcome',
    stepId: 'outcome',
    outcome,
    ...(outcome === suggested ? {} : { reason: 'As it is' }),
  });
  if (d.job.state.status === 'running')
    d.send({ type: 'handOver', stepId: 'handover', destination: 'shelf' });
  return d;
}

/**
 * Fills an open bench with a shop's years; every row as the application itself writes it.
 *
 * @param years that the jobs are spread over
 * @param wholeLogs every event of every job, not one for each
 */
export async function fill(
  bench: TestBench,
  { years = 2.5, wholeLogs = false } = {},
): Promise<void> {
  const { sequelize, tables } = bench.store;
  const { even } = seeded(4);
  const made = MODELS.map((model) => {
    const { job, log } = finished(model);
    const open = new Driver(model, DEFAULT_RULES, 'commission', bench.now - 9 * HOUR).to('charge');
    return { model, job, log, id: randomUUID(), open: open.job };
  });
  await tables.models.bulkCreate(made.map(({ model, id }) => ({ id, ...model })) as never[]);
  await tables.procedures.bulkCreate(
    made.map(({ model }) => ({
      hash: model.kind,
      body: procedureFor(model.kind, 'commission'),
    })) as never[],
  );
  const again = made.map(({ model }) =>
    Array.from({ length: TESTED }, (_, i) =>
      JSON.stringify(recovered(model, 190 + 4 * i).job.state),
    ),
  );
  const recoverPlans = made.map(({ model }) =>
    JSON.stringify(jobPlan(model, DEFAULT_RULES, 'recover')),
  );
  await tables.procedures.bulkCreate(
    made.map(({ model }) => ({
      hash: `recover ${model.kind}`,
      body: procedureFor(model.kind, 'recover'),
    })) as never[],
  );
  const plans = made.map(({ model }) => JSON.stringify(jobPlan(model, DEFAULT_RULES)));
  const states = made.map(({ job }) => JSON.stringify(job.state));
  const insert = async (into: string, rows: unknown[][]): Promise<void> => {
    if (rows.length === 0) return;
    await sequelize.query(
      `INSERT INTO ${into} VALUES ${rows.map((r) => `(${r.map((v) => sequelize.escape(v as string)).join(',')})`).join(',')}`,
    );
  };
  const owners = [
    'Ski tow',
    'Hut radio',
    'Mill sluice',
    'Groomer',
    'Rescue beacon',
    'Weather mast',
    'Shelf stock',
  ];

  // Written down in the order of time, as a log is: those in process last.
  const ages = Array.from({ length: BATTERIES }, () =>
    Math.floor(even() * years * 365.25 * DAY),
  ).toSorted((a, b) => a - b);
  await sequelize.query('BEGIN');
  for (const [b, age] of [...ages.entries()].toReversed()) {
    const m = b % made.length;
    const kind = made[m];
    if (!kind) continue;
    const batteryId = randomUUID();
    // Four jobs a day apart, the last ones ending within the past day at the pace of such a shop.
    const since = bench.now - (JOBS_EACH - 1) * DAY - 9 * HOUR - age;
    await insert('batteries (id, tag, modelId, dateCode, owner, promisedAt, takenInAt)', [
      [
        batteryId,
        `G-${10_000 + b}`,
        kind.id,
        `202${b % 6}-0${1 + (b % 9)}`,
        `${owners[b % owners.length]} ${b % 40}`,
        null,
        since,
      ],
    ]);
    const jobs: unknown[][] = [];
    const readings: unknown[][] = [];
    const events: unknown[][] = [];
    for (let j = 0; j < JOBS_EACH; j++) {
      const jobId = randomUUID();
      const inProcess = j === JOBS_EACH - 1 && b < IN_PROCESS;
      // Of those on the shelf two in three are there after a recovery; of the others one in ten has been through one.
      const recovery =
        j === JOBS_EACH - 1 && !inProcess && (b < IN_PROCESS + ON_SHELF ? b % 3 > 0 : b % 10 === 0);
      const state = inProcess
        ? JSON.stringify(kind.open.state)
        : recovery
          ? again[m]?.[Math.floor(even() * TESTED)]
          : states[m];
      jobs.push([
        jobId,
        batteryId,
        recovery ? `recover ${kind.model.kind}` : kind.model.kind,
        recovery ? recoverPlans[m] : plans[m],
        state,
        inProcess ? 'running' : 'closed',
        recovery ? 'recover' : 'commission',
        since + j * DAY,
        inProcess ? null : since + j * DAY + 8 * HOUR,
        1,
      ]);
      for (const [i, r] of kind.job.state.readings.entries())
        readings.push([
          randomUUID(),
          batteryId,
          jobId,
          since + j * DAY + i * 1000,
          since + j * DAY + i * 1000,
          'ann',
          r.role,
          r.stepId,
          1,
          JSON.stringify(r.values),
          r.cells ? JSON.stringify(r.cells) : null,
          null,
          '[]',
          null,
        ]);
      const log = wholeLogs ? kind.log : kind.log.slice(-1);
      for (const { at, event } of log)
        events.push([
          since + j * DAY + at - START,
          'ann',
          batteryId,
          jobId,
          jobId,
          event.type,
          JSON.stringify(event),
        ]);
    }
    await insert(
      'jobs (id, batteryId, procedureHash, plan, state, status, purpose, openedAt, closedAt, seq)',
      jobs,
    );
    await insert(
      'readings (id, batteryId, jobId, at, enteredAt, "by", role, stepId, attempt, "values", cells, standard, marks, supersedes)',
      readings,
    );
    await insert('events (at, "by", batteryId, jobId, commandId, type, data)', events);
    if (b >= IN_PROCESS && b < IN_PROCESS + ON_SHELF)
      await insert('stock (batteryId, since, chargedAt, readings, jobId)', [
        [
          batteryId,
          since,
          bench.now - Math.floor(even() * 100) * DAY,
          JSON.stringify([
            { at: bench.now - 40 * DAY, voltageV: 12.8 },
            { at: bench.now - 9 * DAY, voltageV: 12.7 },
          ]),
          null,
        ],
      ]);
  }
  await sequelize.query('COMMIT');
  await catchUpSummaries(bench.store, (id) => readJob(bench.store, id));
  await sequelize.query('ANALYZE');
}

export async function benchLargeShop(): Promise<void> {
  title('A generated shop');
  const bench = await TestBench.open();
  const began = performance.now();
  await fill(bench);
  const counts = await bench.rowCounts();
  say(
    'batteries, jobs, readings',
    `${counts['batteries']} / ${counts['jobs']} / ${counts['readings']}`,
    `made in ${((performance.now() - began) / 1000).toFixed(0)} s`,
  );

  for (const [what, path] of [
    ['Bench', '/api/bench'],
    ['Shelf', '/api/shelf'],
    ['Records, search by owner', '/api/batteries?limit=50&q=hut%20radio%207'],
    ['Records, search by model', '/api/batteries?limit=50&q=T-G12'],
    ["a battery's record", '/api/batteries/G-12345'],
    ['Sets, its candidates', '/api/sets'],
    ['House rules, what recoveries brought', '/api/recoveries'],
  ] as const) {
    await bench.get(path);
    const alone = await measure(60, () => bench.get(path));
    const load = await autocannon({ url: bench.url + path, connections: 4, duration: 3 });
    say(
      `GET ${what}: p50 / p95 alone`,
      `${ms(alone.p50)} / ${ms(alone.p95)}`,
      `aim p95 < 60 ms; 4 at once p50 / p97.5 ${load.latency.p50} / ${load.latency.p97_5} ms`,
    );
  }
  const { candidates } = (await bench.get<{ candidates: Candidate[] }>('/api/sets')).body;
  for (const size of [2, 4]) {
    const from = performance.now();
    const work = partition(candidates, size, DEFAULT_SCALES, SETS_BUDGET_MS, () =>
      performance.now(),
    );
    let turn = work.next();
    while (!turn.done) turn = work.next();
    const { sets, worth, bound } = turn.value;
    say(
      `sets of ${size} from ${candidates.length} recovered on the shelf`,
      `${((performance.now() - from) / 1000).toFixed(1)} s`,
      `${sets.length} sets, at most ${(100 * (bound / worth - 1)).toFixed(1)} % from the best; aim < 5 s`,
    );
  }
  const { results } = (await bench.get<{ results: RecoveryResult[] }>('/api/recoveries')).body;
  const from = performance.now();
  forecastRecord(results);
  routeRecords(results);
  say(`records of ${results.length} recoveries summed up`, ms(performance.now() - from));

  const job = (await bench.get<{ jobs: JobWire[] }>('/api/bench')).body.jobs[0];
  const post = await measure(60, (i) =>
    bench.send(
      job?.id ?? '',
      { type: 'read', role: 'spot', values: { voltageV: 12 + i / 1000 } },
      'ann',
      randomUUID(),
    ),
  );
  say(
    'reading posted to acknowledged, p50 / p95',
    `${ms(post.p50)} / ${ms(post.p95)}`,
    'aim < 100 ms from the key',
  );

  const [first, again]: [number[], number[]] = [[], []];
  for (let i = 0; i < 5; i++) {
    const t = await Technician.sitDown(bench, 'ann');
    for (const kept of [first, again, again]) {
      const from = performance.now();
      await t.open('/');
      await t.sees('in process');
      kept.push(performance.now() - from);
    }
    await t.leave();
  }
  say('Bench shown, first visit of an empty browser, p50', `${spreadOf(first).p50.toFixed(0)} ms`);
  say(
    'Bench shown, any later visit, p50 / p95',
    `${spreadOf(again).p50.toFixed(0)} / ${spreadOf(again).p95.toFixed(0)} ms`,
    'aim < 1000 ms',
  );
  await bench.close();
}
