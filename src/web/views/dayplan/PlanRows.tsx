import { Link } from 'react-router';
import type { ReactNode } from 'react';
import {
  type Post,
  type Span,
  TOOL_WORDS,
  TOOLS,
  type ToolKey,
} from '../../../core/dayplan/problem.ts';
import { SAFE, UNSAFE } from '../../../core/dayplan/planWords.ts';
import type { ToldPlan, ToldRun, ToldTask, ToldWork } from '../../../core/dayplan/told.ts';
import { formatMoment, type WallStyle } from '../../../core/quantities/format.ts';
import type { Moving } from './MoveDialog.tsx';
import { type Axis, between } from './planAxis.ts';
import { LEAST_DRAG_PX, useDrag } from './useDrag.ts';

const ROW = 44;
const BAR_TOP = 9;
const BAR = 26;
/** Barlow Condensed at 15 px, roughly. */
const LETTER = 6.6;

export interface RowsProps {
  plan: ToldPlan;
  axis: Axis;
  wall: WallStyle;
  /** Minutes since the plan was made. */
  nowMin: number;
  /** A charge is to be moved; with where it was dropped, if it was dragged. */
  onMove: (moving: Moving) => void;
}

interface OnPost {
  work: ToldWork;
  task: ToldTask;
  run: ToldRun;
}

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
            <Hatched key={o.from} span={o} axis={axis} label="out of order" />
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
              to={`/jobs/${work.id}`}
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

interface SectionProps {
  title: string;
  axis: Axis;
  nowMin: number;
  children: ReactNode;
}

function Section({ title, axis, nowMin, children }: SectionProps) {
  return (
    <section className="relative">
      <h2 className="pt-3 pb-1 font-label text-[15px] font-semibold text-soft">{title}</h2>
      <Behind axis={axis} nowMin={nowMin} />
      <div className="relative">{children}</div>
    </section>
  );
}

/** Closed hours, the lines of the hours and the line of now, behind the rows of a section. */
function Behind({ axis, nowMin }: { axis: Axis; nowMin: number }) {
  return (
    <svg
      aria-hidden
      className="pointer-events-none absolute inset-y-0 right-0"
      width={axis.width}
      height="100%"
      preserveAspectRatio="none"
    >
      {axis.closed.map((s) => (
        <rect
          key={s.from}
          x={axis.x(s.from)}
          y={0}
          width={axis.x(s.to) - axis.x(s.from)}
          height="100%"
          fill="var(--color-hair)"
        />
      ))}
      {axis.ticks.map((t) => (
        <line
          key={t.at}
          x1={axis.x(t.at)}
          x2={axis.x(t.at)}
          y1={0}
          y2="100%"
          stroke="var(--color-line)"
          strokeWidth={t.day ? 2 : 1}
        />
      ))}
      <line
        x1={axis.x(nowMin)}
        x2={axis.x(nowMin)}
        y1={0}
        y2="100%"
        stroke="var(--color-ember)"
        strokeWidth={2}
      />
    </svg>
  );
}

interface RowProps {
  /** Of which place it is, where something can be put there. */
  post?: string;
  name: string;
  about: string;
  axis: Axis;
  children: ReactNode;
}

function Row({ post, name, about, axis, children }: RowProps) {
  return (
    <div className="flex items-center border-b border-hair" data-post={post}>
      <div className="min-w-0 flex-1 pr-2 leading-tight">
        <div className="truncate font-label text-[17px] font-semibold" title={name}>
          {name}
        </div>
        {about && (
          <div className="truncate text-sm text-soft" title={about}>
            {about}
          </div>
        )}
      </div>
      <svg width={axis.width} height={ROW} className="block shrink-0">
        {children}
      </svg>
    </div>
  );
}

function Hatched({
  span,
  axis,
  label,
  faint = false,
}: {
  span: Span;
  axis: Axis;
  label: string;
  faint?: boolean;
}) {
  const [x, to] = [axis.x(span.from), axis.x(span.to)];
  if (to - x < 1) return null;
  return (
    <g>
      <rect
        x={x}
        y={BAR_TOP}
        width={to - x}
        height={BAR}
        fill={faint ? 'none' : 'var(--color-hair)'}
        stroke="var(--color-line)"
        strokeDasharray="4 4"
      />
      {to - x > label.length * LETTER + 12 && (
        <text x={x + 7} y={BAR_TOP + 18} fontSize={15} fill="var(--color-soft)">
          {label}
        </text>
      )}
    </g>
  );
}

interface RunBarProps extends OnPost, RowsProps {}

