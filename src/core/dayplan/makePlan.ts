import {
  CONNECT_MIN,
  type DayPlan,
  type Gap,
  type Hands,
  type LeftWhy,
  type Minute,
  OFF_MIN,
  type Planned,
  type PlannedRun,
  type PlanProblem,
  type Run,
  type Span,
  type Task,
  type Way,
  type Work,
} from './problem.ts';
import { type Taken, Timetable } from './timetable.ts';
import { flows, watch } from './watching.ts';

/** A plan allows a charge this much of the way from its middle to 9 in 10: slack where the night is long costs nothing. */
const ALLOWED = 0.4;

/** What a plan allows for a run, whole minutes. */
export const allowed = ({ minutes }: Way): Minute =>
  Math.max(1, Math.ceil(minutes.middle + ALLOWED * (minutes.high - minutes.middle)));

/** Nothing is begun in the last minutes that a plan reaches, min. */
const LAST_MIN = 45;
/** A start is tried at so many minutes of a way before it is given up: each time the first that speaks against it is gone. */
const TRIES = 400;
/** So often what comes before is put off, that something may not wait too long after it. */
const PUT_OFF = 40;
/** What a way that is read by the hour must gain to be taken before one that holds by itself, for each hour it runs, min. */
const READING_COSTS_MIN = 4;

/** What a work takes from one of its activities on, when nothing stands in its way and everybody is there, min. */
export const minutesOf = ({ activities }: Work, from = 0): Minute =>
  activities
    .slice(from)
    .reduce(
      (sum, a) =>
        sum +
        a.gap.least +
        (a.kind === 'hands' ? a.minutes : Math.min(NO_WAY, ...a.ways.map(allowed))),
      0,
    );

/** A run for which the shop has nothing is taken to be a day, min. */
const NO_WAY = 1440;

interface Placed {
  planned: Planned;
  taken: Taken[];
}
type Try = Placed | { why: LeftWhy };
const isPlaced = (t: Try): t is Placed => 'planned' in t;

/**
 * Makes a plan by taking the works in turn, each as early as what is left of the shop allows.
 *
 * @param order ids of the works, first served first; those not in it come last, as they stand
 * @param posts the post a work's charges should run at, by its id, where one is wanted
 */
export function makePlan(
  problem: PlanProblem,
  order: readonly string[],
  posts: ReadonlyMap<string, string> = new Map(),
): DayPlan {
  const table = new Timetable(problem);
  const rank = new Map(order.map((id, i) => [id, i]));
  const works = problem.works.toSorted(
    (a, b) =>
      Number(b.rush ?? false) - Number(a.rush ?? false) ||
      (rank.get(a.id) ?? Infinity) - (rank.get(b.id) ?? Infinity) ||
      0,
  );
  const planned: Planned[] = [];
  const ready = new Map<string, Minute>();
  const left: { workId: string; index: number; why: LeftWhy }[] = [];
  // What runs already keeps its post, whoever is first.
  const held = new Map<string, Placed>();
  for (const work of works) {
    const first = work.activities[0];
    if (first?.kind === 'run' && first.since !== undefined) {
      const placed = goesOn(problem, table, work, first);
      if (placed) held.set(work.id, placed);
    }
  }
  for (const work of works) {
    const { done, stuck } = placeWork(problem, table, work, held.get(work.id), posts.get(work.id));
    planned.push(...done);
    const end = Math.max(0, ...done.map((p) => p.to));
    if (stuck) left.push({ workId: work.id, ...stuck });
    if (!stuck) ready.set(work.id, end);
    else if (stuck.why === 'beyond') ready.set(work.id, end + minutesOf(work, stuck.index));
  }
  return { planned, ready, left };
}

function placeWork(
  problem: PlanProblem,
  table: Timetable,
  work: Work,
  held: Placed | undefined,
  wanted: string | undefined,
): { done: Planned[]; stuck: { index: number; why: LeftWhy } | null } {
  const notBefore = work.activities.map(() => 0);
  for (let round = 0; ; round++) {
    const placed: Placed[] = held ? [held] : [];
    let again = false;
    for (let index = placed.length; index < work.activities.length; index++) {
      const activity = work.activities[index] as Hands | Run;
      const before = placed.at(-1)?.planned;
      const end = before?.to ?? 0;
      const from = Math.max(end + activity.gap.least, notBefore[index] as number, 0);
      // A hold of a week is not planned to its end; what comes after it is not anybody's fault.
      if (from + LAST_MIN >= (table.manned.at(-1)?.to ?? Infinity))
        return { done: placed.map((p) => p.planned), stuck: { index, why: 'beyond' } };
      const tried =
        activity.kind === 'hands'
          ? placeHands(problem, table, work, index, activity, from)
          : placeRun(problem, table, work, index, activity, from, wanted);
      const over = isPlaced(tried) && before ? tooLong(tried.planned, end, activity.gap) : 0;
      if (isPlaced(tried) && over <= 0) {
        placed.push(tried);
        continue;
      }
      if (isPlaced(tried)) giveBack(tried.taken);
      const movable = before && (index - 1 > 0 || !held);
      if (isPlaced(tried) && movable && round < PUT_OFF) {
        // What comes before is put off by what this would wait too long.
        notBefore[index - 1] = before.from + over;
        for (const p of placed.slice(held ? 1 : 0).toReversed()) giveBack(p.taken);
        again = true;
        break;
      }
      const why = isPlaced(tried) ? 'cannot-wait' : tried.why;
      return { done: placed.map((p) => p.planned), stuck: { index, why } };
    }
    if (!again) return { done: placed.map((p) => p.planned), stuck: null };
  }
}

