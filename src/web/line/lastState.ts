import { dehydrate, type DehydratedState } from '@tanstack/react-query';
import { del, get, set } from 'idb-keyval';
import type { Clock } from '../../contract/wire.ts';
import { answeredAfter, UNKNOWN_CHANGE } from './api.ts';
import { benchClock } from './benchClock.ts';
import { queryClient, takeUp } from './queries.ts';
import { whenIdle } from './whenIdle.ts';

/**
 * What the pages last showed, kept in the browser for when there is no server: the bench, its jobs, shelf, chargers. It is only
 * read where the server does not answer, and says how old it is.
 */

const KEY = 'cork-ember.last-state';
/** Answers that are worth keeping. */
const KEPT = new Set(['shop', 'bench', 'sign-in', 'job', 'shelf', 'chargers', 'models', 'lots']);
const EVERY_MS = 10_000;
/** Older than this it helps nobody. */
const LASTS_MS = 7 * 86_400_000;

interface Kept {
  /** When the newest of it was answered, machine time, ms. */
  at: number;
  /** Bench time at a moment of this machine, ms: its own clock may be off, and a demo's is another day's. */
  clock: Clock;
  clockAt: number;
  state: DehydratedState;
}

/** Keeps what is answered from now on, a while after it has come. */
export function keepLastState(): void {
  // A page that is put away may never come back.
  addEventListener('pagehide', () => void keep().catch(() => undefined));
  let due: ReturnType<typeof setTimeout> | undefined;
  queryClient.getQueryCache().subscribe(({ type, query }) => {
    if (type !== 'updated' || !KEPT.has(String(query.queryKey[0]))) return;
    if (query.state.status !== 'success' || due) return;
    due = setTimeout(() => {
      due = undefined;
      whenIdle(() => void keep().catch(() => undefined), 2000);
    }, EVERY_MS);
  });
}

async function keep(): Promise<void> {
  const state = dehydrate(queryClient, {
    shouldDehydrateQuery: (query) =>
      query.state.status === 'success' && KEPT.has(String(query.queryKey[0])),
  });
  const at = Math.max(0, ...state.queries.map((q) => q.state.dataUpdatedAt));
  if (at > 0)
    await set(KEY, {
      at,
      clock: { ...benchClock.settings, now: benchClock.now() },
      clockAt: Date.now(),
      state,
    } satisfies Kept);
}

/** Shows what was kept, where there is no server to ask. @returns whether there was something */
export async function recallLastState(): Promise<boolean> {
  const kept = await get<Kept>(KEY).catch(() => undefined);
  if (!kept || Date.now() - kept.at > LASTS_MS) return false;
  const { clock, clockAt } = kept;
  benchClock.set({ ...clock, now: clock.now + (Date.now() - clockAt) * clock.rate });
  await takeUp(kept.state);
  answeredAfter(UNKNOWN_CHANGE);
  return true;
}

/** Whoever signs out leaves nothing behind. */
export const forgetLastState = (): Promise<void> => del(KEY).catch(() => undefined);

/** How old the newest of what the bench shows is, ms; null before anything was answered. */
export const ageOfBench = (): number | null => {
  const at = queryClient.getQueryState(['bench'])?.dataUpdatedAt;
  return at ? Date.now() - at : null;
};
