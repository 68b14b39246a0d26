import { GRACE_S, type Hand, SOON_S, type Urgency } from '../job/hand.ts';
import type { Job } from '../job/job.ts';
import type { Moment } from '../quantities/moment.ts';
import { stepById } from '../plan/procedure.ts';
import { moduleOf } from '../steps/registry.ts';
import { fillText } from '../plan/words.ts';

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
  if (state.paused)
    return {
      stepId: step.id,
      title: `Paused: ${state.paused.reason}`,
      act: 'Resume',
      dueAt: null,
      kind: 'paused',
    };

  const wanted = moduleOf(step).hand?.(job, step, run, now);
  if (wanted) return wanted;
  return {
    stepId: step.id,
    title: fillText(step.title, plan),
    act: step.act,
    dueAt: run.startedAt,
    kind: 'act',
  };
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
 * @param handOf where what each job wants is known already
 */
export function handLines<J extends { job: Job }>(
  items: readonly J[],
  now: Moment,
  handOf: (job: Job, now: Moment) => Hand | null = nextHand,
): HandLine<J>[] {
  const lines: HandLine<J>[] = [];
  const due = items
    .flatMap((item) => {
      const hand = handOf(item.job, now);
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
        (urgency === 'overdue' ||
          Math.abs((l.hand.dueAt ?? 0) - (hand.dueAt ?? 0)) <= ONE_WALK_S * 1000),
    );
    if (walk) walk.jobs.push(item);
    else lines.push({ hand, urgency, jobs: [item] });
  }
  return lines;
}
