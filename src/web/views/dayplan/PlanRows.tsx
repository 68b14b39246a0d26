import { pageOfWork } from '../../../contract/pages.ts';
import { segmentsAhead } from '../../../core/dayplan/ahead.ts';
import { type Post, TOOL_WORDS, TOOLS, type ToolKey } from '../../../core/dayplan/problem.ts';
import type { ToldPlan, ToldTask, ToldWork } from '../../../core/dayplan/told.ts';
import { between } from './planAxis.ts';
import { Ribbon } from '../../drawings/Ribbon.tsx';
import { Hatched, Row, type RowsProps, Section } from './PlanGrid.tsx';
import { Flag, type OnPost, RunBar } from './RunBar.tsx';
import { TaskMark } from './TaskMark.tsx';

const runsOf = (plan: ToldPlan): OnPost[] =>
  plan.works.flatMap((work) =>
    work.tasks.flatMap((task) => (task.run ? [{ work, task, run: task.run }] : [])),
  );

/** Every charger and place with what is on it; those that stay free are named together. */
export function PostRows({ plan, axis, wall, nowMin, onMove }: RowsProps) {
  const runs = runsOf(plan);
  const shows = (post: Post): boolean =>
    post.out.length > 0 || runs.some((r) => r.run.postId === post.id && r.task.from < axis.to);
  const idle = plan.posts.filter((p) => !shows(p));
  return (
    <Section title="Chargers and places" axis={axis} nowMin={nowMin}>
      {plan.posts.filter(shows).map((post) => (
        <Row key={post.id} post={post.id} name={post.name} about={post.about} axis={axis}>
          {post.out.map((o) => (
            <Hatched
              key={o.from}
              span={o}
              axis={axis}
              label={o.to > plan.horizon ? 'out of order' : 'away'}
            />
          ))}
          {runs
            .filter((r) => r.run.postId === post.id)
            .map((r) => (
              <RunBar
                key={`${r.work.id}-${r.task.index}`}
                {...r}
                plan={plan}
                axis={axis}
                wall={wall}
                nowMin={nowMin}
                onMove={onMove}
              />
            ))}
          {runs
            .filter((r) => r.run.postId === post.id)
            .map((r) => (
              <Flag key={`${r.work.id}-${r.task.index}`} work={r.work} axis={axis} />
            ))}
        </Row>
      ))}
      {idle.length > 0 && (
        <p className="bg-paper py-2 text-[15px] text-soft">
          Free all the time: {idle.map((p) => p.name).join(', ')}
        </p>
      )}
    </Section>
  );
}

export function ToolRows({ plan, axis, wall, nowMin }: Omit<RowsProps, 'onMove'>) {
  const used = TOOLS.map((key) => ({ key, tasks: toolTasks(plan, key) })).filter(
    (t) => t.tasks.length > 0,
  );
  if (used.length === 0) return null;
  return (
    <Section title="Tools" axis={axis} nowMin={nowMin}>
      {used.map(({ key, tasks }) => (
        <Row key={key} name={TOOL_WORDS[key]} about={countWord(plan.tools[key])} axis={axis}>
          {tasks.map(({ work, task }) => (
            <TaskMark
              key={`${work.id}-${task.index}`}
              plan={plan}
              task={task}
              axis={axis}
              wall={wall}
              label={work.tag}
              to={pageOfWork(work)}
            />
          ))}
        </Row>
      ))}
    </Section>
  );
}

const toolTasks = (plan: ToldPlan, key: ToolKey): { work: ToldWork; task: ToldTask }[] =>
  plan.works.flatMap((work) =>
    work.tasks
      .filter((task) => task.tool === key || task.run?.tool === key)
      .map((task) => ({ work, task })),
  );

const countWord = (n: number): string => (n === 1 ? 'one' : String(n));

/** What each person does: one mark a walk, however many batteries it is for. */
export function PeopleRows({ plan, axis, wall, nowMin }: Omit<RowsProps, 'onMove'>) {
  return (
    <Section title="People" axis={axis} nowMin={nowMin}>
      {plan.people.map((person) => (
        <Row key={person.id} name={person.name} about={person.lead ? 'lead' : ''} axis={axis}>
          {between(person.there, 0, axis.to).map((span) => (
            <Hatched key={span.from} span={span} axis={axis} label="away" faint />
          ))}
          {plan.walks
            .filter((walk) => walk.personId === person.id && walk.from < axis.to)
            .map((walk) => (
              <TaskMark
                key={walk.from}
                plan={plan}
                task={walk}
                axis={axis}
                wall={wall}
                label={walk.tasks > 1 ? `${walk.tasks}` : ''}
                said={`${person.name}: ${walk.tasks === 1 ? 'one task' : `${walk.tasks} tasks`}`}
              />
            ))}
        </Row>
      ))}
    </Section>
  );
}

/** Every battery with its whole way: what it is in when, and its promise. */
export function BatteryRows({ plan, axis, wall, nowMin }: Omit<RowsProps, 'onMove'>) {
  const dueAt = (work: ToldWork): number =>
    work.promisedAt ?? NOBODY_WAITS_MIN + (work.ready?.middle ?? plan.horizon);
  const works = plan.works
    .filter((w) => w.tasks.some((task) => task.from < axis.to))
    .toSorted((a, b) => dueAt(a) - dueAt(b));
  const momentOf = (minute: number): number => plan.from + minute * 60_000;
  const now = momentOf(nowMin);
  return (
    <Section title="Batteries" axis={axis} nowMin={nowMin}>
      {works.map((work) => (
        <Row
          key={work.id}
          name={work.tag}
          about={work.whose}
          to={pageOfWork(work)}
          axis={axis}
          drawing={
            <Ribbon
              segments={segmentsAhead(work, plan.from, now)}
              span={{ from: momentOf(axis.from), to: momentOf(axis.to) }}
              width={axis.width}
              now={now}
              promisedAt={work.promisedAt === null ? null : momentOf(work.promisedAt)}
              readyAt={work.ready ? momentOf(work.ready.middle) : null}
              wall={wall}
            />
          }
        />
      ))}
    </Section>
  );
}

/** Batteries that nobody waits for stand behind all others. */
const NOBODY_WAITS_MIN = 1e6;
