import { type ReactNode, useState } from 'react';
import { MONTHS, type WallStyle } from '../../core/quantities/format.ts';

interface Parts {
  year: string;
  month: string;
  day: string;
}

const partsOf = (value: string): Parts => {
  const [year = '', month = '', day = ''] = value.split('-');
  return { year, month, day: day.replace(/^0/, '') };
};

const whole = ({ year, month, day }: Parts): boolean =>
  year.length === 4 && month !== '' && day !== '';

/** The day that is typed whole, or nothing; 30 February is nothing. */
function dayOf(parts: Parts): string {
  if (!whole(parts)) return '';
  const [year, month, day] = [parts.year, parts.month, parts.day].map(Number) as [
    number,
    number,
    number,
  ];
  const real = new Date(Date.UTC(year, month - 1, day)).getUTCDate() === day;
  return real ? `${parts.year}-${parts.month}-${parts.day.padStart(2, '0')}` : '';
}

/**
 * A day, as three fields that nobody reads in the wrong order: the month by its name. A browser's own date field
 * follows the browser's country, not the shop's.
 *
 * @param value `2026-03-10`, or empty
 */
export function DayField({
  label,
  value,
  wall,
  message,
  onChange,
  children,
}: {
  label: string;
  value: string;
  wall: Pick<WallStyle, 'dateOrder'>;
  message?: string | undefined;
  onChange: (day: string) => void;
  /** What belongs to the same field, behind the day. */
  children?: ReactNode;
}) {
  const [parts, setParts] = useState(() => partsOf(value));
  // Set from outside: what was typed says another day.
  if (value !== dayOf(parts) && (value !== '' || dayOf(parts) !== '')) setParts(partsOf(value));
  const change = (next: Parts) => {
    setParts(next);
    onChange(dayOf(next));
  };
  const said = whole(parts) && dayOf(parts) === '' ? 'There is no such day.' : message;
  const day = (
    <input
      key="day"
      aria-label={`${label}: day`}
      className="field w-14! px-2! text-center"
      inputMode="numeric"
      maxLength={2}
      placeholder="day"
      aria-invalid={!!said}
      value={parts.day}
      onChange={(e) => change({ ...parts, day: e.target.value.replaceAll(/\D/g, '') })}
    />
  );
  const month = (
    <select
      key="month"
      aria-label={`${label}: month`}
      className="field w-22! px-1!"
      value={parts.month}
      onChange={(e) => change({ ...parts, month: e.target.value })}
    >
      <option value="">month</option>
      {MONTHS.map((name, i) => (
        <option key={name} value={String(i + 1).padStart(2, '0')}>
          {name}
        </option>
      ))}
    </select>
  );
  return (
    <fieldset>
      <legend className="label">{label}</legend>
      <div className="flex flex-wrap gap-1">
        {wall.dateOrder === 'month-first' ? [month, day] : [day, month]}
        <input
          aria-label={`${label}: year`}
          className="field w-20! px-2! text-center"
          inputMode="numeric"
          maxLength={4}
          placeholder="year"
          value={parts.year}
          onChange={(e) => change({ ...parts, year: e.target.value.replaceAll(/\D/g, '') })}
        />
        {children}
      </div>
      {said && <span className="mt-1 block text-[15px] text-oxide">{said}</span>}
    </fieldset>
  );
}
