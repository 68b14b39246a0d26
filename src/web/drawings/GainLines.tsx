import type { Recovered } from '../../core/results/recovered.ts';
import { useWidth } from './useWidth.ts';

const MOST = 1.2;
const STEP = 17;
const LEFT = 96;
const RIGHT = 20;
const AXIS = 24;

const LOOK = {
  return: { colour: 'var(--color-moss)', mark: 'dot' },
  light: { colour: 'var(--color-slate)', mark: 'square' },
  recycle: { colour: 'var(--color-oxide)', mark: 'cross' },
} as const;

/** Each battery a line, from its capacity on arrival to what it had at the end, share of its rating; sorted by the end. */
export function GainLines({ recovered }: { recovered: readonly Recovered[] }) {
  const [ref, width] = useWidth();
  const tested = recovered
    .filter((r) => r.after !== null)
    .sort((a, b) => (b.after ?? 0) - (a.after ?? 0));
  const x = (share: number) =>
    LEFT + ((width - LEFT - RIGHT) * Math.min(MOST, Math.max(0, share))) / MOST;
  const height = AXIS + tested.length * STEP;
  return (
    <div ref={ref}>
      {width > 0 && (
        <svg
          width={width}
          height={height}
          role="img"
          aria-label={`Capacity before and after of ${tested.length} recovered batteries, % of their rating`}
        >
          {[0, 0.2, 0.4, 0.6, 0.8, 1, 1.2].map((share) => (
            <g key={share}>
              <line
                x1={x(share)}
                x2={x(share)}
                y1={AXIS - 4}
                y2={height}
                stroke="var(--color-hair)"
                strokeWidth={share === 0.8 ? 2 : 1}
              />
              <text
                x={x(share)}
                y={14}
                textAnchor="middle"
                fontSize="13"
                fill="var(--color-soft)"
                className="font-label"
              >
                {(100 * share).toFixed(0)} %
              </text>
            </g>
          ))}
          {tested.map((r, i) => {
            const y = AXIS + i * STEP + STEP / 2;
            const { colour, mark } = LOOK[r.outcome];
            const end = x(r.after ?? 0);
            return (
              <g key={`${r.tag}${r.closedAt}`}>
                <text
                  x={LEFT - 8}
                  y={y + 5}
                  textAnchor="end"
                  fontSize="14"
                  fill="var(--color-ink)"
                  className="font-label"
                >
                  {r.tag}
                </text>
                {r.before !== null && (
                  <>
                    <line x1={x(r.before)} x2={end} y1={y} y2={y} stroke={colour} strokeWidth="3" />
                    <circle
                      cx={x(r.before)}
                      cy={y}
                      r="4"
                      fill="var(--color-sheet)"
                      stroke={colour}
                      strokeWidth="2"
                    />
                  </>
                )}
                {mark === 'dot' && <circle cx={end} cy={y} r="5.5" fill={colour} />}
                {mark === 'square' && (
                  <rect x={end - 5} y={y - 5} width="10" height="10" fill={colour} />
                )}
                {mark === 'cross' && (
                  <path
                    d={`M${end - 5} ${y - 5}l10 10m0 -10l-10 10`}
                    stroke={colour}
                    strokeWidth="3"
                  />
                )}
              </g>
            );
          })}
        </svg>
      )}
    </div>
  );
}
