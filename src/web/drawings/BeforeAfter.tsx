import { useSay } from '../line/queries.ts';
import { ROUTES } from '../../core/diagnosis/routes.ts';
import type { Job } from '../../core/job/job.ts';
import { type HeldForecast, heldForecasts } from '../../core/recovery/forecasts.ts';
import type { Band } from '../../core/rehearsal/outlook.ts';
import { type CycleRow, cyclesOf } from '../../core/recovery/cycles.ts';

interface Line {
  label: string;
  of: (row: CycleRow) => number | null;
  say: (value: number) => string;
  /** Which way is better. */
  better: 'up' | 'down';
  /** A change of less than this is none. */
  least: number;
}

const IN_ALL = 'In all';
const cycleName = ({ cycle, route }: CycleRow): string =>
  cycle === 0 ? 'On arrival' : `Cycle ${cycle}: ${route ? ROUTES[route].name : ''}`;

const LINES: readonly Line[] = [
  {
    label: 'Capacity, of its rating',
    of: (r) => r.capacity?.health ?? null,
    say: (v) => `${(100 * v).toFixed(0)} %`,
    better: 'up',
    least: 0.03,
  },
  {
    label: 'Lost in a week at 20 °C',
    of: (r) => r.weekLoss,
    say: (v) => `${(100 * Math.max(0, v)).toFixed(0)} %`,
    better: 'down',
    least: 0.02,
  },
  {
    label: 'Rest voltage',
    of: (r) => r.voltageV,
    say: (v) => `${v.toFixed(2)} V`,
    better: 'up',
    least: 0.05,
  },
  {
    label: 'SG spread of its cells',
    of: (r) => r.sgSpread,
    say: (v) => v.toFixed(3),
    better: 'down',
    least: 0.005,
  },
  {
    label: 'Resistance by the analyser',
    of: (r) => r.resistanceMilliohm,
    say: (v) => `${v.toFixed(1)} mΩ`,
    better: 'down',
    least: 0.3,
  },
  {
    label: 'Resistance by the load step',
    of: (r) => r.stepMilliohm,
    say: (v) => `${v.toFixed(1)} mΩ`,
    better: 'down',
    least: 1,
  },
  { label: 'CCA', of: (r) => r.ccaA, say: (v) => `${v.toFixed(0)} A`, better: 'up', least: 10 },
  {
    label: 'Mass',
    of: (r) => r.massG,
    say: (v) => `${(v / 1000).toFixed(2)} kg`,
    better: 'up',
    least: 20,
  },
];

/** Before, after, and every cycle between: what improved, what did not. */
export function BeforeAfter({ job }: { job: Job }) {
  const say = useSay();
  const cycles = cyclesOf(job);
  const lines = LINES.filter((line) => cycles.some((c) => line.of(c) !== null));
  if (lines.length === 0) return null;
  return (
    <section aria-label="Before and after" className="w-full">
      <table className="w-full border-collapse text-lg max-sm:as-list">
        <thead>
          <tr className="label border-b-2 border-ink text-left">
            <th className="py-1 font-medium">Before and after</th>
            {cycles.map((c) => (
              <th key={c.cycle} className="font-medium">
                {cycleName(c)}
              </th>
            ))}
            <th className="font-medium">{IN_ALL}</th>
          </tr>
        </thead>
        <tbody>
          {lines.map((line) => (
            <tr key={line.label} className="border-b border-line">
              <th scope="row" className="py-1 text-left font-normal">
                {say(line.label)}
              </th>
              {cycles.map((c) => {
                const value = line.of(c);
                return (
                  <td
                    key={c.cycle}
                    data-label={cycleName(c)}
                    className={value === null ? 'text-soft' : 'font-semibold'}
                  >
                    {value === null ? '–' : say(line.say(value))}
                    {line.label.startsWith('Capacity') && c.capacity && !c.rested && (
                      <span className="font-normal text-soft"> not rested</span>
                    )}
                  </td>
                );
              })}
              <Change line={line} cycles={cycles} />
            </tr>
          ))}
        </tbody>
      </table>
      <Forecasts job={job} />
    </section>
  );
}

const SAID: Record<
  HeldForecast['what'],
  { name: string; say: (band: Band) => string; came: (value: number) => string }
> = {
  capacity: {
    name: 'capacity',
    say: ({ low, high }) => `${(100 * low).toFixed(0)}–${(100 * high).toFixed(0)} %`,
    came: (v) => `${(100 * v).toFixed(0)} %`,
  },
  restV: {
    name: 'a day after',
    say: ({ low, high }) => `${low.toFixed(2)}–${high.toFixed(2)} V`,
    came: (v) => `${v.toFixed(2)} V`,
  },
  hours: {
    name: 'on charge',
    say: ({ low, high }) => `${low.toFixed(0)}–${high.toFixed(0)} h`,
    came: (v) => `${v.toFixed(0)} h`,
  },
};

/** What was forecast, when, and what came of it. */
function Forecasts({ job }: { job: Job }) {
  const held = heldForecasts(job);
  if (held.length === 0) return null;
  const when = [...new Set(held.map((h) => `${h.cycle}|${h.afterHours ?? ''}`))];
  return (
    <ul aria-label="Predicted and actual" className="mt-2 grid gap-1">
      {when.map((key) => {
        const ofLine = held.filter((h) => `${h.cycle}|${h.afterHours ?? ''}` === key);
        const [first] = ofLine;
        return (
          <li key={key} className="flex flex-wrap gap-x-5 leading-snug">
            <span className="text-soft">
              Cycle {first?.cycle}, predicted{' '}
              {typeof first?.afterHours !== 'number'
                ? 'at the start'
                : `after ${first.afterHours.toFixed(0)} h on charge`}
              :
            </span>
            {ofLine.map((h) => (
              <span key={h.what}>
                {SAID[h.what].name} {SAID[h.what].say(h.said)}, actual{' '}
                <b className={h.within ? 'text-moss' : 'text-oxide'}>
                  {SAID[h.what].came(h.came)} {h.within ? '✓' : '✗'}
                </b>
                <span className="sr-only">{h.within ? ' within' : ' outside'}</span>
              </span>
            ))}
          </li>
        );
      })}
    </ul>
  );
}

function Change({ line, cycles }: { line: Line; cycles: readonly CycleRow[] }) {
  const values = cycles.map(line.of).filter((v): v is number => v !== null);
  const [first, last] = [values[0], values.at(-1)];
  if (first === undefined || last === undefined || values.length < 2)
    return (
      <td data-label={IN_ALL} className="text-soft">
        –
      </td>
    );
  const change = last - first;
  const gained = line.better === 'up' ? change : -change;
  if (Math.abs(change) < line.least)
    return (
      <td data-label={IN_ALL} className="text-soft">
        → did not move
      </td>
    );
  return (
    <td data-label={IN_ALL} className={`font-semibold ${gained > 0 ? 'text-moss' : 'text-oxide'}`}>
      {gained > 0 ? '▲ better' : '▼ worse'}
    </td>
  );
}
