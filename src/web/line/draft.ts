import { createContext, use, useCallback, useState } from 'react';
import { device } from './device.ts';
import { keptUnder } from './drillPlace.ts';

/**
 * Text that is typed and not sent yet. It is kept on this device, so that a page that is left, reloaded or closed
 * loses none of it, until it is sent or thrown away.
 */

const PREFIX = keptUnder('draft.');
/** What nobody came back to is forgotten, ms. */
const KEPT_MS = 7 * 24 * 3_600_000;

interface Kept<T> {
  at: number;
  value: T;
}

function read<T>(key: string): T | null {
  try {
    const kept = JSON.parse(device.getItem(PREFIX + key) ?? 'null') as Kept<T> | null;
    return kept && Date.now() - kept.at < KEPT_MS ? kept.value : null;
  } catch {
    return null;
  }
}

/** Keeps a draft, or with null forgets it. A device without room keeps none, and typing goes on. */
export function keepDraft(key: string, value: unknown): void {
  try {
    if (value === null) device.removeItem(PREFIX + key);
    else
      device.setItem(
        PREFIX + key,
        JSON.stringify({ at: Date.now(), value } satisfies Kept<unknown>),
      );
  } catch {
    return;
  }
}

export const keptDraft = read;

/** Where a form stands: its drafts are told from those of the same form elsewhere. Without it nothing is kept. */
export const DraftScope = createContext<string | null>(null);

/**
 * State that outlives its page.
 *
 * @param name of the form within its {@link DraftScope}
 * @param blank as it is before anybody types
 * @returns the value, its setter, and what to call once it was sent
 */
export function useDraft<T>(
  name: string,
  blank: T,
): [T, (change: (old: T) => T) => void, () => void] {
  const scope = use(DraftScope);
  const key = scope === null ? null : `${scope} ${name}`;
  const [value, setValue] = useState<T>(() => (key === null ? null : read<T>(key)) ?? blank);
  const change = useCallback(
    (make: (old: T) => T) =>
      setValue((old) => {
        const next = make(old);
        if (key !== null) keepDraft(key, next);
        return next;
      }),
    [key],
  );
  const clear = useCallback(() => {
    if (key !== null) keepDraft(key, null);
    setValue(blank);
    // oxlint-disable-next-line react/exhaustive-deps
  }, [key]);
  return [value, change, clear];
}
