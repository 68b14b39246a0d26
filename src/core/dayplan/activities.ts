import { chargeStatus } from '../job/chargeStatus.ts';
import { type ChargeState, chargeStartedAt } from '../job/chargeState.ts';
import { type Job, recoveryOf } from '../job/job.ts';
import { type Step, stepById } from '../plan/procedure.ts';
import { fillText } from '../plan/words.ts';
import type { Moment } from '../quantities/moment.ts';
import { ventilationNeed } from '../safety/ventilation.ts';
import { moduleOf } from '../steps/registry.ts';
import { stepsAhead } from '../steps/stepsAhead.ts';
import { chargingAir } from '../watch/chargingAir.ts';
import { labelOf, plannedS } from '../watch/timeline.ts';
import type { Activity, Gap, Look, Minute, Run, ToolKey, Way } from './problem.ts';
import type { PlannedShop } from './plannedShop.ts';
import { BATTERY_SPREAD, mainsCurrent, watchOf } from './ways.ts';

const MINUTE_MS = 60_000;
/** A discharge ends sooner where the battery holds less than it should. */
const TEST_SPREAD = { low: 0.5, high: 1.1 };
/** What a lead takes to decide, min. */
const DECIDE_MIN = 15;

/**
 * What is still to do of a job, in its procedure's order: hands that follow one another are one task, waits are gaps between.
 *
 * @param post where its charge under way stands; null where none is
 */
export function activitiesOf(
  job: Job,
  now: Moment,
  shop: PlannedShop,
  post: string | null,
  ways: (job: Job) => readonly Way[],
): Activity[] {
  const { state, procedure } = job;
  const run = state.current;
  if (!run || state.status === 'closed') return [];
  const activities: Activity[] = [];
  let gap: Gap = { least: 0, most: null };
  // Minutes of hands since a step was done, for waits that count from its end.
  const since = new Map<string, Minute>();
  const pass = (minutes: Minute): void => {
    for (const [id, before] of since) since.set(id, before + minutes);
  };
  const add = (activity: Activity): void => {
    const last = activities.at(-1);
    if (
      last?.kind === 'hands' &&
      activity.kind === 'hands' &&
      activity.gap.least === 0 &&
      last.lead === activity.lead &&
      (last.tool === null || activity.tool === null || last.tool === activity.tool)
    )
      activities[activities.length - 1] = {
        ...last,
        stepIds: [...last.stepIds, ...activity.stepIds],
        minutes: last.minutes + activity.minutes,
        tool: last.tool ?? activity.tool,
      };
    else activities.push(activity);
    gap = { least: 0, most: null };
  };
  if (state.status === 'with-lead')
    add({
      kind: 'hands',
      stepIds: [run.stepId],
      what: 'Lead decides',
      minutes: DECIDE_MIN,
      lead: true,
      tool: null,
      gap,
    });

  for (const step of [stepById(procedure, run.stepId), ...stepsAhead(job)]) {
    const inHand = step.id === run.stepId;
    const module = moduleOf(step);
    const what = fillText(step.title, job.plan);
    const minutes = Math.max(1, Math.ceil(plannedS(step, job) / 60));
    const within = step.withinS === undefined ? null : gap.least + Math.ceil(step.withinS / 60);
    const due: Gap = { ...gap, most: within };
    const as: Look = { kind: step.segment, label: labelOf(step, job.plan) };
    if (module.takes === 'charger') {
      const { charge } = state;
      const runs = inHand && charge !== null && charge.mode !== 'ended' && post !== null;
      add(
        runs
          ? { ...chargeUnderWay(job, charge, post, now, what, shop), as }
          : { kind: 'run', stepIds: [step.id], what, ways: ways(job), gap: due, as },
      );
    } else if (module.takes === 'discharge-load') {
      add({ ...dischargeOf(job, step, inHand, now, what, minutes, due), as });
    } else if (module.byItself && module.near?.(step) && !inHand) {
      add({ kind: 'run', stepIds: [step.id], what, ways: [nearRun(minutes, null)], gap: due, as });
    } else if (module.byItself) {
      const left = inHand
        ? Math.max(0, Math.ceil(((run.dueAt ?? now) - now) / MINUTE_MS))
        : Math.max(0, minutes - (since.get(module.countsFrom?.(step) ?? '') ?? 0));
      gap = { least: gap.least + left, most: null, as };
      pass(left);
      continue;
    } else {
      add({
        kind: 'hands',
        stepIds: [step.id],
        what,
        minutes,
        lead: false,
        tool: (module.takes ?? null) as ToolKey | null,
        gap: due,
        as,
      });
      pass(minutes);
      since.set(step.id, 0);
    }
  }
  return activities;
}

/** Something that runs under somebody's eye, at no place of its own. */
const nearRun = (minutes: Minute, tool: ToolKey | null, spread = { low: 1, high: 1 }): Way => ({
  postId: null,
  tool,
  watch: 'near',
  minutes: { low: spread.low * minutes, middle: minutes, high: spread.high * minutes },
  airM3h: 0,
  mainsA: 0,
  setting: '',
});

function dischargeOf(
  job: Job,
  step: Step,
  inHand: boolean,
  now: Moment,
  what: string,
  minutes: Minute,
  gap: Gap,
): Run {
  const discharge = inHand ? recoveryOf(job).discharge : null;
  const left = discharge && Math.max(1, Math.ceil((discharge.expectedEndAt - now) / MINUTE_MS));
  return {
    kind: 'run',
    stepIds: [step.id],
    what,
    ways: [nearRun(left ?? minutes, 'discharge-load', left === null ? TEST_SPREAD : undefined)],
    gap,
    ...(discharge
      ? { since: Math.min(0, Math.ceil((discharge.startedAt - now) / MINUTE_MS)) }
      : {}),
  };
}

function chargeUnderWay(
  job: Job,
  charge: ChargeState,
  postId: string,
  now: Moment,
  what: string,
  { chargers, rules }: PlannedShop,
): Run {
  const { expectedEndAt, progress } = chargeStatus(job, now);
  const done = progress.agrees && !charge.live;
  const middle = done ? 1 : Math.max(1, ((expectedEndAt ?? now) - now) / MINUTE_MS);
  const charger = chargers.find((c) => c.id === charge.charger?.id);
  return {
    kind: 'run',
    stepIds: [job.state.current?.stepId ?? ''],
    what,
    gap: { least: 0, most: null },
    since: Math.min(0, Math.ceil((chargeStartedAt(charge) - now) / MINUTE_MS)),
    ways: [
      {
        postId,
        tool: null,
        watch: charge.live ? 'none' : watchOf(charger, charge.charger?.own?.program?.ends ?? null),
        minutes: {
          low: BATTERY_SPREAD.low * middle,
          middle,
          high: done ? middle : BATTERY_SPREAD.high * middle,
        },
        airM3h: ventilationNeed([chargingAir(job)]),
        mainsA: mainsCurrent(charge.setA, charge.setV, rules),
        setting: `${charge.setA} A`,
      },
    ],
  };
}
