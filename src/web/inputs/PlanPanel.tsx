import { memo } from 'react';
import type { JobPlan } from '../../core/plan/jobPlan.ts';
import type { FigureKey } from '../../core/plan/figures.ts';
import type { Segment } from '../../core/watch/timeline.ts';
import { type WallStyle } from '../../core/quantities/format.ts';
import { hourMarks, Ribbon } from '../drawings/Ribbon.tsx';
import { useWidth } from '../drawings/useWidth.ts';
import { FigureButton } from './FigureButton.tsx';

const GROUPS: readonly { title: string; keys: readonly FigureKey[] }[] = [
  {
    title: 'Fill',
    keys: ['fillMl', 'fillMlPerCell', 'fillSg', 'sodaKg', 'dwellS', 'standS', 'soakS'],
  },
  { title: 'Charge', keys: ['chargeA', 'ceilingV', 'chargeS', 'clearS'] },
  { title: 'Judge', keys: ['restS', 'passV', 'fullV', 'loadA', 'loadS', 'loadMinV', 'ccaLeastA'] },
  {
    title: 'Recover',
    keys: [
      'wakeS',
      'burstS',
      'testA',
      'cutoffV',
      'holdS',
      'acidL',
      'wasteSodaKg',
      'waterMl',
      'stubbornV',
      'stubbornA',
    ],
  },
];

/** Every number of a plan, in the order of the work; each opens to where it came from. */
export const PlanFigures = memo(function PlanFigures({ plan }: { plan: JobPlan }) {
  return (
    <div className="grid gap-3">
      {GROUPS.filter(({ keys }) => keys.some((key) => plan.figures[key])).map(({ title, keys }) => (
        <section key={title} aria-label={title}>
          <h3 className="eyebrow border-b border-line pb-1">{title}</h3>
          <div className="grid grid-cols-[repeat(auto-fill,minmax(7.6rem,1fr))] pt-1">
            {keys.map((key) => {
              const figure = plan.figures[key];
              return figure && <FigureButton key={key} figure={figure} />;
            })}
          </div>
        </section>
      ))}
      {plan.notices.map((n) => (
        <p key={n} className="rounded-md bg-ochre-pale px-3 py-2">
          {n}
        </p>
      ))}
    </div>
  );
});

interface RibbonProps {
  segments: readonly Segment[];
  now: number;
  promisedAt: number | null;
  readyAt: number | null;
  wall: WallStyle;
}

const HOUR_MS = 3_600_000;
/** Room at the end for the flag of a promise. */
const FLAG_PX = 16;

/** One job's ribbon across its own whole life, with its hours. */
export const LifeRibbon = memo(function LifeRibbon({
  segments,
  now,
  promisedAt,
  readyAt,
  wall,
}: RibbonProps) {
  const [ref, width] = useWidth({ keepsItsHeight: true });
  const ends = [...segments.map((s) => s.to), now, promisedAt ?? now];
  const starts = [...segments.map((s) => s.from), now];
  const from = Math.min(...starts);
  const to = Math.max(...ends);
  const flag = width > 4 * FLAG_PX ? (to - from) * (FLAG_PX / (width - 2 * FLAG_PX)) : 0;
  const pad = Math.max((to - from) * 0.03, HOUR_MS / 4, flag);
  const span = { from: from - pad, to: to + pad };
  const nowX = ((now - span.from) / (span.to - span.from)) * width;
  return (
    <div ref={ref} className="relative min-h-16 min-w-0">
      {width > 0 && (
        <>
          <svg width={width} height={20} className="block" aria-hidden>
            {hourMarks(span, width, wall).map((m) => {
              const x = ((m.at - span.from) / (span.to - span.from)) * width;
              return x < 18 || x > width - 18 ? null : (
                <text
                  key={m.at}
                  x={x}
                  y={14}
                  textAnchor="middle"
                  className="fill-soft font-label text-[14px]"
                >
                  {m.label}
                </text>
              );
            })}
          </svg>
          <Ribbon
            segments={segments}
            span={span}
            width={width}
            now={now}
            promisedAt={promisedAt}
            readyAt={readyAt}
            wall={wall}
          />
          <span
            aria-hidden
            className="absolute top-5 h-8 w-0.5 bg-ember"
            style={{ left: nowX - 1 }}
          />
        </>
      )}
    </div>
  );
});
