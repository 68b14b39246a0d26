import { checkFilled, checkPutIn, checkToppedUp, lookedAwayFrom } from './amounts.ts';
import { hoursOn } from '../charging/progress.ts';
import type { DeviationWhat } from './deviation.ts';
import { deviationWords } from './deviationWords.ts';
import { fitPlan } from '../charging/fitPlan.ts';
import { planBattery } from '../charging/jobChargePlan.ts';
import { coolEnough } from '../charging/guards.ts';
import { correctSg } from '../electrolyte/concentration.ts';
import { leadAcidKind } from '../batteries/kinds.ts';
import { mayTakeBack } from './misTap.ts';
import type { JobCommand } from './commands.ts';
import { Refused } from './commands.ts';
import type { JobEvent } from './events.ts';
import { chargeStartedAt, everCharged, type Job, planSaid, standingReadings } from './job.ts';
import { linesOf } from './lines.ts';
import { figureOf } from './plan.ts';
import { type Step, stepById, type StepKind, type StepOf } from './procedure.ts';
import { decideRecovery } from './decideRecovery.ts';
import { handSettings, recoveryOf } from './recovery.ts';
import { chargeStatus, expectedChargeS } from './chargeStatus.ts';
import { takeReading, correctReading } from './readings.ts';
import { fillText } from './words.ts';
import { judge, jobChemistry } from './verdict.ts';

/** A lot of electrolyte as the wet room keeps it. */
export interface StockedLot {
  code: string;
  kind: 'pack' | 'acid' | 'water';
  /** Code of its packs, for tube packs. */
  packCode: string | null;
  expired: boolean;
  leftMl: number;
}

export interface DecisionContext {
  now: number;
  by: { id: string; role: 'technician' | 'lead' };
  /** Client-made id of the command; a reading it creates takes it. */
  commandId: string;
  /** Charging places other jobs occupy. */
  takenPlaces: readonly number[];
  places: number;
  /** The electrolyte lot a command names, where it is in stock. */
  lot?: StockedLot | undefined;
  /** Does this shop count its lots? */
  lotsCounted?: boolean;
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
      mayUse(context.lot, 'pack');
      if (context.lot && context.lot.packCode !== job.plan.model.electrolyteCode)
        throw new Refused(`Lot ${context.lot.code} holds ${context.lot.packCode ?? ''} packs, says the wet room.`, 'forbidden', 'lot');
      const wanted = job.plan.model.electrolyteCode;
      const code = command.code.trim();
      if (code !== wanted) return [{ type: 'pack.refused', code }];
      knownLot(command, context);
      return [{ type: 'step.done', stepId: command.stepId, result: { code, lot: command.lot.trim() } }];
    }
    case 'matchAcid':
      return matchAcid(job, at(job, command.stepId, 'acid'), command, context);
    case 'topUp':
      return topUp(job, command, context);
    case 'confirmDone': {
      const step = at(job, command.stepId, 'do');
      const most = step.amount?.most ? figureOf(job.plan, step.amount.expected).value : Infinity;
      if ((command.amountMl ?? 0) > most) throw new Refused(`At most ${most.toFixed(0)} mL goes in. More drowns the mats.`, 'forbidden', 'amountMl');
      if (step.amount?.weighed) checkWeighed(job, command.amountMl ?? 0);
      else if (step.amount && command.amountMl !== undefined) checkFilled(command.amountMl, figureOf(job.plan, step.amount.expected).value, command.sure);
      return confirmDone(step, command);
    }
    case 'answerPorts': {
      return answerPorts(job, at(job, command.stepId, 'ports'), command);
    }
    case 'cutWait':
      return cutWait(job, at(job, command.stepId, 'wait'), command.reason, context.now);
    case 'skip': {
      const step = at(job, command.stepId);
      if (step.kind === 'capacity' && recoveryOf(job).discharge) throw new Refused('A load is on it. Take it off first.', 'out-of-order');
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
    case 'tellStory':
    case 'chooseRoute':
    case 'wake':
    case 'checkWake':
    case 'testByInstrument':
    case 'startDischarge':
    case 'endDischarge':
    case 'dropDischarge':
    case 'giveOutcome':
      return decideRecovery(job, command, context, at);
    case 'giveVerdict': {
      at(job, command.stepId, 'verdict');
      const verdict = judge(job);
      if (verdict.outcome === 'incomplete') throw new Refused(`Nothing to judge yet. ${verdict.reasons.join(' ')}`, 'out-of-order');
      return [{ type: 'verdict.given', verdict }];
    }
    case 'handOver':
      at(job, command.stepId, 'handover');
      return [{ type: 'job.closed', outcome: recoveryOf(job).outcomes.at(-1)?.outcome === 'light' ? 'light' : 'passed', destination: command.destination }];
    case 'pause':
      if (state.paused) throw new Refused('It is paused already.', 'out-of-order');
      if (state.charge?.mode === 'running') throw new Refused('Current is flowing. Pause the charge instead.', 'out-of-order');
      return [{ type: 'job.paused', reason: command.reason }];
    case 'resume':
      if (!state.paused) throw new Refused('It is not paused.', 'out-of-order');
      return [{ type: 'job.resumed' }];
    case 'takeBackRefusal':
      throw new Refused('It was not refused.', 'out-of-order');
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
  if (command.type === 'takeBackRefusal') return takeBackRefusal(job, command.reason, context);
  throw new Refused(
    job.state.status === 'refused' ? `Refused: ${job.state.refusal?.reason ?? ''} Nobody can wave that through.` : 'This job is closed.',
    'forbidden',
  );
}

