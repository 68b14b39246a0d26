import type { DeviationWhat } from '../job/deviation.ts';
import { type Step, stepById } from '../plan/procedure.ts';
import type { JobEvent, Signed } from '../job/events.ts';
import { stillComes } from '../job/comes.ts';
import { moduleOf } from './registry.ts';
import { recoveryOf, type Job, type JobState, type StepRun } from '../job/job.ts';
import { redated } from '../job/redate.ts';
import { type ChargeState, switchedOff } from '../job/chargeState.ts';
import type { Moment } from '../quantities/moment.ts';
import type { Why } from '../job/why.ts';
import { beginRun } from './openJob.ts';

/**
 * Folds one event into the job. Pure: the same events in the same order give the same job.
 * It records what happened and judges nothing; judging is `decide`'s work.
 */
export function evolve(job: Job, { at, by, event }: Signed<JobEvent>): Job {
  const { state } = job;
  const next = (change: Partial<JobState>): Job => ({ ...job, state: { ...state, ...change } });

  switch (event.type) {
    case 'step.done':
      return next(advance(job, at, by, 'done', event.result));
    case 'step.skipped':
      return next({
        ...advance(job, at, by, 'skipped', null),
        deviations: deviate(state, at, by, event.stepId, { kind: 'step-skipped' }, event.reason),
      });
    case 'pass.repeated': {
      const runs = closeRun(state, at, by, 'done', event.result);
      return next({
        runs,
        current: beginRun(stepById(job.procedure, event.from), job.plan, at, state.attempt, runs),
      });
    }
    case 'topped-up':
      return next({
        topUps: [
          ...state.topUps,
          { at, by, liquid: event.liquid, cells: event.cells, ml: event.ml, lot: event.lot },
        ],
      });
    case 'wait.cut': {
      const what: DeviationWhat = { kind: 'wait-cut', remainingS: event.remainingS };
      return next({
        ...advance(job, at, by, 'cut', { kind: 'wait', remainingS: event.remainingS }),
        deviations: deviate(state, at, by, event.stepId, what, event.reason),
      });
    }
    case 'step.reopened': {
      const step = stepById(job.procedure, event.stepId);
      const runs = closeRun(state, at, by, 'reopened', null);
      return next({
        runs,
        current: beginRun(step, job.plan, at, state.attempt, runs),
        verdict: null,
        ...moduleOf(step).opensAgain?.(),
        deviations: deviate(state, at, by, event.stepId, { kind: 'step-reopened' }, event.reason),
      });
    }
    case 'deviation':
      return next({ deviations: deviate(state, at, by, event.stepId, event.what, event.reason) });
    case 'size.told':
      return { ...job, plan: event.plan, state: { ...state, replanned: event.plan } };
    case 'pack.refused':
      return next({ refusedPacks: [...state.refusedPacks, { at, by, code: event.code }] });
    case 'job.refused':
      return next({
        status: 'refused',
        outcome: 'refused',
        closedAt: at,
        current: null,
        paused: null,
        runs: closeRun(state, at, by, 'refused', null),
        refusal: { at, by, stepId: event.stepId, why: event.why },
      });
    case 'refusal.taken-back': {
      const step = stepById(job.procedure, event.stepId);
      return next({
        status: 'running',
        outcome: null,
        closedAt: null,
        refusal: null,
        current: beginRun(step, job.plan, at, state.attempt, state.runs),
        deviations: deviate(
          state,
          at,
          by,
          event.stepId,
          { kind: 'refusal-taken-back' },
          event.reason,
        ),
      });
    }
    case 'charge.started':
      return next({
        charge: {
          mode: 'running',
          place: event.place,
          setA: event.setA,
          setV: event.setV,
          on: [{ from: at, to: null }],
          why: null,
          resumesItself: false,
          ...(event.charger ? { charger: event.charger } : {}),
          live: event.live ?? null,
        },
      });
    case 'charge.paused':
      return next({
        charge: stopCurrent(state.charge, 'paused', at, event.why, event.resumesItself),
      });
    case 'charge.halted':
      return next({ charge: stopCurrent(state.charge, 'halted', at, event.why) });
    case 'charge.planned':
      return next({ chargePlan: event.plan });
    case 'charge.stage':
    case 'charge.warned':
      return job;
    case 'charge.resumed':
    case 'charge.reconnected':
      return next({ charge: state.charge && currentOnAgain(state.charge, at, at) });
    case 'charge.moved':
      return next({
        charge: state.charge && {
          ...currentOnAgain(state.charge, at, at),
          setA: event.setA,
          setV: event.setV,
          ...(event.charger ? { charger: event.charger } : {}),
        },
      });
    case 'charge.found-off':
      return next({ charge: state.charge && currentOnAgain(state.charge, event.sinceAt, at) });
    case 'reading.taken': {
      const { reading } = event;
      const readings = state.readings.map((r) =>
        r.id === reading.supersedes ? { ...r, supersededBy: reading.id } : r,
      );
      return next({ readings: [...readings, reading] });
    }
    case 'job.paused':
      return next({ paused: { at, by, reason: event.reason } });
    case 'job.resumed':
      return next({ paused: null });
    case 'note.added':
      return next({ notes: [...state.notes, { at, by, text: event.text }] });
    case 'job.escalated':
      return next({
        status: 'with-lead',
        escalation: { at, by, reason: event.reason },
        charge: stopCurrent(state.charge, 'paused', at, { by: 'lead' }),
      });
    case 'lead.decided': {
      const leadDecisions = [
        ...state.leadDecisions,
        { at, by, decision: event.decision, reason: event.reason },
      ];
      return next({
        ...(event.decision === 'charge-again'
          ? again(job, at, by)
          : { status: 'running', escalation: null }),
        leadDecisions,
      });
    }
    case 'verdict.given': {
      const { verdict } = event;
      if (verdict.outcome === 'pass')
        return next({ ...advance(job, at, by, 'done', null), verdict });
      if (verdict.outcome === 'repeat') return next({ ...again(job, at, by), verdict });
      if (verdict.outcome === 'lead')
        return next({
          verdict,
          status: 'with-lead',
          escalation: { at, by, reason: verdict.reasons.join(' ') },
        });
      return next({ verdict });
    }
    case 'story.told':
      return next({ recovery: { ...recoveryOf(job), story: event.story } });
    case 'route.chosen': {
      const recovery = recoveryOf(job);
      const chosen = {
        ...job,
        state: {
          ...state,
          chargePlan: event.plan,
          recovery: { ...recovery, routes: [...recovery.routes, event.route] },
        },
      };
      return { ...chosen, state: { ...chosen.state, ...advance(chosen, at, by, 'done', null) } };
    }
    case 'discharge.started': {
      const { currentA, cutoffV, temperatureC, expectedEndAt } = event;
      return next({
        recovery: {
          ...recoveryOf(job),
          discharge: { startedAt: at, currentA, cutoffV, temperatureC, expectedEndAt },
        },
      });
    }
    case 'discharge.dropped':
      return next({ recovery: { ...recoveryOf(job), discharge: null } });
    case 'capacity.tested': {
      const recovery = recoveryOf(job);
      return next({
        recovery: { ...recovery, discharge: null, tests: [...recovery.tests, event.test] },
      });
    }
    case 'forecast.made': {
      const recovery = recoveryOf(job);
      return next({
        recovery: { ...recovery, forecasts: [...(recovery.forecasts ?? []), event.forecast] },
      });
    }
    case 'outcome.given': {
      const recovery = recoveryOf(job);
      const given = { recovery: { ...recovery, outcomes: [...recovery.outcomes, event.outcome] } };
      if (event.outcome.outcome === 'another') return next({ ...given, ...again(job, at, by) });
      if (event.outcome.outcome === 'recycle') return next(given);
      return next({ ...given, ...advance(job, at, by, 'done', null) });
    }
    case 'clock.set':
      return { ...job, state: redated(state, event.byMs) };
    case 'job.closed':
      return next({
        status: 'closed',
        outcome: event.outcome,
        destination: event.destination,
        closedAt: at,
        current: null,
        paused: null,
        escalation: null,
        runs: closeRun(state, at, by, 'done', null),
        charge: state.charge && {
          ...state.charge,
          mode: 'ended',
          on: switchedOff(state.charge.on, at),
        },
      });
  }
}

