import { type Job, recoveryOf } from '../job/job.ts';

/** Can a case be made of a finished job? Of any commissioning; of a recovery that has a verdict naming what it was. */
export const tellsACase = (job: Job): boolean =>
  job.procedure.purpose === 'commission' ||
  (recoveryOf(job).outcomes.at(-1)?.found ?? null) !== null;
