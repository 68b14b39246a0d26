import { Link } from 'react-router';
import type { Together } from '../../app/together.ts';

/** The rest of a tray: who stands at the same step, and whether this answer is for all of them. */
export function TrayBar({ trayId, mates, on, setOn }: Together & { trayId: string | null }) {
  if (mates.length === 0) return null;
  const alike = mates.filter((m) => m.alike);
  const apart = mates.filter((m) => !m.alike);
  return (
    <section aria-label="The rest of its tray" className="flex flex-wrap items-center gap-x-5 gap-y-1 rounded-lg border border-line bg-sheet px-4 py-2">
      {alike.length > 0 && (
        <label className="flex min-h-11 cursor-pointer items-center gap-3 text-lg">
          <input type="checkbox" className="size-6 accent-ink" checked={on} onChange={(e) => setOn(e.target.checked)} />
          <span>
            Step all {alike.length + 1} together <span className="text-soft">{span(alike.map((m) => m.wire.battery.tag))}</span>
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
      <a href={`/api/trays/${trayId}/summary.pdf`} className="wordlink ml-auto inline-flex min-h-11 items-center text-soft">
        Tray on one page
      </a>
    </section>
  );
}

function span(tags: readonly string[]): string {
  return tags.length <= 3 ? tags.join(', ') : `${tags[0]} … ${tags.at(-1)}`;
}
