import { useEffect, useRef, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import type { JobWire } from '../../../contract/wire.ts';
import type { Job } from '../../../core/job/job.ts';
import { DraftScope } from '../../line/draft.ts';
import { useNow } from '../../line/benchClock.ts';
import { jobOf, useJob, useRules } from '../../line/queries.ts';
import { useJobSender } from '../../line/sending.ts';
import { Empty, Loading, NotFetched } from '../../line/States.tsx';
import { useWakeLock } from '../../line/wakeLock.ts';
import { PortStrip } from '../../drawings/PortStrip.tsx';
import { stripLook } from '../../drawings/portState.ts';
import { StepPanel } from './StepPanel.tsx';

/** A task that is done stays to be seen for so long before the next battery comes. ms */
const SEEN_MS = 500;

/** One walk along the bench: the same task at one battery after the other, with one thumb. */
export function Walk() {
  const [params] = useSearchParams();
  const ids = (params.get('jobs') ?? '').split(',').filter(Boolean);
  const [at, setAt] = useState(0);
  const [done, setDone] = useState<ReadonlySet<string>>(new Set());
  useWakeLock();
  const id = ids[at];
  const finish = (which: string) => {
    setDone((old) => new Set([...old, which]));
    setAt((old) => (ids[old] === which ? old + 1 : old));
  };
  return (
    <div className="mx-auto grid max-w-4xl gap-4 p-4 pb-24 md:p-6 [&_.thumbs]:hidden">
      <header className="sticky top-15 z-10 -mx-4 grid gap-1 bg-paper px-4 py-2 md:static md:mx-0 md:p-0">
        <div className="flex items-baseline justify-between gap-4">
          <h1 className="text-2xl">
            Walk{' '}
            <span className="font-medium text-soft">
              {id ? `${at + 1} of ${ids.length}` : `${done.size} of ${ids.length} done`}
            </span>
          </h1>
          <Link to="/" className="wordlink min-h-11 content-center text-soft">
            Leave the walk
          </Link>
        </div>
        <progress
          className="h-2 w-full accent-moss"
          value={done.size}
          max={ids.length}
          aria-label="Done on this walk"
        />
      </header>
      {id ? (
        <Stop key={id} id={id} wasDone={done.has(id)} onDone={() => finish(id)} />
      ) : (
        <Empty title="The walk is over">
          <p>
            {done.size} of {ids.length} done
            {done.size < ids.length && `, ${ids.length - done.size} skipped: they stay on the list`}
            .
          </p>
          <Link to="/" className="act">
            Back to the bench
          </Link>
        </Empty>
      )}
      <nav
        aria-label="Along the walk"
        className="fixed inset-x-0 bottom-14 z-20 flex gap-3 border-t border-line bg-paper p-2 md:static md:border-0 md:p-0"
      >
        <button
          type="button"
          className="act-quiet flex-1 md:flex-none"
          disabled={at === 0}
          onClick={() => setAt(at - 1)}
        >
          Back
        </button>
        {id && (
          <button
            type="button"
            className="act-quiet flex-1 md:flex-none"
            onClick={() => setAt(at + 1)}
          >
            {done.has(id) ? 'Next' : 'Skip'}
          </button>
        )}
      </nav>
    </div>
  );
}

function Stop({ id, ...props }: { id: string; wasDone: boolean; onDone: () => void }) {
  const { data, error, refetch } = useJob(id);
  const now = useNow();
  if (error && !data) return <NotFetched error={error} again={() => void refetch()} />;
  if (!data) return <Loading />;
  return <Task wire={data.job} job={jobOf(data.job, data.procedure, now)} now={now} {...props} />;
}

/** What changes when a task is done: another step, or one more reading. */
const standing = ({ state }: Job): string =>
  `${state.current?.stepId} ${state.current?.startedAt} ${state.readings.length} ${state.charge?.mode}`;

function Task({
  wire,
  job,
  now,
  wasDone,
  onDone,
}: {
  wire: JobWire;
  job: Job;
  now: number;
  wasDone: boolean;
  onDone: () => void;
}) {
  const rules = useRules();
  const sender = useJobSender(wire.id);
  const [before] = useState(() => standing(job));
  const changed = !wasDone && standing(job) !== before;
  const finished = useRef(onDone);
  useEffect(() => void (finished.current = onDone));
  useEffect(() => {
    if (!changed) return;
    const timer = setTimeout(() => finished.current(), SEEN_MS);
    return () => clearTimeout(timer);
  }, [changed]);
  const { battery } = wire;
  return (
    <>
      <div className="flex flex-wrap items-center gap-x-5 gap-y-2">
        <div>
          <h2 className="text-4xl leading-none">{battery.tag}</h2>
          <p className="mt-1 text-soft">
            {job.state.charge && job.state.charge.mode !== 'ended' && (
              <b className="text-ink">Place {job.state.charge.place}. </b>
            )}
            {battery.place && <b className="text-ink">{battery.place}. </b>}
            {battery.modelCode} · {battery.owner}
          </p>
        </div>
        <PortStrip look={stripLook(job)} width={150} />
        {changed && (
          <p role="status" className="text-xl font-semibold">
            ✓ Done
          </p>
        )}
      </div>
      <DraftScope value={`${wire.id} ${job.state.current?.stepId ?? ''} ${job.state.attempt}`}>
        <StepPanel
          key={`${job.state.current?.stepId}${job.state.attempt}${job.state.status}`}
          job={job}
          wire={wire}
          sender={sender}
          now={now}
          rules={rules}
        />
      </DraftScope>
    </>
  );
}
