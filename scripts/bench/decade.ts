// Ten years of a shop with eight busy places: how the file grows, how long a start takes, how long every read takes.
import { existsSync } from 'node:fs';
import { copyFile, mkdir, mkdtemp, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { performance } from 'node:perf_hooks';
import { QueryTypes } from 'sequelize';
import { ADDRESSES, type AddressKey } from '../../src/contract/addresses.ts';
import { firstChargePlan, planBattery } from '../../src/core/charging/jobChargePlan.ts';
import { fitPlan } from '../../src/core/charging/fitPlan.ts';
import { PLAN_START } from '../../src/core/charging/runPlan.ts';
import { tidy } from '../../src/server/store/housekeeping.ts';
import { HOUR, PLAIN } from '../../test/support/battery.ts';
import { joinStore } from '../../src/server/store/store.ts';
import { TestBench } from '../../test/support/bench.ts';
import { gone, startShop } from '../../test/support/serverProcess.ts';
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

/** @param made a file that an earlier run made and kept here, or where this one is to keep it; else it goes with the run */
export async function benchDecade(made?: string): Promise<void> {
  title(`Ten years, eight busy places, a charge of ${CHARGE_H} h on an instrument for every job`);
  const folder = await mkdtemp(join(tmpdir(), 'cork-ember-decade-'));
  const shop = join(folder, 'shop');
  await mkdir(shop);
  const file = join(shop, 'bench.sqlite');
  if (!made || !existsSync(made)) {
    await makeDecade(file);
    if (made) await copyFile(file, made);
  } else await copyFile(made, file);
  const asked = await lookThrough(file);

  const began = performance.now();
  const server = await startShop(folder);
  try {
    await (await fetch(`${server.url}/api/bench`)).text();
    say('server start to its first answer', seconds(began), 'aim < 5 s');
    await reads(server.url, asked);
  } finally {
    server.process.kill('SIGTERM');
    await gone(server.process);
    await rm(folder, { recursive: true, force: true });
  }
}

/** Fills a shop's ten years and lets them be thinned. */
async function makeDecade(file: string): Promise<void> {
  const bench = await TestBench.open();
  // The server that reads it goes by the machine's clock.
  bench.now = Date.now();
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
  await bench.store.sequelize.query('VACUUM');
  await bench.store.sequelize.query('PRAGMA wal_checkpoint(TRUNCATE)');
  await copyFile(bench.file, file);
  await bench.close();
}

/** How large it is, how long it takes to look through, and whose pages are asked for then. */
async function lookThrough(file: string): Promise<Asked> {
  const store = await joinStore(file);
  const [blocks] = await store.sequelize.query<{ n: number }>(
    'SELECT COUNT(*) AS n FROM sample_blocks',
    { type: QueryTypes.SELECT },
  );
  const megabytes = (await stat(file)).size / 1e6;
  say(
    'blocks of samples; the file',
    `${blocks?.n} / ${megabytes.toFixed(0)} MB`,
    `${(megabytes / YEARS).toFixed(0)} MB a year on average`,
  );
  for (const check of ['integrity_check', 'quick_check']) {
    const from = performance.now();
    await store.sequelize.query(`PRAGMA ${check}(1)`);
    say(check, seconds(from));
  }
  const { jobs, charges } = store.tables;
  const ids = [
    await jobs.findOne({ raw: true, where: { status: 'running' } }),
    await charges.findOne({ raw: true, order: [['seq', 'DESC']] }),
    await charges.findOne({ raw: true, order: [['endedAt', 'ASC']] }),
  ].map((row) => row?.id ?? '');
  const [job = '', chargeNewest = '', chargeOldest = ''] = ids;
  await store.close();
  return { tag: 'G-12345', job, chargeNewest, chargeOldest };
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

/** What of a file its addresses are asked for. */
interface Asked {
  tag: string;
  job: string;
  chargeNewest: string;
  chargeOldest: string;
}

/** Addresses that read but are not asked here, and why. */
const NOT_ASKED: Partial<Record<AddressKey, string>> = {
  stream: 'it never ends',
  datedAhead: 'only while the clock is in doubt',
  drill: 'of the drill’s own file',
  picture: 'none in this shop',
  tagSheetPdf: 'asked for with what is to be printed',
  claimPdf: 'none in this shop',
  setPdf: 'none in this shop',
  trayPdf: 'none in this shop',
  logCsv: 'none in this shop',
};

/** What an address is asked for besides what stands in it. */
const QUERIES: Partial<Record<AddressKey, readonly string[]>> = {
  findBatteries: ['?limit=50&q=hut%20radio%207', '?limit=50&q='],
  charge: ['?points=600'],
};

/** Every address that reads, by p50 and p95, as whoever asks for it waits. */
async function reads(url: string, of: Asked): Promise<void> {
  for (const [name, { method, path }] of Object.entries(ADDRESSES)) {
    if (method !== 'get') continue;
    const why = NOT_ASKED[name as AddressKey];
    if (why) {
      say(`GET ${path}`, '–', why);
      continue;
    }
    const ids = path.includes('/charges/') ? [of.chargeNewest, of.chargeOldest] : [of.job];
    const asked = path.includes(':id') ? ids.map((id) => path.replace(':id', id)) : [path];
    for (const one of asked)
      for (const query of QUERIES[name as AddressKey] ?? [''])
        await read(url, one.replace(':tag', of.tag) + query);
  }
}

async function read(url: string, path: string): Promise<void> {
  const ask = async () => {
    const answer = await fetch(url + path);
    await answer.arrayBuffer();
    return answer.status;
  };
  const status = await ask();
  if (status !== 200) throw new Error(`${path} answered ${status}.`);
  const took = await measure(60, ask);
  say(
    `GET ${path.replaceAll(/[0-9a-f-]{30,}/g, ':id')}`,
    `${ms(took.p50)} / ${ms(took.p95)}`,
    took.p95 < 60 ? '' : 'over the aim of p95 < 60 ms',
  );
}
