import { useState } from 'react';
import { FAILURE_BY, type FailureBy, type FailureRow } from '../../../core/results/failures.ts';
import { ShareBar } from '../../drawings/ShareBar.tsx';
import { HoldButton, useHold } from '../../inputs/Hold.tsx';
import { useFailures } from '../../line/queries.ts';
import { Empty, Loading, NotFetched } from '../../line/States.tsx';
import { PlaceNav } from '../../parts/PlaceNav.tsx';
import { RECORD_PAGES } from './recordPages.ts';
import { shareWords } from '../../../core/recovery/record.ts';

const BY_WORDS: Readonly<Record<FailureBy, string>> = {
  model: 'Model',
  dateCode: 'Date code',
  lot: 'Acid lot',
  supplier: 'Supplier',
};
const SAYS: Readonly<Record<FailureRow['says'], string>> = {
  worse: 'Fails more than the others',
  better: 'Fails less than the others',
  same: 'No different from the others',
  'too-few': 'Too few to tell',
};

/** What failed of what was commissioned, so that a bad batch is known before the next one is opened. */
export function Failures() {
  const { data, error, refetch } = useFailures();
  const [by, setBy] = useState<FailureBy>('model');
  if (error && !data) return <NotFetched error={error} again={() => void refetch()} />;
  if (!data) return <Loading />;
  const rows = data.by[by];
  const worse = FAILURE_BY.flatMap((key) =>
    data.by[key]
      .filter((r) => r.says === 'worse')
      .map((r) => `${BY_WORDS[key].toLowerCase()} ${r.key}`),
  );
  return (
    <div className="p-4 md:p-6">
      <h1 className="mb-1 text-3xl">
        What fails{' '}
        <span className="font-medium text-soft">
          {data.all.of === 0
            ? 'nothing commissioned yet'
            : `${data.all.hits} of ${data.all.of} new batteries did not pass`}
        </span>
      </h1>
      <PlaceNav label="Records" pages={RECORD_PAGES} />
      {data.all.of === 0 ? (
        <Empty title="Nothing to count yet">
          <p>
            Every commissioning that ends is counted here: by model, date code, lot and supplier.
          </p>
        </Empty>
      ) : (
        <>
          <p
            className={`mb-4 rounded-md border-l-8 px-4 py-2 text-xl ${worse.length > 0 ? 'border-oxide bg-oxide-pale' : 'border-moss bg-moss-pale'}`}
          >
            {worse.length > 0
              ? `Fails more often than the rest: ${worse.join(', ')}.`
              : 'Nothing here fails more often than the rest, as far as so many can tell.'}
          </p>
          <div role="group" aria-label="Count by" className="mb-3 flex flex-wrap gap-2">
            {FAILURE_BY.map((key) => (
              <button
                key={key}
                type="button"
                aria-pressed={by === key}
                className={`act-quiet ${by === key ? 'border-ink! bg-ink! text-sheet!' : ''}`}
                onClick={() => setBy(key)}
              >
                {BY_WORDS[key]}
              </button>
            ))}
          </div>
          {rows.length === 0 ? (
            <p className="text-lg text-soft">
              {by === 'supplier'
                ? 'No supplier is written down yet. Intake asks “Bought from”.'
                : 'None is written down yet.'}
            </p>
          ) : (
            <div className="relative overflow-x-auto">
              <table className="max-lg:as-list w-full text-left text-lg">
                <thead className="label border-b-2 border-ink">
                  <tr>
                    <th className="py-1 font-medium">{BY_WORDS[by]}</th>
                    <th className="pr-4 text-right font-medium">Commissioned</th>
                    <th className="pr-4 text-right font-medium">Passed first time</th>
                    <th className="pr-4 text-right font-medium">Passed later</th>
                    <th className="font-medium">Failed</th>
                    <th className="font-medium">In words</th>
                    {(by === 'model' || by === 'lot') && <th className="sr-only">Hold</th>}
                  </tr>
                </thead>
                <tbody>
                  {rows.map((r) => (
                    <tr key={r.key} className="border-b border-line">
                      <td className="h-12 pr-4 font-label text-xl font-semibold">
                        {r.key}
                        {(by === 'model' || by === 'lot') && <OnHold what={by} code={r.key} />}
                      </td>
                      <td data-label="Commissioned" className="pr-4 text-right">
                        {r.commissioned}
                      </td>
                      <td data-label="Passed first time" className="pr-4 text-right">
                        {r.first}
                      </td>
                      <td data-label="Passed later" className="pr-4 text-right">
                        {r.later}
                      </td>
                      <td data-label="Failed" className="pr-4 whitespace-nowrap">
                        <span className="flex items-center gap-2">
                          <ShareBar share={r.share} tone="bad" />
                          {shareWords(r.share)}
                        </span>
                      </td>
                      <td
                        className={`pr-4 ${r.says === 'worse' ? 'font-semibold text-oxide' : 'text-soft'}`}
                      >
                        {SAYS[r.says]}
                      </td>
                      {(by === 'model' || by === 'lot') && (
                        <td className="text-right">
                          <HoldButton what={by} code={r.key} />
                        </td>
                      )}
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
          )}
          <p className="mt-3 max-w-[80ch] text-base text-soft">
            The band behind each share is what so few batteries leave open: 8 times in 10 the true
            share lies within it (Wilson 1927). “More” and “less” are only said where the bands do
            not meet.
          </p>
        </>
      )}
    </div>
  );
}

function OnHold({ what, code }: { what: 'model' | 'lot'; code: string }) {
  const hold = useHold(what, code);
  return hold ? (
    <span
      className="ml-2 rounded whitespace-nowrap bg-oxide-pale px-2 text-base text-oxide"
      title={hold.why}
    >
      ✕ on hold
    </span>
  ) : null;
}
