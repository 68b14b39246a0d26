import { type SetMember, setMemberOf } from './candidates.ts';
import type { Job } from '../job/job.ts';
import { type RecoveryBrought, recoveryBrought } from '../recovery/brought.ts';
import { type Lesson, lessonOf } from '../recovery/learning.ts';
import { type CycleResult, resultsOf } from '../recovery/record.ts';

/** Raised whenever a summary would come out differently for the same job. */
export const SUMMARY_VERSION = 3;

/** What an ended recovery says to the shop's experience and to the matching of sets, without the rest of its job. */
export interface RecoverySummary {
  results: CycleResult[];
  /** Null where its capacity was never tested or it was not kept. */
  member: SetMember | null;
  /** Null where it ended without a verdict. */
  brought: RecoveryBrought | null;
  /** Null where it ended without a verdict. */
  lesson: Lesson | null;
}

/** Sums up a recovery whose job has ended. */
export function recoverySummary(job: Job): RecoverySummary {
  return {
    results: resultsOf(job),
    member: setMemberOf(job),
    brought: recoveryBrought(job),
    lesson: lessonOf(job),
  };
}
