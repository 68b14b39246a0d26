import { fahrenheitFromCelsius } from '../../core/quantities/quantity.ts';
import { memo } from 'react';
import {
  CartesianGrid,
  Line,
  LineChart,
  ReferenceLine,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';
import type { HouseRules } from '../../core/house/rules.ts';
import type { Reading } from '../../core/job/reading.ts';
import { hourMarks } from './Ribbon.tsx';
import {
  formatClock,
  formatDay,
  formatStamp,
  type WallStyle,
} from '../../core/quantities/format.ts';

interface Props {
  readings: readonly Reading[];
  rules: HouseRules;
  ceilingV: number;
  passV: number;
}

const DAY_MS = 86_400_000;

const MOST_MARKS = 7;

/** Where the time axis is marked: at whole days or hours on the wall, a handful of them. */
function timeTicks(first: number, last: number, wall: WallStyle): number[] {
  const marks = hourMarks({ from: first, to: last + 1 }, 500, wall).map((m) => m.at);
  if (marks.length < 2) return [first, ...(last > first ? [last] : [])];
  const every = Math.ceil(marks.length / MOST_MARKS);
  return marks.filter((_, i) => i % every === 0);
}

/** Every standing reading over time: volts on top (joined only while charging), amps and warmth below. */
export default memo(function ReadingsChart({ readings, rules, ceilingV, passV }: Props) {
  const degree = `°${rules.temperatureUnit}`;
  const points = readings
    .filter((r) => r.supersededBy === null)
    .toSorted((a, b) => a.at - b.at)
    .map((r) => ({
      at: r.at,
      role: r.role,
      marked: r.marks.some((m) => m !== 'confirmed'),
      charging: r.role === 'charge' ? r.values.voltageV : undefined,
      still: r.role === 'charge' ? undefined : r.values.voltageV,
      amps: r.values.currentA,
      degrees:
        r.values.temperatureC === undefined
          ? undefined
          : rules.temperatureUnit === 'F'
            ? Math.round(fahrenheitFromCelsius(r.values.temperatureC))
            : r.values.temperatureC,
    }));
  const [first, last] = [points[0]?.at ?? 0, points.at(-1)?.at ?? 0];
  const long = last - first > DAY_MS;
  const tick = (at: number) => (long ? formatDay(at, rules) : formatClock(at, rules));
  const axis = {
    stroke: 'var(--color-soft)',
    tick: { fontSize: 14, fill: 'var(--color-soft)' },
    tickLine: false,
  };
  const marks = timeTicks(first, last, rules);
  const x = (
    <XAxis
      dataKey="at"
      type="number"
      domain={['dataMin', 'dataMax']}
      scale="time"
      ticks={marks}
      interval="equidistantPreserveStart"
      tickFormatter={tick}
      minTickGap={50}
      {...axis}
    />
  );
  const tip = (
    <Tooltip
      labelFormatter={(at) => formatStamp(Number(at), rules)}
      formatter={(value, name) => [Number(value).toFixed(name === degree ? 0 : 2), name]}
      contentStyle={{
        background: 'var(--color-sheet)',
        border: '1px solid var(--color-ink)',
        borderRadius: 6,
      }}
    />
  );
  const amps = points.some((p) => p.amps !== undefined);
  const volts = points.flatMap((p) => p.charging ?? p.still ?? []);
  const floor = Math.floor((Math.min(passV, ...volts) - 0.2) * 2) / 2;
  const top = Math.ceil((Math.max(ceilingV, ...volts) + 0.1) * 2) / 2;
  const step = top - floor > 3 ? 1 : 0.5;
  const ticks = Array.from(
    { length: Math.floor((top - floor) / step) + 1 },
    (_, i) => floor + i * step,
  );

  return (
    <figure
      className="min-w-0 overflow-hidden"
      aria-label={`Volts from ${Math.min(...volts).toFixed(2)} to ${Math.max(...volts).toFixed(2)} over ${points.length} readings`}
    >
      <ResponsiveContainer minWidth={0} width="100%" height={200}>
        <LineChart data={points} margin={{ top: 16, right: 70, bottom: 0, left: 0 }}>
          <CartesianGrid stroke="var(--color-hair)" vertical={false} />
          {x}
          <YAxis
            domain={[floor, top]}
            ticks={ticks}
            width={62}
            tickFormatter={(v: number) => `${v.toFixed(1)} V`}
            {...axis}
          />
          <ReferenceLine
            y={ceilingV}
            stroke="var(--color-ember)"
            strokeDasharray="5 4"
            label={{
              value: 'ceiling',
              position: 'right',
              fontSize: 14,
              fill: 'var(--color-ember-ink)',
            }}
          />
          <ReferenceLine
            y={passV}
            stroke="var(--color-moss)"
            strokeDasharray="5 4"
            label={{
              value: 'pass line',
              position: 'right',
              fontSize: 14,
              fill: 'var(--color-moss)',
            }}
          />
          {tip}
          <Line
            name="V, charging"
            dataKey="charging"
            stroke="var(--color-ember)"
            strokeWidth={2}
            isAnimationActive={false}
            dot={{ r: 4, fill: 'var(--color-ember)' }}
          />
          <Line name="V" dataKey="still" stroke="none" isAnimationActive={false} dot={<Mark />} />
        </LineChart>
      </ResponsiveContainer>
      {amps && (
        <ResponsiveContainer minWidth={0} width="100%" height={120}>
          <LineChart data={points} margin={{ top: 8, right: 14, bottom: 0, left: 0 }}>
            <CartesianGrid stroke="var(--color-hair)" vertical={false} />
            {x}
            <YAxis
              yAxisId="a"
              width={62}
              tickCount={4}
              tickFormatter={(v: number) => `${v.toFixed(1)} A`}
              domain={[0, 'auto']}
              {...axis}
            />
            <YAxis
              yAxisId="t"
              orientation="right"
              width={56}
              tickCount={4}
              unit={` ${degree}`}
              domain={['dataMin - 3', 'dataMax + 3']}
              {...axis}
            />
            {tip}
            <Line
              yAxisId="a"
              name="A"
              dataKey="amps"
              stroke="var(--color-ember)"
              strokeWidth={2}
              isAnimationActive={false}
              dot={{ r: 3 }}
            />
            <Line
              yAxisId="t"
              name={degree}
              dataKey="degrees"
              connectNulls
              stroke="var(--color-slate)"
              strokeWidth={2}
              strokeDasharray="2 3"
              isAnimationActive={false}
              dot={{ r: 3 }}
            />
          </LineChart>
        </ResponsiveContainer>
      )}
      <figcaption className="text-[15px] text-soft">
        Line: on charge. Diamond: at rest, hollow where it was read early or carries surface charge.
        Triangle: under load.
        {amps && ' Below, amps solid, temperature dotted.'}
      </figcaption>
    </figure>
  );
});

/** A voltage read with no charger on: a diamond at rest, a triangle under load, hollow where it may not be judged. */
function Mark({
  cx,
  cy,
  payload,
}: {
  cx?: number;
  cy?: number;
  payload?: { role: Reading['role']; marked: boolean; still?: number };
}) {
  if (cx === undefined || cy === undefined || payload?.still === undefined) return null;
  const path =
    payload.role === 'load' ? `M${cx - 6} ${cy - 5}h12l-6 11z` : `M${cx} ${cy - 7}l6 7-6 7-6-7z`;
  const colour = payload.role === 'load' ? 'var(--color-ink)' : 'var(--color-moss)';
  return (
    <path
      d={path}
      fill={payload.marked ? 'var(--color-sheet)' : colour}
      stroke={colour}
      strokeWidth={2}
    />
  );
}
