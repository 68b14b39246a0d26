import { TEST_PLAN_ID } from '../charging/testPlan.ts';
import { chargeGuards, type HandTrip } from '../charging/guards.ts';
import {
  ampereHoursIn,
  hoursOn,
  type ChargeProgress,
  chargeProgress,
  type ChargeReading,
  type ChargeTarget,
} from '../charging/progress.ts';
import { leadAcidKind } from '../batteries/kinds.ts';
import { stateOfChargePercent } from '../capacity/stateOfCharge.ts';
import { chargeDuration } from '../rehearsal/chargeDuration.ts';
import { linesOf } from '../plan/lines.ts';
import { jobChemistry, chargeOf } from './verdict.ts';
import { chargeStartedAt } from './chargeState.ts';
import { type Job, standingReadings } from './job.ts';
import type { Moment } from '../quantities/moment.ts';
import { hasRole } from '../plan/procedure.ts';

/** How often a charge run by hand is read, s. Hourly, so that three readings tell whether volts still rise. */
export const READING_INTERVAL_S = 3600;

/** Share of its charge believed to be in it before this charge, 0–1: by its rest voltage as it came, or what its kind usually brings. */
export function shareAtFirst(job: Job): number {
  const { model } = job.plan;
  const { recovery, attempt, chargePlan, current } = job.state;
  // A recovery comes to a charge emptied by its test, or full where an instrument is about to test it.
  const emptied = recovery?.tests.some((t) => t.attempt === attempt) ?? false;
  if (hasRole(job.procedure, current?.stepId, 'refill'))
    return chargePlan?.id === TEST_PLAN_ID || !emptied ? 1 : 0;
  if (emptied) return 0;
  if (attempt > 1 && job.procedure.purpose === 'recover') return 1;
  // What it was left with by the charge before was measured after its rest.
  const rested = standingReadings(job.state, 'rest').findLast(
    (r) => r.attempt < attempt && r.marks.length === 0,
  );
  if (rested?.values.voltageV !== undefined)
    return chargeOf(job, rested.values.voltageV, rested.values.temperatureC).percent / 100;
  const arrival = standingReadings(job.state, 'arrival').at(-1)?.values.voltageV;
  return arrival === undefined
    ? leadAcidKind(model.kind).arrivesShare
    : stateOfChargePercent(arrival, model.cells, jobChemistry(job)) / 100;
}

/** Expected length of the charge, s: by the plan, or by what the battery held when it came. */
export function expectedChargeS(job: Job): number {
  const { plan, state } = job;
  // A charger that gives its own current is done when that current is.
  const ownA = state.charge?.charger ? state.charge.setA : null;
  const asPlanned = state.attempt === 1 || job.procedure.purpose === 'recover';
  if (ownA === null && asPlanned && standingReadings(state, 'arrival').length === 0)
    return plan.figures.chargeS.value;
  return chargeDuration(
    plan.model,
    jobChemistry(job),
    ownA === null ? plan.figures.chargeA : { ...plan.figures.chargeA, value: ownA },
    plan.figures.ceilingV,
    shareAtFirst(job),
    'By its rest voltage on arrival',
  ).value;
}

export interface ChargeStatus {
  readings: ChargeReading[];
  progress: ChargeProgress;
  trips: HandTrip[];
  ampereHours: number;
  /** When the next reading is due, while current flows. */
  nextReadingAt: Moment | null;
  /** Expected end by the plan, or by its twin where an instrument runs it; pauses added. */
  expectedEndAt: Moment | null;
}

/** At `now`, what the running (or last) charge of this attempt looks like from its standing readings. */
export function chargeStatus(job: Job, now: Moment): ChargeStatus {
  const { charge, attempt } = job.state;
  const lines = linesOf(job.plan);
  const startedAt = charge ? chargeStartedAt(charge) : 0;
  const runningSince = charge?.on.at(-1)?.from ?? 0;
  const readings = standingReadings(job.state, 'charge')
    .filter((r) => r.attempt === attempt && charge !== null && r.at >= startedAt)
    .sort((a, b) => a.at - b.at)
    .map((r): ChargeReading => ({
      at: r.at,
      voltageV: r.values.voltageV ?? 0,
      currentA: r.values.currentA ?? 0,
      temperatureC: r.values.temperatureC ?? 0,
      specificGravity: r.values.specificGravity,
    }));
  const sinceOn = charge ? readings.filter((r) => r.at >= runningSince) : [];
  const target: ChargeTarget = {
    cells: job.plan.model.cells,
    c20Ah: job.plan.model.c20Ah,
    ceilingV: charge?.setV ?? job.plan.figures.ceilingV.value,
    setA: charge?.setA ?? job.plan.figures.chargeA.value,
  };
  const running = charge?.mode === 'running';
  const last = sinceOn.at(-1);
  return {
    readings,
    progress: chargeProgress(sinceOn, target, lines.finish),
    trips: charge
      ? chargeGuards(
          sinceOn,
          target,
          job.plan.roomC,
          charge.setA,
          job.procedure.purpose === 'recover',
          lines.temperature,
        )
      : [],
    ampereHours: ampereHoursIn(readings, charge?.on ?? []),
    nextReadingAt:
      running && !charge.live ? (last?.at ?? runningSince) + READING_INTERVAL_S * 1000 : null,
    expectedEndAt: charge
      ? now +
        Math.max(
          0,
          (charge.live?.expectedS ?? expectedChargeS(job)) - hoursOn(charge.on, now) * 3600,
        ) *
          1000
      : null,
  };
}
