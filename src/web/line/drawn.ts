import type { DehydratedState } from '@tanstack/react-query';
import { DRAWN_FROM } from '../../contract/drawnPage.ts';
import type { Clock } from '../../contract/wire.ts';

/** What a page was drawn from, where the server drew it (`app/drawPage.tsx`). */
export interface DrawnFrom {
  /** Null where nobody had signed in: then nothing shows a time. */
  clock: Clock | null;
  /** Its answers, as old as the page. */
  state: DehydratedState;
}

/** What this page was drawn from; null where it came without anything drawn. */
export function drawnHere(): DrawnFrom | null {
  const told = document.getElementById(DRAWN_FROM);
  if (!told?.textContent) return null;
  told.remove();
  const { clock, state } = JSON.parse(told.textContent) as DrawnFrom;
  // By this machine's clock they have just come, whatever the server's says.
  const dataUpdatedAt = Date.now();
  const queries = state.queries.map((query) => ({
    ...query,
    state: { ...query.state, dataUpdatedAt },
  }));
  return { clock, state: { ...state, queries } };
}
