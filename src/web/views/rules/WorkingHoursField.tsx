import type { HouseRules, WorkingHours } from '../../../core/house/rules.ts';
import { TimeField } from '../../parts/TimeField.tsx';
import { DAYS } from './ruleFields.ts';

interface Props<H extends WorkingHours> {
  /** Whose or what hours, for those who hear the page: “Open”, “Ilse”. */
  from: string;
  until: string;
  hours: H;
  wall: Pick<HouseRules, 'clock'>;
  fault?: string | undefined;
  onChange: (next: H) => void;
}

/** From when to when, on which days of the week. */
export function WorkingHoursField<H extends WorkingHours>({
  from,
  until,
  hours,
  wall,
  fault,
  onChange,
}: Props<H>) {
  const time = (label: string, key: 'from' | 'to') => (
    <div className="w-36">
      <TimeField
        label={label}
        value={hours[key]}
        wall={wall}
        onChange={(minutes) => minutes !== null && onChange({ ...hours, [key]: minutes })}
      />
    </div>
  );
  return (
    <div>
      <div className="flex flex-wrap items-end gap-3">
        {time(from, 'from')}
        {time(until, 'to')}
        <div role="group" aria-label="Days" className="flex flex-wrap gap-1.5">
          {DAYS.map((day, i) => (
            <button
              key={day}
              type="button"
              aria-pressed={hours.days[i] ?? false}
              className={`act-quiet min-w-14 px-2! ${hours.days[i] ? 'border-ink! bg-ink! text-sheet!' : ''}`}
              onClick={() =>
                onChange({ ...hours, days: hours.days.map((d, j) => (j === i ? !d : d)) })
              }
            >
              {day}
            </button>
          ))}
        </div>
      </div>
      {fault && <span className="mt-1 block text-[15px] text-oxide">{fault}</span>}
    </div>
  );
}
