import { type SettledEstimate, settledVoltage } from '../../../core/capacity/surfaceCharge.ts';
import { chargeOffSince } from '../../../core/job/chargeState.ts';
import { type Job, standingReadings } from '../../../core/job/job.ts';

/** Where readings taken too early are heading: an estimate with its band. */
export function settledEstimate(job: Job): SettledEstimate | null {
  const off = job.state.charge && chargeOffSince(job.state.charge);
  if (!off) return null;
  const readings = standingReadings(job.state, 'rest')
    .filter((r) => r.attempt === job.state.attempt && r.at > off && r.values.voltageV !== undefined)
    .map((r) => ({ afterS: (r.at - off) / 1000, voltageV: r.values.voltageV as number }));
  return settledVoltage(readings, job.plan.model.cells);
}
