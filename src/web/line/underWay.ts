/**
 * Commands of this page that are being answered. The answer tells how the job stands with it, so that nobody asks for the job meanwhile
 * only because the server has told everybody, this page too, that it has changed.
 */

const underWay = new Map<string, Set<Promise<unknown>>>();

/** So long an answer is waited for at most, ms: a line that hangs keeps no page behind. */
const LONGEST_MS = 1000;

/** Hands an answer on, and knows that it is awaited. */
export async function awaited<T>(jobId: string, answer: Promise<T>): Promise<T> {
  const ofJob = underWay.get(jobId) ?? new Set();
  underWay.set(jobId, ofJob.add(answer));
  try {
    return await answer;
  } finally {
    ofJob.delete(answer);
    if (ofJob.size === 0) underWay.delete(jobId);
  }
}

/** Waits until what is under way to a job has been answered, with whatever answer. */
export async function answered(jobId: string): Promise<void> {
  const ofJob = underWay.get(jobId);
  if (!ofJob) return;
  await Promise.race([
    Promise.allSettled(ofJob),
    new Promise((resolve) => setTimeout(resolve, LONGEST_MS)),
  ]);
}
