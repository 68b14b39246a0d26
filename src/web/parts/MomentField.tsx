import { useState } from 'react';
import type { WallStyle } from '../../core/quantities/format.ts';
import { momentOnDay, onTheWall } from '../../core/quantities/zonedTime.ts';
import { DayField } from './DayField.tsx';
import { TimeField } from './TimeField.tsx';

const DAY_MS = 86_400_000;

interface Parts {
  day: string;
  minutes: number | null;
}

/**
 * A day and a time on the shop's wall.
 *
 * @param value ms since the epoch; null while it is not whole
 */
export function MomentField({
  label,
  value,
  wall,
  now,
  gone = false,
  message,
  onChange,
}: {
  label: string;
  value: number | null;
  wall: WallStyle;
  now: number;
  /** It is about what has been, not what is to come. */
  gone?: boolean;
  message?: string | undefined;
  /** `begun`: something is typed, and it is no moment yet. */
  onChange: (at: number | null, begun: boolean) => void;
}) {
  const partsOf = (at: number): Parts => {
    const { date, minutes } = onTheWall(at, wall.timeZone);
    return { day: date, minutes };
  };
  const momentOf = ({ day, minutes }: Parts) =>
    day === '' || minutes === null ? null : momentOnDay(day, minutes, wall.timeZone);
  const [parts, setParts] = useState<Parts>(() =>
    value === null ? { day: '', minutes: null } : partsOf(value),
  );
  // Set from outside: what was typed says another moment.
  if (value !== momentOf(parts))
    setParts(value === null ? { day: '', minutes: null } : partsOf(value));
  const change = (next: Parts) => {
    setParts(next);
    const moment = momentOf(next);
    onChange(moment, moment === null && (next.day !== '' || next.minutes !== null));
  };
  const dayOf = (at: number): string => onTheWall(at, wall.timeZone).date;
  const beside = gone ? ['Yesterday', dayOf(now - DAY_MS)] : ['Tomorrow', dayOf(now + DAY_MS)];
  return (
    <div>
      <DayField
        label={label}
        value={parts.day}
        wall={wall}
        message={message}
        onChange={(day) => change({ ...parts, day })}
      >
        <TimeField
          bare
          label={`${label}: time`}
          value={parts.minutes}
          wall={wall}
          invalid={!!message}
          onChange={(minutes) => change({ ...parts, minutes })}
        />
      </DayField>
      <div className="flex gap-4">
        {[['Today', dayOf(now)], beside].map(([name, day = '']) => (
          <button
            key={name}
            type="button"
            className="wordlink min-h-11"
            onClick={() => change({ ...parts, day })}
          >
            {name}
          </button>
        ))}
      </div>
    </div>
  );
}
