import { useSyncExternalStore } from 'react';
import { whenIdle } from './whenIdle.ts';

/** Another version of the application is ready; it is taken when somebody says so. */

let waiting = false;
let activate: ((reload?: boolean) => Promise<void>) | null = null;
const listeners = new Set<() => void>();

/** Looks for another version this often. ms */
const LOOK_EVERY_MS = 30 * 60_000;

/** Keeps the pages for when there is no server, as soon as nothing else is to be done. */
export function keepPages(): void {
  if (!('serviceWorker' in navigator)) return;
  whenIdle(() => void register().catch(() => undefined), KEEP_AFTER_MS);
}

async function register(): Promise<void> {
  const { registerSW } = await import('virtual:pwa-register');
  activate = registerSW({
    onNeedRefresh: () => {
      waiting = true;
      for (const listener of listeners) listener();
    },
    onRegisteredSW: (_url, registration) => {
      if (registration)
        setInterval(() => void registration.update().catch(() => undefined), LOOK_EVERY_MS);
    },
  });
}

/** A first visit has better things to do. ms */
const KEEP_AFTER_MS = 15_000;

export const takeNewVersion = (): void => void activate?.(true);

export function useNewVersion(): boolean {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => waiting,
    () => waiting,
  );
}
