import { prospects } from '../../src/core/dayplan/chance.ts';
import { improve, type Proposal, propose } from '../../src/core/dayplan/improve.ts';
import { usualOrder } from '../../src/core/dayplan/order.ts';
import {
  type Activity,
  CONNECT_MIN,
  type Hands,
  type Minute,
  OFF_MIN,
  type Planned,
  type PlanProblem,
  READ_EVERY_MIN,
  READ_MIN,
  type Run,
  type Span,
  type Way,
  type Work,
} from '../../src/core/dayplan/problem.ts';
import { type Random, seeded } from '../../src/core/simulation/random.ts';

/**
 * A shop that works by its day plan, minute by minute, each charge as long as it happens to be: people begin what the plan says
 * is due where hands, place and battery are ready; each hour the plan is made anew. It knows nothing of how chances are reckoned.
 */

/** A chance that was said of a promise, and whether it was kept in the end. */
export interface Said {
  chance: number;
  kept: boolean;
}

const REPLAN_MIN = 60;
const STEPS_FIRST = 300;
const STEPS_LATER = 25;
const DRAWS = 300;
const Z90 = 1.2816;

interface Going {
  index: number;
  way: Way;
  /** Current still to flow, of which the shop knows only what it expects. */
  left: Minute;
  expected: Minute;
  /** Its lead is on from then; readings are due each hour of current. */
  from: Minute;
  flowed: Minute;
  /** Taken off at the earliest: when the plan says. */
  off: Minute;
  /** Current is over, and somebody has yet to take it off. */
  over: Minute | null;
}

interface State {
  work: Work;
  /** Activities that are done, and when the last of them was. */
  done: number;
  end: Minute | null;
  going: Going | null;
  hands: { until: Minute } | null;
}

