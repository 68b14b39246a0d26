import type { ReactNode } from 'react';
import type { LookKind } from '../../core/drill/case.ts';

/** Six ports from above, or the battery from the side, with what a look has found. */
export function LookDrawing({
  what,
  good,
  cells = [],
}: {
  what: LookKind;
  good: boolean;
  /** Ports it was found at, from 0. */
  cells?: readonly number[] | undefined;
}) {
  const drawn = DRAWINGS[what];
  if (!drawn) return null;
  return (
    <svg viewBox="0 0 120 76" className="h-[76px] w-30 shrink-0" aria-hidden>
      {drawn(good, cells)}
    </svg>
  );
}

const INK = 'var(--color-ink)';
const WRONG = 'var(--color-oxide)';
const WET = 'var(--color-slate)';
const PORTS = [0, 1, 2, 3, 4, 5] as const;
const portX = (k: number): number => 17 + 17.2 * k;

/** Case, posts and lid from the side. */
function Side({ turned = false, children }: { turned?: boolean; children?: ReactNode }) {
  return (
    <>
      <rect
        x="26"
        y="12"
        width="10"
        height="12"
        fill={turned ? WRONG : INK}
        transform={turned ? 'rotate(24 31 24)' : undefined}
      />
      <rect x="84" y="12" width="10" height="12" fill={INK} />
      <rect x="16" y="24" width="88" height="44" rx="3" fill="white" stroke={INK} strokeWidth="2" />
      {children}
    </>
  );
}

/** Ports in a row, each drawn by its own. */
const above = (port: (k: number) => ReactNode): ReactNode => (
  <>
    <rect x="4" y="22" width="112" height="32" rx="4" fill="white" stroke={INK} strokeWidth="2" />
    {PORTS.map((k) => (
      <g key={k}>{port(k)}</g>
    ))}
  </>
);
const circle = (k: number, fill: string, stroke: string = INK): ReactNode => (
  <circle cx={portX(k)} cy="38" r="6.5" fill={fill} stroke={stroke} strokeWidth="2" />
);
/** Where nobody said which, one port stands for them. */
const isFoundAt = (cells: readonly number[], k: number): boolean =>
  cells.length > 0 ? cells.includes(k) : k === 3;

const DRAWINGS: Readonly<
  Partial<Record<LookKind, (good: boolean, cells: readonly number[]) => ReactNode>>
> = {
  label: () => (
    <Side>
      <rect x="34" y="34" width="52" height="24" fill="none" stroke={INK} strokeWidth="2.5" />
      <path d="M40 42h30M40 50h20" stroke={INK} strokeWidth="2" />
    </Side>
  ),
  case: (good) => (
    <Side>
      {!good && (
        <>
          <path d="M104 40l-12 6 5 6-14 8 6 8" fill="none" stroke={WRONG} strokeWidth="3" />
          <path d="M94 71c3 0 4-2 0-5-4 3-3 5 0 5z" fill={WET} />
        </>
      )}
    </Side>
  ),
  posts: (good) => <Side turned={!good} />,
  frost: (good) => (
    <Side>
      {!good &&
        [40, 60, 80].map((x) => (
          <path
            key={x}
            d={`M${x} 30v16M${x - 7} 34l14 8M${x + 7} 34l-14 8`}
            stroke={WET}
            strokeWidth="2"
          />
        ))}
    </Side>
  ),
  levels: (good) => (
    <Side>
      <rect x="18" y={good ? 36 : 58} width="84" height={good ? 30 : 8} fill={WET} opacity="0.45" />
      {PORTS.map((k) => (
        <path key={k} d={`M${24 + 14 * k} 44v22`} stroke={good ? INK : WRONG} strokeWidth="3" />
      ))}
    </Side>
  ),
  vent: () => (
    <Side>
      <path d="M104 30h10v24" fill="none" stroke={INK} strokeWidth="3" />
    </Side>
  ),
  foil: (good) => (
    <>
      {above((k) => circle(k, 'var(--color-hair)', 'var(--color-soft)'))}
      <rect x="8" y="28" width="104" height="20" fill="var(--color-line)" opacity="0.8" />
      {!good && (
        <>
          <circle cx={portX(4)} cy="38" r="6.5" fill={INK} />
          <path d="M78 28l6 9 5-6 4 8 6-11z" fill="white" stroke={WRONG} strokeWidth="2" />
        </>
      )}
    </>
  ),
  tubes: (good, cells) =>
    above((k) => {
      const still = !good && isFoundAt(cells, k);
      return (
        <>
          {circle(k, still ? 'white' : 'var(--color-slate-pale)', still ? WRONG : INK)}
          {!still && (
            <>
              <circle cx={portX(k) - 2} cy="36" r="1.6" fill={WET} />
              <circle cx={portX(k) + 2} cy="40" r="1.6" fill={WET} />
              <circle cx={portX(k)} cy="15" r="1.8" fill={WET} />
            </>
          )}
        </>
      );
    }),
};
