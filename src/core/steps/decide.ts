import { leadAcidKind } from '../batteries/kinds.ts';
import { fitPlan } from '../charging/fitPlan.ts';
import { planBattery } from '../charging/jobChargePlan.ts';
import { checkToppedUp } from './amounts.ts';
import { type JobCommand, Refused } from '../job/commands.ts';
import type { DecisionContext } from '../job/context.ts';
import type { JobEvent } from '../job/events.ts';
import { everCharged, type Job } from '../job/job.ts';
import { knownLot, lotSaid, mayUse } from './lots.ts';
import { mayTakeBack } from '../job/misTap.ts';
import type { StepKind } from '../plan/procedure.ts';
import { correctReading, takeReading } from './readings.ts';
import { moduleOf } from './registry.ts';
import { type Asked, inHand, notThatWay } from './step.ts';
import { takesOf } from './takes.ts';
import { jobChemistry } from '../job/verdict.ts';
import { fillText } from '../plan/words.ts';
import { refusalWords } from '../job/refusalWords.ts';

/**
 * Decides what a command makes happen, without doing it. The job must be settled first (see `settle`). What belongs to a step
 * is decided by the module of its kind; here stands what belongs to the job.
 *
 * @returns events to append, in order
 * @throws Refused with a sentence to act on; nothing has happened then
 */
export function decide(job: Job, command: JobCommand, context: DecisionContext): JobEvent[] {
  const { state } = job;
  if (state.status === 'refused' || state.status === 'closed')
    return afterTheEnd(job, command, context);
  if (command.type === 'leadDecide') return decideAsLead(job, command, context);
  if (command.type === 'note') return [{ type: 'note.added', text: command.text }];
  if (command.type === 'read') return takeReading(job, command, context);
  if (command.type === 'correct') return correctReading(job, command, context);
  if (state.status === 'with-lead')
    throw new Refused('The lead has this battery. Wait for the decision.', 'out-of-order');

  switch (command.type) {
    case 'topUp':
      return topUp(job, command, context);
    case 'skip':
      return skip(job, command.stepId, command.reason);
    case 'reopen':
      return reopen(job, command.stepId, command.reason);
    case 'planCharge':
      return planCharge(job, command);
    case 'tellSize': {
      if (!job.plan.model.estimate)
        throw new Refused('Its size is known by its label.', 'out-of-order', 'c20Ah');
      if (state.charge?.mode === 'running')
        throw new Refused(
          'Current is flowing by the estimate. Pause the charge, then type its size.',
          'out-of-order',
        );
      if (!context.replan) throw new Error('Nobody can plan anew.');
      return [{ type: 'size.told', c20Ah: command.c20Ah, plan: context.replan(command.c20Ah) }];
    }
    case 'pause':
      if (state.paused) throw new Refused('It is paused already.', 'out-of-order');
      if (state.charge?.mode === 'running')
        throw new Refused('Current is flowing. Pause the charge instead.', 'out-of-order');
      return [{ type: 'job.paused', reason: command.reason }];
    case 'resume':
      if (!state.paused) throw new Refused('It is not paused.', 'out-of-order');
      return [{ type: 'job.resumed' }];
    case 'takeBackRefusal':
      throw new Refused('It was not refused.', 'out-of-order');
    case 'escalate':
      return [{ type: 'job.escalated', reason: command.reason }];
    default: {
      const step = inHand(job, command.stepId);
      const take = takesOf(step)[command.type] as
        | ((asked: Asked<StepKind, typeof command.type>) => JobEvent[])
        | undefined;
      if (!take) throw notThatWay(job, step);
      return take({ job, step, command, context });
    }
  }
}

function skip(job: Job, stepId: string, reason: string): JobEvent[] {
  const step = inHand(job, stepId);
  const held = moduleOf(step).heldBy?.(job);
  if (held) throw new Refused(held, 'out-of-order');
  if (!step.skippable)
    throw new Refused(`“${fillText(step.title, job.plan)}” cannot be skipped.`, 'forbidden');
  return [{ type: 'step.skipped', stepId: step.id, reason }];
}

function afterTheEnd(job: Job, command: JobCommand, context: DecisionContext): JobEvent[] {
  if (command.type === 'note') return [{ type: 'note.added', text: command.text }];
  if (command.type === 'correct') return correctReading(job, command, context);
  if (command.type === 'takeBackRefusal') return takeBackRefusal(job, command.reason, context);
  throw new Refused(
    job.state.status === 'refused'
      ? `Refused: ${job.state.refusal ? refusalWords(job, job.state.refusal) : ''} No one can override that.`
      : 'This job is closed.',
    'forbidden',
  );
}

