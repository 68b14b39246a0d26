import { Link } from 'react-router';
import type { Span } from '../../../core/dayplan/problem.ts';
import type { ToldPlan } from '../../../core/dayplan/told.ts';
import type { WallStyle } from '../../../core/quantities/format.ts';
import { type Axis, spokenAt } from './planAxis.ts';
import { BAR, BAR_TOP, LETTER } from './PlanGrid.tsx';

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
export function TaskMark({ plan, task, axis, wall, label, said = label, to }: MarkProps) {
  if (task.from >= axis.to) return null;
  const x = axis.x(task.from);
  const width = Math.max(LEAST_MARK_PX, axis.x(task.to) - x);
  const spoken = `${said}, ${spokenAt(plan, task.from, wall)} to ${spokenAt(plan, task.to, wall)}`;
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
