import { sayIn } from '../../../core/quantities/shopUnits.ts';
import type { JobWire } from '../../../contract/wire.ts';
import type { PlanBattery } from '../../../core/charging/fitPlan.ts';
import type { HouseRules } from '../../../core/house/rules.ts';
import type { Odds } from '../../../core/rehearsal/outlook.ts';
import type { Rehearsal } from '../../../core/rehearsal/rehearse.ts';
import { formatDuration, formatTemperature } from '../../../core/quantities/format.ts';
import { ventilationNeed } from '../../../core/safety/ventilation.ts';
import { chargingBatteries } from '../../line/bench.ts';
import { LineSample } from './WayCard.tsx';
import { WAYS } from './ways.ts';

interface Props {
  results: readonly { index: number; rehearsal: Rehearsal | null; odds: Odds | null }[];
  battery: PlanBattery;
  rules: HouseRules;
  benchJobs: readonly JobWire[];
}

/** What each way costs: hours, energy, heat, gas, water. */
export function OutcomeTable({ results, battery, rules, benchJobs }: Props) {
  const shown = results.filter((r) => r.rehearsal);
  if (shown.length === 0) return <div className="min-h-80" />;
  const alone = {
    cells: battery.cells,
    c20Ah: battery.c20Ah,
    vented: battery.chemistry === 'flooded',
  };
  const air = ventilationNeed([...chargingBatteries(benchJobs), alone]);
  const rows: { label: string; of: (r: Rehearsal, odds: Odds | null) => string }[] = [
    {
      label: 'Stages end after',
      of: ({ summary }) => `${summary.stages.map((s) => s.untilH.toFixed(1)).join(', ') || '–'} h`,
    },
    { label: 'Charge put in', of: ({ summary }) => `${summary.ahIn.toFixed(1)} Ah` },
    {
      label: 'Energy',
      of: ({ summary }) =>
        summary.energyWh >= 1000
          ? `${(summary.energyWh / 1000).toFixed(2)} kWh`
          : `${summary.energyWh.toFixed(0)} Wh`,
    },
    {
      label: 'Warmest',
      of: ({ summary }, odds) =>
        formatTemperature(summary.peakC, rules.temperatureUnit) +
        (odds ? ` (to ${formatTemperature(odds.peakC.high, rules.temperatureUnit)})` : ''),
    },
    {
      label: 'Off to cool',
      of: ({ summary }) => (summary.pausedH > 0 ? formatDuration(summary.pausedH * 3600) : 'never'),
    },
    { label: 'Hydrogen, in all', of: ({ summary }) => `${summary.hydrogenL.toFixed(1)} L` },
    {
      label: 'Hydrogen, most at once',
      of: ({ summary }) => `${summary.peakHydrogenLh.toFixed(2)} L/h`,
    },
    { label: 'Water', of: ({ summary }) => sayIn(`${summary.waterG.toFixed(1)} g`, rules) },
  ];
  return (
    <section
      aria-label="What each way costs"
      className="rounded-lg border border-line bg-sheet p-3"
    >
      <table className="w-full">
        <thead>
          <tr>
            <th className="label text-left">What it costs</th>
            {shown.map(({ index }) => (
              <th key={index} className="text-left font-label text-lg font-semibold">
                <span className="flex items-center gap-2">
                  <LineSample index={index} /> {WAYS[index]?.letter}
                </span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ label, of }) => (
            <tr key={label} className="border-t border-hair">
              <th scope="row" className="py-0.5 text-left font-normal text-soft">
                {label}
              </th>
              {shown.map(({ index, rehearsal, odds }) => (
                <td key={index} className="py-0.5 pr-2 font-semibold">
                  {rehearsal && of(rehearsal, odds)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <p
        className={`mt-1 border-t border-hair pt-1 ${air > rules.roomAirM3h ? 'text-oxide' : 'text-soft'}`}
      >
        {air > rules.roomAirM3h ? '✕ ' : ''}Air for hydrogen by EN IEC 62485, with what is on the
        bench: {air.toFixed(1)} of {rules.roomAirM3h} m³/h.
      </p>
    </section>
  );
}
