import { memo } from 'react';
import { hourTicks, hourWord, tickDecimals, valueTicks } from './ticks.ts';
import { CartesianGrid, Line, LineChart, ReferenceLine, Tooltip, XAxis, YAxis } from 'recharts';

export interface TraceLine {
  name: string;
  /** h, and the value there. */
  points: readonly { h: number; y: number }[];
  colour: string;
  dash?: string;
  width?: number;
}

interface Props {
  title: string;
  unit: string;
  decimals: number;
  lines: readonly TraceLine[];
  width: number;
  height: number;
  /** Where the time axis ends, h; the charts of one view share it. */
  untilH: number;
  /** A limit drawn across, with its word. */
  limit?: { y: number; word: string } | undefined;
  /** Hours gone by: a line for now. */
  nowH?: number | undefined;
  fromZero?: boolean;
  /** Values the axis must hold; others may run out of it. Without it every value is held. */
  focus?: readonly number[] | undefined;
}

/** How voltage and current of a charge are drawn, wherever they are. */
export const VOLTS = { unit: 'V', decimals: 2 } as const;
export const AMPS = { unit: 'A', decimals: 2, height: 104, fromZero: true } as const;

const AXIS = {
  stroke: 'var(--color-soft)',
  tick: { fontSize: 14, fill: 'var(--color-soft)' },
  tickLine: false,
} as const;
const MARGIN = { top: 6, right: 14, bottom: 0, left: 0 };

/** One quantity over hours, a line for each course of events. */
export const TraceChart = memo(function TraceChart({
  title,
  unit,
  decimals,
  lines,
  width,
  height,
  untilH,
  limit,
  nowH,
  fromZero = false,
  focus,
}: Props) {
  const values = focus ?? lines.flatMap((l) => l.points.map((p) => p.y));
  const ticks = values.length > 0 ? valueTicks(values, limit?.y, fromZero, decimals) : [0, 1];
  const digits = tickDecimals((ticks[1] ?? 1) - (ticks[0] ?? 0));
  const said = lines
    .map(
      (l) =>
        `${l.name}: ${(l.points[0]?.y ?? 0).toFixed(decimals)} to ${(l.points.at(-1)?.y ?? 0).toFixed(decimals)} ${unit}`,
    )
    .join('; ');
  return (
    <figure aria-label={`${title}. ${said}`} className="min-w-0">
      <figcaption className="label flex justify-between pr-3.5">
        {title}
        <span>{unit}</span>
      </figcaption>
      {width <= 0 ? (
        // Its room, until the width is known: nothing moves when it is drawn.
        <div style={{ height }} />
      ) : (
        <LineChart width={width} height={height} margin={MARGIN} accessibilityLayer={false}>
          <CartesianGrid stroke="var(--color-hair)" vertical={false} />
          <XAxis
            dataKey="h"
            type="number"
            domain={[0, untilH]}
            ticks={hourTicks(untilH)}
            tickFormatter={hourWord}
            height={24}
            {...AXIS}
          />
          <YAxis
            width={46}
            domain={[ticks[0] as number, ticks.at(-1) as number]}
            ticks={ticks}
            interval={0}
            // What is held is not cut at the edge, half a line wide.
            allowDataOverflow={focus !== undefined}
            tickFormatter={(v: number) => v.toFixed(digits)}
            {...AXIS}
          />
          {limit && (
            <ReferenceLine
              y={limit.y}
              stroke="var(--color-ochre)"
              strokeDasharray="5 4"
              label={{
                value: limit.word,
                position: 'insideTopRight',
                fontSize: 14,
                fill: 'var(--color-ochre)',
              }}
            />
          )}
          {nowH !== undefined && (
            <ReferenceLine x={nowH} stroke="var(--color-ember)" strokeWidth={2} />
          )}
          <Tooltip
            labelFormatter={(h) => `after ${Number(h).toFixed(1)} h`}
            formatter={(value, name) => [`${Number(value).toFixed(decimals)} ${unit}`, name]}
            contentStyle={{
              background: 'var(--color-sheet)',
              border: '1px solid var(--color-ink)',
              borderRadius: 6,
            }}
            isAnimationActive={false}
          />
          {lines.map((line) => (
            <Line
              key={line.name}
              name={line.name}
              data={line.points as { h: number; y: number }[]}
              dataKey="y"
              stroke={line.colour}
              strokeWidth={line.width ?? 2}
              {...(line.dash ? { strokeDasharray: line.dash } : {})}
              dot={false}
              isAnimationActive={false}
            />
          ))}
        </LineChart>
      )}
    </figure>
  );
});
