import type { ChemistryKey } from '../../../core/batteries/chemistry.ts';
import { kindOf } from '../../../core/batteries/kinds.ts';
import { type ChargePlan, STANDARD_PLANS } from '../../../core/charging/chargePlan.ts';
import type { PlanBattery } from '../../../core/charging/fitPlan.ts';
import { firstChargePlan, planBattery } from '../../../core/charging/jobChargePlan.ts';
import { type Job, standingReadings } from '../../../core/job/job.ts';
import type { DescribedCondition } from '../../../core/rehearsal/condition.ts';

/** The battery that is rehearsed: one with a job, or one described. */
export interface RehearsalSubject {
  jobId: string | null;
  battery: PlanBattery;
  condition: DescribedCondition;
  roomC: number;
}

/** Freshly filled stock stands at about this. */
const FRESH_PERCENT = 80;

const chemistryOf = (job: Job): ChemistryKey => {
  const kind = kindOf(job.plan.model.kind);
  return 'chemistry' in kind ? kind.chemistry : 'flooded';
};

/** A job's battery as it was last measured. */
export function subjectOfJob(jobId: string, job: Job): RehearsalSubject {
  const { model, roomC } = job.plan;
  const rest = standingReadings(job.state, 'rest').findLast((r) =>
    r.marks.every((m) => m === 'confirmed'),
  );
  const last = standingReadings(job.state).findLast((r) => r.values.temperatureC !== undefined);
  return {
    jobId,
    battery: planBattery(model, chemistryOf(job)),
    condition: {
      charge:
        rest?.values.voltageV === undefined
          ? { by: 'percent', percent: FRESH_PERCENT }
          : { by: 'volts', restV: rest.values.voltageV },
      sulfation: 'none',
      fault: 'none',
      temperatureC: last?.values.temperatureC ?? roomC,
    },
    roomC,
  };
}

export const DESCRIBED: RehearsalSubject = {
  jobId: null,
  battery: { chemistry: 'flooded', cells: 6, c20Ah: 60 },
  condition: {
    charge: { by: 'volts', restV: 12.1 },
    sulfation: 'light',
    fault: 'none',
    temperatureC: 18,
  },
  roomC: 18,
};

/** The plan a job follows when nobody chose another; null where there is no job. */
export function ownPlanOf(job: Job | null): ChargePlan | null {
  if (!job) return null;
  const { model, figures } = job.plan;
  return firstChargePlan(model, chemistryOf(job), figures.chargeA.value, figures.ceilingV.value);
}

/** Three ways worth comparing to begin with. */
export function usualWays(chemistry: ChemistryKey, own: ChargePlan | null): ChargePlan[] {
  const standard = STANDARD_PLANS.filter((p) => p.kinds.includes(chemistry));
  const wanted = own ? ['first-slow'] : ['first-c10', 'slow-restore', 'pulse'];
  const chosen = wanted.flatMap((id) => standard.filter((p) => p.id === id));
  const ways = [...(own ? [own] : []), ...chosen];
  return ways.length > 0 ? ways : standard.slice(0, 2);
}
