import { stateOfChargePercent } from '../capacity/stateOfCharge.ts';
import { leadAcidKind } from '../batteries/kinds.ts';
import { behaviourOf } from '../chargers/behaviour.ts';
import { type ChargerCourse, courseOn, perhapsSulfated, switchOff } from '../chargers/course.ts';
import { planBattery } from '../charging/jobChargePlan.ts';
import { TEST_PLAN_ID } from '../charging/testPlan.ts';
import { chargeDuration } from '../rehearsal/chargeDuration.ts';
import { hasRole } from '../plan/procedure.ts';
import { type Job, standingReadings } from './job.ts';
import { onceForJob } from './onceForJob.ts';
import { jobChemistry, chargeOf } from './verdict.ts';

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
export const expectedChargeS = onceForJob((job): number => {
  const { plan, state } = job;
  const own = ownCourses(job);
  if (own) return own.sound.hours * 3600;
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
});

interface OwnCourses {
  sound: ChargerCourse;
  /** Null but in a recovery. */
  sulfated: ChargerCourse | null;
}

/**
 * What the charger this charge runs on does by itself with a sound battery like it, and in a recovery with a sulfated one; null
 * where it is set by hand, or nobody said which it is.
 */
export const ownCourses = onceForJob((job): OwnCourses | null => {
  const { plan, state } = job;
  const own = state.charge?.charger?.own;
  if (!own || !state.charge) return null;
  const battery = planBattery(plan.model, jobChemistry(job).key);
  const behaviour = behaviourOf(own.kind, own, own.program, battery);
  if (!behaviour) return null;
  const off = switchOff(battery, state.charge.setV);
  const { roomC } = plan;
  const share = shareAtFirst(job);
  return {
    sound: courseOn(behaviour, battery, { share, roomC, hard: 0, film: 0 }, off),
    sulfated:
      job.procedure.purpose === 'recover'
        ? courseOn(behaviour, battery, { ...perhapsSulfated(share), roomC }, off)
        : null,
  };
});
