import { forCells } from '../batteries/chemistry.ts';
import { expectedMinutes } from '../capacity/capacityTest.ts';
import { fitPlan } from '../charging/fitPlan.ts';
import { withoutDischarge } from '../charging/testPlan.ts';
import { WAKE_BELOW_12V, wakeCurrents } from '../diagnosis/parallelWake.ts';
import { ROUTES, routePlan } from '../diagnosis/routes.ts';
import { type JobCommand, Refused } from './commands.ts';
import type { DecisionContext } from './decide.ts';
import type { JobEvent } from './events.ts';
import type { Job } from './job.ts';
import { linesOf } from './lines.ts';
import type { StepKind, StepOf } from './procedure.ts';
import { batteryOfPlan, capacityOfTest, offeredRoutes, offeredWakes, OUTCOMES, recoveryOf, restedFull, testPlanOf } from './recovery.ts';
import { evidenceOf, needsWaking, rulesFor, tooFlat } from './recoveryEvidence.ts';
import { disposalOf, judgeRecovery, outcomeAllowed } from './recoveryJudging.ts';
import { jobChemistry } from './verdict.ts';
import { cellWords } from './words.ts';

type RecoveryCommand = Extract<
  JobCommand,
  { type: 'tellStory' | 'chooseRoute' | 'wake' | 'checkWake' | 'testByInstrument' | 'startDischarge' | 'endDischarge' | 'dropDischarge' | 'giveOutcome' }
>;
type At = <K extends StepKind>(job: Job, stepId: string, kind: K) => StepOf<K>;

/** Decides what a command of a recovery makes happen; see `decide`. */
export function decideRecovery(job: Job, command: RecoveryCommand, context: DecisionContext, at: At): JobEvent[] {
  switch (command.type) {
    case 'tellStory':
      at(job, command.stepId, 'story');
      return [
        { type: 'story.told', story: command.story },
        { type: 'step.done', stepId: command.stepId, result: { story: command.story.story } },
      ];
    case 'chooseRoute':
      at(job, command.stepId, 'diagnose');
      return chooseRoute(job, command, context);
    case 'wake':
      at(job, command.stepId, 'wake');
      return wake(job, command);
    case 'checkWake':
      return checkWake(job, at(job, command.stepId, 'wake-check'), command);
    case 'testByInstrument':
      return testByInstrument(job, at(job, command.stepId, 'capacity'));
    case 'startDischarge':
      at(job, command.stepId, 'capacity');
      return startDischarge(job, command, context.now);
    case 'endDischarge':
      at(job, command.stepId, 'capacity');
      return endDischarge(job, command, context);
    case 'dropDischarge':
      at(job, command.stepId, 'capacity');
      if (!recoveryOf(job).discharge) throw new Refused('No discharge is running.', 'out-of-order');
      return [{ type: 'discharge.dropped', reason: command.reason }];
    case 'giveOutcome':
      // What cannot be helped is signed off before a route is chosen, too.
      at(job, command.stepId, command.outcome === 'recycle' && job.state.current?.stepId === 'diagnose' ? 'diagnose' : 'outcome');
      return giveOutcome(job, command, context);
  }
}

function chooseRoute(job: Job, command: Extract<RecoveryCommand, { type: 'chooseRoute' }>, { now, by }: DecisionContext): JobEvent[] {
  const { plan, state } = job;
  const never = rulesFor(job).find((r) => r.weight === 'never');
  if (never) throw new Refused(`${never.sentence} No route is open for it: sign it off for the recycler.`, 'forbidden', 'route');
  const dry = evidenceOf(job).some((e) => e.of === 'levels' && e.levels.includes('dry'));
  const watered = state.topUps.some((t) => t.liquid === 'water');
  if (dry && !watered) throw new Refused('Plates stand bare. Cover them with distilled water first, and say so under “Top up”.', 'forbidden', 'route');
  if (!offeredRoutes(plan.model.kind, plan.schools).includes(command.route))
    throw new Refused(`“${ROUTES[command.route].name}” is not offered: not for this kind of battery, or not by this shop.`, 'forbidden', 'route');
  if (command.wake !== 'none' && !offeredWakes(plan.model.kind, plan.schools).includes(command.wake))
    throw new Refused('It cannot be woken that way.', 'forbidden', 'wake');
  if (state.attempt === 1 && command.wake === 'none' && needsWaking(job) && !command.reason)
    throw new Refused(
      `Under ${forCells(WAKE_BELOW_12V, plan.model.cells).toFixed(1)} V most chargers refuse it. Choose how it is woken, or say why it needs none.`,
      'invalid',
      'reason',
    );
  const flat = tooFlat(job);
  if (flat && !command.reason) throw new Refused(`${flat} Give a reason to try all the same.`, 'invalid', 'reason');
  const against = command.forecast?.proposed && command.forecast.proposed !== command.route;
  if (against && !command.reason)
    throw new Refused(`“${ROUTES[command.forecast?.proposed as keyof typeof ROUTES].name}” was proposed. Say why this one.`, 'invalid', 'reason');
  const wanted = routePlan(ROUTES[command.route], jobChemistry(job).key);
  const { fitted, faults } = fitPlan(wanted, batteryOfPlan(job));
  if (!fitted) throw new Refused(faults[0]?.sentence ?? 'Its charge does not fit this battery.', 'invalid', 'route');
  const events: JobEvent[] = [];
  if (command.reason) events.push({ type: 'deviation', stepId: command.stepId, what: { kind: 'route', route: command.route }, reason: command.reason });
  events.push({
    type: 'route.chosen',
    plan: wanted,
    route: { route: command.route, wake: command.wake, attempt: state.attempt, at: now, by: by.id, forecast: command.forecast, reason: command.reason ?? null },
  });
  return events;
}

