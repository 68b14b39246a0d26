import { coolEnough } from '../../charging/guards.ts';
import { formatFigure } from '../../quantities/format.ts';
import { checkPutIn, lookedAwayFrom } from '../amounts.ts';
import { chargeStatus } from '../../job/chargeStatus.ts';
import { expectedChargeS } from '../../job/chargeExpected.ts';
import { Refused, type JobCommand } from '../../job/commands.ts';
import type { JobEvent } from '../../job/events.ts';
import { GRACE_S, type Hand } from '../../job/hand.ts';
import { showingsOfCharge, showsNoAmps } from '../../job/chargeShowing.ts';
import { chargeOffSince, type ChargeState, switchedOff } from '../../job/chargeState.ts';
import { type Job, type StepRun, chargeResult } from '../../job/job.ts';
import type { Moment } from '../../quantities/moment.ts';
import { linesOf } from '../../plan/lines.ts';
import type { StepOf } from '../../plan/procedure.ts';
import { handSettings } from '../../recovery/recovery.ts';
import { type Asked, defineStep, done, type Takes } from '../step.ts';
import { whyTitle } from '../../job/why.ts';
import type { DeviationWhat } from '../../job/deviation.ts';
import { reasonFor, chargerChoice } from '../chargerChoice.ts';

/** A charge, by hand or by an instrument, from the clips to the end its readings or its plan give it. */
export const charge = defineStep({
  kind: 'charge',
  takes: 'charger',
  lasts: (job) => expectedChargeS(job),
  began: (run) => run.result?.chargeStartedAt ?? run.endedAt ?? run.startedAt,
  label: (plan) => `charge ${formatFigure(plan.figures.chargeA)}`,
  hand: handOfCharge,
  // One that goes by the job's own figures forgets the plan that was chosen for the charge before it.
  comesUp: (step) => (step.own ? { chargePlan: null } : {}),
  isOver: ({ charge }, at) => ({
    charge: charge && { ...charge, mode: 'ended', on: switchedOff(charge.on, at) },
  }),
  opensAgain: () => ({ charge: null }),
  stretches: (job, now) => {
    const { charge } = job.state;
    if (!charge || charge.mode === 'ended') return null;
    const { expectedEndAt, nextReadingAt, progress } = chargeStatus(job, now);
    return {
      on: charge.on,
      until:
        progress.agrees && !charge.live
          ? now
          : Math.max(expectedEndAt ?? now, nextReadingAt ?? now, now),
    };
  },
  inTray: ({ state: { charge } }) =>
    charge && charge.mode !== 'ended'
      ? 'Pausing and ending go to all. Readings, and going on after a pause, are each battery’s own.'
      : 'By hand it starts them all, each on a place that you see first. A charger that watches by itself starts this one alone.',
});

export const chargeTakes: Takes<'charge'> = {
  startCharge,
  pauseCharge: ({ job, command }) => {
    if (job.state.charge?.mode !== 'running')
      throw new Refused('No current is flowing.', 'out-of-order');
    return [{ type: 'charge.paused', why: { by: 'person', reason: command.reason } }];
  },
  resumeCharge,
  reconnect: ({ job }) => {
    byHandOn(job);
    return [{ type: 'charge.reconnected' }];
  },
  foundOff,
  endCharge,
};

/** The charge by hand that runs or waits. @throws Refused where there is none, or only a lead lets it go on */
function byHandOn({ state: { charge } }: Job): ChargeState {
  if (!charge || charge.mode === 'ended' || charge.live)
    throw new Refused('No charge by hand is running.', 'out-of-order');
  if (charge.mode === 'halted')
    throw new Refused('A guard stopped it. Only a lead lets it go on.', 'forbidden');
  return charge;
}

function foundOff({ job, step, command, context }: Asked<'charge', 'foundOff'>): JobEvent[] {
  const charge = byHandOn(job);
  const since = charge.on.at(-1)?.from ?? 0;
  if (charge.mode !== 'running') throw new Refused('No current is flowing.', 'out-of-order');
  if (command.sinceAt < since || command.sinceAt > context.now)
    throw new Refused(
      'That lies outside the time it was on. Choose a moment since it was connected.',
      'invalid',
      'sinceAt',
    );
  return [
    { type: 'charge.found-off', sinceAt: command.sinceAt },
    {
      type: 'deviation',
      stepId: step.id,
      what: { kind: 'found-off', hours: (context.now - command.sinceAt) / 3_600_000 },
      reason: 'Found so at a look',
    },
  ];
}