function takeBackRefusal(job: Job, reason: string, { now, by }: DecisionContext): JobEvent[] {
  const { refusal } = job.state;
  if (!refusal) throw new Refused('It was not refused.', 'out-of-order');
  if (!mayTakeBack(job, now, by))
    throw new Refused(
      'A refusal is put right within ten minutes, by who made it or a lead. This one stands.',
      'forbidden',
    );
  return [{ type: 'refusal.taken-back', stepId: refusal.stepId, reason }];
}

/** Acid goes in before the first charge and never after it; water the other way round. */
function topUp(
  job: Job,
  command: Extract<JobCommand, { type: 'topUp' }>,
  context: DecisionContext,
): JobEvent[] {
  const { procedure, plan, state } = job;
  if (leadAcidKind(plan.model.kind).ports !== 'serviceable')
    throw new Refused('Its cells are closed. Nothing is added to it.', 'forbidden', 'liquid');
  if (state.paused)
    throw new Refused(`Paused: ${state.paused.reason}. Resume it first.`, 'out-of-order');
  const fresh = procedure.purpose === 'commission' && !everCharged(state);
  if (command.liquid === 'acid' && !fresh)
    throw new Refused(
      'It has been charged. From now on only distilled water: acid does not leave with the gas, and more of it makes the acid too strong.',
      'forbidden',
      'liquid',
    );
  if (command.liquid === 'water' && fresh)
    throw new Refused(
      'It has not been charged yet. Before the first charge it is topped up with the same acid; water would thin it for good.',
      'forbidden',
      'liquid',
    );
  mayUse(context.lot, command.liquid);
  knownLot(command, context);
  const bad = command.cells.find((c) => c > plan.model.cells);
  if (bad !== undefined) throw new Refused(`It has ${plan.model.cells} cells.`, 'invalid', 'cells');
  if (command.ml !== undefined) checkToppedUp(command.ml, command.cells.length, plan, command.sure);
  return [
    {
      type: 'topped-up',
      liquid: command.liquid,
      cells: command.cells,
      ml: command.ml ?? null,
      lot: command.lot ? lotSaid(command.lot, context) || null : null,
    },
  ];
}

function reopen(job: Job, stepId: string, reason: string): JobEvent[] {
  const { steps } = job.procedure;
  const target = steps.findIndex((s) => s.id === stepId);
  const here = steps.findIndex((s) => s.id === job.state.current?.stepId);
  if (target < 0) throw new Refused(`This job has no step “${stepId}”.`, 'invalid', 'stepId');
  if (target >= here)
    throw new Refused('Only a step that is behind can be reopened.', 'out-of-order', 'stepId');
  if (!job.state.runs.some((r) => r.stepId === stepId))
    throw new Refused('That step was never begun.', 'out-of-order', 'stepId');
  if (job.state.charge?.mode === 'running')
    throw new Refused('Current is flowing. Stop the charge first.', 'out-of-order');
  return [{ type: 'step.reopened', stepId, reason }];
}

/** Chooses the plan an instrument will follow; it must fit the battery and stay under its ceiling. */
function planCharge(job: Job, command: Extract<JobCommand, { type: 'planCharge' }>): JobEvent[] {
  const step = job.procedure.steps.find((s) => s.id === command.stepId && s.kind === 'charge');
  if (!step) throw new Refused('That is not the charge of this job.', 'invalid', 'stepId');
  const { charge } = job.state;
  if (charge && charge.mode !== 'ended')
    throw new Refused('The charge has begun already; it keeps its plan.', 'out-of-order');
  if (command.plan.stages.every((s) => s.do === 'rest' || s.do === 'discharge'))
    throw new Refused('A plan that never charges is no charge.', 'invalid', 'plan');
  const { faults } = fitPlan(command.plan, planBattery(job.plan.model, jobChemistry(job).key));
  if (faults[0]) throw new Refused(faults[0].sentence, 'invalid', 'plan');
  return [{ type: 'charge.planned', plan: command.plan }];
}

function decideAsLead(
  job: Job,
  command: Extract<JobCommand, { type: 'leadDecide' }>,
  context: DecisionContext,
): JobEvent[] {
  if (context.by.role !== 'lead') throw new Refused('Only a lead decides this.', 'forbidden');
  if (job.state.status !== 'with-lead')
    throw new Refused('This battery is not with the lead.', 'out-of-order');
  const { decision, reason } = command;
  const failed = job.state.verdict?.outcome === 'lead';
  if (decision === 'go-on' && failed)
    throw new Refused(
      'It failed twice and cannot simply go on. Charge again, claim, recover or recycle.',
      'forbidden',
      'decision',
    );
  if (decision === 'charge-again' && !failed)
    throw new Refused(
      'Only a battery that failed its test is charged again.',
      'out-of-order',
      'decision',
    );
  const decided: JobEvent = { type: 'lead.decided', decision, reason };
  if (decision === 'go-on' || decision === 'charge-again') return [decided];
  return [decided, { type: 'job.closed', outcome: decision, destination: null }];
}
