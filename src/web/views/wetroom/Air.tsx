import { useMemo } from 'react';
import { chargingAir } from '../../../core/watch/chargingAir.ts';
import { timeline } from '../../../core/watch/timeline.ts';
import { formatMoment } from '../../../core/quantities/format.ts';
import {
  airChanges,
  type ExpectedCharge,
  ventilationNeed,
  ventilationPeak,
} from '../../../core/safety/ventilation.ts';
import { chargingBatteries } from '../../line/bench.ts';
import { useNow } from '../../line/benchClock.ts';
import { jobOf, useBench, useHands, useRules } from '../../line/queries.ts';
import { Bay } from './Bay.tsx';

const DAY_MS = 86_400_000;
const MINUTE_MS = 60_000;

/** Hydrogen of the bench against the room: now, and at the most that the next day will bring. */
export function Air() {
  const now = useNow();
  const minute = Math.floor(now / MINUTE_MS) * MINUTE_MS;
  const rules = useRules();
  const hands = useHands();
  const { data } = useBench();
  const { need, peak } = useMemo(() => {
    const jobs = (data?.jobs ?? []).map((wire) =>
      jobOf(wire, data?.procedures[wire.procedureId] as never, minute),
    );
    const coming = jobs.flatMap((job): ExpectedCharge[] => {
      const air = chargingAir(job);
      return timeline(job, minute, hands)
        .filter((s) => s.kind === 'charge' && s.phase === 'coming' && s.from < minute + DAY_MS)
        .map(({ from, to }) => ({ ...air, from, to }));
    });
    return { need: ventilationNeed(chargingBatteries(jobs)), peak: ventilationPeak(coming) };
  }, [data, minute, hands]);
  const most = Math.max(need, peak?.need ?? 0);
  const enough = most <= rules.roomAirM3h;
  return (
    <Bay title="Air for hydrogen" aside={<span className="text-soft">EN IEC 62485</span>}>
      <p
        className={`rounded-md border-l-8 px-4 py-2 text-lg ${enough ? 'border-moss bg-moss-pale' : 'border-oxide bg-oxide-pale'}`}
      >
        {enough
          ? `✓ The room moves ${rules.roomAirM3h} m³/h; the bench never needs more than ${most.toFixed(1)} m³/h within a day.`
          : `✕ The bench needs ${most.toFixed(1)} m³/h, the room moves ${rules.roomAirM3h}. Open the doors, or charge fewer at once.`}
      </p>
      <table className="mt-3 w-full text-left text-lg">
        <thead className="label border-b border-line">
          <tr>
            <th className="font-medium"> </th>
            <th className="text-right font-medium">Air, m³/h</th>
            <th className="text-right font-medium">Changes of {rules.roomM3} m³, 1/h</th>
          </tr>
        </thead>
        <tbody>
          <Line label="Needed now" need={need} room={rules.roomM3} />
          <Line
            label={
              peak
                ? `At the most, ${formatMoment(Math.max(peak.at, now), now, rules)}`
                : 'At the most'
            }
            need={most}
            room={rules.roomM3}
          />
          <Line label="The room moves" need={rules.roomAirM3h} room={rules.roomM3} />
        </tbody>
      </table>
      <p className="mt-2 text-soft">
        Q = 0.05 × cells × I × C × 10⁻³; I is 20 mA per Ah with open cells, also a new battery until
        its ports are closed; 8 valve-regulated; all of its current where a plan gasses on purpose.
        Low openings in, high ones out.
      </p>
    </Bay>
  );
}

function Line({ label, need, room }: { label: string; need: number; room: number }) {
  return (
    <tr className="border-b border-hair">
      <th scope="row" className="h-11 font-normal">
        {label}
      </th>
      <td className="text-right font-label text-xl font-semibold">{need.toFixed(1)}</td>
      <td className="text-right font-label text-xl font-semibold">
        {airChanges(need, room).toFixed(3)}
      </td>
    </tr>
  );
}
