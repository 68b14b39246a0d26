import { CartesianGrid, Line, LineChart, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import type { HouseRules } from '../../../core/house/rules.ts';
import type { Reading } from '../../../core/procedures/job.ts';
import { formatClock, formatDay, formatStamp } from '../../../core/quantities/format.ts';

interface Props {
  readings: readonly Reading[];
  rules: HouseRules;
  ceilingV: number;
  passV: number;
}

const DAY_MS = 86_400_000;

/** Volts on top, amps and warmth below, over time; corrected readings are left out, marked ones are hollow. */
export default function ReadingsChart({ readings, rules, ceilingV, passV }: Props) {
  const points = readings
    .filter((r) => r.supersededBy === null)
    .toSorted((a, b) => a.at - b.at)
    .map((r) => ({ at: r.at, role: r.role, marked: r.marks.some((m) => m !== 'confirmed'), volts: r.role === 'load' ? undefined : r.values.voltageV, load: r.role === 'load' ? r.values.voltageV : undefined, amps: r.values.currentA, celsius: r.values.temperatureC }));
  const [first, last] = [points[0]?.at ?? 0, points.at(-1)?.at ?? 0];
  const long = last - first > DAY_MS;
  const tick = (at: number) => (long ? formatDay(at, rules.timeZone) : formatClock(at, rules.timeZone));
  const axis = { stroke: 'var(--color-soft)', tick: { fontSize: 14, fill: 'var(--color-soft)' }, tickLine: false };
  const x = <XAxis dataKey="at" type="number" domain={['dataMin', 'dataMax']} scale="time" tickFormatter={tick} minTickGap={50} {...axis} />;
  const tip = (
    <Tooltip
      labelFormatter={(at) => formatStamp(Number(at), rules.timeZone)}
      formatter={(value, name) => [Number(value).toFixed(name === '°C' ? 0 : 2), name]}
      contentStyle={{ background: 'var(--color-sheet)', border: '1px solid var(--color-ink)', borderRadius: 6 }}
    />
  );
  const amps = points.some((p) => p.amps !== undefined);
  const volts = points.flatMap((p) => p.volts ?? []);
  const floor = Math.floor((Math.min(passV, ...volts) - 0.2) * 2) / 2;
  const top = Math.ceil((Math.max(ceilingV, ...volts) + 0.1) * 2) / 2;

  return (
    <figure aria-label={`Volts from ${Math.min(...volts).toFixed(2)} to ${Math.max(...volts).toFixed(2)} over ${points.length} readings`}>
      <ResponsiveContainer width="100%" height={200}>
        <LineChart data={points} margin={{ top: 16, right: 70, bottom: 0, left: 0 }}>
          <CartesianGrid stroke="var(--color-hair)" vertical={false} />
          {x}
          <YAxis domain={[floor, top]} width={62} tickFormatter={(v: number) => `${v.toFixed(1)} V`} {...axis} />
          <ReferenceLine y={ceilingV} stroke="var(--color-ember)" strokeDasharray="5 4" label={{ value: 'ceiling', position: 'right', fontSize: 14, fill: 'var(--color-ember-ink)' }} />
          <ReferenceLine y={passV} stroke="var(--color-moss)" strokeDasharray="5 4" label={{ value: 'pass line', position: 'right', fontSize: 14, fill: 'var(--color-moss)' }} />
          {tip}
          <Line name="V" dataKey="volts" connectNulls stroke="var(--color-ink)" strokeWidth={2} isAnimationActive={false} dot={<Mark />} />
        </LineChart>
      </ResponsiveContainer>
      {amps && (
        <ResponsiveContainer width="100%" height={120}>
          <LineChart data={points} margin={{ top: 8, right: 14, bottom: 0, left: 0 }}>
            <CartesianGrid stroke="var(--color-hair)" vertical={false} />
            {x}
            <YAxis yAxisId="a" width={62} tickCount={4} tickFormatter={(v: number) => `${v.toFixed(1)} A`} domain={[0, 'auto']} {...axis} />
            <YAxis yAxisId="t" orientation="right" width={56} tickCount={4} unit=" °C" domain={['dataMin - 3', 'dataMax + 3']} {...axis} />
            {tip}
            <Line yAxisId="a" name="A" dataKey="amps" stroke="var(--color-ember)" strokeWidth={2} isAnimationActive={false} dot={{ r: 3 }} />
            <Line yAxisId="t" name="°C" dataKey="celsius" connectNulls stroke="var(--color-slate)" strokeWidth={2} strokeDasharray="2 3" isAnimationActive={false} dot={{ r: 3 }} />
          </LineChart>
        </ResponsiveContainer>
      )}
      {amps && <figcaption className="text-[15px] text-soft">Amps solid, warmth dotted. A hollow point was read early or carries surface charge.</figcaption>}
    </figure>
  );
}

/** A point of the volts line: hollow where the reading may not be judged. */
function Mark({ cx, cy, payload }: { cx?: number; cy?: number; payload?: { marked: boolean; volts?: number } }) {
  if (cx === undefined || cy === undefined || payload?.volts === undefined) return null;
  return <circle cx={cx} cy={cy} r={4} fill={payload.marked ? 'var(--color-sheet)' : 'var(--color-ink)'} stroke="var(--color-ink)" strokeWidth={2} />;
}
