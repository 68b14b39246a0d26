import type { Span } from '../../../core/dayplan/problem.ts';
import type { ToldPlan } from '../../../core/dayplan/told.ts';
import type { Axis } from './planAxis.ts';

const HEIGHT = 34;

interface Load extends Span {
  much: number;
}

/** Gas against the room's air, and amps against the fuse, over time. */
export function Loads({ plan, axis, nowMin }: { plan: ToldPlan; axis: Axis; nowMin: number }) {
  const loads = (much: (run: { airM3h: number; mainsA: number }) => number): Load[] =>
    plan.works.flatMap((work) =>
      work.tasks.flatMap(({ run }) =>
        run ? run.on.map((s) => ({ from: s.from, to: s.to, much: much(run) })) : [],
      ),
    );
  return (
    <section aria-label="Air and fuse" className="pt-3">
      <LoadBand
        name="Air"
        loads={loads((r) => r.airM3h)}
        limit={plan.airM3h}
        unit="m³/h"
        fill="var(--color-slate-pale)"
        axis={axis}
        nowMin={nowMin}
      />
      <LoadBand
        name="Fuse"
        loads={loads((r) => r.mainsA)}
        limit={plan.fuseA}
        unit="A"
        fill="var(--color-line)"
        axis={axis}
        nowMin={nowMin}
      />
    </section>
  );
}

interface BandProps {
  name: string;
  loads: readonly Load[];
  limit: number;
  unit: string;
  fill: string;
  axis: Axis;
  nowMin: number;
}

function LoadBand({ name, loads, limit, unit, fill, axis, nowMin }: BandProps) {
  const times = [...new Set(loads.flatMap((l) => [l.from, l.to]))]
    .filter((t) => t > axis.from && t < axis.to)
    .sort((a, b) => a - b);
  const loadAt = (t: number): number =>
    loads.reduce((sum, l) => sum + (l.from <= t && l.to > t ? l.much : 0), 0);
  const steps = [Math.max(axis.from, 0), ...times.filter((t) => t > 0), axis.to];
  const most = Math.max(0, ...steps.map(loadAt));
  const scale = (HEIGHT - 6) / Math.max(limit, most);
  const y = (value: number): number => HEIGHT - value * scale;
  const path = steps
    .slice(0, -1)
    .map((t, i) => `H${axis.x(t)} V${y(loadAt(t))} H${axis.x(steps[i + 1] as number)}`)
    .join(' ');
  return (
    <div className="flex items-end">
      <div className="min-w-0 flex-1 pr-2 text-sm leading-tight text-soft">
        <b className="font-label text-[15px]">{name}</b>
        <br />
        at most {most.toFixed(1)} of {Number(limit.toFixed(1))} {unit}
      </div>
      <svg
        width={axis.width}
        height={HEIGHT}
        role="img"
        aria-label={`${name}: at most ${most.toFixed(1)} of ${Number(limit.toFixed(1))} ${unit}`}
        className="block shrink-0"
      >
        <path d={`M${axis.x(steps[0] ?? 0)} ${HEIGHT} ${path} V${HEIGHT} Z`} fill={fill} />
        <line
          x1={0}
          x2={axis.width}
          y1={y(limit)}
          y2={y(limit)}
          stroke="var(--color-oxide)"
          strokeDasharray="5 4"
        />
        <line
          x1={axis.x(nowMin)}
          x2={axis.x(nowMin)}
          y1={0}
          y2={HEIGHT}
          stroke="var(--color-ember)"
          strokeWidth={2}
        />
      </svg>
    </div>
  );
}