const tooLong = ({ from }: Planned, end: Minute, { most }: Gap): Minute =>
  most === null ? 0 : from - (end + most);

function placeHands(
  problem: PlanProblem,
  table: Timetable,
  { id }: Work,
  index: number,
  { minutes, lead, tool }: Hands,
  from: Minute,
): Try {
  let at = from;
  for (let tries = 0; tries < TRIES; tries++) {
    const who = table.whoIsFree(at, minutes, lead);
    if (!who) return { why: 'nobody' };
    const free = tool ? table.toolFreeFrom(tool, who.at, minutes) : null;
    if (tool && !free) return { why: 'no-post' };
    if (free && free.at > who.at) {
      at = free.at;
      continue;
    }
    const span = { from: who.at, to: who.at + minutes };
    const taken = [table.takePerson(who.personId, span)];
    if (tool && free) taken.push(table.takeTool(tool, free.lane, span));
    return {
      planned: { workId: id, index, ...span, personId: who.personId, run: null },
      taken,
    };
  }
  return { why: at >= problem.horizon ? 'too-long' : 'nobody' };
}

/** A run as early as one of its ways allows: the one that is over first, readings counted as what they cost. */
function placeRun(
  problem: PlanProblem,
  table: Timetable,
  work: Work,
  index: number,
  run: Run,
  from: Minute,
  wanted: string | undefined,
): Try {
  const { pinned, forbidden = [] } = work;
  const begin = Math.max(from, pinned?.notBefore ?? 0);
  let best: { placed: Placed; cost: number } | null = null;
  let why: LeftWhy = 'no-post';
  const at = pinned?.postId ?? wanted;
  const may = [...run.ways.entries()].filter(
    ([, { postId }]) => postId === null || !forbidden.includes(postId),
  );
  const there = may.filter(([, { postId }]) => postId === at);
  // A pin is kept; a wish is taken where it can be.
  const ways = pinned?.postId !== undefined || there.length > 0 ? there : may;
  // The soonest each could be over at best: what cannot be better than what was found is not tried.
  const soonest = ways
    .map(([number, way]) => ({ number, way, cost: soonestCost(table, way, begin) }))
    .toSorted((a, b) => a.cost - b.cost);
  for (const { number, way, cost: least } of soonest) {
    if (best && least >= best.cost) break;
    const tried = placeWay(problem, table, work.id, index, number, way, begin);
    if (!isPlaced(tried)) {
      why = tried.why;
      continue;
    }
    giveBack(tried.taken);
    const cost = tried.planned.to + readingsCost(way);
    if (!best || cost < best.cost - 1e-9) best = { placed: tried, cost };
  }
  if (!best) return { why };
  const { way } = best.placed.planned.run as PlannedRun;
  // Taken once more, now for good.
  return placeWay(problem, table, work.id, index, way, run.ways[way] as Way, begin);
}

const readingsCost = (way: Way): number =>
  way.watch === 'hourly' ? (READING_COSTS_MIN * allowed(way)) / 60 : 0;

function soonestCost(table: Timetable, way: Way, from: Minute): number {
  const minutes = CONNECT_MIN + allowed(way);
  const begins = way.postId === null ? from : table.postFreeFrom(way.postId, from, minutes);
  return begins + minutes + readingsCost(way);
}