/** A charge: solid where current has flowed, outlined where it will, a whisker for when it may be over, hatched until it is taken off. */
function RunBar({ work, task, run, plan, axis, wall, nowMin, onMove }: RunBarProps) {
  const dragged = useDrag((target, dx) =>
    onMove({
      work,
      task,
      postId: target !== null && run.mayAt.includes(target) ? target : null,
      notBefore:
        Math.abs(dx) < LEAST_DRAG_PX
          ? null
          : plan.from + Math.max(0, Math.round(task.from + dx / axis.perMinute)) * 60_000,
    }),
  );
  const begins = Math.min(task.from, run.on[0]?.from ?? task.from);
  if (begins >= axis.to) return null;
  const end = run.on.at(-1)?.to ?? begins;
  const off = run.off?.to ?? end;
  const y = BAR_TOP + BAR / 2;
  const spoken = `${work.tag}, ${task.what}: ${when(plan, begins, wall)} to ${when(plan, end, wall)}, perhaps from ${when(plan, run.over.low, wall)} to ${when(plan, run.over.high, wall)}`;
  const done = task.from < nowMin && run.connect === null;
  const first = axis.x(begins);
  const room = axis.x(run.on[0]?.to ?? end) - first;
  const drawn = (
    <>
      <title>{spoken}</title>
      {done && (
        <rect
          x={first}
          y={BAR_TOP}
          width={Math.max(0, axis.x(nowMin) - first)}
          height={BAR}
          fill="var(--color-ember)"
        />
      )}
      {run.on.map((span) => {
        const x = axis.x(Math.max(span.from, done ? nowMin : -Infinity));
        return (
          <rect
            key={span.from}
            x={x}
            y={BAR_TOP}
            width={Math.max(0, axis.x(span.to) - x)}
            height={BAR}
            fill="var(--color-ember-pale)"
            stroke="var(--color-ember)"
          />
        );
      })}
      {off > end && (
        <rect
          x={axis.x(end)}
          y={BAR_TOP}
          width={axis.x(off) - axis.x(end)}
          height={BAR}
          fill="url(#rib-rest-pale)"
          stroke="var(--color-moss)"
        />
      )}
      {axis.x(run.over.high) - axis.x(run.over.low) > 4 && (
        <g stroke="var(--color-ember-ink)" strokeWidth={1.5}>
          <line x1={axis.x(run.over.low)} x2={axis.x(run.over.high)} y1={y} y2={y} />
          <line x1={axis.x(run.over.high)} x2={axis.x(run.over.high)} y1={y - 6} y2={y + 6} />
        </g>
      )}
      <text
        x={first + 6}
        y={BAR_TOP + 18}
        fontSize={15}
        fontWeight={600}
        className="font-label"
        fill="var(--color-ink)"
        stroke="var(--color-sheet)"
        strokeWidth={done ? 3 : 0}
        paintOrder="stroke"
      >
        {room > work.tag.length * LETTER + 10 ? work.tag : ''}
      </text>
      <Flag work={work} axis={axis} />
      {work.pinned && <PinMark x={first} />}
    </>
  );
  // What runs already is led from its job; what is to come may be moved.
  if (done)
    return (
      <Link to={`/jobs/${work.id}`} aria-label={spoken}>
        {drawn}
      </Link>
    );
  return (
    <g
      role="button"
      tabIndex={0}
      aria-label={`Move ${spoken}`}
      className="cursor-grab touch-none"
      transform={`translate(${dragged.dx} ${dragged.dy})`}
      {...dragged.handlers}
      onClick={() => dragged.moved || onMove({ work, task, postId: null, notBefore: null })}
      onKeyDown={(e) => {
        if (e.key !== 'Enter' && e.key !== ' ') return;
        e.preventDefault();
        onMove({ work, task, postId: null, notBefore: null });
      }}
    >
      {drawn}
    </g>
  );
}

/** Set by hand: a pin on its beginning. */
const PinMark = ({ x }: { x: number }) => (
  <circle
    cx={x}
    cy={BAR_TOP}
    r={4.5}
    fill="var(--color-sheet)"
    stroke="var(--color-ink)"
    strokeWidth={2.5}
  />
);

const when = (plan: ToldPlan, at: number, wall: WallStyle): string =>
  formatMoment(plan.from + at * 60_000, plan.from, wall);

/** The promise, where its battery's charge stands: filled where it is unsafe. */
function Flag({ work, axis }: { work: ToldWork; axis: Axis }) {
  const at = work.promisedAt;
  if (at === null || at < 0 || at >= axis.to || work.kept === null) return null;
  const x = axis.x(at);
  const color = work.kept < UNSAFE ? 'var(--color-oxide)' : 'var(--color-ink)';
  return (
    <g stroke={color} strokeWidth={2}>
      <line x1={x} x2={x} y1={2} y2={ROW - 6} />
      <path
        d={`M${x} 3 h13 l-4 4.5 l4 4.5 h-13 z`}
        fill={work.kept < SAFE ? color : 'var(--color-sheet)'}
        strokeWidth={1.5}
      />
    </g>
  );
}

interface MarkProps {
  plan: ToldPlan;
  task: Span;
  axis: Axis;
  wall: WallStyle;
  label: string;
  said?: string;
  to?: string;
}

const LEAST_MARK_PX = 5;

/** Somebody's work: a dark block, at least as wide as can be seen. */
function TaskMark({ plan, task, axis, wall, label, said = label, to }: MarkProps) {
  if (task.from >= axis.to) return null;
  const x = axis.x(task.from);
  const width = Math.max(LEAST_MARK_PX, axis.x(task.to) - x);
  const spoken = `${said}, ${when(plan, task.from, wall)} to ${when(plan, task.to, wall)}`;
  const mark = (
    <>
      <title>{spoken}</title>
      <rect x={x} y={BAR_TOP} width={width} height={BAR} fill="var(--color-ink)" />
      {label && width > label.length * LETTER + 6 && (
        <text x={x + 4} y={BAR_TOP + 18} fontSize={14} fill="var(--color-sheet)">
          {label}
        </text>
      )}
    </>
  );
  return to ? (
    <Link to={to} aria-label={spoken}>
      {mark}
    </Link>
  ) : (
    <g role="img" aria-label={spoken}>
      {mark}
    </g>
  );
}
