import { useState } from 'react';
import type { OwnWay } from '../../core/chargers/charger.ts';
import { type Showing, showingsOf } from '../../core/chargers/showing.ts';
import { Labelled } from '../parts/Labelled.tsx';

/** Everything a charger can show, each a button. */
export function ShowingButtons({
  own,
  busy,
  onTap,
}: {
  own: OwnWay;
  busy: boolean;
  /** @returns whether it was kept */
  onTap: (showing: Showing) => Promise<boolean>;
}) {
  const [percent, setPercent] = useState('');
  const asPercent = Number(percent.replace(',', '.'));
  const tap = (showing: Showing) => {
    const said = percent.trim() !== '' && asPercent >= 0 && asPercent <= 100;
    void onTap(said ? { ...showing, percent: asPercent } : showing).then(
      (kept) => kept && setPercent(''),
    );
  };
  return (
    <div className="grid grid-cols-2 gap-2 sm:flex sm:flex-wrap">
      {own.shows.includes('percent') && (
        <div className="w-44">
          <Labelled label="Percent shown, then tap">
            <input
              className="field"
              inputMode="numeric"
              value={percent}
              onChange={(e) => setPercent(e.target.value)}
            />
          </Labelled>
        </div>
      )}
      {showingsOf(own).map((showing) => (
        <button
          key={showing.light}
          type="button"
          className="act-quiet min-h-14! justify-start gap-2 text-lg!"
          disabled={busy}
          onClick={() => tap(showing)}
        >
          <Mark means={showing.means} />
          <span className="text-left">
            {showing.light}
            {MEANS[showing.means] && (
              <span className="block text-[15px] font-normal text-soft">
                {MEANS[showing.means]}
              </span>
            )}
          </span>
        </button>
      ))}
    </div>
  );
}

const MEANS: Readonly<Record<Showing['means'], string | null>> = {
  charging: 'charging',
  full: 'full',
  error: 'error',
  waiting: 'waiting',
  refuses: null,
  clicks: null,
};

/** The meaning as a shape, so that no colour has to say it. */
function Mark({ means }: { means: Showing['means'] }) {
  const shape = {
    charging: <path d="M9 1 3 10h4l-1 7 7-10H9z" className="fill-ember" />,
    full: <path d="M2 9l4 5L15 3" className="fill-none stroke-moss" strokeWidth="2.5" />,
    error: <path d="M3 3l12 12M15 3 3 15" className="stroke-oxide" strokeWidth="2.5" />,
    waiting: <circle cx="9" cy="9" r="6" className="fill-none stroke-slate" strokeWidth="2.5" />,
    refuses: <path d="M3 9h12" className="stroke-oxide" strokeWidth="2.5" />,
    clicks: <path d="M1 12h4V5h4v7h4V5h4" className="fill-none stroke-oxide" strokeWidth="2" />,
  }[means];
  return (
    <svg viewBox="0 0 18 18" className="size-6 shrink-0" aria-hidden>
      {shape}
    </svg>
  );
}
