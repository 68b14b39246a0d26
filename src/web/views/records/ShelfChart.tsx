import { useMemo } from 'react';
import {
  Area,
  CartesianGrid,
  ComposedChart,
  Line,
  ReferenceLine,
  Scatter,
  XAxis,
  YAxis,
} from 'recharts';
import { CHEMISTRIES, forCells } from '../../../core/batteries/chemistry.ts';
import { leadAcidKind } from '../../../core/batteries/kinds.ts';
import type { HouseRules } from '../../../core/house/rules.ts';
import { schoolOf } from '../../../core/house/schools.ts';
import { formatDayMonth } from '../../../core/quantities/format.ts';
import { shelfCourse } from '../../../core/storage/selfDischarge.ts';
import type { StockItem } from '../../../core/storage/stock.ts';
import { useWidth } from '../../drawings/useWidth.ts';

const DAY_MS = 86_400_000;
/** Days the forecast is drawn ahead. */
const AHEAD = 75;
const POINTS = 40;

/** Rest voltage on the shelf since the last charge: what was read, what is believed, and the line that calls for a charge. */
export function ShelfChart({
  item,
  rules,
  now,
}: {
  item: StockItem;
  rules: HouseRules;
  now: number;
}) {
  const [ref, width] = useWidth();
  const day = Math.floor(now / DAY_MS);
  const { course, line } = useMemo(() => {
    const kind = leadAcidKind(item.kind);
    const place = {
      kind,
      chemistry: CHEMISTRIES[kind.chemistry],
      cells: item.cells,
      temperatureC: rules.shelfC,
    };
    const believed = shelfCourse(place, item.readings);
    const from = item.chargedAt;
    const until = (day + AHEAD) * DAY_MS;
    const { atV } = schoolOf('storageRecharge', rules.schools).school.values;
    return {
      line: atV === null ? null : forCells(atV, item.cells),
      course: Array.from({ length: POINTS + 1 }, (_, i) => {
        const moment = from + ((until - from) * i) / POINTS;
        const { volts } = believed(moment);
        return { at: moment, mid: volts.mid, band: [volts.low, volts.high] };
      }),
    };
  }, [item, rules, day]);
  const read = item.readings.map((r) => ({ at: r.at, mid: r.voltageV }));
  const values = [
    ...course.flatMap((c) => c.band),
    ...read.map((r) => r.mid),
    ...(line === null ? [] : [line]),
  ];
  const [low, high] = [Math.min(...values) - 0.03, Math.max(...values) + 0.03];
  return (
    <figure
      aria-label={`Rest voltage on the shelf: ${read.length} read, forecast ${course.at(-1)?.mid.toFixed(2)} V in ${AHEAD} days`}
      ref={ref}
      className="min-w-0"
    >
      <figcaption className="label flex justify-between pr-3.5">
        On the shelf since its charge: read ●, forecast with its band
        <span>V</span>
      </figcaption>
      {width > 0 && (
        <ComposedChart
          width={width}
          height={190}
          data={course}
          margin={{ top: 6, right: 14, bottom: 0, left: 0 }}
          accessibilityLayer={false}
        >
          <CartesianGrid stroke="var(--color-hair)" vertical={false} />
          <XAxis
            dataKey="at"
            type="number"
            domain={['dataMin', 'dataMax']}
            tickFormatter={(at: number) => formatDayMonth(at, rules)}
            stroke="var(--color-soft)"
            tick={{ fontSize: 14, fill: 'var(--color-soft)' }}
            tickLine={false}
            height={24}
          />
          <YAxis
            width={52}
            domain={[low, high]}
            tickFormatter={(v: number) => v.toFixed(2)}
            tickCount={5}
            stroke="var(--color-soft)"
            tick={{ fontSize: 14, fill: 'var(--color-soft)' }}
            tickLine={false}
          />
          <Area
            dataKey="band"
            stroke="none"
            fill="var(--color-moss)"
            fillOpacity={0.18}
            isAnimationActive={false}
          />
          <Line
            dataKey="mid"
            stroke="var(--color-moss)"
            strokeWidth={2}
            dot={false}
            isAnimationActive={false}
          />
          {line !== null && (
            <ReferenceLine
              y={line}
              stroke="var(--color-ochre)"
              strokeDasharray="5 4"
              label={{
                value: 'recharge',
                position: 'insideBottomLeft',
                fontSize: 14,
                fill: 'var(--color-ochre)',
              }}
            />
          )}
          <ReferenceLine x={now} stroke="var(--color-ember)" strokeWidth={2} />
          <Scatter data={read} dataKey="mid" fill="var(--color-ink)" isAnimationActive={false} />
        </ComposedChart>
      )}
    </figure>
  );
}
