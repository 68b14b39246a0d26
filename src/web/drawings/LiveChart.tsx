import { memo, useMemo } from 'react';
import type { ChargeWire } from '../../contract/chargeWire.ts';
import { momentOfHoursOn } from '../../core/charging/progress.ts';
import { AMPS, TraceChart, type TraceLine, VOLTS } from './TraceChart.tsx';
import { useWidth } from './useWidth.ts';

const MEASURED = 'var(--color-ember)';
const EXPECTED = 'var(--color-ink)';

const HOUR_MS = 3_600_000;
/** Peaks this far above the mean are drawn beside it, V. */
const PEAK_V = 0.05;

const points = (hours: readonly number[], values: readonly number[]) =>
  hours.map((h, i) => ({ h, y: values[i] ?? 0 }));

/** Measured against expected: volts with their peaks, and amps, over the hours of the charge. */
export default memo(function LiveChart({ charge }: { charge: ChargeWire }) {
  const [ref, width] = useWidth();
  const { samples, expected, endedAt, stretches, startedAt } = charge;
  const gone = samples.hours.at(-1) ?? 0;
  const lines = useMemo(() => {
    // The twin knows no pauses: its course is laid over the hours in which current was on.
    const onClock = expected.hours.map(
      (h) => (momentOfHoursOn(h, stretches, startedAt + gone * HOUR_MS) - startedAt) / HOUR_MS,
    );
    const both = (measured: readonly number[], planned: readonly number[]): TraceLine[] => [
      {
        name: 'expected',
        points: points(onClock, planned),
        colour: EXPECTED,
        dash: '5 4',
        width: 1.5,
      },
      { name: 'measured', points: points(samples.hours, measured), colour: MEASURED, width: 2.5 },
    ];
    // A clip that comes off reads nothing like a battery; the axis keeps to where current flows.
    const flowing = samples.voltageV.filter((_, i) => Math.abs(samples.currentA[i] ?? 0) > 0.01);
    const focus = [...expected.voltageV, ...flowing, ...samples.voltageV.slice(-1)];
    const bursts = samples.voltageHighV.some((v, i) => v - (samples.voltageV[i] ?? v) > PEAK_V);
    const volts = both(samples.voltageV, expected.voltageV);
    if (bursts)
      volts.push({
        name: 'highest',
        points: points(samples.hours, samples.voltageHighV),
        colour: MEASURED,
        width: 1,
      });
    return {
      focus,
      endH: onClock.at(-1) ?? 0,
      volts,
      amps: both(samples.currentA, expected.currentA),
    };
  }, [samples, expected, stretches, startedAt, gone]);
  const untilH = Math.max(0.25, gone, lines.endH);
  const now = endedAt ? undefined : gone;
  return (
    <div ref={ref} className="grid w-full gap-1">
      <TraceChart
        title="Volts: measured solid, expected by its twin dashed"
        {...VOLTS}
        lines={lines.volts}
        focus={lines.focus}
        width={width}
        height={170}
        untilH={untilH}
        nowH={now}
      />
      <TraceChart
        title="Amps"
        {...AMPS}
        lines={lines.amps}
        width={width}
        untilH={untilH}
        nowH={now}
      />
    </div>
  );
});
