// Ten years of a shop with eight busy places: how the file grows, how long a start takes, how long every read takes.
import { spawn } from 'node:child_process';
import { mkdir, rename, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { performance } from 'node:perf_hooks';
import { QueryTypes } from 'sequelize';
import type { BenchWire } from '../../src/contract/wire.ts';
import { firstChargePlan, planBattery } from '../../src/core/charging/jobChargePlan.ts';
import { fitPlan } from '../../src/core/charging/fitPlan.ts';
import { PLAN_START } from '../../src/core/charging/runPlan.ts';
import { tidy } from '../../src/server/store/housekeeping.ts';
import { HOUR, PLAIN } from '../../test/support/battery.ts';
import { TestBench } from '../../test/support/bench.ts';
import { buildPrograms, builtFile, ROOT } from '../setup.mjs';
import { measure, ms, say, title } from './figures.ts';
import { fill } from './largeShop.ts';

const YEARS = 10;
const DAY = 24 * HOUR;
const YEAR = 365.25 * DAY;
const CHARGE_H = 8;
const BLOCKS = (CHARGE_H * HOUR) / 30_000;
const SAMPLES_YEARS = 2;
/** Charges of this long before the line are left whole, so that taking them down is measured too. */
const LATE = 30 * DAY;

export async function benchDecade(): Promise<void> {
  title(`Ten years, eight busy places, a charge of ${CHARGE_H} h on an instrument for every job`);
  const bench = await TestBench.open();
  const began = performance.now();
  await fill(bench, { years: YEARS, wholeLogs: true });
  const charges = await addCharges(bench);
  const counts = await bench.rowCounts();
  say(
    'jobs / readings / events / charges',
    `${counts['jobs']} / ${counts['readings']} / ${counts['events']} / ${charges}`,
    `made in ${seconds(began)}`,
  );

  const thinning = performance.now();
  const tidied = await tidy(bench.store, {
    now: bench.now,
    sessionsBefore: 0,
    samplesYears: SAMPLES_YEARS,
  });
  say(
    `charges of a month thinned to their envelope`,
    `${tidied.charges} in ${seconds(thinning)}`,
    'in the background, 20 at a time',
  );
  const blocks = await bench.store.sequelize.query<{ n: number }>(
    'SELECT COUNT(*) AS n FROM sample_blocks',
    { type: QueryTypes.SELECT },
  );
  await bench.store.sequelize.query('VACUUM');
  await bench.store.sequelize.query('PRAGMA wal_checkpoint(TRUNCATE)');
  const megabytes = (await stat(bench.file)).size / 1e6;
  say(
    'blocks of samples; the file',
    `${blocks[0]?.n} / ${megabytes.toFixed(0)} MB`,
    `${(megabytes / YEARS).toFixed(0)} MB a year on average`,
  );
  for (const check of ['integrity_check', 'quick_check']) {
    const from = performance.now();
    await bench.store.sequelize.query(`PRAGMA ${check}(1)`);
    say(check, seconds(from));
  }
  await bench.stop();

  const shop = join(bench.folder, 'data', 'shop');
  await mkdir(shop, { recursive: true });
  await rename(bench.file, join(shop, 'bench.sqlite'));
  say(
    'server start to its first answer',
    `${(await startSeconds(join(bench.folder, 'data'))).toFixed(1)} s`,
    'aim < 5 s',
  );
  await rename(join(shop, 'bench.sqlite'), bench.file);

  await bench.start();
  await reads(bench);
  await bench.close();
}

const seconds = (from: number): string => `${((performance.now() - from) / 1000).toFixed(1)} s`;

/** A charge for every job that has ended, with its samples as thinning leaves them. */
async function addCharges(bench: TestBench): Promise<number> {
  const { sequelize } = bench.store;
  const plan = firstChargePlan(PLAIN, 'agm', 1.2, 14.7);
  const { fitted } = fitPlan(plan, planBattery(PLAIN, 'agm'));
  const expected = {
    totalH: CHARGE_H,
    hours: Array.from({ length: 120 }, (_, i) => (i * CHARGE_H) / 120),
    voltageV: Array.from({ length: 120 }, (_, i) => 12.6 + i / 60),
    currentA: Array.from({ length: 120 }, () => 1.2),
  };
  await sequelize.query('BEGIN');
  await sequelize.query(
    `INSERT INTO charges (id, jobId, place, instrument, startedAt, endedAt, mode, plan, run, trip, guess, expected, stretches, lastAt, blockMs)
     SELECT lower(hex(randomblob(16))), id, 1 + (rowid % 8), 'Rack charger', openedAt, openedAt + :length, 'ended', :plan, :run, NULL, :guess, :expected, '[]', openedAt + :length,
       CASE WHEN openedAt < :envelope THEN 900000 ELSE 30000 END
     FROM jobs WHERE closedAt IS NOT NULL`,
    {
      replacements: {
        length: CHARGE_H * HOUR,
        plan: JSON.stringify(fitted),
        run: JSON.stringify(PLAN_START),
        guess: JSON.stringify({ charge: 0.8, temperatureC: 20, roomC: 20 }),
        expected: JSON.stringify(expected),
        envelope: bench.now - SAMPLES_YEARS * YEAR - LATE,
      },
    },
  );
  for (const [blockMs, count] of [
    [900_000, (BLOCKS * 30_000) / 900_000],
    [30_000, BLOCKS],
  ])
    await sequelize.query(
      `WITH RECURSIVE k(i) AS (SELECT 0 UNION ALL SELECT i + 1 FROM k WHERE i + 1 < :count)
       INSERT INTO sample_blocks (charge, t, n, v, vLow, vHigh, a, aLow, aHigh, c, cHigh)
       SELECT seq, i * :blockMs, :blockMs / 1000, 12600 + i, 12595 + i, 12605 + i, 1200, 1190, 1210, 2200, 2210 FROM charges CROSS JOIN k WHERE blockMs = :blockMs`,
      { replacements: { blockMs, count } },
    );
  await sequelize.query('COMMIT');
  await sequelize.query('ANALYZE');
  return bench.store.tables.charges.count();
}

/** From the command to the first answer of a server in a process of its own. */
async function startSeconds(data: string): Promise<number> {
  buildPrograms();
  const from = performance.now();
  const child = spawn(
    process.execPath,
    [builtFile('server/main'), '--shop', '--data', data, '--port', '0'],
    {
      cwd: ROOT,
      stdio: ['ignore', 'pipe', 'inherit'],
    },
  );
  const url = await new Promise<string>((resolve) => {
    child.stdout.on('data', (part: Buffer) => {
      const said = /http:\/\/\S+/.exec(part.toString())?.[0];
      if (said) resolve(said);
    });
  });
  await fetch(`${url}/api/bench`);
  const took = (performance.now() - from) / 1000;
  child.kill('SIGTERM');
  await new Promise((resolve) => child.once('exit', resolve));
  return took;
}

/** Every address that reads, by p50 and p95. */
async function reads(bench: TestBench): Promise<void> {
  const [job] = (await bench.get<BenchWire>('/api/bench')).body.jobs;
  const charge = await bench.store.tables.charges.findOne({ raw: true, order: [['seq', 'DESC']] });
  const old = await bench.store.tables.charges.findOne({ raw: true, order: [['endedAt', 'ASC']] });
  const tag = 'G-12345';
  const paths = [
    '/api/clock',
    '/api/shop',
    '/api/models',
    '/api/plans',
    '/api/tags/next',
    '/api/bench',
    `/api/jobs/${job?.id}`,
    '/api/batteries?limit=50&q=hut%20radio%207',
    '/api/batteries?limit=50&q=',
    `/api/batteries/${tag}`,
    `/api/batteries/${tag}/export.json`,
    `/api/batteries/${tag}/readings.csv`,
    `/api/charges/${charge?.id}?points=600`,
    `/api/charges/${old?.id}?points=600`,
    `/api/charges/${charge?.id}/samples.csv`,
    '/api/shelf',
    '/api/shelf/list.csv',
    '/api/lots',
    '/api/sets',
    '/api/recoveries',
    '/api/calendar.ics',
    '/api/schemas/battery.json',
    '/api/openapi.json',
    '/api/sign-in',
    '/api/health',
  ];
  for (const path of paths) {
    const { status } = await bench.get(path);
    if (status !== 200) throw new Error(`${path} answered ${status}.`);
    const took = await measure(40, () => bench.get(path));
    say(
      `GET ${path.replaceAll(/[0-9a-f-]{30,}/g, ':id')}`,
      `${ms(took.p50)} / ${ms(took.p95)}`,
      took.p95 < 60 ? '' : 'over the aim of p95 < 60 ms',
    );
  }
}
