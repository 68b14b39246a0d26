import { hoursOn } from '../charging/progress.ts';
import { fitPlan } from '../charging/fitPlan.ts';
import { planBattery } from '../charging/jobChargePlan.ts';
import { coolEnough } from '../charging/guards.ts';
import type { JobCommand } from './commands.ts';
import { Refused } from './commands.ts';
import type { JobEvent } from './events.ts';
import { chargeStartedAt, type Job, planSaid } from './job.ts';
import { type Step, stepById, type StepKind, type StepOf } from './procedure.ts';
import { chargeStatus } from './chargeStatus.ts';
import { takeReading, correctReading } from './readings.ts';
import { fillText } from './words.ts';
import { judge, jobChemistry } from './verdict.ts';

export interface DecisionContext {
  now: number;
  by: { id: string; role: 'technician' | 'lead' };
  /** Client-made id of the command; a reading it creates takes it. */
  commandId: string;
  /** Charging places other jobs occupy. */
  takenPlaces: readonly number[];
  places: number;
  /** What the instrument has put in so far, where one runs the charge of this job. */
  live?: { ahIn: number } | undefined;
}

/**
 * Decides what a command makes happen, without doing it. The job must be settled first (see `settle`).
 *
 * @returns events to append, in order
 * @throws Refused with a sentence to act on; nothing has happened then
 */
export function decide(job: Job, command: JobCommand, context: DecisionContext): JobEvent[] {
  const { state } = job;
  if (state.status === 'refused' || state.status === 'closed') return afterTheEnd(job, command, context);
  if (command.type === 'leadDecide') return decideAsLead(job, command, context);
  if (command.type === 'note') return [{ type: 'note.added', text: command.text }];
  if (command.type === 'read') return takeReading(job, command, context);
  if (command.type === 'correct') return correctReading(job, command, context);
  if (state.status === 'with-lead') throw new Refused('The lead has this battery. Wait for the decision.', 'out-of-order');

  switch (command.type) {
    case 'acknowledge':
      at(job, command.stepId, 'acknowledge');
      return [{ type: 'step.done', stepId: command.stepId, result: {} }];
    case 'answerChecks':
      return answerChecks(job, at(job, command.stepId, 'checks'), command.answers);
    case 'matchPack': {
      at(job, command.stepId, 'pack');
      const wanted = job.plan.model.electrolyteCode;
      const code = command.code.trim();
      if (code !== wanted) return [{ type: 'pack.refused', code }];
      return [{ type: 'step.done', stepId: command.stepId, result: { code, lot: command.lot.trim() } }];
    }
    case 'confirmDone':
      return confirmDone(at(job, command.stepId, 'do'), command);
    case 'answerPorts': {
      const step = at(job, command.stepId, 'ports');
      if (command.ports.length !== job.plan.model.cells) throw new Refused(`Answer for all ${job.plan.model.cells} ports.`, 'invalid', 'ports');
      const answers = command.ports.map((id) => step.answers.find((a) => a.id === id));
      if (answers.some((a) => !a)) throw new Refused('That is not one of the answers.', 'invalid', 'ports');
      if (answers.some((a) => !a?.good)) throw new Refused(fillText(step.hold, job.plan), 'invalid', 'ports');
      return [{ type: 'step.done', stepId: step.id, result: { ports: command.ports } }];
    }
    case 'cutWait':
      return cutWait(job, at(job, command.stepId, 'wait'), command.reason, context.now);
    case 'skip': {
      const step = at(job, command.stepId);
      if (!step.skippable) throw new Refused(`“${fillText(step.title, job.plan)}” cannot be skipped.`, 'forbidden');
      return [{ type: 'step.skipped', stepId: step.id, reason: command.reason }];
    }
    case 'reopen':
      return reopen(job, command.stepId, command.reason);
    case 'startCharge':
      return startCharge(job, command, context);
    case 'planCharge':
      return planCharge(job, command);
    case 'pauseCharge': {
      at(job, command.stepId, 'charge');
      if (state.charge?.mode !== 'running') throw new Refused('No current is flowing.', 'out-of-order');
      return [{ type: 'charge.paused', reason: command.reason }];
    }
    case 'resumeCharge':
      return resumeCharge(job, command, context);
    case 'endCharge':
      return endCharge(job, command, context);
    case 'giveVerdict': {
      at(job, command.stepId, 'verdict');
      const verdict = judge(job);
      if (verdict.outcome === 'incomplete') throw new Refused(`Nothing to judge yet. ${verdict.reasons.join(' ')}`, 'out-of-order');
      return [{ type: 'verdict.given', verdict }];
    }
    case 'handOver':
      at(job, command.stepId, 'handover');
      return [{ type: 'job.closed', outcome: 'passed', destination: command.destination }];
    case 'pause':
      if (state.paused) throw new Refused('It is paused already.', 'out-of-order');
      if (state.charge?.mode === 'running') throw new Refused('Current is flowing. Pause the charge instead.', 'out-of-order');
      return [{ type: 'job.paused', reason: command.reason }];
    case 'resume':
      if (!state.paused) throw new Refused('It is not paused.', 'out-of-order');
      return [{ type: 'job.resumed' }];
    case 'escalate':
      return [{ type: 'job.escalated', reason: command.reason }];
  }
}