function closeRun(
  state: JobState,
  at: Moment,
  by: string,
  end: StepRun['end'],
  result: StepRun['result'],
): StepRun[] {
  return state.current
    ? [...state.runs, { ...state.current, endedAt: at, by, end, result }]
    : state.runs;
}

/** Ends the running step and begins the next one that applies. */
function advance(
  job: Job,
  at: Moment,
  by: string,
  end: StepRun['end'],
  result: StepRun['result'],
): Partial<JobState> {
  const { state, procedure, plan } = job;
  const index = procedure.steps.findIndex((s) => s.id === state.current?.stepId);
  const following = procedure.steps.slice(index + 1).find((s) => stillComes(state, s));
  const over = procedure.steps[index];
  const runs = closeRun(state, at, by, end, result);
  return {
    runs,
    ...(over && moduleOf(over).isOver?.(state, at)),
    ...(following && moduleOf(following).comesUp?.(following)),
    current: following ? beginRun(following, plan, at, state.attempt, runs) : null,
  };
}

/** Back to the charge for another attempt. */
function again(job: Job, at: Moment, by: string): Partial<JobState> {
  const { steps } = job.procedure;
  const repeats = steps.map((s) => moduleOf(s).repeatsFrom?.(s)).find((id) => id !== undefined);
  const from = stepById(job.procedure, repeats ?? (steps[0] as Step).id);
  const attempt = job.state.attempt + 1;
  const runs = closeRun(job.state, at, by, 'done', null);
  return {
    status: 'running',
    escalation: null,
    attempt,
    charge: null,
    runs,
    current: beginRun(from, job.plan, at, attempt, runs),
  };
}

/** Off since a moment where it was still on, and on from another. */
function currentOnAgain(charge: ChargeState, offAt: Moment, onAt: Moment): ChargeState {
  return {
    ...charge,
    mode: 'running',
    on: [...switchedOff(charge.on, offAt), { from: onAt, to: null }],
    why: null,
    resumesItself: false,
  };
}

function stopCurrent(
  charge: ChargeState | null,
  mode: 'paused' | 'halted',
  at: Moment,
  why: Why,
  resumesItself = false,
): ChargeState | null {
  if (!charge || charge.mode === 'ended') return charge;
  return { ...charge, mode, on: switchedOff(charge.on, at), why, resumesItself };
}

function deviate(
  state: JobState,
  at: Moment,
  by: string,
  stepId: string,
  what: DeviationWhat | string,
  reason: string,
): JobState['deviations'] {
  return [...state.deviations, { at, by, stepId, what, reason }];
}