/** Works through a week. @returns what was said of each promise at each opening, and what came. */
export function runWeek(problem: PlanProblem, seed: number): Said[] {
  const random = seeded(seed);
  const states = problem.works.map((work): State => ({
    work,
    done: 0,
    end: null,
    going: null,
    hands: null,
  }));
  const busy = new Map<string, Minute>(problem.people.map((p) => [p.id, 0]));
  const said: { workId: string; chance: number }[] = [];
  let last: Proposal | null = null;
  let lastAt = 0;
  let plan: Planned[] = [];
  /** Activities of each work that were done when the plan was made. */
  const offsets = new Map<string, number>();
  const there = (id: string, at: Minute, minutes: Minute): boolean =>
    problem.people.some(
      (p) => p.id === id && p.there.some((s) => s.from <= at && at + minutes <= s.to),
    );
  const manned = (at: Minute): boolean =>
    problem.people.some((p) => p.there.some((s) => s.from <= at && at < s.to));
  const takes = (at: Minute, minutes: Minute, lead = false): boolean => {
    const who = problem.people
      .toSorted((a, b) => Number(a.lead) - Number(b.lead))
      .find((p) => (!lead || p.lead) && (busy.get(p.id) ?? 0) <= at && there(p.id, at, minutes));
    if (who) busy.set(who.id, at + minutes);
    return who !== undefined;
  };
  const atPost = (postId: string): boolean => states.some((s) => s.going?.way.postId === postId);
  const withTool = (tool: string): number =>
    states.filter(
      (s) =>
        s.going?.way.tool === tool ||
        (s.hands && (s.work.activities[s.done] as Hands).tool === tool),
    ).length;

  for (let now = 0; now < problem.horizon; now++) {
    const opens = manned(now) && !manned(now - 1);
    if (opens || (manned(now) && now % REPLAN_MIN === 0)) {
      const left = remaining(problem, states, now);
      const known: Proposal | null = last;
      const order: readonly string[] = known ? withAll(left, known.order) : usualOrder(left);
      let steps = known ? STEPS_LATER : STEPS_FIRST;
      last = improve(
        left,
        propose(left, order, known?.posts ?? new Map()),
        seeded(seed + now),
        () => (steps-- > 0 ? 1 : null),
      );
      lastAt = now;
      plan = last.plan.planned.toSorted((a, b) => a.from - b.from);
      if (opens)
        for (const [workId, { kept }] of prospects(left, last.plan, seeded(now), DRAWS)) {
          const promise = problem.works.find((w) => w.id === workId)?.promise;
          if (kept !== null && promise && promise.at > now) said.push({ workId, chance: kept });
        }
    }
    for (const state of states) goesOn(state, now);
    for (const planned of plan) if (planned.from + lastAt <= now) begins(planned, now);
  }
  const ready = new Map(
    states.map((s) => [s.work.id, s.done === s.work.activities.length ? s.end : null]),
  );
  return said.map(({ workId, chance }) => {
    const readyAt = ready.get(workId) ?? null;
    const promise = problem.works.find((w) => w.id === workId)?.promise;
    return {
      chance,
      kept: readyAt !== null && promise !== null && promise !== undefined && readyAt <= promise.at,
    };
  });

  function goesOn(state: State, now: Minute): void {
    if (state.hands && state.hands.until <= now) finish(state, now);
    const { going } = state;
    if (!going || now < going.from) return;
    const { watch } = going.way;
    const watched = watch === 'hourly' || watch === 'near';
    if (going.over === null) {
      if (watched && !manned(now + OFF_MIN)) return;
      going.left -= 1;
      going.flowed += 1;
      // Who reads is away from the rest for a moment; the reading itself is not missed.
      if (watched && going.flowed % READ_EVERY_MIN === 0) takes(now, READ_MIN);
      if (going.left > 0) return;
      going.over = now;
      // What ends by itself rests from then on, wherever its charger stands.
      if (watch === 'none') state.end = now;
    }
    if (now >= (watched ? going.over : Math.max(going.over, going.off)) && takes(now, OFF_MIN)) {
      const end = watch === 'none' ? (state.end ?? now) : now + OFF_MIN;
      finish(state, end);
    }
  }

  function finish(state: State, at: Minute): void {
    state.done += 1;
    state.end = at;
    state.going = null;
    state.hands = null;
  }

  function begins(planned: Planned, now: Minute): void {
    const state = states.find((s) => s.work.id === planned.workId);
    const index = indexOf(planned, state);
    const activity = state?.work.activities[index];
    if (!state || !activity || state.done !== index || state.going || state.hands) return;
    if (state.end !== null && now < state.end + activity.gap.least) return;
    if (activity.kind === 'hands') {
      if (activity.tool && withTool(activity.tool) >= problem.tools[activity.tool]) return;
      const minutes = Math.max(1, Math.round(activity.minutes * handsShare(random)));
      if (takes(now, minutes, activity.lead)) state.hands = { until: now + minutes };
      return;
    }
    const way = planned.run && wayOf(activity, planned);
    if (!way || (way.postId !== null && atPost(way.postId))) return;
    if (way.tool && withTool(way.tool) >= problem.tools[way.tool]) return;
    if (!takes(now, CONNECT_MIN)) return;
    state.going = {
      index,
      way,
      left: drawn(way, random),
      expected: way.minutes.middle,
      from: now + CONNECT_MIN,
      flowed: 0,
      off: (planned.run?.off?.from ?? 0) + lastAt,
      over: null,
    };
  }

  /** Which of the whole work's activities a plan of what is left means. */
  function indexOf(planned: Planned, state: State | undefined): number {
    return planned.index + (offsets.get(state?.work.id ?? '') ?? 0);
  }
  function wayOf(activity: Run, planned: Planned): Way | undefined {
    return activity.ways[planned.run?.way ?? 0];
  }
  /** What is left of the shop's work, counted from now. */
  function remaining(whole: PlanProblem, all: readonly State[], now: Minute): PlanProblem {
    offsets.clear();
    const later = (spans: readonly Span[]): Span[] =>
      spans.map((s) => ({ from: s.from - now, to: s.to - now })).filter((s) => s.to > 0);
    return {
      ...whole,
      horizon: whole.horizon - now,
      people: whole.people.map((p) => ({ ...p, there: later(p.there) })),
      works: all.flatMap((state): Work[] => {
        const { work, done, end, going, hands } = state;
        if (done === work.activities.length) return [];
        offsets.set(work.id, done);
        const promise = work.promise && { ...work.promise, at: work.promise.at - now };
        const rest = work.activities.slice(done);
        const first = rest[0] as Activity;
        const now0 = ((): Activity => {
          if (going) {
            const middle = Math.max(1, going.expected - going.flowed);
            const over = going.over !== null;
            const minutes = over
              ? { low: 1, middle: 1, high: 1 }
              : { low: 0.85 * middle, middle, high: 1.3 * middle };
            return {
              ...(first as Run),
              since: going.from - now,
              gap: { least: 0, most: null },
              ways: [{ ...going.way, minutes }],
            };
          }
          if (hands)
            return {
              ...(first as Hands),
              minutes: Math.max(1, hands.until - now),
              gap: { least: 0, most: null },
            };
          const least = end === null ? first.gap.least : Math.max(0, end + first.gap.least - now);
          const most =
            first.gap.most === null || end === null
              ? null
              : Math.max(least, end + first.gap.most - now);
          return { ...first, gap: { least, most } };
        })();
        return [{ ...work, promise, activities: [now0, ...rest.slice(1)] }];
      }),
    };
  }
}

const withAll = ({ works }: PlanProblem, order: readonly string[]): string[] => {
  const there = new Set(works.map((w) => w.id));
  return [
    ...order.filter((id) => there.has(id)),
    ...works.map((w) => w.id).filter((id) => !order.includes(id)),
  ];
};

/** How long a run takes: skewed to the long side, 1 in 10 below its low end and 1 in 10 above its high one. */
function drawn({ minutes: { low, middle, high } }: Way, random: Random): Minute {
  const z = random.normal() / Z90;
  const times = z < 0 ? (middle / low) ** z : (high / middle) ** z;
  return Math.max(1, Math.round(middle * times));
}

/** People are quicker or slower than usual: 1 in 10 takes half as long again. */
const handsShare = (random: Random): number => {
  const z = random.normal() / Z90;
  return z < 0 ? 1.25 ** z : 1.5 ** z;
};
