import { useState } from 'react';
import { Link } from 'react-router';
import type { Together, TrayPlaces, TrayResult } from '../../line/together.ts';
import { OpenDialog } from '../../parts/DialogFrame.tsx';
import { pathTo } from '../../line/api.ts';

/** The rest of a tray: who stands at the same step, whether this answer is for all of them, and what came of it for each. */
export function TrayBar({
  trayId,
  mates,
  on,
  setOn,
  words,
  results,
  forget,
  places,
}: Omit<Together, 'sender'> & { trayId: string | null }) {
  if (mates.length === 0) return null;
  const alike = mates.filter((m) => m.alike);
  const apart = mates.filter((m) => !m.alike);
  return (
    <section
      aria-label="The rest of its tray"
      className="flex flex-wrap items-center gap-x-5 gap-y-1 rounded-lg border border-line bg-sheet px-4 py-2"
    >
      {alike.length > 0 && (
        <label className="flex min-h-11 cursor-pointer items-center gap-3 text-lg">
          <input
            type="checkbox"
            className="size-6 accent-ink"
            checked={on}
            onChange={(e) => setOn(e.target.checked)}
          />
          <span>
            Step all {alike.length + 1} together{' '}
            <span className="text-soft">{span(alike.map((m) => m.wire.battery.tag))}</span>
          </span>
        </label>
      )}
      {apart.length > 0 && (
        <p className="text-soft">
          Apart:{' '}
          {apart.map((m, i) => (
            <span key={m.wire.id}>
              {i > 0 && ', '}
              <Link to={`/jobs/${m.wire.id}`} className="wordlink">
                {m.wire.battery.tag}
              </Link>{' '}
              {m.word}
            </span>
          ))}
        </p>
      )}
      <a
        href={pathTo('trayPdf', { params: { id: trayId ?? '' } })}
        className="wordlink ml-auto inline-flex min-h-11 items-center text-soft"
      >
        Tray on one page
      </a>
      {on && <p className="w-full text-base">{words}</p>}
      {results.length > 0 && <Results results={results} onSeen={forget} />}
      {places && <Places key={places.rows.length} {...places} />}
    </section>
  );
}

function span(tags: readonly string[]): string {
  return tags.length <= 3 ? tags.join(', ') : `${tags[0]} … ${tags.at(-1)}`;
}

/** Battery by battery: those that were left out stand first. */
function Results({ results, onSeen }: { results: readonly TrayResult[]; onSeen: () => void }) {
  const left = results.filter((r) => !r.done);
  const done = results.filter((r) => r.done);
  return (
    <div
      role="status"
      className={`w-full rounded-md border-l-8 px-4 py-1.5 ${left.length > 0 ? 'border-ochre bg-ochre-pale' : 'border-moss bg-moss-pale'}`}
    >
      <ul className="text-base">
        {left.map(({ tag, text }) => (
          <li key={tag}>
            <b>✕ {tag}</b> {text}
          </li>
        ))}
        <li>
          ✓{' '}
          {done
            .map(({ tag, text }) =>
              text === 'Done.' ? tag : `${tag} (${text.replace(/^Done, |\.$/g, '')})`,
            )
            .join(', ')}
          <button type="button" className="wordlink ml-4 min-h-11" onClick={onSeen}>
            I have seen it
          </button>
        </li>
      </ul>
    </div>
  );
}

/** Which battery of the tray is charged where: shown before any current flows, and changed here. */
function Places({ rows, free, answer }: TrayPlaces) {
  const [chosen, setChosen] = useState(rows.map((r) => r.place));
  const short = rows.filter((r) => r.place === null).length;
  return (
    <OpenDialog
      onClose={() => answer(null)}
      title="Where is each of them charged?"
      description="Places that are charged by hand and free. A place with a charger that watches by itself is never taken for this."
      width="max-w-md"
    >
      <ul className="grid gap-2">
        {rows.map(({ tag }, i) => (
          <li key={tag}>
            <label className="flex items-center gap-3 text-lg">
              <span className="w-28 font-label text-xl font-semibold">{tag}</span>
              <select
                className="field flex-1"
                value={chosen[i] ?? ''}
                onChange={(e) =>
                  setChosen(
                    chosen.map((c, k) =>
                      k === i ? (e.target.value === '' ? null : Number(e.target.value)) : c,
                    ),
                  )
                }
              >
                <option value="">not now</option>
                {free
                  .filter((p) => p === chosen[i] || !chosen.includes(p))
                  .map((p) => (
                    <option key={p} value={p}>
                      place {p}
                    </option>
                  ))}
              </select>
            </label>
          </li>
        ))}
      </ul>
      {short > 0 && (
        <p className="mt-2 text-soft">
          {short === 1 ? 'For one of them' : `For ${short} of them`} no place is free.
        </p>
      )}
      <div className="mt-4 flex justify-end gap-3">
        <button type="button" className="act-quiet" onClick={() => answer(null)}>
          Back
        </button>
        <button type="button" className="act" onClick={() => answer(chosen)}>
          Current is on at all of these
        </button>
      </div>
    </OpenDialog>
  );
}
