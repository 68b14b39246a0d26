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
  type PlanProblem,
  type Span,
  TOOLS,
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

/** Half of a normal curve on each side of the middle, so that 1 in 10 is below `low` and 1 in 10 above `high`. */
const drawnFrom = ({ low, middle, high }: Band, z: number): number =>
  middle + (z / Z90) * (z < 0 ? middle - low : high - middle);

/** People are quicker or slower than usual by this, share: 1 in 10 takes half as long again. Bench experience. */
const HANDS: Band = { low: 0.8, middle: 1, high: 1.5 };

/**
 * Carries a plan out many times, each charge as long as chance makes it. What comes late pushes what follows of the same battery;
 * what is ready sooner goes on sooner by as much; and at a place or a tool the next that is ready goes before one that is late,
 * as it does when the plan is made anew. Hands are taken to be there when somebody is who may.
 */
export function prospects(
  problem: PlanProblem,
  plan: DayPlan,
  random: Random,
  draws: number = DRAWS,
): Map<string, Prospect> {
  const shop = new CarriedOut(problem, plan);
  const left = new Map(plan.left.map((l) => [l.workId, l.why]));
  const ready = problem.works.map((): Minute[] => []);
  for (let n = 0; n < draws; n++) {
    const ends = shop.once(random);
    for (const [i, work] of problem.works.entries()) {
      const said = plan.ready.get(work.id);
      if (said === undefined) continue;
      ready[i]?.push(left.get(work.id) === 'beyond' ? said : (ends[i] as Minute));
    }
  }
  return new Map(
    problem.works.flatMap((work, i): [string, Prospect][] => {
      const draws = ready[i] as Minute[];
      const times = draws.toSorted((a, b) => a - b);
      if (times.length === 0 || work.hopeless)
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

/** An activity as it is planned, ready to be carried out many times. */
interface Step {
  /** Which work, by its place in the shop, and which draw is its own. */
  work: number;
  draw: number;
  from: Minute;
  to: Minute;
  gap: Minute;
  lead: boolean;
  /** Places or tools it may be at, one of them; null where it needs none. */
  lanes: Lane[] | null;
  /** Of hands. */
  minutes: Minute;
  run: { way: Way; goesOn: boolean; off: Span | null } | null;
}

/** A place or one of a kind of tool: when it is in use, and by how much sooner than planned it was free. */
interface Lane {
  uses: Span[];
  gained: Minute;
}

/** A plan that is carried out again and again. */
class CarriedOut {
  readonly #days: Days;
  readonly #steps: Step[] = [];
  readonly #lanes: Lane[] = [];
  readonly #ends: Minute[];
  readonly #gained: Minute[];
  readonly #z: Float64Array;

  constructor(problem: PlanProblem, plan: DayPlan) {
    this.#days = new Days(problem);
    const lane = (): Lane => {
      const made = { uses: [], gained: 0 };
      this.#lanes.push(made);
      return made;
    };
    const lanesOf = new Map<string, Lane[]>(
      TOOLS.map((key) => [key, Array.from({ length: Math.max(1, problem.tools[key]) }, lane)]),
    );
    for (const { id } of problem.posts) lanesOf.set(id, [lane()]);
    const indexOf = new Map(problem.works.map((w, i) => [w.id, i]));
    // Draws go by the works, not by the plan: two plans of the same works meet the same chances.
    const drawsBefore: number[] = [];
    let count = 0;
    for (const { activities } of problem.works) {
      drawsBefore.push(count);
      count += activities.length;
    }
    this.#z = new Float64Array(count);
    this.#ends = problem.works.map(() => 0);
    this.#gained = problem.works.map(() => 0);
    for (const planned of plan.planned.toSorted((a, b) => a.from - b.from || a.index - b.index)) {
      const work = indexOf.get(planned.workId);
      const activity =
        work === undefined ? undefined : problem.works[work]?.activities[planned.index];
      if (work === undefined || !activity) continue;
      const way = activity.kind === 'run' ? activity.ways[planned.run?.way ?? 0] : undefined;
      if (activity.kind === 'run' && !way) continue;
      const place = activity.kind === 'hands' ? activity.tool : (way?.postId ?? way?.tool ?? null);
      this.#steps.push({
        work,
        draw: (drawsBefore[work] as number) + planned.index,
        from: planned.from,
        to: planned.to,
        gap: planned.index === 0 ? -Infinity : activity.gap.least,
        lead: activity.kind === 'hands' && activity.lead,
        lanes: place === null ? null : (lanesOf.get(place) ?? null),
        minutes: activity.kind === 'hands' ? activity.minutes : 0,
        run: way
          ? {
              way,
              goesOn: activity.kind === 'run' && activity.since !== undefined,
              off: planned.run?.off ?? null,
            }
          : null,
      });
    }
  }

  /** When each work is done this time, by its place in the shop. */
  once(random: Random): readonly Minute[] {
    this.#ends.fill(0);
    this.#gained.fill(0);
    for (const lane of this.#lanes) {
      lane.uses = [];
      lane.gained = 0;
    }
    for (let i = 0; i < this.#z.length; i++) this.#z[i] = random.normal();
    for (const step of this.#steps) {
      const sooner = Math.max(
        this.#gained[step.work] as Minute,
        step.run && step.lanes ? (step.lanes[0] as Lane).gained : 0,
      );
      const from = Math.max((this.#ends[step.work] as Minute) + step.gap, step.from - sooner);
      const span = step.lanes
        ? take(step.lanes, from, (at) => this.#use(step, at))
        : this.#use(step, from);
      const end = step.run?.way.watch === 'none' ? span.over : span.to;
      this.#ends[step.work] = end;
      this.#gained[step.work] = Math.max(0, step.to - end);
      if (step.run && step.lanes)
        (step.lanes[0] as Lane).gained = Math.max(0, (step.run.off?.to ?? step.to) - span.to);
    }
    return this.#ends;
  }

  /** When it is done if it may begin then; `over` is when its current ends. */
  #use({ draw, lead, minutes, run, from: planned }: Step, from: Minute): Span & { over: Minute } {
    const z = this.#z[draw] as number;
    if (!run) {
      const takes = Math.max(1, Math.round(minutes * Math.max(0.5, drawnFrom(HANDS, z))));
      const at = this.#days.handsFrom(lead, from, takes);
      return { from: at, to: at + takes, over: at + takes };
    }
    const { way, goesOn, off } = run;
    const runs = Math.max(
      1,
      Math.round(Math.max(drawnFrom(way.minutes, z), 0.5 * way.minutes.low)),
    );
    const connect = goesOn ? 0 : this.#days.mannedFrom(from, CONNECT_MIN);
    const begins = goesOn ? 0 : connect + CONNECT_MIN;
    const over = this.#days.runsUntil(begins, runs, way);
    const sooner = Math.max(0, planned + CONNECT_MIN - begins);
    // One that holds by itself is taken off when the plan says, or when it is found done after that; of any other somebody knows.
    const comes = way.watch === 'off' ? Math.max(over, (off?.from ?? over) - sooner) : over;
    return { from: connect, to: this.#days.mannedFrom(comes, OFF_MIN) + OFF_MIN, over };
  }
}

/**
 * Takes one of several lanes for what fits in first. Who is late waits for nobody's turn and holds nobody up: the next one that
 * is ready goes first, as it would when the plan is made anew.
 *
 * @param spanFrom when it would be in use if it is free from a minute on
 */
function take<S extends Span>(
  lanes: readonly Lane[],
  from: Minute,
  spanFrom: (from: Minute) => S,
): S {
  let best: S | null = null;
  let at = lanes[0] as Lane;
  for (const lane of lanes) {
    let span = spanFrom(from);
    for (const other of lane.uses) {
      if (other.to <= span.from) continue;
      if (other.from >= span.to) break;
      span = spanFrom(other.to);
    }
    if (best && span.to >= best.to) continue;
    best = span;
    at = lane;
  }
  const taken = best as S;
  let i = at.uses.length;
  while (i > 0 && (at.uses[i - 1] as Span).from > taken.from) i -= 1;
  at.uses.splice(i, 0, taken);
  return taken;
}

/** When people are there, looked up quickly. */
class Days {
  readonly #manned: readonly Span[];
  readonly #leads: readonly Span[];

  constructor({ people }: PlanProblem) {
    this.#manned = mannedHours(people);
    this.#leads = mannedHours(people.filter((p) => p.lead));
  }

  /** When somebody who may is there for so long. */
  handsFrom(lead: boolean, from: Minute, minutes: Minute): Minute {
    return roomFrom(lead ? this.#leads : this.#manned, from, minutes);
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
