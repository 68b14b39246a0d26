import { useState } from 'react';
import { formatTimeOfDay, type WallStyle } from '../../core/quantities/format.ts';
import { parseTimeOfDay } from '../../core/quantities/parseTime.ts';

/**
 * A time of day, typed as people write it and shown by the shop's clock. A browser's own time field follows the
 * browser's country.
 *
 * @param value minutes after midnight, or null
 */
export function TimeField({
  label,
  value,
  wall,
  bare = false,
  invalid = false,
  onChange,
}: {
  label: string;
  value: number | null;
  wall: Pick<WallStyle, 'clock'>;
  /** Part of a larger field: its name is told, not shown. */
  bare?: boolean;
  invalid?: boolean;
  onChange: (minutes: number | null) => void;
}) {
  const [text, setText] = useState(value === null ? '' : formatTimeOfDay(value, wall));
  // Set from outside: what was typed says another time.
  if (value !== null && value !== parseTimeOfDay(text)) setText(formatTimeOfDay(value, wall));
  const wrong = text.trim() !== '' && parseTimeOfDay(text) === null;
  const field = (
    <input
      className={`field ${bare ? 'w-28! px-2! text-center' : ''}`}
      aria-label={bare ? label : undefined}
      autoComplete="off"
      placeholder={formatTimeOfDay(14 * 60, wall)}
      value={text}
      aria-invalid={wrong || invalid}
      onChange={(e) => {
        setText(e.target.value);
        onChange(parseTimeOfDay(e.target.value));
      }}
      onBlur={() => value !== null && setText(formatTimeOfDay(value, wall))}
    />
  );
  return bare ? (
    field
  ) : (
    <label>
      <span className="label">{label}</span>
      {field}
    </label>
  );
}
