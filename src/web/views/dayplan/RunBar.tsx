import { Link } from 'react-router';
import { pageOfWork } from '../../../contract/pages.ts';
import { SAFE, UNSAFE } from '../../../core/dayplan/planWords.ts';
import type { ToldRun, ToldTask, ToldWork } from '../../../core/dayplan/told.ts';
import { spokenAt, type Axis } from './planAxis.ts';
import { BAR, BAR_TOP, LETTER, ROW, type RowsProps } from './PlanGrid.tsx';
import { LEAST_DRAG_PX, useDrag } from './useDrag.ts';

/** A run of a battery, as it is drawn at its place. */
export interface OnPost {
  work: ToldWork;
  task: ToldTask;
  run: ToldRun;
}

type RunBarProps = OnPost & RowsProps;

/** A charge: solid where current has flowed, outlined where it will, a whisker for when it may be over, hatched until it is taken off. */
export function RunBar({ work, task, run, plan, axis, wall, nowMin, onMove }: RunBarProps) {
  const dragged = useDrag((target, dx) =>
    onMove?.({
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
  const spoken = `${work.tag}, ${task.what}: ${spokenAt(plan, begins, wall)} to ${spokenAt(plan, end, wall)}, perhaps from ${spokenAt(plan, run.over.low, wall)} to ${spokenAt(plan, run.over.high, wall)}`;
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
      {work.set && <PinMark x={first} />}
    </>
  );
  // What runs already is led from its job; what is to come may be moved.
  if (done || work.of !== 'job' || !onMove)
    return (
      <Link to={pageOfWork(work)} aria-label={spoken}>
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

/** The promise, where its battery's charge stands: filled where it is unsafe. */
export function Flag({ work, axis }: { work: ToldWork; axis: Axis }) {
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
