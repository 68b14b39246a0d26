import { matchPath, Route, Routes } from 'react-router';
import { timeline } from '../../core/watch/timeline.ts';
import { benchClock } from '../line/benchClock.ts';
import { pause } from '../line/inPieces.ts';
import { jobOf, jobQuery, queryClient } from '../line/queries.ts';
import { Failure } from '../parts/Failure.tsx';
import { type Later, later } from '../parts/later.tsx';
import { Bench } from '../views/bench/Bench.tsx';
import { Shell } from './Shell.tsx';
import { SignInGate } from './SignInGate.tsx';

/** Every view but the bench is fetched when it is first gone to; until then the one before stands. */
const VIEWS: readonly (readonly [path: string, View: Later<object>])[] = [
  ['intake', later(async () => (await import('../views/intake/Intake.tsx')).Intake)],
  ['jobs/:id', later(async () => (await import('../views/job/JobView.tsx')).JobView)],
  ['setup/:step?', later(async () => (await import('../views/setup/SetUp.tsx')).SetUp)],
  ['walk', later(async () => (await import('../views/job/Walk.tsx')).Walk)],
  ['guide', later(async () => (await import('../views/guide/Guide.tsx')).Guide)],
  ['rehearsal', later(async () => (await import('../views/rehearsal/Rehearsal.tsx')).Rehearsal)],
  ['plan', later(async () => (await import('../views/dayplan/DayPlan.tsx')).DayPlan)],
  ['chargers', later(async () => (await import('../views/chargers/Chargers.tsx')).Chargers)],
  ['shelf', later(async () => (await import('../views/shelf/Shelf.tsx')).Shelf)],
  ['shelf/sets', later(async () => (await import('../views/sets/Sets.tsx')).Sets)],
  ['shelf/round', later(async () => (await import('../views/shelf/Round.tsx')).Round)],
  ['wet-room', later(async () => (await import('../views/wetroom/WetRoom.tsx')).WetRoom)],
  [
    'records/import',
    later(async () => (await import('../views/records/ImportTable.tsx')).ImportTable),
  ],
  ['records/claims/:id?', later(async () => (await import('../views/records/Claims.tsx')).Claims)],
  [
    'records/promises',
    later(async () => (await import('../views/records/PromisesKept.tsx')).PromisesKept),
  ],
  ['records/services', later(async () => (await import('../views/records/Services.tsx')).Services)],
  ['records/failures', later(async () => (await import('../views/records/Failures.tsx')).Failures)],
  [
    'records/recoveries',
    later(async () => (await import('../views/records/Recoveries.tsx')).Recoveries),
  ],
  ['records', later(async () => (await import('../views/records/Records.tsx')).Records)],
  [
    'batteries/:tag',
    later(async () => (await import('../views/records/BatteryRecord.tsx')).BatteryRecord),
  ],
  [
    'rules/:group?',
    later(async () => (await import('../views/rules/HouseRules.tsx')).HouseRulesView),
  ],
  ['drill', later(async () => (await import('../views/drill/Ladder.tsx')).Ladder)],
  ['drill/write', later(async () => (await import('../views/drill/WriteCase.tsx')).WriteCase)],
  ['drill/done', later(async () => (await import('../views/drill/Certificate.tsx')).Certificate)],
  [
    'drill/back/:attemptId',
    later(async () => (await import('../views/drill/LookBackView.tsx')).LookBackView),
  ],
  ['jobs/:id/sheet', later(async () => (await import('../views/paper/SheetView.tsx')).SheetView)],
];

/** Fetches the view of an address with what it begins with, so that the first page drawn is the whole one. */
export async function viewAhead(pathname: string): Promise<unknown> {
  const jobId = matchPath('/jobs/:id', pathname)?.params.id;
  const found = VIEWS.find(([path]) => matchPath(`/${path}`, pathname));
  return Promise.all([found?.[1].ahead(), jobId && jobAhead(jobId)]);
}

/** Fetches every view. */
export const allViewsAhead = (): Promise<unknown> =>
  Promise.all(VIEWS.map(([, View]) => View.ahead()));

/** A job's page also shows how the step in hand is done. */
async function jobAhead(id: string): Promise<void> {
  const [{ stepAhead }, { job, procedure }] = await Promise.all([
    import('../views/job/panels.tsx'),
    queryClient.ensureQueryData(jobQuery(id)),
  ]);
  await pause();
  // How long its charges take is simulated once: here, and not in the middle of drawing it.
  const now = benchClock.tick();
  timeline(jobOf(job, procedure, now), now);
  await stepAhead(procedure, job.state);
}

const Wall = later(async () => (await import('../views/dayplan/Wall.tsx')).Wall);
/** Every page of the shop, by its address. */
export const shopPages = (
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