function handOfCharge(job: Job, step: StepOf<'charge'>, run: StepRun, now: Moment): Hand | null {
  const { charge } = job.state;
  if (!charge || charge.mode === 'ended') return null;
  if (charge.mode === 'halted')
    return {
      stepId: step.id,
      title: stopWords(charge),
      act: 'See why',
      dueAt: chargeOffSince(charge),
      kind: 'stop',
    };
  if (charge.live && charge.mode === 'paused')
    return charge.resumesItself
      ? {
          stepId: step.id,
          title: 'Cooling; the charger goes on by itself',
          act: 'Look',
          dueAt: null,
          kind: 'wait',
        }
      : {
          stepId: step.id,
          title: `${nameOf(charge)}: look, then answer`,
          act: 'Answer',
          dueAt: chargeOffSince(charge),
          kind: 'act',
        };
  if (charge.mode === 'paused' && charge.why?.by === 'charger')
    return {
      stepId: step.id,
      title: whyTitle(charge.why),
      act: 'See what to do',
      dueAt: chargeOffSince(charge) ?? now,
      kind: 'act',
    };
  if (charge.mode === 'paused')
    return {
      stepId: step.id,
      title: 'Cooling: feel it, resume when cool',
      act: 'Resume',
      dueAt: (chargeOffSince(charge) ?? now) + GRACE_S * 1000,
      kind: 'act',
    };
  const status = chargeStatus(job, now);
  if (charge.live)
    return {
      stepId: step.id,
      title: 'The charge ends by itself',
      act: 'Look',
      dueAt: status.expectedEndAt,
      kind: 'wait',
    };
  if (status.progress.agrees)
    return {
      stepId: step.id,
      title: 'Charge is done: charger off',
      act: 'End it',
      dueAt: status.readings.at(-1)?.at ?? run.startedAt,
      kind: 'act',
    };
  return {
    stepId: step.id,
    title: showsNoAmps(charge)
      ? 'What does the charger show? Feel the case'
      : 'Read voltage, current and temperature',
    act: 'Read',
    dueAt: status.nextReadingAt,
    kind: 'read',
  };
}

/** What stopped it, by name. */
const nameOf = ({ why }: ChargeState): string => (why ? whyTitle(why) : 'Paused');

function stopWords(charge: ChargeState): string {
  return charge.live
    ? `${nameOf(charge)}: the charger is off`
    : 'Stopped hot: charger off at the mains';
}

function startCharge({ job, step, command, context }: Asked<'charge', 'startCharge'>): JobEvent[] {
  const { charge } = job.state;
  // While it is off it may go on from another charger, at the place where it stands.
  const moves = charge?.mode === 'paused' && !charge.live;
  if (charge && charge.mode !== 'ended' && !moves)
    throw new Refused(
      charge.mode === 'halted'
        ? 'A guard stopped it. Only a lead lets it go on.'
        : 'The charge has begun already. Pause it first to put it on another charger.',
      'out-of-order',
    );
  if (moves && command.place !== charge.place)
    throw new Refused(`It stands at place ${charge.place}.`, 'invalid', 'place');
  if (command.place > context.places)
    throw new Refused(`The bench has places 1 to ${context.places}.`, 'invalid', 'place');
  if (context.takenPlaces.includes(command.place))
    throw new Refused(`Place ${command.place} is taken.`, 'invalid', 'place');
  const chosen = chargerChoice(job, command, context);
  const { setA, setV } = chosen?.fixed ?? command;
  const aside = (what: DeviationWhat, reason: string): JobEvent => ({
    type: 'deviation',
    stepId: step.id,
    what,
    reason,
  });
  const offCharger =
    chosen && chosen.faults.length > 0
      ? [
          aside(
            { kind: 'charger', name: chosen.inUse.name, faults: chosen.faults },
            reasonFor(chosen, command.reason),
          ),
        ]
      : [];
  const offPlan = setAside(job, { ...command, setA, setV }, chosen?.fixed !== undefined);
  return [
    ...offCharger,
    ...(offPlan ? [aside(offPlan.what, offPlan.reason)] : []),
    moves
      ? { type: 'charge.moved', setA, setV, ...(chosen ? { charger: chosen.inUse } : {}) }
      : {
          type: 'charge.started',
          place: command.place,
          setA,
          setV,
          ...(chosen ? { charger: chosen.inUse } : {}),
        },
  ];
}