function wake(job: Job, command: Extract<RecoveryCommand, { type: 'wake' }>): JobEvent[] {
  const { model } = job.plan;
  const way = recoveryOf(job).routes.at(-1)?.wake;
  const result: Record<string, string | number> = { way: way ?? 'none', chargerA: command.chargerA };
  if (way === 'parallel') {
    const { donorV, donorAh, leadM, leadMm2 } = command;
    if (donorV === undefined || donorAh === undefined || leadM === undefined || leadMm2 === undefined)
      throw new Refused('Say what the donor reads and holds, and how long and thick the leads are.', 'invalid', 'donorV');
    const sleeperV = evidenceOf(job).find((e) => e.of === 'rest-volts')?.voltageV ?? 0;
    const currents = wakeCurrents({ donorV, donorAh, leadM, leadMm2, sleeperV, sleeperAh: model.c20Ah, cells: model.cells, chargerA: command.chargerA });
    const [problem] = currents.problems;
    if (problem) throw new Refused(problem, 'forbidden', problem.startsWith('Up to') ? 'leadMm2' : 'donorV');
    Object.assign(result, { donorV, donorAh, leadM, leadMm2, inrushA: currents.inrushA, ...(command.donorTag ? { donorTag: command.donorTag } : {}) });
  } else if (command.chargerA > 0.1 * model.c20Ah + 1e-9)
    throw new Refused(`At most a tenth of C20, ${(0.1 * model.c20Ah).toFixed(1)} A: waking is not boosting.`, 'invalid', 'chargerA');
  return [{ type: 'step.done', stepId: command.stepId, result }];
}

/** Hot is a short. At 10.5 V it goes on alone; below, another hour, twice at most. */
function checkWake(job: Job, step: StepOf<'wake-check'>, command: Extract<RecoveryCommand, { type: 'checkWake' }>): JobEvent[] {
  const { model } = job.plan;
  if (command.feel.length !== model.cells) throw new Refused(`Feel all ${model.cells} cells.`, 'invalid', 'feel');
  const hot = command.feel.flatMap((f, k) => (f === 'hot' ? [k + 1] : []));
  if (hot.length > 0)
    return [
      {
        type: 'job.refused',
        stepId: step.id,
        reason: `Hot while it was woken: ${cellWords(hot)}. Hot means a short. Everything off; to the recycler once it is cold.`,
      },
    ];
  const awake = forCells(WAKE_BELOW_12V, model.cells);
  const result = { voltageV: command.voltageV, feel: command.feel };
  if (command.voltageV >= awake) return [{ type: 'step.done', stepId: step.id, result }];
  const made = job.state.runs.filter((r) => r.stepId === step.id && r.attempt === job.state.attempt && r.end === 'done').length + 1;
  if (made < step.most) return [{ type: 'pass.repeated', stepId: step.id, from: step.from, result }];
  return [
    { type: 'step.done', stepId: step.id, result },
    {
      type: 'job.escalated',
      reason: `After ${made} h beside it, ${command.voltageV.toFixed(2)} V: under ${awake.toFixed(2)} V it does not carry on alone. Another way of waking, or the recycler.`,
    },
  ];
}

