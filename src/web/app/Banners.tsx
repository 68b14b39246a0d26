import { lazy, type ReactNode, Suspense, useEffect, useState } from 'react';
import { formatDuration } from '../../core/quantities/format.ts';
import { useClockSettings, useNow } from '../line/benchClock.ts';
import { useFileStanding, useShop } from '../line/queries.ts';
import { outbox, useKeptEntries } from '../line/sending.ts';
import { whenIdle } from '../line/whenIdle.ts';
import { useSigning } from '../line/signing.tsx';
import { ageOfBench } from '../line/lastState.ts';
import { takeNewVersion, useNewVersion } from '../line/newVersion.ts';

function Banner({ children }: { children: ReactNode }) {
  return (
    <div role="status" className="no-print bg-ochre-pale px-5 py-2 text-base">
      {children}
    </div>
  );
}

/** A disk that fills up, a file that cannot be written, a backup that is old: said before anything is lost. */
export function FileBanners() {
  const [later, setLater] = useState(false);
  useEffect(() => whenIdle(() => setLater(true), FETCH_AHEAD_MS), []);
  const { data } = useFileStanding(later);
  return data?.warnings.map((warning) => (
    <div
      key={warning}
      role="alert"
      className={`no-print px-5 py-2 text-base ${data.ok ? 'bg-ochre-pale' : 'bg-oxide-pale'}`}
    >
      {data.ok ? '' : '✕ '}
      {warning}
    </div>
  ));
}

/** Bench time goes on by itself; a person knows why the machine's clock says otherwise. */
export function ClockBanner() {
  const { machine } = useClockSettings();
  const [asking, setAsking] = useState(false);
  if (!machine) return null;
  const apart = `${formatDuration(Math.abs(machine.aheadMs) / 1000)} ${machine.aheadMs > 0 ? 'ahead of' : 'behind'}`;
  return (
    <Banner>
      This machine’s clock is {apart} the bench’s.{' '}
      {machine.kept
        ? 'The bench keeps its own time.'
        : 'Nothing was timed by it; waits and charges go on.'}{' '}
      <button type="button" className="wordlink" onClick={() => setAsking(true)}>
        {machine.kept ? 'Answer anew' : 'Say which is right'}
      </button>
      <Suspense>
        {asking && <ClockQuestion machine={machine} onClose={() => setAsking(false)} />}
      </Suspense>
    </Banner>
  );
}

/** What this page still owes the server, and what it has turned away while nobody looked. */
export function KeptBanners() {
  const kept = useKeptEntries();
  const { person } = useSigning();
  const { data: shop } = useShop();
  const waiting = kept.filter((e) => e.refusal === undefined);
  const others = waiting.filter((e) => person && e.body.by !== person.id).length;
  const [shown, setShown] = useState(false);
  useEffect(() => {
    // An entry in ordinary flight is not news.
    const timer = setTimeout(() => setShown(waiting.length > 0), waiting.length > 0 ? 1500 : 0);
    return () => clearTimeout(timer);
  }, [waiting.length]);
  const nameOf = (id: string) => shop?.people.find((p) => p.id === id)?.name ?? 'Somebody';
  return (
    <>
      {shown && waiting.length > 0 && (
        <Banner>
          {waiting.length === 1 ? '1 entry waits' : `${waiting.length} entries wait`} here for the
          server
          {others > 0
            ? `, ${others === waiting.length ? '' : `${others} of them `}until who made ${others === 1 ? 'it' : 'them'} signs in`
            : ''}
          .{' '}
          <button type="button" className="wordlink" onClick={() => void outbox.flushNow()}>
            Send now
          </button>
        </Banner>
      )}
      {kept.map(
        ({ body, what, refusal }) =>
          refusal !== undefined && (
            <div
              key={body.commandId}
              role="alert"
              className="no-print flex flex-wrap items-baseline gap-x-4 border-b border-line bg-oxide-pale px-5 py-1 text-base"
            >
              <p className="min-w-0 flex-1">
                <b>Not taken, of {nameOf(body.by)}:</b> {what ?? 'an entry'}. {refusal}
              </p>
              <button
                type="button"
                className="wordlink min-h-11"
                onClick={() => outbox.dismiss(body.commandId)}
              >
                I have seen it
              </button>
            </div>
          ),
      )}
    </>
  );
}

const ClockQuestion = lazy(async () => ({
  default: (await import('./ClockQuestion.tsx')).ClockQuestion,
}));

// What opens at a tap is fetched when nothing else is to be done, so that it is there also when the line is not.
export const FETCH_AHEAD_MS = 10_000;

/** No line to the server: nothing is lost, and what stands here is as old as it says. */
export function OfflineBanner() {
  // Told anew with every tick of the bench's clock.
  useNow();
  const age = ageOfBench();
  const minutes = age === null ? null : Math.floor(age / 60_000);
  return (
    <Banner>
      <b>Server not reachable.</b>{' '}
      {minutes === null || minutes < 1
        ? 'What you type is kept here and sent when it answers.'
        : `What you see is ${formatDuration(60 * minutes)} old. What you type is kept here and sent when it answers.`}
    </Banner>
  );
}

/** Another version of the application is ready: offered, and taken when nobody is in the middle of something. */
export function NewVersionBanner() {
  const ready = useNewVersion();
  if (!ready) return null;
  return (
    <Banner>
      A new version of Cork Ember is ready.{' '}
      <button type="button" className="wordlink" onClick={takeNewVersion}>
        Use it now
      </button>{' '}
      It loads the page anew; what is typed stays.
    </Banner>
  );
}