function takeBackRefusal(job: Job, reason: string, { now, by }: DecisionContext): JobEvent[] {
  const { refusal } = job.state;
  if (!refusal) throw new Refused('It was not refused.', 'out-of-order');
  if (!mayTakeBack(job, now, by)) throw new Refused('A refusal is put right within ten minutes, by who made it or a lead. This one stands.', 'forbidden');
  return [{ type: 'refusal.taken-back', stepId: refusal.stepId, reason }];
}

function answerChecks(job: Job, step: StepOf<'checks'>, answers: Record<string, boolean>): JobEvent[] {
  const unknown = Object.keys(answers).find((id) => !step.checks.some((c) => c.id === id));
  if (unknown) throw new Refused(`No check “${unknown}” here.`, 'invalid', 'answers');
  const missing = step.checks.find((c) => answers[c.id] === undefined);
  const failed = step.checks.find((c) => answers[c.id] === false && c.refusal) ?? step.checks.find((c) => answers[c.id] === false);
  // One bad answer settles it, whatever else is still open.
  if (failed?.refusal) return [{ type: 'job.refused', stepId: step.id, reason: fillText(failed.refusal, job.plan) }];
  if (failed) throw new Refused(fillText(failed.hold ?? failed.text, job.plan), 'invalid', 'answers');
  if (missing) throw new Refused(`Answer “${fillText(missing.text, job.plan)}”.`, 'invalid', 'answers');
  return [{ type: 'step.done', stepId: step.id, result: { answers } }];
}

function confirmDone(step: StepOf<'do'>, { temperatureC, amountMl, reason }: { temperatureC?: number; amountMl?: number; reason?: string }): JobEvent[] {
  if (step.amount && amountMl === undefined) throw new Refused('Type how much went in.', 'invalid', 'amountMl');
  const result = { ...(temperatureC === undefined ? {} : { temperatureC }), ...(amountMl === undefined ? {} : { amountMl }) };
  const done: JobEvent = { type: 'step.done', stepId: step.id, result };
  if (!step.temperature) return [done];
  if (temperatureC === undefined) throw new Refused('Read the temperature first.', 'invalid', 'temperatureC');
  const [low, high] = step.temperature.range;
  if (temperatureC >= low && temperatureC <= high) return [done];
  if (!reason)
    throw new Refused(`${step.temperature.outside} It reads ${temperatureC.toFixed(0)} °C: let it come right, or give a reason.`, 'invalid', 'reason');
  return [
    { type: 'deviation', stepId: step.id, what: { kind: 'temperature', label: step.temperature.label, temperatureC, lowC: low, highC: high }, reason },
    done,
  ];
}

/** A scale and drops on the lid may be off by this, g, and by this share of what went in. */
const SCALE_OFF_G = 10;
const SCALE_OFF_SHARE = 0.15;

/** What went in is what it has gained: weighed before this step, and again within it. */
function checkWeighed({ state }: Job, amountMl: number): void {
  const began = state.current?.startedAt ?? 0;
  const masses = standingReadings(state).filter((r) => r.values.massG !== undefined);
  const before = masses.findLast((r) => r.at <= began)?.values.massG ?? masses[0]?.values.massG;
  const after = masses.findLast((r) => r.at >= began);
  if (before === undefined || after?.values.massG === undefined || masses.length < 2)
    throw new Refused(
      'Weigh it before the first drop and again when it is closed: two readings of its mass, under “Take a reading in between”.',
      'invalid',
      'amountMl',
    );
  const gained = after.values.massG - before;
  if (Math.abs(gained - amountMl) > Math.max(SCALE_OFF_G, SCALE_OFF_SHARE * amountMl))
    throw new Refused(
      `It weighs ${gained.toFixed(0)} g more, ${amountMl.toFixed(0)} mL are said to have gone in. A gram is a millilitre: weigh it again, or correct the amount.`,
      'invalid',
      'amountMl',
    );
}

