import { QueryClientProvider } from '@tanstack/react-query';
import { type ReactNode, startTransition, useEffect } from 'react';
import { createRoot, hydrateRoot } from 'react-dom/client';
import { BrowserRouter, Navigate, Route, Routes } from 'react-router';
import { benchClock } from './line/benchClock.ts';
import { attemptHere, CASE_JOB, pagesUnder } from './line/drillPlace.ts';
import { keepFlushing } from './line/outbox.ts';
import { answeredAfter, UNKNOWN_CHANGE } from './line/api.ts';
import { askAhead, queryClient, takeUp } from './line/queries.ts';
import { isBlank } from './line/device.ts';
import { drawnHere } from './line/drawn.ts';
import { pause } from './line/inPieces.ts';
import { keepLastState, recallLastState } from './line/lastState.ts';
import { keepPages } from './line/newVersion.ts';
import { keepSendingPictures } from './line/pictures.ts';
import { outbox } from './line/sending.ts';
import { viewCameWhole } from './line/whole.ts';
import { whenIdle } from './line/whenIdle.ts';
import { shopPages, viewAhead } from './app/pages.tsx';

/** A case of the drill has pages of its own, and nothing of the shop. */
async function openCaseOf(attemptId: string): Promise<ReactNode> {
  const [{ openCase }, { DrillFrame }, { JobView }, { Guide }] = await Promise.all([
    import('./sandbox/caseAtHand.ts'),
    import('./app/DrillFrame.tsx'),
    import('./views/job/JobView.tsx'),
    import('./views/guide/Guide.tsx'),
  ]);
  const known = await openCase(attemptId).catch(() => false);
  const toTheJob = <Navigate to={`/jobs/${CASE_JOB}`} replace />;
  return (
    <Routes>
      <Route path="/" element={<DrillFrame known={known} />}>
        <Route index element={toTheJob} />
        <Route path="jobs/:id" element={<JobView />} />
        <Route path="guide" element={<Guide />} />
        <Route path="*" element={toTheJob} />
      </Route>
    </Routes>
  );
}

const root = document.getElementById('root') as HTMLElement;

/** Nothing of a page that came drawn can be used before it is in hand: what was typed into it would be lost. */
function InHand({ children }: { children: ReactNode }) {
  useEffect(() => root.removeAttribute('inert'), []);
  return children;
}

const whole = (pages: ReactNode): ReactNode => (
  <QueryClientProvider client={queryClient}>
    <BrowserRouter basename={pagesUnder}>
      <InHand>{pages}</InHand>
    </BrowserRouter>
  </QueryClientProvider>
);
/** Draws in small pieces: a phone that needs half a second for the first page still answers meanwhile. */
const show = (pages: ReactNode): void =>
  startTransition(() => createRoot(root).render(whole(pages)));
/** Takes the page in hand as it was drawn. */
const goOnWith = (pages: ReactNode): void => {
  viewCameWhole();
  startTransition(() => {
    hydrateRoot(root, whole(pages), { onRecoverableError: (error) => console.error(error) });
  });
};

/** What a closed page left unsent goes out when this one has been drawn, ms. */
const PICTURES_AFTER_MS = 500;
/** The hour a page was drawn with is put right so long after it has come, ms. */
const CLOCK_AFTER_MS = 500;
/** All that the first page needs, or what has come of it after a while. */
const within = (ms: number, ...needs: readonly Promise<unknown>[]): Promise<unknown> =>
  Promise.race([Promise.allSettled(needs), new Promise((resolve) => setTimeout(resolve, ms))]);

/**
 * @param faces the letters of the page have come
 * @param mostWaitMs a slow line is not waited for any longer
 */
export async function openPages(faces: Promise<unknown>, mostWaitMs: number): Promise<void> {
  // What has been read so far was one piece of work; the rest comes in others.
  await pause();
  keepPages();
  if (attemptHere !== null) {
    const pages = openCaseOf(attemptHere);
    await within(mostWaitMs, pages, faces);
    show(await pages);
    return;
  }
  const { pathname } = location;
  keepLastState();
  keepFlushing(outbox);
  whenIdle(() => void keepSendingPictures(), PICTURES_AFTER_MS);
  const drawn = drawnHere();
  if (drawn) {
    if (drawn.clock) benchClock.setAsDrawn(drawn.clock);
    await takeUp(drawn.state);
    answeredAfter(root.dataset['since'] ?? UNKNOWN_CHANGE);
    // The page was under way for a while that its clock does not know of.
    whenIdle(() => void benchClock.sync().catch(() => undefined), CLOCK_AFTER_MS);
    await viewAhead(pathname);
    // What this browser keeps is not in what the server drew: with it, the page is another.
    (isBlank() ? goOnWith : show)(shopPages);
    return;
  }
  const answers = askAhead(pathname);
  // No server: what was last seen is shown, with its age.
  await within(
    mostWaitMs,
    faces,
    answers,
    viewAhead(pathname),
    benchClock.sync().catch(recallLastState),
  );
  show(shopPages);
}
