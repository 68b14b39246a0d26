import { CHEMISTRIES } from '../batteries/chemistry.ts';
import { kindOf } from '../batteries/kinds.ts';
import { loadTestMinimumV } from '../capacity/loadTest.ts';
import { stateOfChargePercent } from '../capacity/stateOfCharge.ts';
import { type Job, type Reading, standingReadings, type Verdict } from './job.ts';

/** Chemistry of the job's battery. */
export function jobChemistry(job: Job) {
  const kind = kindOf(job.plan.model.kind);
  if ('refusal' in kind) throw new Error(kind.refusal);
  return CHEMISTRIES[kind.chemistry];
}

/** The reading of this attempt that may be judged: rested, not corrected, newest. */
function judgedRest(job: Job): Reading | undefined {
  return ofAttempt(job, 'rest').findLast((r) => !r.marks.includes('early') && !r.marks.includes('surface'));
}

function ofAttempt(job: Job, role: 'rest' | 'load'): Reading[] {
  return standingReadings(job.state, role).filter((r) => r.attempt === job.state.attempt);
}

/** Weighs the readings of this attempt against the plan. Nothing early, marked or missing can pass a battery. */
export function judge(job: Job): Verdict {
  const { figures, model } = job.plan;
  const rest = judgedRest(job);
  const load = ofAttempt(job, 'load').at(-1);
  const restV = rest?.values.voltageV ?? null;
  const loadV = load?.values.voltageV ?? null;
  const socPercent = restV === null ? null : stateOfChargePercent(restV, model.cells, jobChemistry(job));
  const reasons: string[] = [];

  if (restV === null) {
    const early = ofAttempt(job, 'rest').length > 0;
    reasons.push(early ? 'Every rest voltage was read early or still carries surface charge; none can be judged.' : 'No rest voltage was measured.');
  } else {
    const line = figures.passV.value;
    reasons.push(
      restV >= line
        ? `At rest ${restV.toFixed(2)} V, on or over the line of ${line.toFixed(2)} V.`
        : `At rest ${restV.toFixed(2)} V, under the line of ${line.toFixed(2)} V.`,
    );
  }
  let loadHolds = false;
  if (loadV === null || load?.values.temperatureC === undefined) {
    reasons.push('No load test was made.');
  } else {
    const least = loadTestMinimumV(load.values.temperatureC, model.cells);
    loadHolds = loadV >= least;
    const at = `${figures.loadA.value.toFixed(0)} A and ${load.values.temperatureC.toFixed(0)} °C`;
    reasons.push(
      loadHolds
        ? `Under ${at} it held ${loadV.toFixed(2)} V; ${least.toFixed(2)} V is the least.`
        : `Under ${at} it fell to ${loadV.toFixed(2)} V; ${least.toFixed(2)} V is the least.`,
    );
  }

  const verdict = { reasons, restV, socPercent, loadV };
  if (restV === null || loadV === null) return { ...verdict, outcome: 'incomplete' };
  if (restV >= figures.passV.value && loadHolds) return { ...verdict, outcome: 'pass' };
  const step = job.procedure.steps.find((s) => s.kind === 'verdict');
  if (job.state.attempt < (step?.maxAttempts ?? 1)) {
    return { ...verdict, outcome: 'repeat', reasons: [...reasons, 'Repeat the charge and test again.'] };
  }
  return { ...verdict, outcome: 'lead', reasons: [...reasons, `It failed ${job.state.attempt} times. The lead decides: claim or recovery.`] };
}