/** The step the command names, which must be the one running, and of the right kind. */
function at<K extends StepKind>(job: Job, stepId: string, kind: K): StepOf<K>;
function at(job: Job, stepId: string): Step;
function at(job: Job, stepId: string, kind?: StepKind): Step {
  const current = job.state.current;
  if (!job.procedure.steps.some((s) => s.id === stepId)) throw new Refused(`This job has no step “${stepId}”.`, 'invalid', 'stepId');
  if (current?.stepId !== stepId) {
    const running = current ? fillText(stepById(job.procedure, current.stepId).title, job.plan) : 'nothing';
    throw new Refused(`That is not the step in hand. In hand: ${running}.`, 'out-of-order', 'stepId');
  }
  if (job.state.paused) throw new Refused(`Paused: ${job.state.paused.reason}. Resume it first.`, 'out-of-order');
  const step = stepById(job.procedure, stepId);
  if (kind && step.kind !== kind) throw new Refused(`“${fillText(step.title, job.plan)}” does not work that way.`, 'invalid', 'type');
  return step;
}

function afterTheEnd(job: Job, command: JobCommand, context: DecisionContext): JobEvent[] {
  if (command.type === 'note') return [{ type: 'note.added', text: command.text }];
  if (command.type === 'correct') return correctReading(job, command, context);
  throw new Refused(
    job.state.status === 'refused' ? `Refused: ${job.state.refusal?.reason ?? ''} Nobody can wave that through.` : 'This job is closed.',
    'forbidden',
  );
}

function answerChecks(job: Job, step: StepOf<'checks'>, answers: Record<string, boolean>): JobEvent[] {
  const unknown = Object.keys(answers).find((id) => !step.checks.some((c) => c.id === id));
  if (unknown) throw new Refused(`No check “${unknown}” here.`, 'invalid', 'answers');
  const missing = step.checks.find((c) => answers[c.id] === undefined);
  const failed = step.checks.find((c) => answers[c.id] === false);
  // One bad answer settles it, whatever else is still open.
  if (failed) return [{ type: 'job.refused', stepId: step.id, reason: fillText(failed.refusal, job.plan) }];
  if (missing) throw new Refused(`Answer “${fillText(missing.text, job.plan)}”.`, 'invalid', 'answers');
  return [{ type: 'step.done', stepId: step.id, result: { answers } }];
}

function confirmDone(step: StepOf<'do'>, { temperatureC, reason }: { temperatureC?: number; reason?: string }): JobEvent[] {
  const done: JobEvent = { type: 'step.done', stepId: step.id, result: temperatureC === undefined ? {} : { temperatureC } };
  if (!step.temperature) return [done];
  if (temperatureC === undefined) throw new Refused('Read the temperature first.', 'invalid', 'temperatureC');
  const [low, high] = step.temperature.range;
  if (temperatureC >= low && temperatureC <= high) return [done];
  if (!reason)
    throw new Refused(`${step.temperature.outside} It reads ${temperatureC.toFixed(0)} °C: let it come right, or give a reason.`, 'invalid', 'reason');
  return [{ type: 'deviation', stepId: step.id, what: `${step.temperature.label} at ${temperatureC.toFixed(0)} °C, outside ${low}–${high} °C`, reason }, done];
}

function cutWait(job: Job, step: StepOf<'wait'>, reason: string, now: number): JobEvent[] {
  if (!step.skippable) throw new Refused(`${step.early} This wait cannot be cut.`, 'forbidden');
  const remainingS = Math.ceil(((job.state.current?.dueAt ?? now) - now) / 1000);
  return [{ type: 'wait.cut', stepId: step.id, reason, remainingS }];
}

function reopen(job: Job, stepId: string, reason: string): JobEvent[] {
  const { steps } = job.procedure;
  const target = steps.findIndex((s) => s.id === stepId);
  const here = steps.findIndex((s) => s.id === job.state.current?.stepId);
  if (target < 0) throw new Refused(`This job has no step “${stepId}”.`, 'invalid', 'stepId');
  if (target >= here) throw new Refused('Only a step that is behind can be reopened.', 'out-of-order', 'stepId');
  if (!job.state.runs.some((r) => r.stepId === stepId)) throw new Refused('That step was never begun.', 'out-of-order', 'stepId');
  if (job.state.charge?.mode === 'running') throw new Refused('Current is flowing. Stop the charge first.', 'out-of-order');
  return [{ type: 'step.reopened', stepId, reason }];
}

