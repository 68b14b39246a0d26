import { startTransition, useEffect, useState } from 'react';
import { hasBrowser } from './device.ts';

/** The view that is drawn next came drawn whole: the page has only to be taken in hand. */
let cameWhole = !hasBrowser;
export const viewCameWhole = (): void => void (cameWhole = true);

/**
 * Whether all of a view is drawn. What stands below is drawn a frame later, so that what is at the top need not wait for it; a page
 * that the server drew has it already.
 */
export function useWhole(): boolean {
  const [whole, setWhole] = useState(cameWhole);
  useEffect(() => {
    cameWhole = false;
    startTransition(() => setWhole(true));
  }, []);
  return whole;
}
