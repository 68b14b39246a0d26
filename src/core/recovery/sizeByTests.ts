import type { BatteryModel } from '../batteries/model.ts';
import type { Job } from '../job/job.ts';
import { cyclesOf } from './cycles.ts';

/** A battery gives at most this much more than its C20. Usual of new ones. */
const MOST_OVER = 1.1;

/**
 * What capacity tests say of a size that was estimated: it is at least what was taken out, at 25 °C and C/20.
 *
 * @returns the model's size as it is now believed, Ah; null where it was no estimate, or no test says more
 */
export function estimateAfterTests(
  job: Job,
): Required<Pick<BatteryModel, 'c20Ah' | 'estimate'>> | null {
  const { c20Ah, estimate } = job.plan.model;
  if (!estimate) return null;
  const held = Math.max(0, ...cyclesOf(job).map((c) => c.capacity?.c20.middle ?? 0));
  const least = held / MOST_OVER;
  if (least <= estimate.low) return null;
  const from = [...estimate.from, `${held.toFixed(0)} Ah taken out in a test`];
  return {
    c20Ah: Math.max(c20Ah, Math.round(held)),
    estimate: { low: Math.round(least), high: Math.max(estimate.high, Math.round(held)), from },
  };
}
