import {
  type Minute,
  type PlanProblem,
  type Span,
  TOOLS,
  type ToolKey,
  joined,
  mannedHours,
} from './problem.ts';

/** What only one battery, or one task, can have at a time. */
class Lane {
  readonly busy: Span[];
  constructor(busy: readonly Span[]) {
    this.busy = joined(busy);
  }

  /** The first minute from `from` on with so many free ones in a row. */
  freeFrom(from: Minute, minutes: Minute): Minute {
    let at = from;
    for (let i = this.#firstOver(from); i < this.busy.length; i++) {
      const span = this.busy[i] as Span;
      if (span.from >= at + minutes) break;
      at = span.to;
    }
    return at;
  }

  /** The first end of a span between two minutes that so many free minutes follow; null where there is none. */
  endsWithin(from: Minute, latest: Minute, minutes: Minute): Minute | null {
    for (let i = this.#firstOver(from - 1); i < this.busy.length; i++) {
      const { to } = this.busy[i] as Span;
      if (to > latest) return null;
      const next = this.busy[i + 1];
      if (!next || next.from >= to + minutes) return to;
    }
    return null;
  }

  /** Place of the first span that is not over by then. */
  #firstOver(at: Minute): number {
    let low = 0;
    for (let high = this.busy.length; low < high;) {
      const middle = (low + high) >> 1;
      if ((this.busy[middle] as Span).to <= at) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  /** The part of a span from its beginning on that nothing has taken yet; null where something has from the beginning. */
  freePart({ from, to }: Span): Span | null {
    const next = this.busy[this.#firstOver(from)];
    if (!next || next.from >= to) return { from, to };
    return next.from > from ? { from, to: next.from } : null;
  }

  take(span: Span): void {
    const i = this.busy.findIndex((b) => b.from > span.from);
    this.busy.splice(i < 0 ? this.busy.length : i, 0, span);
  }

  give(span: Span): void {
    this.busy.splice(this.busy.indexOf(span), 1);
  }
}

/** A sum over time is kept in steps of so many minutes, each at its most: never below what it is. */
const STEP_MIN = 5;

/** A sum over time that may not pass a limit. */
class Level {
  readonly #level: Float64Array;
  constructor(
    horizon: Minute,
    private readonly limit: number,
  ) {
    this.#level = new Float64Array(Math.ceil(horizon / STEP_MIN) + 1);
  }

  /** When the last of the span is over in which so much more would be too much; null where none is. */
  tooMuchUntil(span: Span, more: number): Minute | null {
    if (more <= 0) return null;
    const { first, after } = this.#steps(span);
    for (let i = after - 1; i >= first; i--)
      if ((this.#level[i] as number) + more > this.limit + 1e-9) return (i + 1) * STEP_MIN;
    return null;
  }

  add(span: Span, more: number): void {
    const { first, after } = this.#steps(span);
    for (let i = first; i < after; i++) this.#level[i] = (this.#level[i] as number) + more;
  }

  #steps({ from, to }: Span): { first: number; after: number } {
    return {
      first: Math.max(0, Math.floor(from / STEP_MIN)),
      after: Math.min(this.#level.length, Math.ceil(to / STEP_MIN)),
    };
  }
}

/** Something that is taken for a while, and how it is given back. */
export type Taken = () => void;

/** What is free when, while a plan is made. Whatever is taken can be given back. */
export class Timetable {
  readonly manned: readonly Span[];
  readonly #people: Map<string, Lane>;
  readonly #posts: Map<string, Lane>;
  readonly #tools: Record<ToolKey, Lane[]>;
  readonly #air: Level;
  readonly #mains: Level;

  constructor(private readonly problem: PlanProblem) {
    const { people, posts, horizon, tools } = problem;
    this.manned = mannedHours(people);
    this.#people = new Map(people.map((p) => [p.id, new Lane(apart(p.there, horizon))]));
    this.#posts = new Map(posts.map((p) => [p.id, new Lane(p.out)]));
    this.#tools = Object.fromEntries(
      TOOLS.map((key) => [key, Array.from({ length: tools[key] }, () => new Lane([]))]),
    ) as Record<ToolKey, Lane[]>;
    this.#air = new Level(horizon, problem.airM3h);
    this.#mains = new Level(horizon, problem.fuseA);
  }

  /** Who may do it and is free first, from `from` on; among several the one who has least to do. Null where nobody is. */
  whoIsFree(from: Minute, minutes: Minute, lead: boolean): { personId: string; at: Minute } | null {
    let best: { personId: string; at: Minute; load: number } | null = null;
    for (const person of this.problem.people) {
      if (lead && !person.lead) continue;
      const lane = this.#people.get(person.id) as Lane;
      const at = lane.freeFrom(from, minutes);
      if (at + minutes > this.problem.horizon) continue;
      const load = lane.busy.length + (person.lead && !lead ? 1000 : 0);
      if (!best || at < best.at || (at === best.at && load < best.load))
        best = { personId: person.id, at, load };
    }
    return best;
  }

  /** Who has something to do between two minutes and is free right after it: a task more, and no walk more. Null where nobody has. */
  whoIsThere(
    from: Minute,
    latest: Minute,
    minutes: Minute,
  ): { personId: string; at: Minute } | null {
    let best: { personId: string; at: Minute } | null = null;
    for (const { id } of this.problem.people) {
      const lane = this.#people.get(id) as Lane;
      const at = lane.endsWithin(from, Math.min(latest, (best?.at ?? Infinity) - 1), minutes);
      if (at !== null) best = { personId: id, at };
    }
    return best;
  }

  takePerson(personId: string, span: Span): Taken {
    return taken(this.#people.get(personId) as Lane, span);
  }

  postFreeFrom(postId: string, from: Minute, minutes: Minute): Minute {
    return (this.#posts.get(postId) as Lane).freeFrom(from, minutes);
  }

  /** Takes a place; of one that is out of order while a battery still runs on it, what is left. */
  takePost(postId: string, span: Span): Taken {
    const lane = this.#posts.get(postId) as Lane;
    const part = lane.freePart(span);
    return part ? taken(lane, part) : () => undefined;
  }

  /** When one of a kind of tool is free, and which. Null where the shop has none. */
  toolFreeFrom(key: ToolKey, from: Minute, minutes: Minute): { lane: number; at: Minute } | null {
    let best: { lane: number; at: Minute } | null = null;
    for (const [lane, tool] of this.#tools[key].entries()) {
      const at = tool.freeFrom(from, minutes);
      if (!best || at < best.at) best = { lane, at };
    }
    return best;
  }

  takeTool(key: ToolKey, lane: number, span: Span): Taken {
    return taken(this.#tools[key][lane] as Lane, span);
  }

  /** When air and mains would do again, and which of them did not; null where both do. */
  tooMuch(
    span: Span,
    airM3h: number,
    mainsA: number,
  ): { until: Minute; what: 'no-air' | 'no-fuse' } | null {
    const air = this.#air.tooMuchUntil(span, airM3h);
    if (air !== null) return { until: air, what: 'no-air' };
    const mains = this.#mains.tooMuchUntil(span, mainsA);
    return mains === null ? null : { until: mains, what: 'no-fuse' };
  }

  takeAirAndMains(span: Span, airM3h: number, mainsA: number): Taken {
    this.#air.add(span, airM3h);
    this.#mains.add(span, mainsA);
    return () => {
      this.#air.add(span, -airM3h);
      this.#mains.add(span, -mainsA);
    };
  }
}

/** Their absence, as spans. */
function apart(there: readonly Span[], horizon: Minute): Span[] {
  const out: Span[] = [];
  let at = -Infinity;
  for (const { from, to } of joined(there)) {
    if (from > at) out.push({ from: at, to: from });
    at = to;
  }
  out.push({ from: at, to: Math.max(horizon, at) + 1e9 });
  return out;
}

function taken(lane: Lane, span: Span): Taken {
  const kept = { ...span };
  lane.take(kept);
  return () => lane.give(kept);
}
