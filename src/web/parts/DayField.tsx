import { useState } from 'react';

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/**
 * A day, as three fields that nobody reads in the wrong order: the month by its name. A browser's own date field
 * follows the browser's country, not the shop's.
 *
 * @param value `2026-03-10`, or empty
 */
export function DayField({
  label,
  value,
  monthFirst = false,
  message,
  onChange,
}: {
  label: string;
  value: string;
  monthFirst?: boolean;
  message?: string | undefined;
  onChange: (day: string) => void;
}) {
  const [parts, setParts] = useState(() => {
    const [year = '', month = '', day = ''] = value.split('-');
    return { year, month, day: day.replace(/^0/, '') };
  });
  const change = (next: typeof parts) => {
    setParts(next);
    const full = next.year.length === 4 && next.month !== '' && next.day !== '';
    onChange(full ? `${next.year}-${next.month}-${next.day.padStart(2, '0')}` : '');
  };
  const day = (
    <input
      key="day"
      aria-label={`${label}: day`}
      className="field w-14! px-2! text-center"
      inputMode="numeric"
      maxLength={2}
      placeholder="day"
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
      <div className="flex gap-1">
        {monthFirst ? [month, day] : [day, month]}
        <input
          aria-label={`${label}: year`}
          className="field w-20! px-2! text-center"
          inputMode="numeric"
          maxLength={4}
          placeholder="year"
          value={parts.year}
          onChange={(e) => change({ ...parts, year: e.target.value.replaceAll(/\D/g, '') })}
        />
      </div>
      {message && <span className="mt-1 block text-[15px] text-oxide">{message}</span>}
    </fieldset>
  );
}
