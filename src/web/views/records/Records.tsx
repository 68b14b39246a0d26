import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { Outcome } from '../../../core/job/outcome.ts';
import { OUTCOME_WORDS } from '../../../core/job/outcome.ts';
import { formatStamp } from '../../../core/quantities/format.ts';
import { addressOfWords, findBatteriesQuery } from '../../line/openTag.ts';
import { useRules } from '../../line/queries.ts';
import { PlaceNav } from '../../parts/PlaceNav.tsx';
import { RECORD_PAGES } from './recordPages.ts';
import { Empty, Loading, NotFetched } from '../../line/States.tsx';

/** How a battery's last job stands, with a shape beside the word. */
function Standing({ status }: { status: string }) {
  const word =
    status in OUTCOME_WORDS
      ? OUTCOME_WORDS[status as Outcome]
      : status === 'with-lead'
        ? 'With the lead'
        : status === 'imported'
          ? 'Imported'
          : 'In process';
  const [mark, tone] =
    status === 'passed'
      ? ['✓', 'text-moss']
      : status === 'running'
        ? ['▶', 'text-ink']
        : status === 'imported'
          ? ['○', 'text-soft']
          : ['✕', 'text-oxide'];
  return (
    <span className={`whitespace-nowrap ${tone}`}>
      <span aria-hidden>{mark} </span>
      {word}
    </span>
  );
}

/** Every battery the shop has had in its hands. */
export function Records() {
  const rules = useRules();
  const [words, setWords] = useState('');
  const [limit, setLimit] = useState(50);
  const navigate = useNavigate();
  const { data, error, refetch } = useQuery({
    ...findBatteriesQuery(words, limit),
    placeholderData: keepPreviousData,
  });
  if (error && !data) return <NotFetched error={error} again={() => void refetch()} />;
  return (
    <div className="p-4 md:p-6">
      <div className="mb-4 flex flex-wrap items-end justify-between gap-4">
        <h1 className="text-3xl">
          Records{' '}
          <span className="font-medium text-soft">
            {data ? `${data.total} ${data.total === 1 ? 'battery' : 'batteries'}` : ''}
          </span>
        </h1>
        <Link to="/records/import" className="act-quiet ml-auto">
          Import a file
        </Link>
        <label className="w-full sm:w-96">
          <span className="label">Tag, owner, model or date code</span>
          <input
            type="search"
            className="field"
            value={words}
            onChange={(e) => setWords(e.target.value)}
            onKeyDown={(e) =>
              e.key === 'Enter' && void addressOfWords(words).then((to) => to && navigate(to))
            }
          />
        </label>
      </div>
      <PlaceNav label="Records" pages={RECORD_PAGES} />
      {!data ? (
        <Loading />
      ) : data.batteries.length === 0 ? (
        <Empty title={words ? 'Nothing on record matches' : 'No battery on record yet'}>
          <p>
            {words
              ? 'Try less of the tag, or the owner.'
              : 'A battery is on record from the moment it is taken in.'}
          </p>
          {!words && (
            <Link to="/intake" className="act">
              Take a battery in
            </Link>
          )}
        </Empty>
      ) : (
        <div className="relative">
          <table className="w-full text-left text-lg">
            <thead className="label border-b-2 border-ink">
              <tr>
                <th className="py-1 font-medium">Tag</th>
                <th className="font-medium">For</th>
                <th className="font-medium max-sm:hidden">Model</th>
                <th className="font-medium max-sm:hidden">Date code</th>
                <th className="font-medium max-sm:hidden">Taken in</th>
                <th className="font-medium">Status</th>
              </tr>
            </thead>
            <tbody>
              {data.batteries.map((b) => (
                <tr key={b.id} className="relative border-b border-line hover:bg-hair">
                  <td className="h-12 pr-4">
                    <Link
                      to={`/batteries/${b.tag}`}
                      className="font-label text-xl font-semibold after:absolute after:inset-0"
                    >
                      {b.tag}
                    </Link>
                  </td>
                  <td className="max-w-60 truncate pr-4 max-sm:max-w-32">{b.owner}</td>
                  <td className="pr-4 max-sm:hidden">{b.modelCode}</td>
                  <td className="pr-4 text-soft max-sm:hidden">{b.dateCode}</td>
                  <td className="pr-4 whitespace-nowrap text-soft max-sm:hidden">
                    {formatStamp(b.takenInAt, rules)}
                  </td>
                  <td>
                    <Standing status={b.status} />
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          {data.total > data.batteries.length && limit < 200 && (
            <button type="button" className="act-quiet mt-4" onClick={() => setLimit(200)}>
              Show more of {data.total}
            </button>
          )}
        </div>
      )}
    </div>
  );
}
