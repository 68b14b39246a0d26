import type { ReactNode } from 'react';

/** What the drawings of steps are put together from. */

export const INK = 'var(--color-ink)';
export const SOFT = 'var(--color-soft)';
export const PALE = 'var(--color-hair)';
export const PLUS = 'var(--color-oxide)';
export const ACID = 'var(--color-slate)';
export const WARM = 'var(--color-ember)';
export const GOOD = 'var(--color-moss)';
export const LINE = { fill: 'none', stroke: INK, strokeWidth: 2, strokeLinecap: 'round' } as const;

/** The battery from the front, its posts on top: plus on the left. */
export const Battery = ({
  x = 70,
  y = 62,
  label = true,
}: {
  x?: number;
  y?: number;
  label?: boolean;
}) => (
  <g>
    <rect x={x + 10} y={y - 10} width="14" height="10" fill={PLUS} />
    <rect x={x + 76} y={y - 10} width="14" height="10" fill={INK} />
    <rect
      x={x}
      y={y}
      width="100"
      height="56"
      rx="4"
      fill="var(--color-sheet)"
      stroke={INK}
      strokeWidth="2"
    />
    {label && <rect x={x + 22} y={y + 20} width="56" height="22" rx="2" fill={PALE} />}
  </g>
);

/** A lead from somewhere to a post. */
export const Lead = ({
  from,
  to,
  plus,
}: {
  from: [number, number];
  to: 'plus' | 'minus';
  plus: boolean;
}) => {
  const x = to === 'plus' ? 87 : 153;
  return (
    <path
      {...LINE}
      d={`M${from[0]} ${from[1]} C ${from[0]} ${from[1] - 30} ${x} 6 ${x} 50`}
      stroke={plus ? PLUS : INK}
      strokeWidth={4}
    />
  );
};

export const Said = ({
  x,
  y,
  children,
  tone = INK,
  size = 15,
}: {
  x: number;
  y: number;
  children: ReactNode;
  tone?: string;
  size?: number;
}) => (
  <text
    x={x}
    y={y}
    textAnchor="middle"
    fontSize={size}
    fontWeight={600}
    fill={tone}
    fontFamily="Barlow Condensed"
  >
    {children}
  </text>
);

/** A small round mark with a number: what comes first. */
export const Order = ({ x, y, n }: { x: number; y: number; n: number }) => (
  <g>
    <circle cx={x} cy={y} r="10" fill={INK} />
    <text
      x={x}
      y={y + 5}
      textAnchor="middle"
      fontSize="14"
      fontWeight={700}
      fill="var(--color-sheet)"
      fontFamily="Barlow Condensed"
    >
      {n}
    </text>
  </g>
);

export const Clock = ({ x, y, r = 24 }: { x: number; y: number; r?: number }) => (
  <g>
    <circle cx={x} cy={y} r={r} fill="var(--color-sheet)" stroke={INK} strokeWidth="2.5" />
    <path
      {...LINE}
      d={`M${x} ${y - r * 0.6} V${y} L${x + r * 0.45} ${y + r * 0.2}`}
      strokeWidth={2.5}
    />
  </g>
);

export const Box = ({ x, y, children }: { x: number; y: number; children: ReactNode }) => (
  <g>
    <rect
      x={x}
      y={y}
      width="52"
      height="46"
      rx="5"
      fill="var(--color-sheet)"
      stroke={INK}
      strokeWidth="2"
    />
    {children}
  </g>
);

/** The lid from above: six ports, each as it is. */
export const Lid = ({ y, port }: { y: number; port: (i: number, x: number) => ReactNode }) => (
  <g>
    <rect
      x="34"
      y={y}
      width="172"
      height="40"
      rx="6"
      fill="var(--color-sheet)"
      stroke={INK}
      strokeWidth="2"
    />
    {Array.from({ length: 6 }, (_, i) => (
      <g key={i}>{port(i, 56 + i * 25.6)}</g>
    ))}
  </g>
);
