import { chargeStatus } from './chargeStatus.ts';
import { chargeOffSince, type ChargeState, type Job, type Moment, standingReadings } from './job.ts';
import { stillComes } from './evolve.ts';
import { stepById } from './procedure.ts';
import { fillText } from './words.ts';

/** The next thing a job wants from a person. */
export interface Hand {
  stepId: string | null;
  title: string;
  /** The verb on the button. */
  act: string;
  /** When hands are needed; null while nobody can do anything. */
  dueAt: Moment | null;
  /** `stop` outranks everything; `lead` only a lead can answer. */
  kind: 'act' | 'read' | 'wait' | 'stop' | 'lead' | 'paused';
}

export type Urgency = 'overdue' | 'now' | 'soon' | 'waiting';

/** Hands that are this late count as overdue, s. */
export const GRACE_S = 30 * 60;
/** A discharge by hand is looked at this often, s. */
const LOOK_EVERY_S = 15 * 60;
/** Within this it is soon, s. */
export const SOON_S = 2 * 3600;

/** What a job settled at `now` wants next, or null when it is finished or refused. */
export function nextHand(job: Job, now: Moment): Hand | null {
  const { state, procedure, plan } = job;
  if (state.status === 'with-lead') {
    return {
      stepId: state.current?.stepId ?? null,
      title: 'Lead decides what becomes of it',
      act: 'Decide',
      dueAt: state.escalation?.at ?? null,
      kind: 'lead',
    };
  }
  const run = state.current;
  if (state.status !== 'running' || !run) return null;
  const step = stepById(procedure, run.stepId);
  if (state.paused) return { stepId: step.id, title: `Paused: ${state.paused.reason}`, act: 'Resume', dueAt: null, kind: 'paused' };

  if (step.kind === 'charge' && state.charge && state.charge.mode !== 'ended') {
    const { charge } = state;
    if (charge.mode === 'halted') return { stepId: step.id, title: stopWords(charge), act: 'See why', dueAt: chargeOffSince(charge), kind: 'stop' };
    if (charge.live && charge.mode === 'paused')
      return charge.resumesItself
        ? { stepId: step.id, title: 'Cooling; the charger goes on by itself', act: 'Look', dueAt: null, kind: 'wait' }
        : { stepId: step.id, title: `${headOf(charge.reason)}: look, then answer`, act: 'Answer', dueAt: chargeOffSince(charge), kind: 'act' };
    if (charge.mode === 'paused')
      return {
        stepId: step.id,
        title: 'Cooling: feel it, resume when cool',
        act: 'Resume',
        dueAt: (chargeOffSince(charge) ?? now) + GRACE_S * 1000,
        kind: 'act',
      };
    const status = chargeStatus(job, now);
    if (charge.live) return { stepId: step.id, title: 'The charge ends by itself', act: 'Look', dueAt: status.expectedEndAt, kind: 'wait' };
    if (status.progress.agrees)
      return { stepId: step.id, title: 'Charge is done: charger off', act: 'End it', dueAt: status.readings.at(-1)?.at ?? run.startedAt, kind: 'act' };
    return { stepId: step.id, title: 'Read volts, amps and warmth', act: 'Read', dueAt: status.nextReadingAt, kind: 'read' };
  }
  if (step.kind === 'wait') {
    const readAt = step.readEveryS === undefined ? null : nextReadingOf(job, step.readEveryS);
    if (readAt !== null) return { stepId: step.id, title: 'Holding: read its volts', act: 'Read', dueAt: readAt, kind: 'read' };
    const following = procedure.steps.slice(procedure.steps.indexOf(step) + 1).find((s) => stillComes(state, s)) ?? step;
    return { stepId: step.id, title: fillText(following.title, plan), act: following.act, dueAt: run.dueAt, kind: 'wait' };
  }
  const discharge = step.kind === 'capacity' ? state.recovery?.discharge : null;
  // A load left on ruins a battery: the watch is a hand of its own, and late it is a stop.
  if (discharge)
    return now > discharge.expectedEndAt
      ? { stepId: step.id, title: 'Discharge: read the volts now, take the load off', act: 'Take it off', dueAt: discharge.expectedEndAt, kind: 'stop' }
      : {
          stepId: step.id,
          title: 'Discharging: read its volts',
          act: 'Look',
          dueAt: Math.min(discharge.expectedEndAt, now + LOOK_EVERY_S * 1000),
          kind: 'read',
        };
  return { stepId: step.id, title: fillText(step.title, plan), act: step.act, dueAt: run.startedAt, kind: 'act' };
}