function placeWay(
  problem: PlanProblem,
  table: Timetable,
  workId: string,
  index: number,
  number: number,
  way: Way,
  from: Minute,
): Try {
  const minutes = allowed(way);
  let at = from;
  let why: LeftWhy | null = null;
  for (let tries = 0; tries < TRIES && at < problem.horizon; tries++) {
    const who = table.whoIsFree(at, CONNECT_MIN, false);
    // What put it off so far is why nobody is there any more.
    if (!who) return { why: why ?? 'nobody' };
    const connect: Task = { personId: who.personId, from: who.at, to: who.at + CONNECT_MIN };
    const on = flows(table.manned, way, connect.to, minutes);
    if ('notBefore' in on) {
      if (on.notBefore === null) return { why: 'too-long' };
      at = on.notBefore;
      continue;
    }
    const end = (on.spans.at(-1) as Span).to;
    // Things first, for they are quickly asked; people last.
    const bare = free(table, way, { from: connect.from, to: end + OFF_MIN });
    if (bare === null) return { why: 'no-post' };
    if (bare > connect.from) {
      at = bare;
      why = 'no-post';
      continue;
    }
    const spoilt = tooMuch(table, way, on.spans);
    if (spoilt) {
      at = Math.max(at + 1, spoilt.until - CONNECT_MIN);
      why = spoilt.what;
      continue;
    }
    const taken: Taken[] = [table.takePerson(who.personId, connect)];
    const watched = watch(table, way, on.spans, taken);
    const until = watched && Math.max(watched.off.to, end);
    const whole = { from: connect.from, to: until ?? 0 };
    const next = until === null ? connect.from + NEXT_TRY_MIN : free(table, way, whole);
    if (!watched || next === null || next > whole.from || whole.to > problem.horizon) {
      giveBack(taken);
      if (whole.to > problem.horizon) return { why: 'too-long' };
      at = Math.max(next ?? problem.horizon, at + 1);
      why = watched ? 'no-post' : 'nobody';
      continue;
    }
    if (way.postId !== null) taken.push(table.takePost(way.postId, whole));
    const tool = way.tool && table.toolFreeFrom(way.tool, whole.from, whole.to - whole.from);
    if (way.tool && tool) taken.push(table.takeTool(way.tool, tool.lane, whole));
    for (const span of on.spans) taken.push(table.takeAirAndMains(span, way.airM3h, way.mainsA));
    return {
      planned: {
        workId,
        index,
        from: whole.from,
        // What ends by itself may rest from then on; what is taken off rests from then.
        to: way.watch === 'none' ? end : watched.off.to,
        personId: null,
        run: { way: number, on: on.spans, connect, ...watched },
      },
      taken,
    };
  }
  return { why: why ?? 'too-long' };
}

/** Where nobody could watch it, it is tried again so much later, min. */
const NEXT_TRY_MIN = 5;

function giveBack(taken: readonly Taken[]): void {
  for (const back of taken.toReversed()) back();
}

/** When its post and its tool are free for so long, from the span's beginning on; null where there is no such tool. */
function free(table: Timetable, { postId, tool }: Way, { from, to }: Span): Minute | null {
  const post = postId === null ? from : table.postFreeFrom(postId, from, to - from);
  if (!tool) return post;
  const at = table.toolFreeFrom(tool, from, to - from)?.at;
  return at === undefined ? null : Math.max(post, at);
}

function tooMuch(
  table: Timetable,
  { airM3h, mainsA }: Way,
  spans: readonly Span[],
): { until: Minute; what: LeftWhy } | null {
  for (const span of spans) {
    const spoilt = table.tooMuch(span, airM3h, mainsA);
    if (spoilt) return spoilt;
  }
  return null;
}

/** A run that goes on where it is. */
function goesOn(problem: PlanProblem, table: Timetable, { id }: Work, run: Run): Placed | null {
  const way = run.ways[0];
  if (!way) return null;
  const minutes = allowed(way);
  const taken: Taken[] = [];
  const spans = goesOnFrom(table, way, minutes);
  if (!spans) return null;
  const watched = watch(table, way, spans, taken);
  if (!watched) giveBack(taken.splice(0));
  const end = (spans.at(-1) as Span).to;
  const { readings, off } = watched ?? { readings: [], off: null };
  const until = Math.min(off?.to ?? end, problem.horizon);
  const whole = { from: 0, to: Math.max(until, 1) };
  if (way.postId !== null) taken.push(table.takePost(way.postId, whole));
  for (const span of spans) taken.push(table.takeAirAndMains(span, way.airM3h, way.mainsA));
  return {
    planned: {
      workId: id,
      index: 0,
      from: run.since ?? 0,
      to: way.watch === 'none' ? end : until,
      personId: null,
      run: { way: 0, on: spans, connect: null, readings, off },
    },
    taken,
  };
}

/**
 * When a run under way has its current: from now on; or, where somebody must watch it and nobody is there, from when somebody is,
 * and air and mains allow it.
 */
function goesOnFrom(table: Timetable, way: Way, minutes: Minute): Span[] | null {
  let from: Minute | null = 0;
  for (let tries = 0; from !== null && tries < TRIES; tries++) {
    const on = flows(table.manned, way, from, minutes);
    if ('notBefore' in on) {
      from = on.notBefore;
      continue;
    }
    // What flows now is not switched off for what the sum says.
    const spoilt: { until: Minute } | null = from === 0 ? null : tooMuch(table, way, on.spans);
    if (!spoilt) return on.spans;
    from = spoilt.until;
  }
  return null;
}
