import './look.css';
import { QueryClientProvider } from '@tanstack/react-query';
import { type ReactNode, startTransition } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter, matchPath, Navigate, Route, Routes } from 'react-router';
import { benchClock } from './line/benchClock.ts';
import { attemptHere, CASE_JOB, pagesUnder } from './line/drillPlace.ts';
import { keepFlushing } from './line/outbox.ts';
import { askAhead, jobQuery, queryClient } from './line/queries.ts';
import { pause } from './line/inPieces.ts';
import { keepLastState, recallLastState } from './line/lastState.ts';
import { keepPages } from './line/newVersion.ts';
import { keepSendingPictures } from './line/pictures.ts';
import { outbox } from './line/sending.ts';
import { whenIdle } from './line/whenIdle.ts';
import { type Later, later } from './parts/later.tsx';
import { Failure } from './parts/Failure.tsx';
import { Shell } from './app/Shell.tsx';
import { SignInGate } from './app/SignInGate.tsx';
import { Bench } from './views/bench/Bench.tsx';

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

/** Every view but the bench is fetched when it is first gone to; until then the one before stands. */
const VIEWS: readonly (readonly [path: string, View: Later<object>])[] = [
  ['intake', later(async () => (await import('./views/intake/Intake.tsx')).Intake)],
  ['jobs/:id', later(async () => (await import('./views/job/JobView.tsx')).JobView)],
  ['setup/:step?', later(async () => (await import('./views/setup/SetUp.tsx')).SetUp)],
  ['walk', later(async () => (await import('./views/job/Walk.tsx')).Walk)],
  ['guide', later(async () => (await import('./views/guide/Guide.tsx')).Guide)],
  ['rehearsal', later(async () => (await import('./views/rehearsal/Rehearsal.tsx')).Rehearsal)],
  ['plan', later(async () => (await import('./views/dayplan/DayPlan.tsx')).DayPlan)],
  ['chargers', later(async () => (await import('./views/chargers/Chargers.tsx')).Chargers)],
  ['shelf', later(async () => (await import('./views/shelf/Shelf.tsx')).Shelf)],
  ['shelf/sets', later(async () => (await import('./views/sets/Sets.tsx')).Sets)],
  ['shelf/round', later(async () => (await import('./views/shelf/Round.tsx')).Round)],
  ['wet-room', later(async () => (await import('./views/wetroom/WetRoom.tsx')).WetRoom)],
  [
    'records/import',
    later(async () => (await import('./views/records/ImportTable.tsx')).ImportTable),
  ],
  ['records/claims/:id?', later(async () => (await import('./views/records/Claims.tsx')).Claims)],
  [
    'records/promises',
    later(async () => (await import('./views/records/PromisesKept.tsx')).PromisesKept),
  ],
  ['records/services', later(async () => (await import('./views/records/Services.tsx')).Services)],
  ['records/failures', later(async () => (await import('./views/records/Failures.tsx')).Failures)],
  [
    'records/recoveries',
    later(async () => (await import('./views/records/Recoveries.tsx')).Recoveries),
  ],
  ['records', later(async () => (await import('./views/records/Records.tsx')).Records)],
  [
    'batteries/:tag',
    later(async () => (await import('./views/records/BatteryRecord.tsx')).BatteryRecord),
  ],
  [
    'rules/:group?',
    later(async () => (await import('./views/rules/HouseRules.tsx')).HouseRulesView),
  ],
  ['drill', later(async () => (await import('./views/drill/Ladder.tsx')).Ladder)],
  ['drill/write', later(async () => (await import('./views/drill/WriteCase.tsx')).WriteCase)],
  ['drill/done', later(async () => (await import('./views/drill/Certificate.tsx')).Certificate)],
  [
    'drill/back/:attemptId',
    later(async () => (await import('./views/drill/LookBackView.tsx')).LookBackView),
  ],
  ['jobs/:id/sheet', later(async () => (await import('./views/paper/SheetView.tsx')).SheetView)],
];

/** Fetches the view of this address with what it begins with, so that the first page drawn is the whole one. */
async function viewAhead(): Promise<unknown> {
  const { pathname } = location;
  const jobId = matchPath('/jobs/:id', pathname)?.params.id;
  const found = VIEWS.find(([path]) => matchPath(`/${path}`, pathname));
  return Promise.all([found?.[1].ahead(), jobId && jobAhead(jobId)]);
}

/** A job's page also shows how the step in hand is done. */
async function jobAhead(id: string): Promise<void> {
  const [{ stepAhead }, { job, procedure }] = await Promise.all([
    import('./views/job/panels.tsx'),
    queryClient.ensureQueryData(jobQuery(id)),
  ]);
  await stepAhead(procedure, job.state);
}

const Wall = later(async () => (await import('./views/dayplan/Wall.tsx')).Wall);
const shopPages = (
  <Routes>
    <Route path="/" element={<Shell />}>
      <Route index element={<Bench />} />
      {VIEWS.map(([path, View]) => (
        <Route key={path} path={path} element={<View />} />
      ))}
      <Route path="*" element={<Failure />} />
    </Route>
    <Route
      path="/wall"
      element={
        <SignInGate>
          <Wall />
        </SignInGate>
      }
    />
  </Routes>
);

const root = createRoot(document.getElementById('root') as HTMLElement);
/** Draws in small pieces: a phone that needs half a second for the first page still answers meanwhile. */
const show = (pages: ReactNode): void =>
  startTransition(() =>
    root.render(
      <QueryClientProvider client={queryClient}>
        <BrowserRouter basename={pagesUnder}>{pages}</BrowserRouter>
      </QueryClientProvider>,
    ),
  );

/** What a closed page left unsent goes out when this one has been drawn, ms. */
const PICTURES_AFTER_MS = 500;
/** Words in another face than they are set in would move as soon as theirs comes; a slow line is not waited for any longer. */
const FACES = ['400 1em Barlow', '600 1em "Barlow Condensed"', '500 1em "Barlow Condensed"'];
const MOST_WAIT_MS = 1500;

/** All that the first page needs, or what has come of it after a while. */
const firstNeeds = (...needs: readonly Promise<unknown>[]): Promise<unknown> =>
  Promise.race([
    Promise.allSettled([...needs, ...FACES.map((face) => document.fonts.load(face))]),
    new Promise((resolve) => setTimeout(resolve, MOST_WAIT_MS)),
  ]);

async function begin(): Promise<void> {
  // What has been read so far was one piece of work; the rest comes in others.
  await pause();
  keepPages();
  if (attemptHere !== null) {
    const pages = openCaseOf(attemptHere);
    await firstNeeds(pages);
    show(await pages);
    return;
  }
  const answers = askAhead();
  keepLastState();
  keepFlushing(outbox);
  whenIdle(() => void keepSendingPictures(), PICTURES_AFTER_MS);
  // No server: what was last seen is shown, with its age.
  await firstNeeds(answers, viewAhead(), benchClock.sync().catch(recallLastState));
  show(shopPages);
}

// Waited for by nobody: what a view is made of stands on this very file, which would then wait for itself.
void begin();
