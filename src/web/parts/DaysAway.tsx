import { useState } from 'react';
import { formatDate, type WallStyle } from '../../core/quantities/format.ts';
import { DayField } from './DayField.tsx';
import { Labelled } from './Labelled.tsx';

/** From a day to a day, both among them, YYYY-MM-DD. */
interface Away {
  from: string;
  to: string;
  why?: string;
}

interface Props<A extends Away> {
  /** Who or what is away. */
  name: string;
  days: readonly A[];
  wall: WallStyle;
  /** Days to be added, as they are kept. */
  made: (away: Required<Away>) => A;
  /** Its reason is asked too. */
  asksWhy?: boolean;
  add: string;
  onChange: (days: A[]) => void;
}

/** `12 March`, or `12 March to 14 March`. */
export const awayWords = ({ from, to }: Away, wall: WallStyle): string =>
  from === to ? formatDate(from, wall) : `${formatDate(from, wall)} to ${formatDate(to, wall)}`;

/** The days on which somebody or something is away, and one line to add some. */
export function DaysAway<A extends Away>({
  name,
  days,
  wall,
  made,
  asksWhy = false,
  add,
  onChange,
}: Props<A>) {
  const [from, setFrom] = useState('');
  const [to, setTo] = useState('');
  const [why, setWhy] = useState('');
  const until = to === '' ? from : to;
  const backwards = from !== '' && until < from;
  return (
    <div className="grid gap-2">
      {days.length > 0 && (
        <ul aria-label={`${name} is away`} className="flex flex-wrap gap-2">
          {days.map((away) => {
            const words = awayWords(away, wall);
            return (
              <li
                key={`${away.from} ${away.to}`}
                className="flex items-center gap-2 rounded-md border border-line pl-3"
              >
                Away {words}
                {away.why && `: ${away.why}`}
                <button
                  type="button"
                  aria-label={`${name} is not away ${words}`}
                  className="min-h-11 px-3"
                  onClick={() => onChange(days.filter((other) => other !== away))}
                >
                  ✕
                </button>
              </li>
            );
          })}
        </ul>
      )}
      <div className="flex flex-wrap items-end gap-3">
        <DayField label={`${name} is away from`} value={from} wall={wall} onChange={setFrom} />
        <DayField
          label="until, and on that day"
          value={to}
          wall={wall}
          onChange={setTo}
          message={backwards ? 'That is before it begins.' : undefined}
        />
        {asksWhy && (
          <Labelled label="Reason">
            <input
              className="field"
              autoComplete="off"
              maxLength={60}
              value={why}
              onChange={(e) => setWhy(e.target.value)}
            />
          </Labelled>
        )}
        <button
          type="button"
          className="act-quiet"
          disabled={from === '' || backwards}
          onClick={() => {
            onChange([...days, made({ from, to: until, why: why.trim() })]);
            setFrom('');
            setTo('');
            setWhy('');
          }}
        >
          {add}
        </button>
      </div>
    </div>
  );
}
