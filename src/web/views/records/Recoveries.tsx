import { useState } from 'react';
import { KINDS } from '../../../core/batteries/kinds.ts';
import { FAMILIES, type FamilyKey } from '../../../core/diagnosis/practice/families.ts';
import { ROUTES, type RouteKey } from '../../../core/diagnosis/routes.ts';
import {
  FEW_RECOVERED,
  RECOVERED_BY,
  type Recovered,
  type RecoveredBy,
  recoveredBy,
  type RecoveredRow,
} from '../../../core/results/recovered.ts';
import { SaidAndFound } from './SaidAndFound.tsx';
import { GainLines } from '../../drawings/GainLines.tsx';
import { ShareBar } from '../../drawings/ShareBar.tsx';
import { pathTo } from '../../line/api.ts';
import { useRecoveries } from '../../line/queries.ts';
import { Empty, Loading, NotFetched } from '../../line/States.tsx';
import { PlaceNav } from '../../parts/PlaceNav.tsx';
import { RECORD_PAGES } from './recordPages.ts';
import { shareWords } from '../../../core/recovery/record.ts';

const BY_WORDS: Readonly<Record<RecoveredBy, string>> = {
  route: 'Route',
  found: 'What it was',
  kind: 'Kind of battery',
};

function keyWords(by: RecoveredBy, key: string): string {
  if (key === 'unknown') return 'Not known';
  if (by === 'route') return ROUTES[key as RouteKey].name;
  if (by === 'found') return FAMILIES[key as FamilyKey].name;
  return KINDS.find((k) => k.key === key)?.name ?? key;
}

const percent = (share: number | null): string =>
  share === null ? '–' : `${(100 * share).toFixed(0)} %`;

/** What this shop's own recoveries brought: by route, cause and kind, before and after, and what came back. */
export function Recoveries() {
  const { data, error, refetch } = useRecoveries();
  const [by, setBy] = useState<RecoveredBy>('route');
  const [only, setOnly] = useState<Partial<Record<RecoveredBy, string>>>({});
  if (error && !data) return <NotFetched error={error} again={() => void refetch()} />;
  if (!data) return <Loading />;
  const recoveries = data.recovered;
  const chosen = recoveries.filter((r) =>
    RECOVERED_BY.every((key) => !only[key] || (r[key] ?? 'unknown') === only[key]),
  );
  const rows = recoveredBy(chosen, by);
  const kept = chosen.filter((r) => r.outcome !== 'recycle').length;
  return (
    <div className="p-4 md:p-6">
      <div className="flex flex-wrap items-start justify-between gap-x-3">
        <h1 className="mb-1 text-3xl">
          Results of recoveries{' '}
          <span className="font-medium text-soft">
            {recoveries.length === 0 ? 'none yet' : `${kept} of ${chosen.length} batteries kept`}
          </span>
        </h1>
        <a className="act-quiet -mt-1 mb-1" href={pathTo('recoveriesCsv')}>
          All of them, CSV
        </a>
      </div>
      <PlaceNav label="Records" pages={RECORD_PAGES} />
      {recoveries.length === 0 ? (
        <Empty title="No recovery has ended yet">
          <p>
            From the first verdict on, the results of each route are listed here, before and after.
          </p>
        </Empty>
      ) : (
        <>
          <div className="mb-4 flex flex-wrap items-end gap-3">
            {RECOVERED_BY.map((key) => (
              <Filter
                key={key}
                by={key}
                recovered={recoveries}
                value={only[key] ?? ''}
                onChange={(value) => setOnly({ ...only, [key]: value })}
              />
            ))}
          </div>
          <div role="group" aria-label="Count by" className="mb-3 flex flex-wrap gap-2">
            {RECOVERED_BY.map((key) => (
              <button
                key={key}
                type="button"
                aria-pressed={by === key}
                className={`act-quiet ${by === key ? 'border-ink! bg-ink! text-sheet!' : ''}`}
                onClick={() => setBy(key)}
              >
                By {BY_WORDS[key].toLowerCase()}
              </button>
            ))}
          </div>
          <ResultsTable by={by} rows={rows} />
          <section
            aria-labelledby="gains"
            className="mt-6 rounded-lg border border-line bg-sheet p-5"
          >
            <h2 id="gains" className="text-2xl">
              Capacity before and after
            </h2>
            <p className="mb-3 text-lg text-soft">
              Share of the rating. ○ on arrival, where it was tested ·{' '}
              <span className="text-moss">● returned to service</span> ·{' '}
              <span className="text-slate">■ light duty</span> ·{' '}
              <span className="text-oxide">✕ recycled</span>
            </p>
            <GainLines recovered={chosen} />
          </section>
          <SaidAndFound />
        </>
      )}
    </div>
  );
}

