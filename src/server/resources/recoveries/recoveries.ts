import { isoOf } from '../../http/isoOf.ts';
import { QueryTypes, type Transaction } from 'sequelize';
import type { Job } from '../../../core/job/job.ts';
import type { RecoveryResult } from '../../../core/recovery/record.ts';
import {
  recoverySummary,
  type RecoverySummary,
  SUMMARY_VERSION,
} from '../../../core/sets/recoverySummary.ts';
import { COMMISSION_VERSION, commissionSummary } from '../../../core/results/commissionSummary.ts';
import { type Calibration, calibration } from '../../../core/results/calibration.ts';
import { type Experience, experienceOf } from '../../../core/diagnosis/practice/experience.ts';
import type { Lesson } from '../../../core/recovery/learning.ts';
import { cameBackWithinYear, type Recovered, YEAR_MS } from '../../../core/results/recovered.ts';
import { FAMILIES } from '../../../core/diagnosis/practice/families.ts';
import { ROUTES } from '../../../core/diagnosis/routes.ts';
import { OUTCOMES } from '../../../core/job/recoveryState.ts';
import { csvText } from '../../../core/exchange/csv.ts';
import type { Store } from '../../store/store.ts';

/** Sums up a recovery or a commissioning that has ended, again whenever a correction changes what it says. */
export async function summarise(
  store: Store,
  jobId: string,
  batteryId: string,
  job: Job,
  transaction: Transaction,
): Promise<void> {
  const { closedAt } = job.state;
  if (closedAt === null) return;
  if (job.procedure.purpose === 'commission')
    await store.tables.commissionSummaries.upsert(
      { jobId, batteryId, closedAt, version: COMMISSION_VERSION, body: commissionSummary(job) },
      { transaction },
    );
  if (job.procedure.purpose !== 'recover') return;
  await store.tables.recoverySummaries.upsert(
    { jobId, batteryId, closedAt, version: SUMMARY_VERSION, body: recoverySummary(job) },
    { transaction },
  );
}

/**
 * Sums up what was ended by an earlier version, one job at a time.
 *
 * @param readJob reads a job by its id
 * @returns how many were summed up
 */
export async function catchUpSummaries(
  store: Store,
  readJob: (jobId: string) => Promise<Job>,
): Promise<number> {
  const rows = await store.sequelize.query<{ id: string; batteryId: string }>(
    `SELECT j.id, j.batteryId FROM jobs j LEFT JOIN recovery_summaries s ON s.jobId = j.id
     WHERE j.purpose = 'recover' AND j.closedAt IS NOT NULL AND (s.version IS NULL OR s.version < :recovery)
     UNION ALL SELECT j.id, j.batteryId FROM jobs j LEFT JOIN commission_summaries s ON s.jobId = j.id
     WHERE j.purpose = 'commission' AND j.closedAt IS NOT NULL AND (s.version IS NULL OR s.version < :commission)`,
    {
      replacements: { recovery: SUMMARY_VERSION, commission: COMMISSION_VERSION },
      type: QueryTypes.SELECT,
    },
  );
  for (const { id, batteryId } of rows) {
    const job = await readJob(id);
    await store.write((transaction) => summarise(store, id, batteryId, job, transaction));
  }
  return rows.length;
}

/**
 * Summaries of the recoveries that have ended here, oldest first, each with whether its battery came to be recovered again within
 * a year. Which batteries came twice is told by an index alone; only of those is it asked when.
 */
const ENDED_RECOVERIES = `WITH twice AS MATERIALIZED
    (SELECT batteryId FROM jobs INDEXED BY jobs_purpose WHERE purpose = 'recover' GROUP BY batteryId HAVING COUNT(*) > 1)
  SELECT s.body, b.tag, s.closedAt, CASE WHEN s.batteryId IN twice THEN EXISTS
    (SELECT 1 FROM jobs j WHERE j.batteryId = s.batteryId AND j.purpose = 'recover' AND j.openedAt > s.closedAt AND j.openedAt <= s.closedAt + :year)
    ELSE 0 END AS again
  FROM recovery_summaries s JOIN batteries b ON b.id = s.batteryId ORDER BY s.closedAt`;

/** What recoveries that have ended here brought, oldest first: every cycle of each, and each as a whole with whether its battery came back. */
export async function recoveriesHere(
  store: Store,
  now: number,
): Promise<{ results: RecoveryResult[]; recovered: Recovered[] }> {
  const rows = await store.sequelize.query<{
    body: string;
    tag: string;
    closedAt: number;
    again: number;
  }>(ENDED_RECOVERIES, { replacements: { year: YEAR_MS }, type: QueryTypes.SELECT });
  const results: RecoveryResult[] = [];
  const recovered: Recovered[] = [];
  for (const { body, tag, closedAt, again } of rows) {
    const { results: cycles, brought } = JSON.parse(body) as RecoverySummary;
    for (const result of cycles) results.push({ tag, ...result });
    if (brought)
      recovered.push({
        ...brought,
        tag,
        closedAt,
        cameBack: cameBackWithinYear(closedAt, again === 1, now),
      });
  }
  return { results, recovered };
}

/** What the shop's own recoveries teach the diagnosis, as it was known at a moment; and what was said of each beside what it was. */
export async function experienceHere(
  store: Store,
  since: number | null,
  asOf: number,
): Promise<{ experience: Experience; held: Calibration }> {
  const rows = await store.sequelize.query<{ lesson: string | null; tag: string }>(
    `SELECT json_extract(s.body, '$.lesson') AS lesson, b.tag FROM recovery_summaries s JOIN batteries b ON b.id = s.batteryId
      WHERE s.closedAt <= :asOf ORDER BY s.closedAt`,
    { replacements: { asOf }, type: QueryTypes.SELECT },
  );
  const lessons = rows.flatMap(({ lesson, tag }) =>
    lesson === null ? [] : [{ tag, ...(JSON.parse(lesson) as Lesson) }],
  );
  return {
    experience: experienceOf(
      lessons.flatMap((l) => (l.found ? [l.found] : [])),
      lessons.flatMap((l) => l.yields),
      { asOf, since },
    ),
    held: calibration(
      lessons.flatMap(({ tag, said, found }) =>
        said && found ? [{ tag, said, found: found.found }] : [],
      ),
    ),
  };
}

const percentOf = (share: number | null): string =>
  share === null ? '' : (100 * share).toFixed(1);

/** The same as a table; SI units, shares in percent. */
export function recoveredCsv(recovered: readonly Recovered[]): string {
  return csvText(
    [
      'Tag',
      'Ended / ISO 8601',
      'Model',
      'Kind',
      'What it was',
      'Route',
      'Cycles',
      'Outcome',
      'Capacity before / % of C20',
      'Capacity after / % of C20',
      'On the charger / h',
      'Lost in a week at 20 degC / %',
      'Back within a year',
    ],
    recovered.map((r) => [
      r.tag,
      isoOf(r.closedAt),
      r.model,
      r.kind,
      r.found === null ? '' : FAMILIES[r.found].name,
      r.route === null ? '' : ROUTES[r.route].name,
      r.cycles,
      OUTCOMES[r.outcome].name,
      percentOf(r.before),
      percentOf(r.after),
      r.hours.toFixed(1),
      percentOf(r.weekLoss),
      r.cameBack === null ? 'not known yet' : r.cameBack ? 'yes' : 'no',
    ]),
  );
}
