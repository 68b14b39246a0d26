import { type Job, standingReadings, recoveryOf } from '../job/job.ts';
import { cyclesOf } from '../recovery/cycles.ts';
import { momentOfIso } from '../quantities/zonedTime.ts';
import type { Candidate } from './candidate.ts';

const YEAR_MS = 365.25 * 86_400_000;

/** Age by a date code of the form `2024-06`, years; null for any other. */
function ageByDateCode(dateCode: string, now: number): number | null {
  const month = /^\d{4}-\d{2}/.exec(dateCode)?.[0];
  const middle = month === undefined ? null : momentOfIso(`${month}-15`);
  return middle === null ? null : Math.max(0, (now - middle) / YEAR_MS);
}

/** What was measured of a battery that may go into a set; its age follows from its date code, or from what its owner said. */
export interface SetMember extends Omit<Candidate, 'tag' | 'ageYears'> {
  saidAgeYears: number | null;
}

/** @param now ms since the epoch, for its age */
export function candidateOf(
  { saidAgeYears, ...measured }: SetMember,
  tag: string,
  dateCode: string,
  now: number,
): Candidate {
  return { tag, ageYears: ageByDateCode(dateCode, now) ?? saidAgeYears ?? 0, ...measured };
}

/** What a recovery says of a battery that may go into a set; null where its capacity was never tested or it was not kept. */
export function setMemberOf(job: Job): SetMember | null {
  const cycles = cyclesOf(job);
  const last = cycles.at(-1);
  const rest = standingReadings(job.state).findLast((r) => r.role === 'hold' || r.role === 'rest');
  if (
    !last?.capacity ||
    rest?.values.voltageV === undefined ||
    (job.state.outcome !== 'passed' && job.state.outcome !== 'light')
  )
    return null;
  return {
    modelCode: job.plan.model.code,
    saidAgeYears: recoveryOf(job).story?.ageYears ?? null,
    capacityAh: last.capacity.c20.middle,
    resistanceMilliohm:
      cycles.findLast((c) => c.resistanceMilliohm !== null)?.resistanceMilliohm ?? null,
    stepMilliohm: last.stepMilliohm,
    restV: rest.values.voltageV,
  };
}
