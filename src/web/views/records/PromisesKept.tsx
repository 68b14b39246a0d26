import { chanceWords } from '../../../core/quantities/chance.ts';
import { Link } from 'react-router';
import { type PastPromise, type PromiseBand, wasKept } from '../../../core/results/promises.ts';
import { shareWords } from '../../../core/recovery/record.ts';

import { formatDuration, formatStamp, type WallStyle } from '../../../core/quantities/format.ts';
import { ShareBar } from '../../drawings/ShareBar.tsx';
import { usePromises, useRules } from '../../line/queries.ts';
import { Empty, Loading, NotFetched } from '../../line/States.tsx';
import { PlaceNav } from '../../parts/PlaceNav.tsx';
import { RECORD_PAGES } from './recordPages.ts';

const SAYS: Readonly<Record<PromiseBand['says'], string>> = {
  fits: 'As said',
  'too-sure': 'Too sure: fewer were kept than said',
  'too-careful': 'Too careful: more were kept than said',
  'too-few': 'Too few to tell',
};

/** What the day plan said of promises when they were made, beside what came. */
export function PromisesKept() {
  const rules = useRules();
  const { data, error, refetch } = usePromises();
  if (error && !data) return <NotFetched error={error} again={() => void refetch()} />;
  if (!data) return <Loading />;
  const { all, bands, past } = data;
  return (
    <div className="p-4 md:p-6">
      <h1 className="mb-1 text-3xl">
        Promises kept{' '}
        <span className="font-medium text-soft">
          {all.of === 0 ? 'none has come yet' : `${all.hits} of ${all.of}`}
        </span>
      </h1>
      <PlaceNav label="Records" pages={RECORD_PAGES} />
      {all.of === 0 ? (
        <Empty title="No promise has come yet">
          <p>
            When a battery is promised, the day plan’s chance is written down. When its hour has
            come, it is compared here.
          </p>
        </Empty>
      ) : (
        <>
          <table className="w-full max-w-4xl text-left text-lg">
            <thead className="text-[15px] text-soft">
              <tr className="border-b border-line">
                <th className="py-2 pr-4 font-medium">Said</th>
                <th className="pr-4 font-medium">Kept</th>
                <th className="w-1/3 pr-4 font-medium max-md:hidden">Between, 8 in 10</th>
                <th className="font-medium">Compared</th>
              </tr>
            </thead>
            <tbody>
              {bands.map((band) => (
                <tr key={band.from} className="border-b border-line">
                  <td className="py-3 pr-4 font-label font-semibold">{chanceWords(band.said)}</td>
                  <td className="pr-4 whitespace-nowrap">{shareWords(band.kept)}</td>
                  <td className="pr-4 max-md:hidden">
                    <ShareBar share={band.kept} tone={band.says === 'too-sure' ? 'bad' : 'good'} />
                  </td>
                  <td className={band.says === 'too-sure' ? 'text-oxide' : 'text-soft'}>
                    {SAYS[band.says]}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <h2 className="pt-6 pb-1 text-2xl">One by one</h2>
          <ul className="grid max-w-4xl">
            {past.map((promise) => (
              <PastLine key={`${promise.jobId}${promise.promisedAt}`} of={promise} wall={rules} />
            ))}
          </ul>
        </>
      )}
    </div>
  );
}

function PastLine({ of: promise, wall }: { of: PastPromise; wall: WallStyle }) {
  const { tag, owner, promisedAt, said, readyAt } = promise;
  const kept = wasKept(promise);
  const late = readyAt === null ? null : (readyAt - promisedAt) / 1000;
  return (
    <li className="border-b border-line">
      <Link
        to={`/batteries/${encodeURIComponent(tag)}`}
        className="flex min-h-14 flex-wrap items-center gap-x-4 py-1.5 hover:bg-hair"
      >
        <b className="w-24 font-label text-lg">{tag}</b>
        <span className="min-w-0 flex-1 truncate">{owner}</span>
        <span className="text-soft">
          for {formatStamp(promisedAt, wall)}, said {chanceWords(said)}
        </span>
        <span className={`w-40 text-right font-label font-semibold ${kept ? '' : 'text-oxide'}`}>
          {late === null
            ? 'not ready yet'
            : kept
              ? `${formatDuration(-late)} to spare`
              : `${formatDuration(late)} late`}
        </span>
      </Link>
    </li>
  );
}
