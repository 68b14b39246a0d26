import type { Job } from '../job/job.ts';
import { runsWith } from '../job/job.ts';

/** Raised whenever a summary would come out differently for the same job. */
export const COMMISSION_VERSION = 1;

/** How a commissioning ended: passed at the first try, at a later one, or not at all. */
export type CommissionEnd = 'first' | 'later' | 'failed';

/** What an ended commissioning says about the model, the day it was made and the acid it was filled with. */
export interface CommissionSummary {
  model: string;
  end: CommissionEnd;
  attempts: number;
  /** Lots it was filled or topped up from. */
  lots: string[];
  restV: number | null;
}

/** Sums up a commissioning whose job has ended. */
export function commissionSummary(job: Job): CommissionSummary {
  const { state, plan } = job;
  const passed = state.outcome === 'passed' || state.outcome === 'light';
  const lots = [
    ...runsWith(state, 'pack').map((r) => r.result.lot),
    ...runsWith(state, 'acid').map((r) => r.result.lot),
    ...state.topUps.flatMap((t) => (t.lot && t.liquid === 'acid' ? [t.lot] : [])),
  ].filter((lot) => lot !== '');
  return {
    model: plan.model.code,
    end: passed ? (state.attempt === 1 ? 'first' : 'later') : 'failed',
    attempts: state.attempt,
    lots: [...new Set(lots)],
    restV: state.verdict?.restV ?? null,
  };
}