/** When a battery that stands is read next; null once its end is nearer than half of that. */
function nextReadingOf({ state }: Job, everyS: number): Moment | null {
  const { current } = state;
  if (!current) return null;
  const last = standingReadings(state, 'spot').findLast((r) => r.at >= current.startedAt && r.values.voltageV !== undefined);
  const next = (last?.at ?? current.startedAt) + everyS * 1000;
  return next + (everyS * 1000) / 2 < (current.dueAt ?? Infinity) ? next : null;
}

/** A guard's name from what it said: `No current` of `No current: next to none flows`. */
function headOf(reason: string | null): string {
  return reason?.split(':')[0] ?? 'Paused';
}

function stopWords(charge: ChargeState): string {
  return charge.live ? `${headOf(charge.reason)}: the charger is off` : 'Stopped hot: charger off at the mains';
}

/** How pressing a hand is at `now`. */
export function urgencyOf(hand: Hand, now: Moment): Urgency {
  if (hand.dueAt === null) return 'waiting';
  const late = (now - hand.dueAt) / 1000;
  if (late > GRACE_S) return 'overdue';
  if (late >= 0) return 'now';
  return late > -SOON_S ? 'soon' : 'waiting';
}

/** One line of the hands list: a single hand, or several readings done on one walk along the bench. */
export interface HandLine<J> {
  hand: Hand;
  urgency: Urgency;
  jobs: J[];
}

const URGENCY_ORDER: Record<Urgency, number> = { overdue: 0, now: 1, soon: 2, waiting: 3 };

/** Kinds of hand that are the same act for every battery that wants it, done on one walk along the bench. */
const WALKS: readonly Hand['kind'][] = ['read', 'act'];
/** Hands due within this of each other are one walk, s. */
const ONE_WALK_S = 15 * 60;

/**
 * The hands list, most pressing first. The same act for several batteries at about the same time is one line, one walk.
 *
 * @param items settled jobs, each with whatever the screen needs beside it
 */
export function handLines<J extends { job: Job }>(items: readonly J[], now: Moment): HandLine<J>[] {
  const lines: HandLine<J>[] = [];
  const due = items
    .flatMap((item) => {
      const hand = nextHand(item.job, now);
      return hand ? [{ item, hand, urgency: urgencyOf(hand, now) }] : [];
    })
    .sort(
      (a, b) =>
        URGENCY_ORDER[a.urgency] - URGENCY_ORDER[b.urgency] ||
        Number(b.hand.kind === 'stop') - Number(a.hand.kind === 'stop') ||
        (a.hand.dueAt ?? Infinity) - (b.hand.dueAt ?? Infinity),
    );
  for (const { item, hand, urgency } of due) {
    const walk = lines.find(
      (l) =>
        WALKS.includes(hand.kind) &&
        l.hand.kind === hand.kind &&
        l.hand.title === hand.title &&
        l.urgency === urgency &&
        (urgency === 'overdue' || Math.abs((l.hand.dueAt ?? 0) - (hand.dueAt ?? 0)) <= ONE_WALK_S * 1000),
    );
    if (walk) walk.jobs.push(item);
    else lines.push({ hand, urgency, jobs: [item] });
  }
  return lines;
}
