import type { Job, JobState } from './job.ts';

/**
 * Works something out once for a job, however often it is asked: a state is replaced when something happens, and never changed.
 *
 * @param work pure, of nothing but the job
 */
export function onceForJob<T>(work: (job: Job) => T): (job: Job) => T {
  const known = new WeakMap<JobState, { job: Job; answer: T }>();
  return (job) => {
    const before = known.get(job.state);
    if (before && before.job.plan === job.plan && before.job.procedure === job.procedure)
      return before.answer;
    const answer = work(job);
    known.set(job.state, { job, answer });
    return answer;
  };
}
