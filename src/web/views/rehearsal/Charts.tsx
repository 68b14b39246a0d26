import { memo, useMemo } from 'react';
import type { Rehearsal, Trace } from '../../../core/rehearsal/rehearse.ts';
import { fahrenheitFromCelsius, GRAMS_PER_OUNCE } from '../../../core/quantities/quantity.ts';
import type { Units } from '../../../core/quantities/shopUnits.ts';
import { TraceChart } from '../../drawings/TraceChart.tsx';
import { useWidth } from '../../drawings/useWidth.ts';
import { WAYS } from './ways.ts';

interface Result {
  index: number;
  rehearsal: Rehearsal | null;
}

const HEIGHT = 112;
const GAP = 16;
/** From here on two stand side by side, px; the same in its class. */
const TWO_FROM = 520;

/** Volts, amps, charge, warmth, gas and water of each way over the same hours. */
export const Charts = memo(function Charts({
  results,
  units: { temperatureUnit, volumeUnit },
}: {
  results: readonly Result[];
  units: Units;
}) {
  const [ref, width] = useWidth();
  const each = width >= TWO_FROM ? (width - GAP) / 2 : width;
  const rehearsals = results.map((r) => r.rehearsal);
  // Only what was rehearsed moves the lines; a word typed elsewhere does not.
  const charts = useMemo(() => {
    const degrees = (c: number) => (temperatureUnit === 'F' ? fahrenheitFromCelsius(c) : c);
    const shown: {
      title: string;
      unit: string;
      decimals: number;
      fromZero: boolean;
      y: (trace: Trace, i: number) => number;
    }[] = [
      { title: 'Volts', unit: 'V', decimals: 2, fromZero: false, y: (t, i) => t.voltageV[i] ?? 0 },
      { title: 'Amps', unit: 'A', decimals: 2, fromZero: true, y: (t, i) => t.currentA[i] ?? 0 },
      {
        title: 'Charge of the poorest cell',
        unit: '%',
        decimals: 0,
        fromZero: true,
        y: (t, i) => 100 * (t.charge[i] ?? 0),
      },
      {
        title: 'Temperature',
        unit: `°${temperatureUnit}`,
        decimals: 1,
        fromZero: false,
        y: (t, i) => degrees(t.temperatureC[i] ?? 0),
      },
      {
        title: 'Hydrogen',
        unit: 'L/h',
        decimals: 2,
        fromZero: true,
        y: (t, i) => t.hydrogenLh[i] ?? 0,
      },
      {
        title: 'Water lost',
        unit: volumeUnit === 'oz' ? 'oz' : 'g',
        decimals: volumeUnit === 'oz' ? 2 : 1,
        fromZero: true,
        y: (t, i) => (t.waterG[i] ?? 0) / (volumeUnit === 'oz' ? GRAMS_PER_OUNCE : 1),
      },
    ];
    return shown.map(({ y, ...chart }) => ({
      ...chart,
      lines: rehearsals.flatMap((rehearsal, i) => {
        const way = WAYS[i];
        if (!rehearsal || !way) return [];
        const { trace } = rehearsal;
        return [
          {
            name: way.letter,
            colour: way.colour,
            dash: way.dash,
            points: trace.hours.map((h, k) => ({ h, y: y(trace, k) })),
          },
        ];
      }),
    }));
    // oxlint-disable-next-line react/exhaustive-deps
  }, [temperatureUnit, volumeUnit, ...rehearsals]);
  const untilH = Math.max(1, ...rehearsals.map((r) => r?.summary.hours ?? 0));
  return (
    <div
      ref={ref}
      className="@container rounded-lg border border-line bg-sheet p-3 pr-0"
      data-drawn={rehearsals.filter(Boolean).length}
    >
      <div className="grid gap-x-4 gap-y-2 @min-[520px]:grid-cols-2">
        {charts.map((chart) => (
          <TraceChart
            key={chart.title}
            {...chart}
            width={each - 14}
            height={HEIGHT}
            untilH={untilH}
          />
        ))}
      </div>
    </div>
  );
});
