import { forCells } from '../../batteries/chemistry.ts';
import { fitPlan } from '../../charging/fitPlan.ts';
import { WAKE_BELOW_12V } from '../../diagnosis/wakeCurrents.ts';
import type { RuleFinding } from '../../diagnosis/plainRules.ts';
import { ROUTES, routePlan, type Route } from '../../diagnosis/routes.ts';
import { Refused } from '../../job/commands.ts';
import type { JobEvent } from '../../job/events.ts';
import { batteryOfPlan, offeredRoutes, offeredWakes } from '../../recovery/recovery.ts';
import { evidenceOf, needsWaking, rulesFor, tooFlat } from '../../recovery/evidence.ts';
import { jobChemistry } from '../../job/verdict.ts';
import { giveOutcome } from './giveOutcome.ts';
import { type Asked, defineStep, notThatWay, type Takes } from '../step.ts';
import { recoveryOf } from '../../job/job.ts';
import { onceForJob } from '../../job/onceForJob.ts';

const NO_ROUTE = 'No route is open for it: sign it off for the recycler.';

/** Odds of causes, and the route that is chosen by them. What cannot be helped is signed off here, too. */
export const diagnose = defineStep({
  kind: 'diagnose',
  inTray: 'each',
  also: ['load'],
  leadsNowhere: (job) => noRoute(job) && NO_ROUTE,
});

export const diagnoseTakes: Takes<'diagnose'> = {
  chooseRoute,
  giveOutcome: (asked) => {
    if (asked.command.outcome !== 'recycle') throw notThatWay(asked.job, asked.step);
    return giveOutcome(asked);
  },
};

/** The rule of the trade that leaves no route open; null where none does. */
const noRoute = onceForJob(
  (job): RuleFinding | null => rulesFor(job).find((r) => r.weight === 'never') ?? null,
);

function chooseRoute({
  job,
  command,
  context: { now, by },
}: Asked<'diagnose', 'chooseRoute'>): JobEvent[] {
  const { plan, state } = job;
  const never = noRoute(job);
  if (never) throw new Refused(`${never.sentence} ${NO_ROUTE}`, 'forbidden', 'route');
  const dry = evidenceOf(job).some((e) => e.of === 'levels' && e.levels.includes('dry'));
  const watered = state.topUps.some((t) => t.liquid === 'water');
  if (dry && !watered)
    throw new Refused(
      'Plates stand bare. Cover them with distilled water first, and say so under “Top up”.',
      'forbidden',
      'route',
    );
  if (!offeredRoutes(plan.model.kind, plan.schools).includes(command.route))
    throw new Refused(
      `“${ROUTES[command.route].name}” is not offered: not for this kind of battery, or not by this shop.`,
      'forbidden',
      'route',
    );
  const { mostRounds } = ROUTES[command.route] as Route;
  const rounds = recoveryOf(job).routes.filter((r) => r.route === command.route).length;
  if (mostRounds !== undefined && rounds >= mostRounds)
    throw new Refused(
      `It has had ${mostRounds} rounds of “${ROUTES[command.route].name}”, and more are not made. Choose another route, or end it.`,
      'forbidden',
      'route',
    );
  if (
    command.wake !== 'none' &&
    !offeredWakes(plan.model.kind, plan.schools).includes(command.wake)
  )
    throw new Refused('It cannot be woken that way.', 'forbidden', 'wake');
  if (state.attempt === 1 && command.wake === 'none' && needsWaking(job) && !command.reason)
    throw new Refused(
      `Under ${forCells(WAKE_BELOW_12V, plan.model.cells).toFixed(1)} V most chargers refuse it. Choose how it is woken, or say why it needs none.`,
      'invalid',
      'reason',
    );
  const flat = tooFlat(job);
  if (flat && !command.reason)
    throw new Refused(`${flat} Give a reason to try all the same.`, 'invalid', 'reason');
  const against = command.forecast?.proposed && command.forecast.proposed !== command.route;
  if (against && !command.reason)
    throw new Refused(
      `“${ROUTES[command.forecast?.proposed as keyof typeof ROUTES].name}” was proposed. Say why this one.`,
      'invalid',
      'reason',
    );
  const wanted = routePlan(ROUTES[command.route], jobChemistry(job).key);
  const { fitted, faults } = fitPlan(wanted, batteryOfPlan(job));
  if (!fitted)
    throw new Refused(
      faults[0]?.sentence ?? 'Its charge does not fit this battery.',
      'invalid',
      'route',
    );
  const events: JobEvent[] = [];
  if (command.reason)
    events.push({
      type: 'deviation',
      stepId: command.stepId,
      what: { kind: 'route', route: command.route },
      reason: command.reason,
    });
  events.push({
    type: 'route.chosen',
    plan: wanted,
    route: {
      route: command.route,
      wake: command.wake,
      attempt: state.attempt,
      at: now,
      by: by.id,
      forecast: command.forecast,
      reason: command.reason ?? null,
    },
  });
  return events;
}
