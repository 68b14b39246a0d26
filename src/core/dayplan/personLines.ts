import type { Minute, Task } from './problem.ts';
import type { ToldPlan, ToldWork } from './told.ts';

/** What somebody does at a time, for one battery or for several on one walk. */
export interface PersonLine {
  from: Minute;
  to: Minute;
  personId: string;
  works: readonly ToldWork[];
  /** An order: `read volts and temperature`. */
  what: string;
}

/** Tasks of the same kind within this of each other are one line, min. */
const ONE_LINE_MIN = 15;
const READ = 'read volts, amps and temperature';

/** Everything people do in a plan, in order of time: the plan on a phone, on the wall and on paper. */
export function personLines(plan: ToldPlan): PersonLine[] {
  const lines: PersonLine[] = [];
  for (const work of plan.works)
    for (const task of work.tasks) {
      const add = (at: Task | null, what: string): void => {
        if (at) lines.push({ ...at, works: [work], what });
      };
      if (task.personId !== null)
        add({ personId: task.personId, from: task.from, to: task.to }, task.what);
      const { run } = task;
      if (!run) continue;
      const place = plan.posts.find((p) => p.id === run.postId)?.name;
      add(run.connect, place ? `put it on ${place}, ${run.setting}` : task.what);
      for (const reading of run.readings) add(reading, READ);
      add(run.off, place ? `take it off ${place}` : 'take the load off');
    }
  return together(lines.sort((a, b) => a.from - b.from));
}

/** The same for several batteries, one after the other, is one line. */
function together(lines: readonly PersonLine[]): PersonLine[] {
  const out: PersonLine[] = [];
  const last = new Map<string, PersonLine>();
  for (const line of lines) {
    const key = `${line.personId} ${line.what}`;
    const before = last.get(key);
    if (before && line.from - before.to <= ONE_LINE_MIN) {
      const joined = { ...before, works: [...before.works, ...line.works], to: line.to };
      out[out.indexOf(before)] = joined;
      last.set(key, joined);
    } else {
      const begun = { ...line };
      last.set(key, begun);
      out.push(begun);
    }
  }
  return out;
}

/** Who is to be at a battery next, and when; null where the plan has nobody for it. */
export function nextAt(plan: ToldPlan, workId: string, now: Minute): Task | null {
  const work = plan.works.find((w) => w.id === workId);
  const tasks = (work?.tasks ?? []).flatMap(({ personId, from, to, run }): Task[] => [
    ...(personId === null ? [] : [{ personId, from, to }]),
    ...(run?.connect ? [run.connect] : []),
    ...(run?.readings ?? []),
    ...(run?.off ? [run.off] : []),
  ]);
  return tasks.filter((t) => t.to > now).toSorted((a, b) => a.from - b.from)[0] ?? null;
}