/**
 * What is set otherwise than planned: a voltage above the ceiling, a current above the plan's.
 *
 * @param fixed the current is the charger's own: what speaks against it was told with the charger
 * @throws Refused where it may not be, or no reason is given
 */
function setAside(
  job: Job,
  { setA, setV, reason }: Extract<JobCommand, { type: 'startCharge' }>,
  fixed: boolean,
): { what: DeviationWhat; reason: string } | null {
  const { ceilingV, stubbornV, stubbornA } = job.plan.figures;
  if (setV > ceilingV.value + 0.005) {
    if (!stubbornV || !stubbornA || setV > stubbornV.value + 0.005)
      throw new Refused(
        `${setV.toFixed(2)} V is above the ceiling of ${ceilingV.value.toFixed(2)} V for this battery.`,
        'invalid',
        'setV',
      );
    if (setA > stubbornA.value + 1e-9)
      throw new Refused(
        `Above ${ceilingV.value.toFixed(2)} V at most ${stubbornA.value.toFixed(2)} A flows into this battery.`,
        'invalid',
        'setA',
      );
    if (!reason)
      throw new Refused('Above the usual ceiling: say why, and stay near.', 'invalid', 'reason');
    return { what: { kind: 'ceiling', setV, plannedV: ceilingV.value }, reason };
  }
  const planA = handSettings(job).setA;
  if (fixed || setA <= planA * 1.05) return null;
  if (!reason)
    throw new Refused(
      `${setA.toFixed(1)} A is above the ${planA.toFixed(1)} A of the plan. Lower it, or give a reason.`,
      'invalid',
      'reason',
    );
  return { what: { kind: 'current', setA, plannedA: planA }, reason };
}

function resumeCharge({ job, command, context }: Asked<'charge', 'resumeCharge'>): JobEvent[] {
  const { charge } = job.state;
  if (charge?.mode !== 'paused' && charge?.mode !== 'halted')
    throw new Refused('The charge is not paused.', 'out-of-order');
  if (charge.mode === 'halted' && context.by.role !== 'lead')
    throw new Refused('A guard stopped it. Only a lead lets it go on.', 'forbidden');
  if (!coolEnough(command.temperatureC, job.plan.roomC, linesOf(job.plan).temperature)) {
    throw new Refused(
      `${command.temperatureC.toFixed(0)} °C is not cool yet. Wait for ${job.plan.roomC + 5} °C.`,
      'invalid',
      'temperatureC',
    );
  }
  return [{ type: 'charge.resumed', temperatureC: command.temperatureC }];
}

function endCharge({
  job,
  step,
  command,
  context: { now, live },
}: Asked<'charge', 'endCharge'>): JobEvent[] {
  const { charge } = job.state;
  if (!charge || charge.mode === 'ended')
    throw new Refused('The charge has not begun.', 'out-of-order');
  if (charge.mode === 'halted')
    throw new Refused('A guard stopped it. Hand it to the lead.', 'forbidden');
  const { progress, ampereHours, estimatedAh, readings } = chargeStatus(job, now);
  if (!charge.live) checkPutIn(ampereHours, job.plan, command.sure);
  const away = charge.live
    ? []
    : lookedAwayFrom(
        charge.on,
        [...readings, ...showingsOfCharge(job)].map((r) => r.at).toSorted((a, b) => a - b),
        now,
        expectedChargeS(job),
        (charge.charger?.own?.program?.ceilingV ?? null) === null,
      );
  const looks = away.map((what): JobEvent => ({
    type: 'deviation',
    stepId: step.id,
    what,
    reason: 'By the clock',
  }));
  const over = done(
    step,
    chargeResult(charge, {
      agrees: progress.agrees,
      ampereHours: live?.ahIn ?? ampereHours,
      estimatedAh,
      now,
    }),
  );
  if (progress.agrees) return [...looks, over];
  if (!command.reason)
    throw new Refused(
      `The numbers do not agree yet. ${progress.sentence} End it anyway only with a reason.`,
      'invalid',
      'reason',
    );
  return [
    ...looks,
    {
      type: 'deviation',
      stepId: step.id,
      what: { kind: 'ended-early', sentence: progress.sentence },
      reason: command.reason,
    },
    over,
  ];
}
