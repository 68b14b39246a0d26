import type { ReactNode } from 'react';
import { Link } from 'react-router';
import type { ToldPlan } from '../../../core/dayplan/told.ts';
import type { WallStyle } from '../../../core/quantities/format.ts';
import type { Moving } from './MoveDialog.tsx';
import type { Span } from '../../../core/dayplan/problem.ts';
import type { Axis } from './planAxis.ts';

export interface RowsProps {
  plan: ToldPlan;
  axis: Axis;
  wall: WallStyle;
  /** Minutes since the plan was made. */
  nowMin: number;
  /** A charge is to be moved; with where it was dropped, if it was dragged. Null where nothing may be: the plan is only supposed. */
  onMove: ((moving: Moving) => void) | null;
}

export const ROW = 44;
export const BAR_TOP = 9;
export const BAR = 26;
/** Barlow Condensed at 15 px, roughly. */
export const LETTER = 6.6;

interface SectionProps {
  title: string;
  axis: Axis;
  nowMin: number;
  children: ReactNode;
}

/** Rows of one kind, with the closed hours behind them. */
export function Section({ title, axis, nowMin, children }: SectionProps) {
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
  /** The page its name leads to. */
  to?: string;
  axis: Axis;
  /** What stands in the row: marks, or a drawing of its own. */
  children?: ReactNode;
  drawing?: ReactNode;
}

export function Row({ post, name, about, to, axis, children, drawing }: RowProps) {
  return (
    <div className="flex items-center border-b border-hair" data-post={post}>
      <div className="min-w-0 flex-1 pr-2 leading-tight">
        <div className="truncate font-label text-[17px] font-semibold" title={name}>
          {to ? <Link to={to}>{name}</Link> : name}
        </div>
        {about && (
          <div className="truncate text-sm text-soft" title={about}>
            {about}
          </div>
        )}
      </div>
      {drawing ?? (
        <svg width={axis.width} height={ROW} className="block shrink-0">
          {children}
        </svg>
      )}
    </div>
  );
}

/** A time in which nothing can be. */
export function Hatched({
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
