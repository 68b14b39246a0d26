import { chargeGuards, type GuardTrip } from '../charging/guards.ts';
import { ampereHoursIn, type ChargeProgress, chargeProgress, type ChargeReading, type ChargeTarget } from '../charging/progress.ts';
import { type Job, type Moment, standingReadings } from './job.ts';

/** How often a charge run by hand is read, s. Hourly, so that three readings tell whether volts still rise. */
export const READING_INTERVAL_S = 3600;

export interface ChargeStatus {
  readings: ChargeReading[];
  progress: ChargeProgress;
  trips: GuardTrip[];
  ampereHours: number;
  /** When the next reading is due, while current flows. */
  nextReadingAt: Moment | null;
  /** Expected end by the plan, pauses added. */
  expectedEndAt: Moment | null;
}

/** What the running (or last) charge of this attempt looks like from its standing readings. */
export function chargeStatus(job: Job): ChargeStatus {
  const { charge, attempt } = job.state;
  const readings = standingReadings(job.state, 'charge')
    .filter((r) => r.attempt === attempt && charge !== null && r.at >= charge.startedAt)
    .sort((a, b) => a.at - b.at)
    .map((r): ChargeReading => ({ at: r.at, voltageV: r.values.voltageV ?? 0, currentA: r.values.currentA ?? 0, temperatureC: r.values.temperatureC ?? 0 }));
  const sinceOn = charge ? readings.filter((r) => r.at >= charge.runningSince) : [];
  const target: ChargeTarget = { cells: job.plan.model.cells, c20Ah: job.plan.model.c20Ah, ceilingV: charge?.setV ?? job.plan.figures.ceilingV.value };
  const running = charge?.mode === 'running';
  const last = sinceOn.at(-1);
  const pausedS = charge ? charge.pausedS : 0;
  return {
    readings,
    progress: chargeProgress(sinceOn, target),
    trips: charge ? chargeGuards(sinceOn, target, job.plan.roomC, charge.setA) : [],
    ampereHours: ampereHoursIn(readings),
    nextReadingAt: running && charge ? (last?.at ?? charge.runningSince) + READING_INTERVAL_S * 1000 : null,
    expectedEndAt: charge ? charge.startedAt + (job.plan.figures.chargeS.value + pausedS) * 1000 : null,
  };
}
