import './look.css';
import { QueryClientProvider } from '@tanstack/react-query';
import { type ComponentType, lazy, type ReactNode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter, Navigate, Route, Routes } from 'react-router';
import { benchClock } from './line/benchClock.ts';
import { attemptHere, CASE_JOB, inDrill, pagesUnder } from './line/drillPlace.ts';
import { keepFlushing } from './line/outbox.ts';
import { askAhead, queryClient } from './line/queries.ts';
import { keepLastState, recallLastState } from './line/lastState.ts';
import { keepPages } from './line/newVersion.ts';
import { keepSendingPictures } from './line/pictures.ts';
import { outbox } from './line/sending.ts';
import { Failure } from './parts/Failure.tsx';
import { Shell } from './app/Shell.tsx';
import { SignInGate } from './app/SignInGate.tsx';
import { Bench } from './views/bench/Bench.tsx';

/** A view that is fetched when it is first gone to; until then the one before stands. */
const later = (load: () => Promise<ComponentType>) => {
  const View = lazy(async () => ({ default: await load() }));
  return <View />;
};

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

const VIEWS: readonly (readonly [path: string, view: ReactNode])[] = [
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

keepPages();
if (!inDrill) {
  askAhead();
  keepLastState();
  keepFlushing(outbox);
  void keepSendingPictures();
}
/** Words in another face than they are set in would move as soon as theirs comes; a slow line is not waited for any longer. */
const FACES = ['400 1em Barlow', '600 1em "Barlow Condensed"', '500 1em "Barlow Condensed"'];
const MOST_WAIT_MS = 1500;
await Promise.race([
  Promise.allSettled([
    // No server: what was last seen is shown, with its age.
    inDrill ? null : benchClock.sync().catch(recallLastState),
    ...FACES.map((face) => document.fonts.load(face)),
  ]),
  new Promise((resolve) => setTimeout(resolve, MOST_WAIT_MS)),
]);

const shopPages = (
  <Routes>
    <Route path="/" element={<Shell />}>
      <Route index element={<Bench />} />
      {VIEWS.map(([path, view]) => (
        <Route key={path} path={path} element={view} />
      ))}
      <Route path="*" element={<Failure />} />
    </Route>
    <Route
      path="/wall"
      element={
        <SignInGate>
          {later(async () => (await import('./views/dayplan/Wall.tsx')).Wall)}
        </SignInGate>
      }
    />
  </Routes>
);

const root = createRoot(document.getElementById('root') as HTMLElement);
const show = (pages: ReactNode): void =>
  root.render(
    <QueryClientProvider client={queryClient}>
      <BrowserRouter basename={pagesUnder}>{pages}</BrowserRouter>
    </QueryClientProvider>,
  );
// Waited for by nobody: what a case needs stands on this very file, which would then wait for itself.
if (attemptHere === null) show(shopPages);
else void openCaseOf(attemptHere).then(show);
