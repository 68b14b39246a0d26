import { QueryTypes, type Transaction } from 'sequelize';
import type { SampleColumns } from '../../contract/chargeWire.ts';
import type { Store } from '../store/store.ts';

/** A sample as it lies on the disk: ms since the charge began, mV, mA, hundredths of a °C. */
export interface StoredSample {
  charge: number;
  t: number;
  v: number;
  a: number;
  c: number;
}

/** Samples stay as they are for so long; then they become blocks that keep their peaks. ms of bench time. */
const FRESH_MS = 3_600_000;
const BLOCK_MS = 30_000;
/** What is left of a charge that is older than the shop wants in full: an envelope in blocks of this length, ms. */
const ENVELOPE_MS = 900_000;
/** Charges thinned at a time; each is a transaction of its own, so that nothing waits for all of them. */
const AT_A_TIME = 20;

export async function keepSamples(
  store: Store,
  samples: readonly StoredSample[],
  transaction: Transaction,
): Promise<void> {
  if (samples.length === 0) return;
  // The same moment twice is the same sample: a retry writes nothing new.
  const rows = samples.map(
    ({ charge, t, v, a, c }) => `(${[charge, t, v, a, c].map((n) => Math.round(n)).join(',')})`,
  );
  await store.sequelize.query(
    `INSERT OR IGNORE INTO samples (charge, t, v, a, c) VALUES ${rows.join(',')}`,
    { transaction },
  );
}

/**
 * Turns samples that are no longer fresh, of every charge, into blocks of low, mean and high. Nothing
 * is counted twice: one transaction a charge.
 */
export async function thinSamples(store: Store, now: number): Promise<void> {
  const charges = await store.sequelize.query<{ charge: number; startedAt: number }>(
    'SELECT seq AS charge, startedAt FROM charges WHERE EXISTS (SELECT 1 FROM samples WHERE charge = seq)',
    { type: QueryTypes.SELECT },
  );
  for (const { charge, startedAt } of charges) {
    const before = Math.floor((now - startedAt - FRESH_MS) / BLOCK_MS) * BLOCK_MS;
    if (before > 0) await thinCharge(store, charge, before);
  }
}

async function thinCharge(store: Store, charge: number, before: number): Promise<void> {
  await store.write(async (transaction) => {
    const replacements = { charge, before, block: BLOCK_MS };
    await store.sequelize.query(
      `INSERT OR IGNORE INTO sample_blocks (charge, t, n, v, vLow, vHigh, a, aLow, aHigh, c, cHigh)
       SELECT charge, (t / :block) * :block, COUNT(*), ROUND(AVG(v)), MIN(v), MAX(v), ROUND(AVG(a)), MIN(a), MAX(a), ROUND(AVG(c)), MAX(c)
       FROM samples WHERE charge = :charge AND t < :before GROUP BY t / :block`,
      { replacements, transaction },
    );
    await store.sequelize.query('DELETE FROM samples WHERE charge = :charge AND t < :before', {
      replacements,
      transaction,
    });
  });
}

/**
 * Leaves the envelope of charges that ended before `before`: lowest, mean and highest of each quarter of an hour,
 * and how many samples it stands for. Each charge is thinned once.
 *
 * @returns how many were thinned; call again while it is not 0
 */
export async function thinOldCharges(store: Store, before: number): Promise<number> {
  const charges = await store.sequelize.query<{ charge: number }>(
    'SELECT seq AS charge FROM charges WHERE blockMs = :block AND endedAt < :before ORDER BY endedAt LIMIT :most',
    { replacements: { block: BLOCK_MS, before, most: AT_A_TIME }, type: QueryTypes.SELECT },
  );
  for (const { charge } of charges) await thinToEnvelope(store, charge);
  return charges.length;
}

async function thinToEnvelope(store: Store, charge: number): Promise<void> {
  await store.write(async (transaction) => {
    const replacements = { charge, block: ENVELOPE_MS };
    const query = (sql: string) => store.sequelize.query(sql, { replacements, transaction });
    await query(
      `CREATE TEMP TABLE envelope AS SELECT (t / :block) * :block AS t, SUM(n) AS n,
         ROUND(SUM(v * n * 1.0) / SUM(n)) AS v, MIN(vLow) AS vLow, MAX(vHigh) AS vHigh,
         ROUND(SUM(a * n * 1.0) / SUM(n)) AS a, MIN(aLow) AS aLow, MAX(aHigh) AS aHigh,
         ROUND(SUM(c * n * 1.0) / SUM(n)) AS c, MAX(cHigh) AS cHigh
       FROM sample_blocks WHERE charge = :charge GROUP BY t / :block`,
    );
    await query('DELETE FROM sample_blocks WHERE charge = :charge');
    await query(
      `INSERT INTO sample_blocks (charge, t, n, v, vLow, vHigh, a, aLow, aHigh, c, cHigh)
       SELECT :charge, t, n, v, vLow, vHigh, a, aLow, aHigh, c, cHigh FROM envelope`,
    );
    await query('DROP TABLE envelope');
    await query('UPDATE charges SET blockMs = :block WHERE seq = :charge');
  });
}

interface Row {
  t: number;
  v: number;
  vLow: number;
  vHigh: number;
  a: number;
  c: number;
}

/** A charge's samples in at most about `points` columns; each keeps the lowest and the highest of what it stands for. */
export async function sampleColumns(
  store: Store,
  charge: number,
  points: number,
): Promise<{ columns: SampleColumns; count: number }> {
  const [span] = await store.sequelize.query<{ last: number | null; count: number }>(
    `SELECT MAX(t) AS last, SUM(n) AS count FROM (SELECT t, 1 AS n FROM samples WHERE charge = :charge UNION ALL SELECT t, n FROM sample_blocks WHERE charge = :charge)`,
    { replacements: { charge }, type: QueryTypes.SELECT },
  );
  const bucket = Math.max(1, Math.ceil(((span?.last ?? 0) + 1) / points));
  const rows = await store.sequelize.query<Row>(
    `SELECT AVG(t) AS t, SUM(v * n) / SUM(n) AS v, MIN(vLow) AS vLow, MAX(vHigh) AS vHigh, SUM(a * n) / SUM(n) AS a, MAX(c) AS c FROM (
       SELECT t, 1.0 AS n, v, v AS vLow, v AS vHigh, a, c FROM samples WHERE charge = :charge
       UNION ALL SELECT t, n * 1.0 AS n, v, vLow, vHigh, a, cHigh AS c FROM sample_blocks WHERE charge = :charge
     ) GROUP BY CAST(t / :bucket AS INTEGER) ORDER BY t`,
    { replacements: { charge, bucket }, type: QueryTypes.SELECT },
  );
  return {
    count: span?.count ?? 0,
    columns: {
      hours: rows.map((r) => r.t / 3_600_000),
      voltageV: rows.map((r) => r.v / 1000),
      voltageLowV: rows.map((r) => r.vLow / 1000),
      voltageHighV: rows.map((r) => r.vHigh / 1000),
      currentA: rows.map((r) => r.a / 1000),
      temperatureC: rows.map((r) => r.c / 100),
    },
  };
}
