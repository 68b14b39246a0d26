import type { Sequelize } from 'sequelize';

/**
 * What keeps reads quick and the file small: what a recovery brought, summed up when its job closes, and how
 * far apart the blocks of a charge's samples lie.
 */
export async function up(sequelize: Sequelize): Promise<void> {
  for (const statement of STATEMENTS) await sequelize.query(statement);
}

/** House-rule questions that earlier versions did not know, with the choice their jobs followed. */
const ANSWERS_BEFORE = {
  bulkFillStand: 'half-hour',
  fillMark: 'at-mark',
  restRecovered: 'day',
  tooFlat: 'cause',
  wake: 'parallel',
  desulfate: 'slow-restore',
  stubborn: 'usual',
  additive: 'none',
  openAgm: 'never',
  storageRecharge: 'volts-or-quarter',
};
const missing = (column: string, path: string, value: string) =>
  `UPDATE jobs SET ${column} = json_set(${column}, '${path}', ${value}) WHERE json_type(${column}, '${path}') IS NULL`;

const STATEMENTS = [
  missing('plan', '$.model.caps', `json('null')`),
  ...Object.entries(ANSWERS_BEFORE).map(([question, school]) =>
    missing('plan', `$.schools.${question}`, `'${school}'`),
  ),
  // A job's state keeps what its lead decided; until now only the log did.
  `UPDATE jobs SET state = json_set(state, '$.leadDecisions', json('[]'))`,
  `UPDATE jobs SET state = json_set(state, '$.leadDecisions', json((
     SELECT json_group_array(json_object('at', at, 'by', "by", 'decision', json_extract(data, '$.decision'), 'reason', json_extract(data, '$.reason')))
     FROM (SELECT * FROM events WHERE events.jobId = jobs.id AND type = 'lead.decided' ORDER BY seq))))
   WHERE id IN (SELECT jobId FROM events WHERE type = 'lead.decided')`,
  // `version` is that of the code that made it: an older one is made again from the job.
  `CREATE TABLE recovery_summaries (jobId TEXT PRIMARY KEY REFERENCES jobs(id), batteryId TEXT NOT NULL REFERENCES batteries(id), closedAt INTEGER NOT NULL, version INTEGER NOT NULL, body TEXT NOT NULL)`,
  `CREATE INDEX recovery_summaries_closed ON recovery_summaries (closedAt)`,
  `CREATE INDEX recovery_summaries_battery ON recovery_summaries (batteryId, closedAt)`,
  // Its purpose lies behind a job's long texts: without this, asking for it reads all of them.
  `CREATE INDEX jobs_purpose ON jobs (purpose, closedAt, id, batteryId)`,
  `ALTER TABLE charges ADD COLUMN blockMs INTEGER NOT NULL DEFAULT 30000`,
  `CREATE INDEX charges_ended ON charges (blockMs, endedAt)`,
  `CREATE INDEX commands_at ON commands (at)`,
];
