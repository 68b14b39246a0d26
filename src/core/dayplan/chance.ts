import type { Band } from '../rehearsal/outlook.ts';
import type { Random } from '../simulation/random.ts';
import {
  activityKey,
  CONNECT_MIN,
  type DayPlan,
  mannedHours,
  type Minute,
  OFF_MIN,
  type Planned,
  type PlanPerson,
  type PlanProblem,
  type Span,
  type Way,
} from './problem.ts';

/** What the draws say of one work. */
export interface Prospect {
  /** Share of draws in which its promise is kept; null without a promise. */
  kept: number | null;
  /** When it is ready: 1 in 10, in the middle, 9 in 10, minutes; null where the shop cannot do it within the plan. */
  ready: Band | null;
  /** When it is ready in each draw, in the order of the draws; null as above. */
  draws: readonly Minute[] | null;
}

/** So many draws say a chance to within 2 in 100. */
const DRAWS = 500;

/** A normal deviate at 9 in 10. */
const Z90 = 1.2816;

/**
 * How long a run takes this time: half of a normal curve on each side of the middle, so that 1 in 10 is below `low` and 1 in 10
 * above `high`.
 */
function drawnMinutes({ low, middle, high }: Band, random: Random): Minute {
  const z = random.normal();
  const drawn = middle + (z / Z90) * (z < 0 ? middle - low : high - middle);
  return Math.max(1, Math.round(Math.max(drawn, 0.5 * low)));
}

/** People are quicker or slower than usual by this, share: 1 in 10 takes half as long again. Bench experience. */
const HANDS: Band = { low: 0.8, middle: 1, high: 1.5 };

/**
 * Carries a plan out many times, each charge as long as chance makes it: everybody does what the plan says, in its order, as soon
 * as they can and not before it says. What comes late pushes what follows at the same place, in the same hands and of the same
 * battery; nothing overtakes.
 */
export function prospects(
  problem: PlanProblem,
  plan: DayPlan,
  random: Random,
  draws: number = DRAWS,
): Map<string, Prospect> {
  const days = new Days(problem);
  const inOrder = plan.planned.toSorted((a, b) => a.from - b.from || a.index - b.index);
  const beyond = new Map(
    plan.left.flatMap(({ workId, why }): [string, Minute][] =>
      why === 'beyond' ? [[workId, plan.ready.get(workId) ?? problem.horizon]] : [],
    ),
  );
  const ready = new Map<string, number[]>(problem.works.map((w) => [w.id, []]));
  for (let n = 0; n < draws; n++) {
    const ends = carryOut(problem, inOrder, days, random);
    for (const [workId, times] of ready)
      if (plan.ready.has(workId)) times.push(beyond.get(workId) ?? ends.get(workId) ?? 0);
  }
  return new Map(
    problem.works.flatMap((work): [string, Prospect][] => {
      const draws = ready.get(work.id) ?? [];
      const times = draws.toSorted((a, b) => a - b);
      if (times.length === 0)
        return work.promise ? [[work.id, { kept: 0, ready: null, draws: null }]] : [];
      const quantileAt = (share: number): number =>
        times[Math.floor(share * (times.length - 1))] as number;
      const { promise } = work;
      const kept = promise && times.filter((t) => t <= promise.at).length / times.length;
      const band = { low: quantileAt(0.1), middle: quantileAt(0.5), high: quantileAt(0.9) };
      return [[work.id, { kept, ready: band, draws }]];
    }),
  );
}

function carryOut(
  problem: PlanProblem,
  inOrder: readonly Planned[],
  days: Days,
  random: Random,
): Map<string, Minute> {
  const works = new Map(problem.works.map((w) => [w.id, w]));
  const end = new Map<string, Minute>();
  const freeFrom = new Map<string, Minute>();
  const after = (key: string): Minute => freeFrom.get(key) ?? -Infinity;
  for (const planned of inOrder) {
    const work = works.get(planned.workId);
    const activity = work?.activities[planned.index];
    if (!work || !activity) continue;
    const before = end.get(work.id);
    const earliest = Math.max(
      planned.from,
      (before ?? -Infinity) + (before === undefined ? 0 : activity.gap.least),
    );
    if (activity.kind === 'hands') {
      const minutes = Math.max(1, Math.round(activity.minutes * drawnShare(HANDS, random)));
      const from = days.personFrom(
        planned.personId ?? '',
        Math.max(earliest, after(`tool ${activity.tool}`)),
        minutes,
      );
      if (activity.tool) freeFrom.set(`tool ${activity.tool}`, from + minutes);
      end.set(work.id, from + minutes);
      continue;
    }
    const way = planned.run && activity.ways[planned.run.way];
    if (!way || !planned.run) continue;
    const place = way.postId === null ? `tool ${way.tool}` : `post ${way.postId}`;
    const goesOn = activity.since !== undefined;
    const minutes = drawnMinutes(way.minutes, random);
    const connected = goesOn
      ? 0
      : days.mannedFrom(Math.max(earliest, after(place)), CONNECT_MIN) + CONNECT_MIN;
    const over = days.runsUntil(connected, minutes, way);
    const off = days.mannedFrom(Math.max(over, planned.run.off?.from ?? over), OFF_MIN) + OFF_MIN;
    freeFrom.set(place, off);
    // A charge that holds by itself is taken off when the plan says, or when it is found done after that.
    end.set(
      work.id,
      way.watch === 'none'
        ? over
        : way.watch === 'off'
          ? off
          : days.mannedFrom(over, OFF_MIN) + OFF_MIN,
    );
  }
  return end;
}

const drawnShare = ({ low, middle, high }: Band, random: Random): number => {
  const z = random.normal();
  return Math.max(0.5, middle + (z / Z90) * (z < 0 ? middle - low : high - middle));
};

/** When people are there, looked up quickly. */
class Days {
  readonly #manned: readonly Span[];
  readonly #people: ReadonlyMap<string, readonly Span[]>;

  constructor({ people }: PlanProblem) {
    this.#manned = mannedHours(people);
    this.#people = new Map(people.map((p: PlanPerson) => [p.id, p.there]));
  }

  personFrom(personId: string, from: Minute, minutes: Minute): Minute {
    return roomFrom(this.#people.get(personId) ?? this.#manned, from, minutes);
  }

  mannedFrom(from: Minute, minutes: Minute): Minute {
    return roomFrom(this.#manned, from, minutes);
  }

  /** When a run is over that begins here: one that somebody must be near stands still while the shop is closed. */
  runsUntil(from: Minute, minutes: Minute, { watch }: Way): Minute {
    if (watch === 'off' || watch === 'none') return from + minutes;
    let left = minutes;
    let end = from;
    for (const span of this.#manned) {
      if (span.to <= from) continue;
      const begins = Math.max(span.from, from);
      const goes = Math.min(left, span.to - OFF_MIN - begins);
      if (goes <= 0) continue;
      left -= goes;
      end = begins + goes;
      if (left <= 0) return end;
    }
    return end + left;
  }
}

/** The first minute from `from` on with so many minutes to the end of a span. */
function roomFrom(spans: readonly Span[], from: Minute, minutes: Minute): Minute {
  for (const span of spans) {
    const begins = Math.max(span.from, from);
    if (begins + minutes <= span.to) return begins;
  }
  return Math.max(from, spans.at(-1)?.to ?? from);
}

/** What a plan says of each activity, by its key. */
export const plannedByKey = (plan: DayPlan): Map<string, Planned> =>
  new Map(plan.planned.map((p) => [activityKey(p), p]));
