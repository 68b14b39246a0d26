import type { LotUse } from '../job/context.ts';
import type { JobEvent } from '../job/events.ts';
import type { Job } from '../job/job.ts';
import { moduleOf } from './registry.ts';

/**
 * What events took from lots of electrolyte: a pack when it is matched, bulk acid when its amount is
 * told, and what was topped up from a named lot. Amounts nobody told take nothing.
 *
 * @param job as it stood before them
 */
export function lotUses(job: Job, events: readonly JobEvent[]): LotUse[] {
  return events.flatMap((event): LotUse[] => {
    if (event.type === 'topped-up')
      return event.lot && event.ml ? [{ lot: event.lot, ml: event.ml }] : [];
    if (event.type !== 'step.done') return [];
    const { result, stepId } = event;
    const step = job.procedure.steps.find((s) => s.id === stepId);
    const taken = step && result && moduleOf(step).takesFromLot?.(job, result as never);
    return taken ? [taken] : [];
  });
}
