import { useQuery } from '@tanstack/react-query';
import { proxy, type Remote, wrap } from 'comlink';
import { useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import { notice } from '../../line/notices.ts';
import type { SetWire } from '../../../contract/wire.ts';
import {
  type Candidate,
  type MatchedSet,
  type Partition,
  resistanceWords,
  SET_SIZES,
} from '../../../core/sets/candidate.ts';
import { formatStamp } from '../../../core/quantities/format.ts';
import { ask, pathTo } from '../../line/api.ts';
import { newId } from '../../line/newId.ts';
import { queryClient, useRules } from '../../line/queries.ts';
import { useSigning } from '../../line/signing.tsx';
import { Empty, Loading, NotFetched } from '../../line/States.tsx';
import type { SetsWorker } from '../../workers/sets.worker.ts';

const KEY = ['shelf', 'sets'];

/** Recovered batteries put together into sets that share load and charge evenly. */
export function Sets() {
  const { data, error, refetch } = useQuery({ queryKey: KEY, queryFn: () => ask('sets') });
  if (error && !data) return <NotFetched error={error} again={() => void refetch()} />;
  if (!data) return <Loading />;
  return (
    <div className="grid gap-6 p-4 md:p-6">
      <div>
        <Link to="/shelf" className="wordlink inline-flex min-h-11 items-center text-soft">
          Shelf
        </Link>
        <h1 className="text-3xl">
          Sets{' '}
          <span className="font-medium text-soft">
            from {data.candidates.length} recovered batteries on the shelf
          </span>
        </h1>
      </div>
      <Matching candidates={data.candidates} />
      {data.sets.length > 0 && (
        <section aria-labelledby="kept">
          <h2 id="kept" className="mb-2 border-b-2 border-ink pb-1 text-2xl">
            Sets that are kept together
          </h2>
          <ul className="grid gap-3 lg:grid-cols-2">
            {data.sets.map((s) => (
              <KeptSet key={s.id} set={s} />
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}

function Matching({ candidates }: { candidates: Candidate[] }) {
  const rules = useRules();
  const worker = useRef<Remote<SetsWorker> | null>(null);
  const [size, setSize] = useState<number>(2);
  const [found, setFound] = useState<{
    size: number;
    of: Candidate[];
    partition: Partition;
  } | null>(null);
  const [busy, setBusy] = useState(false);
  const [failed, setFailed] = useState<string | null>(null);
  useEffect(() => {
    const raw = new Worker(new URL('../../workers/sets.worker.ts', import.meta.url), {
      type: 'module',
    });
    worker.current = wrap<SetsWorker>(raw);
    return () => {
      worker.current = null;
      raw.terminate();
    };
  }, []);
  const match = async (wanted: number) => {
    setSize(wanted);
    setBusy(true);
    setFailed(null);
    try {
      const best = await worker.current?.match(
        candidates,
        wanted,
        rules.sets,
        proxy((soFar: Partition) => setFound({ size: wanted, of: candidates, partition: soFar })),
      );
      if (best) setFound({ size: wanted, of: candidates, partition: best });
    } catch (error) {
      setFailed((error as Error).message);
    }
    setBusy(false);
  };
  if (candidates.length === 0)
    return (
      <Empty title="No recovered battery is free for a set">
        <p>
          A battery comes here when its recovery ended with a capacity and it went onto the shelf.
          Two of one model are enough to begin.
        </p>
      </Empty>
    );
  const shown = found && found.of === candidates ? found : null;
  return (
    <section aria-label="Matching" className="rounded-lg border border-line bg-sheet p-5">
      <div className="flex flex-wrap items-center gap-3">
        <span className="font-label text-xl font-semibold">Put together sets of</span>
        {SET_SIZES.map((n) => (
          <button
            key={n}
            type="button"
            aria-pressed={size === n && shown !== null}
            className={`act-quiet min-w-14 ${size === n && shown ? 'border-ink! bg-ink! text-sheet!' : ''}`}
            disabled={busy}
            onClick={() => void match(n)}
          >
            {n}
          </button>
        ))}
        {busy && (
          <>
            <span className="text-soft" role="status">
              Looking for the best partition…
            </span>
            <button
              type="button"
              className="wordlink min-h-11"
              onClick={() => {
                void worker.current?.cancel();
                setBusy(false);
              }}
            >
              Enough
            </button>
          </>
        )}
      </div>
      <p className="mt-1 max-w-[90ch] text-soft">
        Same model, alike in age, capacity, resistance and rest voltage. Distance 1 is about as far
        as any one of them should be; {rules.sets.limit} is this shop’s limit for any two of a set.
      </p>
      {failed && <p className="mt-2 text-oxide">{failed}</p>}
      {shown && <Found partition={shown.partition} busy={busy} />}
    </section>
  );
}

function Found({ partition, busy }: { partition: Partition; busy: boolean }) {
  const { sets, leftOver, worth, bound, proven } = partition;
  return (
    <>
      <p className="mt-3 text-lg">
        {sets.length === 0
          ? 'No set can be made within the limit.'
          : `${sets.length} ${sets.length === 1 ? 'set' : 'sets'}, ${leftOver.length} left over. `}
        {sets.length > 0 &&
          (proven ? (
            <b>No other partition is better: proven.</b>
          ) : (
            <span className="text-soft">
              At most {(100 * (bound / worth - 1)).toFixed(0)} % better could be possible.
            </span>
          ))}
      </p>
      <ul className="mt-3 grid gap-3 lg:grid-cols-2">
        {sets.map((s) => (
          <NewSet key={s.members.map((m) => m.tag).join()} set={s} busy={busy} />
        ))}
      </ul>
      {leftOver.length > 0 && (
        <section aria-label="Left over" className="mt-4">
          <h3 className="border-b border-line text-xl">Left over</h3>
          <ul>
            {leftOver.map(({ candidate, because }) => (
              <li
                key={candidate.tag}
                className="flex flex-wrap gap-x-4 border-b border-hair py-1.5 text-lg"
              >
                <Link to={`/batteries/${candidate.tag}`} className="wordlink font-semibold">
                  {candidate.tag}
                </Link>
                <span className="text-soft">{candidate.modelCode}</span>
                <span>{because}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}

function NewSet({ set, busy }: { set: MatchedSet; busy: boolean }) {
  const { sign } = useSigning();
  const [sending, setSending] = useState(false);
  const keep = async () => {
    const by = await sign();
    if (!by) return;
    setSending(true);
    try {
      await ask('makeSet', {
        body: { commandId: newId(), by, tags: set.members.map((m) => m.tag) },
      });
      await queryClient.invalidateQueries({ queryKey: KEY });
      notice.success('Kept together. Its sheet is below.');
    } catch (error) {
      notice.error((error as Error).message);
      setSending(false);
    }
  };
  return (
    <li className="rounded-md border border-line p-3">
      <div className="mb-1 flex flex-wrap items-center justify-between gap-3">
        <b className="font-label text-lg">
          {set.members[0]?.modelCode} · {set.apart.toFixed(2)} apart
          {set.members.length > 2 && ` on average, ${set.worst.toFixed(2)} at most`}
        </b>
        <button
          type="button"
          className="act-quiet"
          disabled={busy || sending}
          onClick={() => void keep()}
        >
          Keep this set
        </button>
      </div>
      <Members members={set.members} />
    </li>
  );
}

function Members({ members }: { members: readonly Candidate[] }) {
  return (
    <table className="w-full">
      <thead>
        <tr className="label border-b border-line text-left">
          <th className="font-medium">Tag</th>
          <th className="font-medium">Capacity</th>
          <th className="font-medium">Resistance</th>
          <th className="font-medium">At rest</th>
          <th className="font-medium">Age</th>
        </tr>
      </thead>
      <tbody>
        {members.map((m) => (
          <tr key={m.tag} className="border-b border-hair last:border-0">
            <td className="py-0.5">
              <Link to={`/batteries/${m.tag}`} className="wordlink font-semibold">
                {m.tag}
              </Link>
            </td>
            <td>{m.capacityAh.toFixed(1)} Ah</td>
            <td>{resistanceWords(m) ?? <span className="text-soft">not measured</span>}</td>
            <td>{m.restV.toFixed(2)} V</td>
            <td>{m.ageYears.toFixed(1)} years</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function KeptSet({ set }: { set: SetWire }) {
  const { sign } = useSigning();
  const rules = useRules();
  const end = async () => {
    const by = await sign();
    if (!by) return;
    try {
      await ask('endSet', {
        params: { id: set.id },
        body: { commandId: newId(), by, reason: 'Taken apart' },
      });
      await queryClient.invalidateQueries({ queryKey: KEY });
    } catch (error) {
      notice.error((error as Error).message);
    }
  };
  return (
    <li className="rounded-md border-2 border-ink bg-sheet p-3">
      <div className="mb-1 flex flex-wrap items-center justify-between gap-3">
        <b className="font-label text-lg">
          {set.modelCode}, set of {set.members.length}{' '}
          <span className="font-medium text-soft">made {formatStamp(set.madeAt, rules)}</span>
        </b>
        <span className="flex gap-2">
          <a href={pathTo('setPdf', { params: { id: set.id } })} className="act-quiet">
            Sheet, PDF
          </a>
          <button type="button" className="act-quiet" onClick={() => void end()}>
            Take it apart
          </button>
        </span>
      </div>
      <Members members={set.members} />
    </li>
  );
}
