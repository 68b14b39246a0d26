import { useEffect, useState } from 'react';
import type { ShopCourse } from '../../../core/chargers/onTwin.ts';
import type { Comparison } from '../../../core/rehearsal/compare.ts';
import { formatTemperature } from '../../../core/quantities/format.ts';
import type { TemperatureUnit } from '../../../core/quantities/quantity.ts';
import { useChargers, useSay } from '../../line/queries.ts';
import type { RehearsalState } from './useRehearsal.ts';

const ENDS: Readonly<Record<ShopCourse['course']['end'], string>> = {
  'says-full': 'says full',
  'switched-off': 'switched off by you',
  timer: 'its timer gives up',
  endless: 'not full yet',
};

/** The shop's own chargers with this battery: what each does by itself, and how full the battery is when it ends. */
export function ShopChargers({
  comparison,
  work,
  temperatureUnit,
}: {
  comparison: Comparison | null;
  work: RehearsalState['chargers'];
  temperatureUnit: TemperatureUnit;
}) {
  const say = useSay();
  const { data } = useChargers();
  const [rows, setRows] = useState<ShopCourse[] | null>(null);
  const chargers = data?.chargers;
  useEffect(() => {
    if (!chargers?.length || !comparison) return;
    let newest = true;
    void work(chargers, comparison).then((found) => newest && setRows(found));
    return () => {
      newest = false;
    };
  }, [chargers, comparison, work]);
  if (!rows?.length) return null;
  return (
    <section
      aria-label="On your own chargers"
      className="rounded-lg border border-line bg-sheet p-3.5"
    >
      <h2 className="text-2xl">On your own chargers</h2>
      <p className="mb-2 text-[15px] text-soft">
        What each does with this battery by itself, simulated. Usual for its kind; its own sheet
        comes first.
      </p>
      <table className="w-full text-left text-lg max-sm:as-list">
        <thead className="label border-b border-line">
          <tr>
            <th className="py-1 pr-3 font-medium">Charger</th>
            <th className="pr-3 font-medium">Ends after</th>
            <th className="pr-3 font-medium">Charge then</th>
            <th className="pr-3 font-medium">Highest</th>
            <th className="pr-3 font-medium">Warmest</th>
            <th className="font-medium">Water</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ id, name, set, faults, course }) => (
            <tr key={id} className="border-b border-hair align-top">
              <td className="py-1.5 pr-3">
                {name} <span className="text-soft">{set}</span>
                {faults.map((fault) => (
                  <span key={fault} className="block text-[15px] text-soft">
                    ✕ {fault}
                  </span>
                ))}
              </td>
              <td data-label="Ends after" className="pr-3 whitespace-nowrap">
                {course.hours < 1
                  ? `${Math.max(1, Math.round(60 * course.hours))} min`
                  : `${course.hours.toFixed(1)} h`}
                <span className="block text-[15px] text-soft">{ENDS[course.end]}</span>
              </td>
              <td data-label="Charge then" className="pr-3 whitespace-nowrap">
                {Math.round(100 * course.chargeAtEnd)} %
              </td>
              <td data-label="Highest" className="pr-3 whitespace-nowrap">
                {course.highestV.toFixed(2)} V
              </td>
              <td data-label="Warmest" className="pr-3 whitespace-nowrap">
                {formatTemperature(course.peakC, temperatureUnit)}
              </td>
              <td data-label="Water" className="whitespace-nowrap">
                {say(`${course.waterG.toFixed(0)} g`)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
