import type { Moment } from '../../../core/quantities/moment.ts';
import type { Inside } from '../../../core/drill/inside.ts';
import { AMPS, TraceChart, VOLTS } from '../../drawings/TraceChart.tsx';
import { useWidth } from '../../drawings/useWidth.ts';
import { useRules } from '../../line/queries.ts';

const HOUR_MS = 3_600_000;

/** What went on in the battery while nobody could see it. */
export function InsideCharts({ inside, beganAt }: { inside: readonly Inside[]; beganAt: Moment }) {
  const [ref, width] = useWidth();
  const { temperatureUnit } = useRules();
  const hoursOf = (p: Inside): number => (p.at - beganAt) / HOUR_MS;
  const untilH = Math.max(0.5, ...inside.map(hoursOf));
  const line = (name: string, colour: string, value: (p: Inside) => number, dash?: string) => ({
    name,
    colour,
    ...(dash ? { dash } : {}),
    points: inside.map((p) => ({ h: hoursOf(p), y: value(p) })),
  });
  const shared = { width, untilH };
  return (
    <section aria-label="Inside the battery" className="mt-6 max-w-5xl">
      <h2 className="mb-2 text-2xl">Inside the battery, now that it may be seen</h2>
      <div ref={ref} className="grid gap-3">
        <TraceChart
          title="Charge: mean of its cells, and the poorest (dashed)"
          unit="%"
          decimals={0}
          height={150}
          fromZero
          lines={[
            line('mean', 'var(--color-moss)', (p) => 100 * p.charge),
            line('poorest cell', 'var(--color-oxide)', (p) => 100 * p.poorest, '5 4'),
          ]}
          {...shared}
        />
        <TraceChart
          title="Voltage"
          height={140}
          {...VOLTS}
          lines={[line('voltage', 'var(--color-slate)', (p) => p.voltageV)]}
          {...shared}
        />
        <TraceChart
          title="Current"
          {...AMPS}
          lines={[line('current', 'var(--color-ember)', (p) => p.currentA)]}
          {...shared}
        />
        <TraceChart
          title="Temperature"
          unit={temperatureUnit === 'F' ? '°F' : '°C'}
          decimals={0}
          height={110}
          lines={[
            line('temperature', 'var(--color-ochre)', (p) =>
              temperatureUnit === 'F' ? 32 + 1.8 * p.temperatureC : p.temperatureC,
            ),
          ]}
          {...shared}
        />
      </div>
    </section>
  );
}
