import { memo, useMemo } from 'react';
import type { ChargeLog } from '../../../core/exchange/chargeLog.ts';
import { AMPS, TraceChart, VOLTS } from '../../drawings/TraceChart.tsx';
import { useWidth } from '../../drawings/useWidth.ts';

/** A log from outside: volts, amps, and warmth where it has it. */
export const LogChart = memo(function LogChart({ log }: { log: ChargeLog }) {
  const [ref, width] = useWidth();
  const lines = useMemo(() => {
    const points = (values: readonly number[]) =>
      log.seconds.map((s, i) => ({ h: s / 3600, y: values[i] ?? 0 }));
    const line = (values: readonly number[]) => [
      { name: 'logged', points: points(values), colour: 'var(--color-ember)', width: 2 },
    ];
    return {
      volts: line(log.voltageV),
      amps: line(log.currentA),
      warmth: log.temperatureC && line(log.temperatureC),
    };
  }, [log]);
  const untilH = Math.max(0.01, (log.seconds.at(-1) ?? 0) / 3600);
  return (
    <div ref={ref} className="grid w-full gap-1">
      <TraceChart
        title="Volts"
        {...VOLTS}
        lines={lines.volts}
        width={width}
        height={150}
        untilH={untilH}
      />
      <TraceChart
        title="Amps, charge positive"
        {...AMPS}
        lines={lines.amps}
        width={width}
        untilH={untilH}
      />
      {lines.warmth && (
        <TraceChart
          title="Temperature"
          unit="°C"
          decimals={0}
          lines={lines.warmth}
          width={width}
          height={90}
          untilH={untilH}
        />
      )}
    </div>
  );
});
