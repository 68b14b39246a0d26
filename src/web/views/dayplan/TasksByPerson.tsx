import { Link } from 'react-router';
import type { Task } from '../../../core/dayplan/problem.ts';
import type { ToldPlan, ToldWork } from '../../../core/dayplan/told.ts';
import { formatMomentShort, type WallStyle } from '../../../core/quantities/format.ts';

interface Line {
  from: number;
  personId: string;
  work: ToldWork;
  what: string;
}

/** So many tasks of each person are told at once. */
const MOST = 12;

/** What each person does next, in order of time: the plan on a phone, and on paper. */
export function TasksByPerson({
  plan,
  wall,
  now,
}: {
  plan: ToldPlan;
  wall: WallStyle;
  now: number;
}) {
  const lines = linesOf(plan);
  return (
    <div className="grid gap-5">
      {plan.people.map((person) => {
        const own = lines.filter((l) => l.personId === person.id).slice(0, MOST);
        return (
          <section key={person.id}>
            <h2 className="pb-1 text-2xl">{person.name}</h2>
            {own.length === 0 && <p className="text-soft">Nothing planned.</p>}
            <ul>
              {own.map((line) => (
                <li
                  key={`${line.work.id}-${line.from}-${line.what}`}
                  className="border-b border-line"
                >
                  <Link
                    to={`/jobs/${line.work.id}`}
                    className="flex min-h-12 items-center gap-3 py-1.5"
                  >
                    <b className="w-20 shrink-0 font-label text-lg">
                      {formatMomentShort(plan.from + line.from * 60_000, now, wall)}
                    </b>
                    <span className="min-w-0">
                      <b>{line.work.tag}</b> {line.what}
                    </span>
                  </Link>
                </li>
              ))}
            </ul>
          </section>
        );
      })}
    </div>
  );
}

function linesOf(plan: ToldPlan): Line[] {
  const lines: Line[] = [];
  for (const work of plan.works)
    for (const task of work.tasks) {
      const add = (at: Task | null, what: string): void => {
        if (at) lines.push({ from: at.from, personId: at.personId, work, what });
      };
      if (task.personId !== null)
        lines.push({ from: task.from, personId: task.personId, work, what: task.what });
      if (!task.run) continue;
      const place = plan.posts.find((p) => p.id === task.run?.postId)?.name;
      add(task.run.connect, place ? `onto ${place}, ${task.run.setting}` : task.what);
      for (const reading of task.run.readings) add(reading, 'read it');
      add(task.run.off, place ? `off ${place}` : 'take the load off');
    }
  return lines.sort((a, b) => a.from - b.from);
}
