import { Suspense, useState } from 'react';
import { ErrorBoundary } from 'react-error-boundary';
import { Outlet, useLocation } from 'react-router';
import { OPENS_H } from '../../core/drill/hours.ts';
import { formatClock, formatTimeOfDay, formatWeekday } from '../../core/quantities/format.ts';
import { RibbonTextures } from '../drawings/Ribbon.tsx';
import { useNow } from '../line/benchClock.ts';
import { useRules } from '../line/queries.ts';
import { SigningProvider } from '../line/signing.tsx';
import { DialogBack, DialogFrame, StaysInUse } from '../parts/DialogFrame.tsx';
import { Failure } from '../parts/Failure.tsx';
import { SkipLink } from '../parts/SkipLink.tsx';
import { Item } from '../parts/OpensLater.tsx';
import { endCase, useCase } from '../sandbox/caseAtHand.ts';
import { AtBattery } from '../views/drill/AtBattery.tsx';

/** The frame around the pages of a case: it says on each that this is a drill, and holds the hands and the clock. */
export function DrillFrame({ known }: { known: boolean }) {
  if (!known) return <NotHere />;
  return (
    <SigningProvider>
      <Frame />
    </SigningProvider>
  );
}

function Frame() {
  const { drillCase, bench } = useCase();
  const { pathname } = useLocation();
  return (
    <div className="min-h-dvh pb-48 md:pb-52">
      <SkipLink />
      <RibbonTextures />
      <header className="no-print sticky top-0 z-30 flex min-h-15 flex-wrap items-center gap-x-5 gap-y-1 border-b-4 border-slate bg-slate-pale px-3 py-1.5 md:px-5">
        <span className="rounded-sm bg-slate px-2.5 py-1 font-label text-xl font-semibold text-white">
          Drill
        </span>
        <p className="min-w-0 flex-1 basis-48 leading-tight">
          <b className="block truncate font-label text-xl font-semibold">{drillCase.title}</b>
          <span className="block truncate text-[15px]">
            {drillCase.code} · nothing here reaches the shop’s records
          </span>
        </p>
        <CaseClock />
        <OpeningHours />
        <Item label="Hands so far" className="hidden sm:block">
          {bench.handsMin.toFixed(0)} min
        </Item>
        <a href="/drill" className="act-quiet">
          Leave, go on later
        </a>
        {!bench.isOver && <GiveUp />}
      </header>
      <main id="main" tabIndex={-1} className="min-w-0 outline-none">
        {bench.isOver && <Over />}
        <ErrorBoundary FallbackComponent={Failure} resetKeys={[pathname]}>
          <Suspense>
            <StaysInUse value>
              <Outlet />
            </StaysInUse>
          </Suspense>
        </ErrorBoundary>
      </main>
      <AtBattery />
    </div>
  );
}

function CaseClock() {
  const now = useNow();
  const rules = useRules();
  return (
    <Item label="Clock of the case">
      {formatWeekday(now, rules)}, {formatClock(now, rules)}
    </Item>
  );
}

/** When nobody is there, in a case whose shop closes. */
function OpeningHours() {
  const { drillCase, bench } = useCase();
  const rules = useRules();
  const { closesH } = drillCase;
  if (closesH === undefined) return null;
  const isClosed = bench.closedForS > 0;
  return (
    <Item label={isClosed ? 'Closed, opens at' : 'The shop closes at'}>
      {formatTimeOfDay(60 * (isClosed ? OPENS_H : closesH), rules)}
    </Item>
  );
}

/** Ends the case where it stands; it is marked as left before its end. */
function GiveUp() {
  const [open, setOpen] = useState(false);
  return (
    <DialogFrame
      open={open}
      onOpenChange={setOpen}
      trigger={
        <button type="button" className="act-quiet">
          Give up
        </button>
      }
      title="Give this case up?"
      description="It is marked as it stands, as not passed, and you see what it was. It cannot be gone on with; it can be begun again."
    >
      <div className="flex flex-wrap justify-end gap-3">
        <DialogBack>Go on with it</DialogBack>
        <button type="button" className="act" onClick={() => void endCase()}>
          Give up and look back
        </button>
      </div>
    </DialogFrame>
  );
}

/** The job has come to an end: what was done can be looked back on. */
function Over() {
  return (
    <section
      aria-label="The case is over"
      className="flex flex-wrap items-center gap-4 border-b border-line bg-sheet px-4 py-3 md:px-6"
    >
      <p className="flex-1 basis-64 text-lg">
        <b className="font-label text-xl font-semibold">The case is over.</b> See what it was, how
        it is marked, and what a good technician did.
      </p>
      <button type="button" className="act" onClick={() => void endCase()}>
        Look back
      </button>
    </section>
  );
}

function NotHere() {
  return (
    <main className="grid min-h-dvh place-items-center p-4">
      <section className="max-w-lg rounded-lg border border-ink bg-sheet p-6">
        <h1 className="text-3xl">This case is not on this device</h1>
        <p className="mt-2 text-lg text-soft">
          A case that was begun is kept in the browser it was begun in. Begin it here from the list.
        </p>
        <a href="/drill" className="act mt-4">
          To the drill
        </a>
      </section>
    </main>
  );
}
