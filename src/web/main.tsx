import './look.css';
import { QueryClientProvider } from '@tanstack/react-query';
import { createRoot } from 'react-dom/client';
import { createBrowserRouter, RouterProvider } from 'react-router';
import { benchClock } from './app/benchClock.ts';
import { keepFlushing } from './app/outbox.ts';
import { askAhead, queryClient } from './app/queries.ts';
import { outbox } from './app/sending.ts';
import { Failure } from './app/Failure.tsx';
import { Shell } from './app/Shell.tsx';
import { Bench } from './views/bench/Bench.tsx';

const router = createBrowserRouter([
  {
    path: '/',
    Component: Shell,
    ErrorBoundary: Failure,
    HydrateFallback: () => null,
    children: [
      { index: true, Component: Bench },
      { path: 'intake', lazy: async () => ({ Component: (await import('./views/intake/Intake.tsx')).Intake }) },
      { path: 'jobs/:id', lazy: async () => ({ Component: (await import('./views/job/JobView.tsx')).JobView }) },
      { path: 'rehearsal', lazy: async () => ({ Component: (await import('./views/rehearsal/Rehearsal.tsx')).Rehearsal }) },
      { path: 'shelf', lazy: async () => ({ Component: (await import('./views/shelf/Shelf.tsx')).Shelf }) },
      { path: 'shelf/sets', lazy: async () => ({ Component: (await import('./views/sets/Sets.tsx')).Sets }) },
      { path: 'shelf/round', lazy: async () => ({ Component: (await import('./views/shelf/Round.tsx')).Round }) },
      { path: 'wet-room', lazy: async () => ({ Component: (await import('./views/wetroom/WetRoom.tsx')).WetRoom }) },
      { path: 'records/import', lazy: async () => ({ Component: (await import('./views/records/ImportTable.tsx')).ImportTable }) },
      { path: 'records', lazy: async () => ({ Component: (await import('./views/records/Records.tsx')).Records }) },
      { path: 'batteries/:tag', lazy: async () => ({ Component: (await import('./views/records/BatteryRecord.tsx')).BatteryRecord }) },
      { path: 'rules', lazy: async () => ({ Component: (await import('./views/rules/HouseRules.tsx')).HouseRulesView }) },
      { path: 'jobs/:id/sheet', lazy: async () => ({ Component: (await import('./views/paper/SheetView.tsx')).SheetView }) },
      { path: '*', Component: Failure },
    ],
  },
]);

askAhead();
keepFlushing(outbox);
await benchClock.sync().catch(() => undefined);

createRoot(document.getElementById('root') as HTMLElement).render(
  <QueryClientProvider client={queryClient}>
    <RouterProvider router={router} />
  </QueryClientProvider>,
);