/** The charge that follows discharges first, by its plan: the route's own, or the test's. */
function testByInstrument(job: Job, step: StepOf<'capacity'>): JobEvent[] {
  if (recoveryOf(job).discharge) throw new Refused('A discharge is running already.', 'out-of-order');
  const done: JobEvent = { type: 'step.done', stepId: step.id, result: { method: 'instrument' } };
  if (step.id === 'empty-first') return [done];
  const plan = testPlanOf(job);
  const { fitted, faults } = fitPlan(plan, batteryOfPlan(job));
  if (!fitted) throw new Refused(faults[0]?.sentence ?? 'The test does not fit this battery.', 'invalid', 'plan');
  return [done, { type: 'charge.planned', plan }];
}

function startDischarge(job: Job, command: Extract<RecoveryCommand, { type: 'startDischarge' }>, now: number): JobEvent[] {
  const { model } = job.plan;
  if (recoveryOf(job).discharge) throw new Refused('A discharge is running already.', 'out-of-order');
  const least = forCells(10.5, model.cells);
  if (command.cutoffV < least - 0.005) throw new Refused(`Not below ${least.toFixed(2)} V: deeper than that it is harmed.`, 'invalid', 'cutoffV');
  if (command.currentA > model.c20Ah) throw new Refused(`At most C20 in amperes, ${model.c20Ah.toFixed(0)} A: more is a load test.`, 'invalid', 'currentA');
  // The alarm counts from what a sound battery would give: whoever is worse rings early, when somebody looks.
  const expectedEndAt = now + expectedMinutes(command.currentA, linesOf(job.plan).capacity, model.c20Ah) * 60_000;
  return [{ type: 'discharge.started', currentA: command.currentA, cutoffV: command.cutoffV, temperatureC: command.temperatureC, expectedEndAt }];
}

function endDischarge(job: Job, command: Extract<RecoveryCommand, { type: 'endDischarge' }>, { now, by, commandId }: DecisionContext): JobEvent[] {
  const { discharge } = recoveryOf(job);
  if (!discharge) throw new Refused('No discharge is running.', 'out-of-order');
  const ran = (now - discharge.startedAt) / 60_000;
  if (command.minutes > ran + 5) throw new Refused(`It has been running for ${ran.toFixed(0)} min.`, 'invalid', 'minutes');
  const test = {
    id: commandId,
    at: now,
    by: by.id,
    attempt: job.state.attempt,
    rested: restedFull(job),
    currentA: discharge.currentA,
    minutes: command.minutes,
    cutoffV: command.endV,
    temperatureC: discharge.temperatureC,
    method: 'hand' as const,
  };
  const { ah, c20 } = capacityOfTest(job, test);
  if (c20.middle > 1.6 * job.plan.model.c20Ah)
    throw new Refused(`${ah.toFixed(1)} Ah is more than it can hold. Check the current and the minutes.`, 'invalid', 'minutes');
  const { chargePlan } = job.state;
  return [
    { type: 'capacity.tested', test },
    { type: 'step.done', stepId: command.stepId, result: { ah, c20Ah: c20.middle } },
    // Emptied by hand: an instrument that charges it now does not do it again.
    ...(command.stepId === 'empty-first' && chargePlan ? [{ type: 'charge.planned' as const, plan: withoutDischarge(chargePlan) }] : []),
  ];
}

function giveOutcome(job: Job, command: Extract<RecoveryCommand, { type: 'giveOutcome' }>, { now, by }: DecisionContext): JobEvent[] {
  const verdict = judgeRecovery(job);
  if (!outcomeAllowed(verdict, command.outcome))
    throw new Refused(`The numbers do not carry “${OUTCOMES[command.outcome].name}”. ${verdict.reasons.join(' ')}`, 'forbidden', 'outcome');
  if (command.outcome !== verdict.suggested && !command.reason)
    throw new Refused(`“${OUTCOMES[verdict.suggested].name}” is what the numbers say. Say why not.`, 'invalid', 'reason');
  const events: JobEvent[] = [
    {
      type: 'outcome.given',
      outcome: {
        outcome: command.outcome,
        suggested: verdict.suggested,
        reasons: [...verdict.reasons, ...verdict.warnings],
        reason: command.reason ?? null,
        attempt: job.state.attempt,
        at: now,
        by: by.id,
        disposal: command.outcome === 'recycle' ? disposalOf(job) : null,
      },
    },
  ];
  if (command.outcome === 'recycle') events.push({ type: 'job.closed', outcome: 'recycle', destination: null });
  return events;
}