function startCharge(job: Job, command: Extract<JobCommand, { type: 'startCharge' }>, context: DecisionContext): JobEvent[] {
  const step = at(job, command.stepId, 'charge');
  const { charge } = job.state;
  if (charge && charge.mode !== 'ended') throw new Refused('The charge has begun already.', 'out-of-order');
  if (command.place > context.places) throw new Refused(`The bench has places 1 to ${context.places}.`, 'invalid', 'place');
  if (context.takenPlaces.includes(command.place)) throw new Refused(`Place ${command.place} is taken.`, 'invalid', 'place');
  const { chargeA, ceilingV } = job.plan.figures;
  if (command.setV > ceilingV.value + 0.005)
    throw new Refused(`${command.setV.toFixed(2)} V is above the ceiling of ${ceilingV.value.toFixed(2)} V for this battery.`, 'invalid', 'setV');
  const events: JobEvent[] = [{ type: 'charge.started', place: command.place, setA: command.setA, setV: command.setV }];
  if (command.setA <= chargeA.value * 1.05) return events;
  if (!command.reason)
    throw new Refused(`${command.setA.toFixed(1)} A is above the ${chargeA.value.toFixed(1)} A of the plan. Lower it, or give a reason.`, 'invalid', 'reason');
  return [
    { type: 'deviation', stepId: step.id, what: `Charged at ${command.setA.toFixed(1)} A instead of ${chargeA.value.toFixed(1)} A`, reason: command.reason },
    ...events,
  ];
}

/** Chooses the plan an instrument will follow; it must fit the battery and stay under its ceiling. */
function planCharge(job: Job, command: Extract<JobCommand, { type: 'planCharge' }>): JobEvent[] {
  const step = job.procedure.steps.find((s) => s.id === command.stepId && s.kind === 'charge');
  if (!step) throw new Refused('That is not the charge of this job.', 'invalid', 'stepId');
  const { charge } = job.state;
  if (charge && charge.mode !== 'ended') throw new Refused('The charge has begun already; it keeps its plan.', 'out-of-order');
  if (command.plan.stages.every((s) => s.do === 'rest' || s.do === 'discharge'))
    throw new Refused('A plan that never charges is no charge.', 'invalid', 'plan');
  const { faults } = fitPlan(command.plan, planBattery(job.plan.model, jobChemistry(job).key));
  if (faults[0]) throw new Refused(faults[0].sentence, 'invalid', 'plan');
  return [{ type: 'charge.planned', plan: command.plan }];
}

function resumeCharge(job: Job, command: Extract<JobCommand, { type: 'resumeCharge' }>, context: DecisionContext): JobEvent[] {
  at(job, command.stepId, 'charge');
  const { charge } = job.state;
  if (charge?.mode !== 'paused' && charge?.mode !== 'halted') throw new Refused('The charge is not paused.', 'out-of-order');
  if (charge.mode === 'halted' && context.by.role !== 'lead') throw new Refused('A guard stopped it. Only a lead lets it go on.', 'forbidden');
  if (!coolEnough(command.temperatureC, job.plan.roomC)) {
    throw new Refused(`${command.temperatureC.toFixed(0)} °C is not cool yet. Wait for ${job.plan.roomC + 5} °C.`, 'invalid', 'temperatureC');
  }
  return [{ type: 'charge.resumed', temperatureC: command.temperatureC }];
}

function endCharge(job: Job, command: Extract<JobCommand, { type: 'endCharge' }>, { now, live }: DecisionContext): JobEvent[] {
  const step = at(job, command.stepId, 'charge');
  const { charge } = job.state;
  if (!charge || charge.mode === 'ended') throw new Refused('The charge has not begun.', 'out-of-order');
  if (charge.mode === 'halted') throw new Refused('A guard stopped it. Hand it to the lead.', 'forbidden');
  const { progress, ampereHours } = chargeStatus(job, now);
  const done: JobEvent = {
    type: 'step.done',
    stepId: step.id,
    result: {
      agrees: progress.agrees,
      ampereHours: live?.ahIn ?? ampereHours,
      chargeStartedAt: chargeStartedAt(charge),
      hours: hoursOn(charge.on, now),
      ...planSaid(charge),
    },
  };
  if (progress.agrees) return [done];
  if (!command.reason) throw new Refused(`The numbers do not agree yet. ${progress.sentence} End it anyway only with a reason.`, 'invalid', 'reason');
  return [{ type: 'deviation', stepId: step.id, what: `Charge ended before the numbers agreed (${progress.sentence})`, reason: command.reason }, done];
}

function decideAsLead(job: Job, command: Extract<JobCommand, { type: 'leadDecide' }>, context: DecisionContext): JobEvent[] {
  if (context.by.role !== 'lead') throw new Refused('Only a lead decides this.', 'forbidden');
  if (job.state.status !== 'with-lead') throw new Refused('This battery is not with the lead.', 'out-of-order');
  const { decision, reason } = command;
  const failed = job.state.verdict?.outcome === 'lead';
  if (decision === 'go-on' && failed)
    throw new Refused('It failed twice and cannot simply go on. Charge again, claim, recover or recycle.', 'forbidden', 'decision');
  if (decision === 'charge-again' && !failed) throw new Refused('Only a battery that failed its test is charged again.', 'out-of-order', 'decision');
  const decided: JobEvent = { type: 'lead.decided', decision, reason };
  if (decision === 'go-on' || decision === 'charge-again') return [decided];
  return [decided, { type: 'job.closed', outcome: decision, destination: null }];
}
