import { useState } from 'react';
import { Link } from 'react-router';
import { formatDateOf } from '../../../core/quantities/format.ts';
import { ask, problemOf } from '../../line/api.ts';
import { newId } from '../../line/newId.ts';
import { queryClient, useRules, useServices } from '../../line/queries.ts';
import { useSigning } from '../../line/signing.tsx';
import { Empty, Loading, NotFetched } from '../../line/States.tsx';
import { PlaceNav } from '../../parts/PlaceNav.tsx';
import { RECORD_PAGES } from './recordPages.ts';

/** Whose batteries are to be asked in for the service of this season, and who was asked. */
export function Services() {
  const wall = useRules();
  const { data, error, refetch } = useServices();
  const { sign } = useSigning();
  const [fault, setFault] = useState<string | null>(null);
  if (error && !data) return <NotFetched error={error} again={() => void refetch()} />;
  if (!data) return <Loading />;
  const { season, due } = data;
  const asked = async (tags: string[]) => {
    const by = await sign();
    if (!by) return;
    try {
      setFault(null);
      await ask('askedIn', { body: { commandId: newId(), by, tags } });
      await queryClient.invalidateQueries({ queryKey: ['services'] });
    } catch (problem) {
      setFault(problemOf(problem).message);
    }
  };
  return (
    <div className="p-4 md:p-6">
      <h1 className="mb-1 text-3xl">
        Services{' '}
        <span className="font-medium text-soft">
          {season === null
            ? 'none due now'
            : `${due.length} ${due.length === 1 ? 'owner' : 'owners'} to ask, ${season.name}`}
        </span>
      </h1>
      <PlaceNav label="Records" pages={RECORD_PAGES} />
      <p className="mb-4 max-w-[80ch] text-lg text-soft">
        Twice a year a battery is cleaned, topped up, charged slowly and mixed. Listed here is what
        was handed to a customer more than 90 days before the season began.{' '}
        <Link className="wordlink" to="/rules/hours">
          Months of service
        </Link>
      </p>
      {fault && (
        <p role="alert" className="mb-3 text-oxide">
          {fault}
        </p>
      )}
      {due.length === 0 ? (
        <Empty title={season === null ? 'No season of services now' : 'Nobody is left to ask'}>
          <p>
            {season === null
              ? wall.serviceMonths.length === 0
                ? 'House rules name no months of service.'
                : 'The list fills when the next month of service begins.'
              : 'Every owner was asked, or has been here within 90 days.'}
          </p>
        </Empty>
      ) : (
        <ul className="grid max-w-4xl">
          {due.map(({ tag, owner, modelCode, since }) => (
            <li
              key={tag}
              className="flex min-h-14 flex-wrap items-center gap-x-4 border-b border-line py-1.5"
            >
              <Link
                to={`/batteries/${encodeURIComponent(tag)}`}
                className="wordlink inline-flex min-h-11 w-24 items-center font-label text-lg font-semibold"
              >
                {tag}
              </Link>
              <span className="min-w-40 flex-1 text-lg">{owner}</span>
              <span className="text-soft">
                {modelCode}, last here {formatDateOf(since, wall)}
              </span>
              <button
                type="button"
                className="act-quiet ml-auto"
                onClick={() => void asked([tag])}
                aria-label={`Mark ${owner} as asked, ${tag}`}
              >
                Mark asked
              </button>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
