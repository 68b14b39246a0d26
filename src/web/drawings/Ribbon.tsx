import { onTheWall } from '../../core/quantities/zonedTime.ts';
import {
  formatClock,
  formatDayMonth,
  formatMoment,
  formatWeekday,
  type WallStyle,
} from '../../core/quantities/format.ts';
import type { Segment } from '../../core/watch/timeline.ts';

/** Textures every ribbon shares; drawn once near the root of the page. */
export function RibbonTextures() {
  return (
    <svg width="0" height="0" aria-hidden className="absolute">
      <defs>
        <pattern id="rib-dots" width="6" height="6" patternUnits="userSpaceOnUse">
          <rect width="6" height="6" fill="#fff" />
          <circle cx="1.5" cy="1.5" r="1.15" fill="var(--color-slate)" />
          <circle cx="4.5" cy="4.5" r="1.15" fill="var(--color-slate)" />
        </pattern>
        <pattern id="rib-dots-pale" width="6" height="6" patternUnits="userSpaceOnUse">
          <rect width="6" height="6" fill="var(--color-sheet)" />
          <circle cx="1.5" cy="1.5" r="0.9" fill="#9db4c3" />
          <circle cx="4.5" cy="4.5" r="0.9" fill="#9db4c3" />
        </pattern>
        <pattern
          id="rib-rest"
          width="6"
          height="6"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <rect width="6" height="6" fill="#fff" />
          <rect width="2.4" height="6" fill="var(--color-moss)" />
        </pattern>
        <pattern
          id="rib-rest-pale"
          width="6"
          height="6"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <rect width="6" height="6" fill="var(--color-sheet)" />
          <rect width="1.8" height="6" fill="#b9c8a9" />
        </pattern>
      </defs>
    </svg>
  );
}

type Paint = { fill: string; stroke: string; dash?: string };

const SLATE = 'var(--color-slate)';
const MOSS = 'var(--color-moss)';
const EMBER = 'var(--color-ember)';
const INK = 'var(--color-ink)';

const PAINT: Record<Segment['kind'], { done: Paint; coming: Paint }> = {
  hands: {
    done: { fill: '#8b8072', stroke: '#8b8072' },
    coming: { fill: 'var(--color-sheet)', stroke: '#8b8072' },
  },
  fill: {
    done: { fill: SLATE, stroke: SLATE },
    coming: { fill: 'var(--color-slate-pale)', stroke: SLATE },
  },
  dwell: {
    done: { fill: 'url(#rib-dots)', stroke: SLATE },
    coming: { fill: 'url(#rib-dots-pale)', stroke: SLATE },
  },
  soak: {
    done: { fill: 'url(#rib-dots)', stroke: SLATE },
    coming: { fill: 'url(#rib-dots-pale)', stroke: SLATE },
  },
  charge: {
    done: { fill: EMBER, stroke: EMBER },
    coming: { fill: 'var(--color-ember-pale)', stroke: EMBER },
  },
  rest: {
    done: { fill: 'url(#rib-rest)', stroke: MOSS },
    coming: { fill: 'url(#rib-rest-pale)', stroke: MOSS },
  },
  test: { done: { fill: INK, stroke: INK }, coming: { fill: 'var(--color-sheet)', stroke: INK } },
  late: {
    done: { fill: 'var(--color-oxide-pale)', stroke: 'var(--color-oxide)', dash: '4 3' },
    coming: { fill: 'none', stroke: 'none' },
  },
  idle: { done: { fill: 'none', stroke: 'none' }, coming: { fill: 'none', stroke: 'none' } },
  refused: {
    done: { fill: 'var(--color-oxide)', stroke: 'var(--color-oxide)' },
    coming: { fill: 'none', stroke: 'none' },
  },
};

export interface TimeSpan {
  from: number;
  to: number;
}

interface Props {
  segments: readonly Segment[];
  span: TimeSpan;
  width: number;
  now: number;
  promisedAt: number | null;
  /** When it will be ready, to colour the promise. */
  readyAt: number | null;
  wall: WallStyle;
}

const BAR_TOP = 6;
const BAR = 20;
const LABEL_Y = 40;
const HEIGHT = 44;
/** Barlow Condensed at 14 px, roughly. */
const LETTER = 5.7;

