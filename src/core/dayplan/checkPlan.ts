import {
  type Activity,
  CONNECT_MIN,
  type DayPlan,
  type Minute,
  OFF_MIN,
  type Planned,
  type PlanProblem,
  READ_EARLY_MIN,
  READ_EVERY_MIN,
  READ_LATE_MIN,
  READ_MIN,
  type Span,
  type Task,
  TOOLS,
  type Way,
  type Work,
} from './problem.ts';

/**
 * What is wrong with a plan, in sentences for whoever mends the planner; empty where it keeps every rule. It goes over the plan
 * minute by minute and knows nothing of how plans are made, so that a fault of the planner cannot hide in it.
 */
export function checkPlan(problem: PlanProblem, plan: DayPlan): string[] {
  const faults: string[] = [];
  const tasks: (Task & { what: string; lead: boolean })[] = [];
  const atPost = new Map<string, (Span & { what: string })[]>();
  const atTool = new Map<string, (Span & { what: string })[]>();
  const air: (Span & { much: number; flowsNow: boolean })[] = [];
  const mains: typeof air = [];
  const note = (
    map: Map<string, (Span & { what: string })[]>,
    key: string,
    span: Span,
    what: string,
  ) => map.set(key, [...(map.get(key) ?? []), { from: span.from, to: span.to, what }]);

  const stuck = new Map(plan.left.map((l) => [l.workId, l.index]));
  for (const work of problem.works) {
    const itsPlan = plan.planned
      .filter((p) => p.workId === work.id)
      .sort((a, b) => a.index - b.index);
    const whole = stuck.get(work.id) ?? work.activities.length;
    if (itsPlan.length !== whole || itsPlan.some((p, i) => p.index !== i))
      faults.push(`${work.tag}: ${itsPlan.length} of ${whole} activities are planned.`);
    const ready = plan.ready.get(work.id);
    const last = Math.max(0, ...itsPlan.map((p) => p.to));
    const beyond = plan.left.find((l) => l.workId === work.id && l.why === 'beyond');
    const waits = work.activities[whole]?.gap.least ?? 0;
    const lastThere = Math.max(...problem.people.flatMap((p) => p.there.map((s) => s.to)));
    if (beyond && last + waits < lastThere - 60 && !work.pinned)
      faults.push(
        `${work.tag}: left for after the plan, though its turn comes at ${last + waits}.`,
      );
    if (!stuck.has(work.id) && ready !== last)
      faults.push(`${work.tag}: said to be ready at ${ready}, is at ${last}.`);
    for (const [i, planned] of itsPlan.entries()) {
      const activity = work.activities[planned.index];
      if (!activity) continue;
      const what = `${work.tag} ${activity.what}`;
      const goesOn = activity.kind === 'run' && activity.since !== undefined;
      order(activity, itsPlan[i - 1], planned, goesOn, what);
      if (activity.kind === 'hands') {
        if (planned.to - planned.from !== activity.minutes)
          faults.push(`${what}: ${planned.to - planned.from} min instead of ${activity.minutes}.`);
        if (planned.personId === null) faults.push(`${what}: nobody does it.`);
        else
          tasks.push({
            personId: planned.personId,
            from: planned.from,
            to: planned.to,
            what,
            lead: activity.lead,
          });
        if (activity.tool) note(atTool, activity.tool, planned, what);
        continue;
      }
      checkRun(work, planned, activity.ways, goesOn, what);
    }
  }

  function order(
    activity: Activity,
    before: Planned | undefined,
    planned: Planned,
    goesOn: boolean,
    what: string,
  ): void {
    const end = before?.to ?? 0;
    if (!goesOn && planned.from < end + activity.gap.least)
      faults.push(`${what}: begins ${end + activity.gap.least - planned.from} min too early.`);
    if (before && activity.gap.most !== null && planned.from > end + activity.gap.most)
      faults.push(`${what}: waits ${planned.from - end - activity.gap.most} min too long.`);
    if (!goesOn && planned.from < 0) faults.push(`${what}: begins in the past.`);
    if (planned.to > problem.horizon && !goesOn) faults.push(`${what}: ends beyond the plan.`);
  }

  function checkRun(
    work: Work,
    planned: Planned,
    ways: readonly Way[],
    goesOn: boolean,
    what: string,
  ): void {
    const { run } = planned;
    const way = run && ways[run.way];
    if (!run || !way) {
      faults.push(`${what}: runs in no way.`);
      return;
    }
    const { on, connect, readings, off } = run;
    const end = on.at(-1)?.to ?? 0;
    const runs = on.reduce((sum, s) => sum + s.to - s.from, 0);
    if (runs < Math.floor(way.minutes.middle))
      faults.push(`${what}: runs ${runs} min of ${way.minutes.middle.toFixed(0)}.`);
    if (on.some((s, i) => s.to <= s.from || (i > 0 && s.from < (on[i - 1] as Span).to)))
      faults.push(`${what}: its pieces are out of order.`);
    if (way.watch !== 'hourly' && on.length !== 1) faults.push(`${what}: does not run in one go.`);
    if (!goesOn) {
      if (!connect || connect.to - connect.from !== CONNECT_MIN || connect.to > (on[0]?.from ?? 0))
        faults.push(`${what}: nobody connects it.`);
    }
    const over = off?.to ?? end;
    if (!off && !goesOn) faults.push(`${what}: nobody takes it off.`);
    if (off && (off.from < end || off.to - off.from !== OFF_MIN))
      faults.push(`${what}: taken off at ${off.from}, done at ${end}.`);
    if (off && planned.to < (way.watch === 'none' ? end : off.to))
      faults.push(`${what}: what follows may begin before it is over.`);
    if ((way.watch === 'hourly' || way.watch === 'near') && !goesOn) {
      if (off && off.from > end + READ_LATE_MIN)
        faults.push(`${what}: taken off ${off.from - end} min late.`);
      for (const piece of on) {
        for (let m = piece.from; m < piece.to; m++)
          if (!problem.people.some((p) => p.there.some((s) => m >= s.from && m < s.to))) {
            faults.push(`${what}: runs at minute ${m} with nobody there.`);
            break;
          }
        for (
          let due = piece.from + READ_EVERY_MIN;
          due < piece.to - READ_EARLY_MIN;
          due += READ_EVERY_MIN
        )
          if (
            !readings.some(
              (r) =>
                r.from >= due - READ_EARLY_MIN &&
                r.from <= due + READ_LATE_MIN &&
                r.to - r.from === READ_MIN,
            )
          )
            faults.push(`${what}: the reading of minute ${due} is nobody's.`);
      }
    }
    for (const t of [connect, ...readings, off])
      if (t) tasks.push({ personId: t.personId, from: t.from, to: t.to, what, lead: false });
    const span = { from: goesOn ? 0 : planned.from, to: Math.max(over, end) };
    if (way.postId !== null) {
      note(atPost, way.postId, span, what);
      if (!problem.posts.some((p) => p.id === way.postId)) faults.push(`${what}: no such place.`);
      if (work.forbidden?.includes(way.postId) && !goesOn)
        faults.push(`${what}: at a place that is forbidden to it.`);
      if (work.pinned?.postId !== undefined && work.pinned.postId !== way.postId && !goesOn)
        faults.push(`${what}: not at the place it is pinned to.`);
    }
    if (way.tool) note(atTool, way.tool, span, what);
    // What flows now may be too much already, and goes on; nothing more may be added to it.
    const flowsNow = goesOn && (on[0]?.from ?? 0) <= 0;
    for (const piece of on) {
      air.push({ ...piece, much: way.airM3h, flowsNow });
      mains.push({ ...piece, much: way.mainsA, flowsNow });
    }
  }

  for (const person of problem.people) {
    const theirs = tasks.filter((t) => t.personId === person.id).sort((a, b) => a.from - b.from);
    for (const [i, task] of theirs.entries()) {
      if (!person.there.some((s) => task.from >= s.from && task.to <= s.to))
        faults.push(`${task.what}: ${person.name} is not there at ${task.from}.`);
      if (task.lead && !person.lead) faults.push(`${task.what}: ${person.name} is no lead.`);
      const next = theirs[i + 1];
      if (next && next.from < task.to)
        faults.push(`${person.name} does ${task.what} and ${next.what} at ${next.from}.`);
    }
  }
  for (const task of tasks)
    if (!problem.people.some((p) => p.id === task.personId))
      faults.push(`${task.what}: done by somebody who is not of the shop.`);

  for (const [postId, spans] of atPost) {
    const sorted = spans.sort((a, b) => a.from - b.from);
    const out = problem.posts.find((p) => p.id === postId)?.out ?? [];
    for (const [i, span] of sorted.entries()) {
      const next = sorted[i + 1];
      if (next && next.from < span.to)
        faults.push(`${span.what} and ${next.what} share ${postId}.`);
      if (span.from > 0 && out.some((o) => o.from < span.to && o.to > span.from))
        faults.push(`${span.what}: ${postId} is out then.`);
    }
  }
  for (const key of TOOLS) {
    const spans = atTool.get(key) ?? [];
    const most = peak(spans.map((s) => ({ ...s, much: 1 })));
    if (most.much > problem.tools[key])
      faults.push(`${most.much} at ${key}, of which there are ${problem.tools[key]}.`);
  }
  for (const [name, spans, limit] of [
    ['air', air, problem.airM3h],
    ['mains', mains, problem.fuseA],
  ] as const) {
    const most = peak(spans, (s) => !s.flowsNow);
    if (most.much > limit + 1e-6)
      faults.push(`${name}: ${most.much.toFixed(2)} of ${limit} at ${most.at}.`);
  }
  return faults;
}

/** The most that spans add up to, at the beginnings that count. */
function peak<S extends Span & { much: number }>(
  spans: readonly S[],
  counts: (span: S) => boolean = () => true,
): { much: number; at: Minute } {
  let most = { much: 0, at: 0 };
  for (const begin of spans) {
    if (!counts(begin) || begin.much <= 0) continue;
    const much = spans
      .filter((s) => s.from <= begin.from && s.to > begin.from)
      .reduce((sum, s) => sum + s.much, 0);
    if (much > most.much) most = { much, at: begin.from };
  }
  return most;
}
