import { useId } from 'react';
import type { PortLook, StripLook, Tone } from './portState.ts';

const EDGE: Record<Tone, string> = {
  idle: 'var(--color-ink)',
  live: 'var(--color-ember)',
  wet: 'var(--color-slate)',
  rested: 'var(--color-moss)',
  stop: 'var(--color-oxide)',
};

const HEIGHT = 38;
const END = 22;
const PITCH = 17;
const RADIUS = 6.5;

interface Props {
  look: StripLook;
  /** Width in px; the height follows. */
  width?: number;
}

/** The battery from above: posts at its ends, a port for each cell, and what covers them. */
export function PortStrip({ look, width = 132 }: Props) {
  const { ports, cover, tone, word } = look;
  const id = useId();
  const six = 2 * END + 6 * PITCH;
  const pitch = (six - 2 * END) / ports.length;
  const middle = HEIGHT / 2;
  const bar = { x: END - 3, y: middle - 9.5, width: six - 2 * END + 6, height: 19, rx: 3 };
  return (
    <svg
      viewBox={`0 0 ${six} ${HEIGHT}`}
      width={width}
      height={(width * HEIGHT) / six}
      role="img"
      aria-label={`${ports.length} cells, ${word}`}
      className="block shrink-0"
    >
      <defs>
        <pattern
          id={id}
          width="5"
          height="5"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <rect width="5" height="5" fill="#e4dccd" />
          <rect width="1.6" height="5" fill="#b9ab93" />
        </pattern>
      </defs>
      <rect
        x="1.5"
        y="1.5"
        width={six - 3}
        height={HEIGHT - 3}
        rx="5"
        fill="var(--color-sheet)"
        stroke={EDGE[tone]}
        strokeWidth={tone === 'live' || tone === 'stop' ? 3 : 1.6}
      />
      <Post x={11} y={middle} plus />
      <Post x={six - 11} y={middle} />
      {ports.map((port, i) => (
        <Port key={i} port={port} x={END + pitch * (i + 0.5)} y={middle} clip={`${id}-${i}`} />
      ))}
      {cover === 'foil' && <rect {...bar} fill={`url(#${id})`} stroke="#9c8f79" strokeWidth="1" />}
      {cover === 'torn-foil' && (
        <>
          <path
            d={`M${bar.x} ${bar.y}h${bar.width * 0.46}l-5 6 6 5-6 8h${-bar.width * 0.46 + 5}z`}
            fill={`url(#${id})`}
            stroke="#9c8f79"
          />
          <path
            d={`M${bar.x + bar.width} ${bar.y}h${-bar.width * 0.34}l4 7-7 5 4 7h${bar.width * 0.34 - 1}z`}
            fill={`url(#${id})`}
            stroke="#9c8f79"
          />
        </>
      )}
      {cover === 'strip-loose' && (
        <rect
          {...bar}
          fill="none"
          stroke="var(--color-ink)"
          strokeWidth="1.3"
          strokeDasharray="4 3"
        />
      )}
      {(cover === 'caps' || cover === 'caps-loose') &&
        ports.map((_, i) => (
          <Cap key={i} x={END + pitch * (i + 0.5)} y={middle} loose={cover === 'caps-loose'} />
        ))}
      {cover === 'sealed' && <rect {...bar} y={middle - 4.5} height={9} fill="var(--color-ink)" />}
    </svg>
  );
}

/** A single cap: a bar across its port, lying askew while it is only laid on. */
function Cap({ x, y, loose }: { x: number; y: number; loose: boolean }) {
  return (
    <rect
      x={x - 5}
      y={y - 1.7}
      width={10}
      height={3.4}
      rx={1}
      fill="var(--color-ink)"
      transform={`rotate(${loose ? -28 : 0} ${x} ${y})`}
    />
  );
}

function Post({ x, y, plus = false }: { x: number; y: number; plus?: boolean }) {
  return (
    <path
      d={plus ? `M${x - 4} ${y}h8M${x} ${y - 4}v8` : `M${x - 4} ${y}h8`}
      stroke="var(--color-ink)"
      strokeWidth="2"
    />
  );
}

function Port({ port, x, y, clip }: { port: PortLook; x: number; y: number; clip: string }) {
  const surface = y + RADIUS - 2 * RADIUS * (port.level ?? 0);
  return (
    <g>
      <clipPath id={clip}>
        <circle cx={x} cy={y} r={RADIUS} />
      </clipPath>
      <circle cx={x} cy={y} r={RADIUS} fill="#fff" />
      {port.level !== null && (
        <rect
          x={x - RADIUS}
          y={surface}
          width={2 * RADIUS}
          height={2 * RADIUS}
          fill="#7fa3bb"
          clipPath={`url(#${clip})`}
        />
      )}
      {port.bubbling && (
        <g fill="#fff">
          <circle cx={x - 2.4} cy={y + 2.6} r="1.3" />
          <circle cx={x + 2.2} cy={y + 1} r="1.6" />
          <circle cx={x - 0.4} cy={y - 1.8} r="1" />
        </g>
      )}
      <circle
        cx={x}
        cy={y}
        r={RADIUS}
        fill="none"
        stroke={port.wrong ? 'var(--color-oxide)' : 'var(--color-ink)'}
        strokeWidth={port.wrong ? 2.4 : 1.4}
      />
    </g>
  );
}