/** SG this far from what is wanted is judged off; beyond the second it is another acid. */
export const SG_OFF = 0.01;
const SG_OTHER_ACID = 0.03;
/** Acid and battery belong between these when they meet, °C. */
const FILL_RANGE_C = [16, 30] as const;

function mayUse(lot: StockedLot | undefined, kind: StockedLot['kind']): void {
  if (!lot) return;
  if (lot.kind !== kind)
    throw new Refused(`Lot ${lot.code} is ${lot.kind === 'water' ? 'distilled water' : lot.kind === 'pack' ? 'tube packs' : 'bulk acid'}.`, 'forbidden', 'lot');
  if (lot.expired) throw new Refused(`Lot ${lot.code} is past its date. Take a fresh one.`, 'forbidden', 'lot');
  if (lot.leftMl <= 0) throw new Refused(`Lot ${lot.code} is used up, says the wet room.`, 'invalid', 'lot');
}

/** Where lots are counted, one that is not among them is asked about: a slip of the pen takes from no lot. */
function knownLot({ lot, sure }: { lot?: string; sure?: boolean }, { lot: found, lotsCounted }: DecisionContext): void {
  if (lot && !found && lotsCounted && !sure) throw new Refused(`The wet room has no lot ${lot.trim()}. Is it written right?`, 'ask', 'lot');
}

/** Bulk acid, corrected to 25 °C and judged against what the plan wants. */
function matchAcid(job: Job, step: StepOf<'acid'>, command: Extract<JobCommand, { type: 'matchAcid' }>, context: DecisionContext): JobEvent[] {
  mayUse(context.lot, 'acid');
  knownLot(command, context);
  const wanted = job.plan.figures.fillSg.value;
  const sg25 = correctSg(command.specificGravity, command.temperatureC);
  const off = sg25 - wanted;
  const acid: DeviationWhat = { kind: 'acid', sg25, readSg: command.specificGravity, readC: command.temperatureC, wantedSg: wanted };
  if (Math.abs(off) > SG_OTHER_ACID)
    throw new Refused(`${deviationWords(acid, 'C')}. This is another acid: it does not go in, whatever the reason.`, 'forbidden', 'specificGravity');
  const deviations: DeviationWhat[] = [];
  if (Math.abs(off) > SG_OFF + 1e-9) deviations.push(acid);
  const [lowC, highC] = FILL_RANGE_C;
  for (const [label, celsius] of [
    ['Acid', command.temperatureC],
    ['Battery', command.batteryC],
  ] as const)
    if (celsius !== undefined && (celsius < lowC || celsius > highC)) deviations.push({ kind: 'temperature', label, temperatureC: celsius, lowC, highC });
  if (deviations.length > 0 && !command.reason)
    throw new Refused(`${deviations.map((d) => deviationWords(d, 'C')).join('. ')}. Put it right, or give a reason.`, 'invalid', 'reason');
  const { lot, specificGravity, temperatureC, batteryC } = command;
  return [
    ...deviations.map((what): JobEvent => ({ type: 'deviation', stepId: step.id, what, reason: command.reason as string })),
    { type: 'step.done', stepId: step.id, result: { lot: lot.trim(), specificGravity, sg25, temperatureC, ...(batteryC === undefined ? {} : { batteryC }) } },
  ];
}

/** Acid goes in before the first charge and never after it; water the other way round. */
function topUp(job: Job, command: Extract<JobCommand, { type: 'topUp' }>, context: DecisionContext): JobEvent[] {
  const { procedure, plan, state } = job;
  if (leadAcidKind(plan.model.kind).ports !== 'serviceable') throw new Refused('Its cells are closed. Nothing is added to it.', 'forbidden', 'liquid');
  if (state.paused) throw new Refused(`Paused: ${state.paused.reason}. Resume it first.`, 'out-of-order');
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
  return [{ type: 'topped-up', liquid: command.liquid, cells: command.cells, ml: command.ml ?? null, lot: command.lot?.trim() || null }];
}