function Filter({
  by,
  recovered,
  value,
  onChange,
}: {
  by: RecoveredBy;
  recovered: readonly Recovered[];
  value: string;
  onChange: (value: string) => void;
}) {
  const keys = [...new Set(recovered.map((r) => r[by] ?? 'unknown'))].sort();
  return (
    <label>
      <span className="label">{BY_WORDS[by]}</span>
      <select className="field" value={value} onChange={(e) => onChange(e.target.value)}>
        <option value="">All</option>
        {keys.map((key) => (
          <option key={key} value={key}>
            {keyWords(by, key)}
          </option>
        ))}
      </select>
    </label>
  );
}

/** Two tests a week apart scatter; a battery that read more the second time has lost nothing. */
const lossWords = (share: number | null): string =>
  share !== null && share <= 0.005 ? 'none' : percent(share);

function ResultsTable({ by, rows }: { by: RecoveredBy; rows: readonly RecoveredRow[] }) {
  return (
    <div className="relative overflow-x-auto">
      <table className="max-lg:as-list w-full text-left text-lg">
        <thead className="label border-b-2 border-ink">
          <tr>
            <th className="py-1 font-medium">{BY_WORDS[by]}</th>
            <th className="font-medium">Kept, of those tried</th>
            <th className="pr-4 text-right font-medium">Returned in full</th>
            <th className="pr-4 text-right font-medium">Capacity before</th>
            <th className="pr-4 text-right font-medium">after</th>
            <th className="pr-4 text-right font-medium">On charge, h</th>
            <th className="pr-4 text-right font-medium">Lost in a week</th>
            <th className="font-medium">Came back within a year</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <tr key={r.key} className="border-b border-line">
              <td className="h-12 pr-4 font-label text-xl font-semibold">
                {keyWords(by, r.key)}
                {r.tried < FEW_RECOVERED && (
                  <span className="block text-base font-medium text-soft">
                    {r.tried === 1 ? 'one case: proves nothing' : 'few cases: read with care'}
                  </span>
                )}
              </td>
              <td data-label="Kept, of those tried" className="pr-4 whitespace-nowrap">
                <span className="flex items-center gap-2">
                  <ShareBar share={r.kept} tone="good" />
                  {shareWords(r.kept)}
                </span>
              </td>
              <td data-label="Returned in full" className="pr-4 text-right">
                {r.returned.hits}
              </td>
              <td data-label="Capacity before" className="pr-4 text-right">
                {percent(r.before)}
              </td>
              <td data-label="Capacity after" className="pr-4 text-right font-semibold">
                {percent(r.after)}
              </td>
              <td data-label="On charge, h" className="pr-4 text-right">
                {r.hours === null ? '–' : r.hours.toFixed(0)}
              </td>
              <td data-label="Lost in a week" className="pr-4 text-right">
                {lossWords(r.weekLoss)}
              </td>
              <td data-label="Came back within a year" className="text-soft">
                {r.cameBack.of === 0 ? 'not known yet' : shareWords(r.cameBack)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-2 max-w-[80ch] text-base text-soft">
        Capacity, hours and losses are the middle of those measured, share of the rating. Bands hold
        the true share 8 times in 10 (Wilson 1927).
      </p>
    </div>
  );
}