/** A job's life to scale: solid is done, outlined is to come, a flag is the promise. */
export function Ribbon({ segments, span, width, now, promisedAt, readyAt, wall }: Props) {
  const scale = width / (span.to - span.from);
  const x = (at: number) => (at - span.from) * scale;
  const clamp = (v: number) => Math.max(0, Math.min(width, v));
  const visible = segments.filter((s) => s.to >= span.from && s.from <= span.to);
  const before = segments.some((s) => s.from < span.from);
  const after = segments.some((s) => s.to > span.to);
  const late = promisedAt !== null && readyAt !== null && readyAt > promisedAt;
  const spoken = segments
    .filter((s) => s.label && s.phase === 'coming')
    .map((s) => `${s.label} until ${formatMoment(s.to, now, wall)}`);

  return (
    <svg
      width={width}
      height={HEIGHT}
      role="img"
      aria-label={spoken.length > 0 ? `To come: ${spoken.join(', ')}` : 'Nothing to come'}
      className="block"
    >
      <line
        x1={0}
        x2={width}
        y1={BAR_TOP + BAR / 2}
        y2={BAR_TOP + BAR / 2}
        stroke="var(--color-line)"
        strokeWidth="1"
      />
      {visible.map((s, i) => {
        if (s.kind === 'refused') return <RefusedMark key={i} x={clamp(x(s.from))} />;
        const paint = PAINT[s.kind][s.phase];
        const from = clamp(x(s.from));
        const w = Math.max(clamp(x(s.to)) - from, s.kind === 'idle' ? 0 : 1.5);
        return (
          <rect
            key={i}
            x={from}
            y={BAR_TOP}
            width={w}
            height={BAR}
            fill={paint.fill}
            stroke={paint.stroke}
            strokeWidth="1"
            strokeDasharray={paint.dash}
          />
        );
      })}
      {labelsOf(visible, x, clamp, x(now)).map((l) => (
        <text
          key={`${l.x}${l.text}`}
          x={l.x}
          y={LABEL_Y}
          className="fill-soft font-label text-[14px]"
        >
          {l.text}
        </text>
      ))}
      {before && (
        <path d={`M5 ${BAR_TOP + 4}l-5 6 5 6`} fill="none" stroke={INK} strokeWidth="1.5" />
      )}
      {after && (
        <path
          d={`M${width - 5} ${BAR_TOP + 4}l5 6-5 6`}
          fill="none"
          stroke={INK}
          strokeWidth="1.5"
        />
      )}
      {promisedAt !== null && promisedAt > span.from && promisedAt < span.to && (
        <Flag x={x(promisedAt)} late={late} said={formatClock(promisedAt, wall)} />
      )}
    </svg>
  );
}

/** Labels that fit under their own stretch and keep off the now line and each other. */
function labelsOf(
  segments: readonly Segment[],
  x: (at: number) => number,
  clamp: (v: number) => number,
  nowX: number,
) {
  const out: { x: number; text: string; end: number }[] = [];
  segments.forEach((s) => {
    if (!s.label || s.kind === 'refused' || s.kind === 'hands') return;
    const twin = segments.find((o) => o !== s && o.label === s.label && o.phase !== s.phase);
    const room = (o: Segment) => clamp(x(o.to)) - clamp(x(o.from));
    if (twin && (room(twin) > room(s) || (room(twin) === room(s) && s.phase === 'coming'))) return;
    const start = clamp(x(s.from)) + 2;
    const width = s.label.length * LETTER;
    const end = start + width;
    if (room(s) < width - 4) return;
    if (start < nowX && end > nowX - 2) return;
    if (out.some((o) => o.end + 5 > start && o.x < end + 5)) return;
    out.push({ x: start, text: s.label, end });
  });
  return out;
}

function Flag({ x, late, said }: { x: number; late: boolean; said: string }) {
  const colour = late ? 'var(--color-oxide)' : INK;
  return (
    <g stroke={colour} strokeWidth="1.6" fill={late ? colour : 'var(--color-sheet)'}>
      <title>{late ? `Promised ${said}, will be late` : `Promised ${said}`}</title>
      <path d={`M${x} 30V2h11l-3 4 3 4H${x}`} />
    </g>
  );
}

function RefusedMark({ x }: { x: number }) {
  const left = Math.max(0, x - 10);
  return (
    <g>
      <rect x={left} y={BAR_TOP} width={20} height={BAR} fill="var(--color-oxide)" />
      <path d={`M${left + 5} ${BAR_TOP + 5}l10 10m0-10l-10 10`} stroke="#fff" strokeWidth="2.2" />
    </g>
  );
}

const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;
/** Room that the words of a mark take, px. */
const LABEL_WIDTH = 62;

/** Whole hours on the wall along a span, in steps that keep the labels apart; where the wall clock jumps, the steps jump with it. */
export function hourMarks(
  span: TimeSpan,
  width: number,
  wall: WallStyle,
): { at: number; label: string }[] {
  const leastMs = (LABEL_WIDTH / width) * (span.to - span.from);
  const steps = [1, 2, 3, 6, 12, 24].map((h) => h * HOUR_MS);
  const step = steps.find((s) => s >= leastMs) ?? Math.ceil(leastMs / DAY_MS) * DAY_MS;
  // Days are counted from midnight, whatever their length; over many of them the month says more than the day of the week.
  const everyMs = Math.min(step, DAY_MS);
  const dayWords = step > 2 * DAY_MS ? formatDayMonth : formatWeekday;
  const past = (at: number): number =>
    (onTheWall(at, wall.timeZone).minutes * 60_000 + (at % 60_000)) % everyMs;
  const marks: { at: number; label: string }[] = [];
  for (
    let at = span.from - past(span.from) + (past(span.from) > 0 ? everyMs : 0);
    at < span.to;
    at += step
  ) {
    const off = past(at);
    at -= off > everyMs / 2 ? off - everyMs : off;
    if (at >= span.from && at < span.to)
      marks.push({
        at,
        label:
          onTheWall(at, wall.timeZone).minutes === 0
            ? dayWords(at, wall)
            : formatClock(at, wall).replace(':00 ', ' '),
      });
  }
  return marks;
}