function answerPorts(job: Job, step: StepOf<'ports'>, command: Extract<JobCommand, { type: 'answerPorts' }>): JobEvent[] {
  const { plan, state } = job;
  if (command.ports.length !== plan.model.cells) throw new Refused(`Answer for all ${plan.model.cells} ports.`, 'invalid', 'ports');
  const answers = command.ports.map((id) => step.answers.find((a) => a.id === id));
  if (answers.some((a) => !a)) throw new Refused('That is not one of the answers.', 'invalid', 'ports');
  if (answers.some((a) => !a?.good)) throw new Refused(fillText(step.hold, plan), 'invalid', 'ports');
  const events: JobEvent[] = [];
  const odd = answers.flatMap((a, i) => (a?.deviation ? [{ answer: a.deviation, cell: i + 1 }] : []));
  for (const answer of new Set(odd.map((o) => o.answer))) {
    const what: DeviationWhat = { kind: 'ports', answer, cells: odd.filter((o) => o.answer === answer).map((o) => o.cell) };
    if (plan.overNeedsReason && !command.reason)
      throw new Refused(`${deviationWords(what, 'C')}. Draw it down to the mark, or say why it stays.`, 'invalid', 'reason');
    events.push({ type: 'deviation', stepId: step.id, what, reason: command.reason ?? 'Tolerated by the house rule' });
  }
  for (const liquid of ['acid', 'water'] as const) {
    const cells = answers.flatMap((a, i) => (a?.added === liquid ? [i + 1] : []));
    if (cells.length > 0) events.push({ type: 'topped-up', liquid, cells, ml: null, lot: null });
  }
  const result = { ports: command.ports };
  const { passes } = step;
  if (passes && answers.some((a) => a?.again)) {
    const made = state.runs.filter((r) => r.stepId === step.id && r.end === 'done').length + 1;
    if (made < passes.most) return [...events, { type: 'pass.repeated', stepId: step.id, from: passes.from, result }];
    events.push({
      type: 'deviation',
      stepId: step.id,
      what: { kind: 'still-topped-up', pass: made, cells: answers.flatMap((a, i) => (a?.again ? [i + 1] : [])) },
      reason: 'Look for a leak; its level is watched on charge',
    });
  }
  return [...events, { type: 'step.done', stepId: step.id, result }];
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
  const { ceilingV, stubbornV, stubbornA } = job.plan.figures;
  const planA = handSettings(job).setA;
  const above = command.setV > ceilingV.value + 0.005;
  if (above && stubbornV && stubbornA && command.setV <= stubbornV.value + 0.005) {
    if (command.setA > stubbornA.value + 1e-9)
      throw new Refused(`Above ${ceilingV.value.toFixed(2)} V at most ${stubbornA.value.toFixed(2)} A flows into this battery.`, 'invalid', 'setA');
    if (!command.reason) throw new Refused('Above the usual ceiling: say why, and stay near.', 'invalid', 'reason');
    return [
      { type: 'deviation', stepId: step.id, what: { kind: 'ceiling', setV: command.setV, plannedV: ceilingV.value }, reason: command.reason },
      { type: 'charge.started', place: command.place, setA: command.setA, setV: command.setV },
    ];
  }
  if (above) throw new Refused(`${command.setV.toFixed(2)} V is above the ceiling of ${ceilingV.value.toFixed(2)} V for this battery.`, 'invalid', 'setV');
  const events: JobEvent[] = [{ type: 'charge.started', place: command.place, setA: command.setA, setV: command.setV }];
  if (command.setA <= planA * 1.05) return events;
  if (!command.reason)
    throw new Refused(`${command.setA.toFixed(1)} A is above the ${planA.toFixed(1)} A of the plan. Lower it, or give a reason.`, 'invalid', 'reason');
  return [{ type: 'deviation', stepId: step.id, what: { kind: 'current', setA: command.setA, plannedA: planA }, reason: command.reason }, ...events];
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
  if (!coolEnough(command.temperatureC, job.plan.roomC, linesOf(job.plan).temperature)) {
    throw new Refused(`${command.temperatureC.toFixed(0)} °C is not cool yet. Wait for ${job.plan.roomC + 5} °C.`, 'invalid', 'temperatureC');
  }
  return [{ type: 'charge.resumed', temperatureC: command.temperatureC }];
}

function endCharge(job: Job, command: Extract<JobCommand, { type: 'endCharge' }>, { now, live }: DecisionContext): JobEvent[] {
  const step = at(job, command.stepId, 'charge');
  const { charge } = job.state;
  if (!charge || charge.mode === 'ended') throw new Refused('The charge has not begun.', 'out-of-order');
  if (charge.mode === 'halted') throw new Refused('A guard stopped it. Hand it to the lead.', 'forbidden');
  const { progress, ampereHours, readings } = chargeStatus(job, now);
  if (!charge.live) checkPutIn(ampereHours, job.plan, command.sure);
  const away = charge.live
    ? []
    : lookedAwayFrom(
        charge.on,
        readings.map((r) => r.at),
        now,
        expectedChargeS(job),
      );
  const looks = away.map((what): JobEvent => ({ type: 'deviation', stepId: step.id, what, reason: 'By the clock' }));
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
  if (progress.agrees) return [...looks, done];
  if (!command.reason) throw new Refused(`The numbers do not agree yet. ${progress.sentence} End it anyway only with a reason.`, 'invalid', 'reason');
  return [...looks, { type: 'deviation', stepId: step.id, what: { kind: 'ended-early', sentence: progress.sentence }, reason: command.reason }, done];
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
