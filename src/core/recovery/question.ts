import { leadAcidKind } from '../batteries/kinds.ts';
import { type DiagnosisQuestion, DiagnosisRun } from '../diagnosis/diagnose.ts';
import { type Experience, learntFor } from '../diagnosis/practice/experience.ts';
import type { FamilyOdds } from '../diagnosis/practice/families.ts';
import type { RouteKey } from '../diagnosis/routes.ts';
import { DEFAULT_STAKES, type Stakes } from '../diagnosis/stakes.ts';
import type { Subject } from '../diagnosis/subject.ts';
import { schoolOf } from '../house/schools.ts';
import { type Job, recoveryOf } from '../job/job.ts';
import { labelledSize } from '../simulation/labelled.ts';
import { afterChargeOf, cyclesDone, evidenceOf, standsAtC, traceEvidence } from './evidence.ts';
import { offeredRoutes } from './recovery.ts';

/** Half of what holds eight of ten, in deviations. */
const EIGHT_OF_TEN = 1.2816;

/** The acid of a battery is known where its maker prints it or it is filled in the shop; of others only what is usual. */
function fullSgOf({ plan: { model, figures } }: Job): Pick<Subject, 'fullSg'> {
  const known = figures.fillSg.origin !== 'default' || leadAcidKind(model.kind).fill !== null;
  return known ? { fullSg: figures.fillSg.value } : {};
}

/** The battery as a diagnosis sees it before anything is measured. */
export function subjectOf(job: Job): Subject {
  const { model } = job.plan;
  const { story } = recoveryOf(job);
  return {
    chemistry: leadAcidKind(model.kind).chemistry,
    ...labelledSize(model),
    ...fullSgOf(job),
    ...(model.estimate
      ? { sizeOff: Math.log(model.estimate.high / model.estimate.low) / 2 / EIGHT_OF_TEN }
      : {}),
    story: story?.story ?? 'unknown',
    standingDays: story?.standingDays ?? null,
    ageYears: story?.ageYears ?? null,
    temperatureC: standsAtC(job),
    coldestC: story?.coldestC ?? null,
  };
}

/** What an instrument has seen of a charge: h since its start, V, and A into the battery. */
export interface ChargingTrace {
  hours: readonly number[];
  volts: readonly number[];
  amps: readonly number[];
}

/** What a diagnosis may know beside its job. */
export interface Beside {
  /** What an instrument has seen of the charge. */
  seen?: ChargingTrace | null;
  /** The route whose charge runs: no other is tried then. */
  underWay?: RouteKey | null;
  /** What the shop's own batteries have taught. */
  experience?: Experience | null;
}

/** What a job asks of a diagnosis. */
export function diagnosisQuestion(
  job: Job,
  stakes: Stakes,
  { seen = null, underWay = null, experience = null }: Beside = {},
): DiagnosisQuestion {
  const { model, schools } = job.plan;
  const trace = seen && traceEvidence(seen.hours, seen.volts, seen.amps, cyclesDone(job));
  return {
    subject: subjectOf(job),
    evidence: trace
      ? [...evidenceOf(job).filter((e) => e.of !== 'charging'), trace]
      : evidenceOf(job),
    after: afterChargeOf(job),
    open: leadAcidKind(model.kind).ports === 'serviceable',
    routes: underWay === null ? offeredRoutes(model.kind, schools) : [underWay],
    prefer: schoolOf('desulfate', schools).school.values.prefer,
    learnt: experience && learntFor(experience, leadAcidKind(model.kind).chemistry),
    stakes,
    ratings: { ratedCca: model.cca, wetMassG: recoveryOf(job).story?.wetMassG ?? null },
  };
}

/** What it is taken for by practice, its rules and everything read so far; nothing is simulated. Likeliest first. */
export const familiesAtOnce = (job: Job, experience: Experience | null = null): FamilyOdds[] =>
  new DiagnosisRun(diagnosisQuestion(job, DEFAULT_STAKES, { experience })).byReadings().families;
