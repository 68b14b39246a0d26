import { type ReactNode, startTransition, useEffect, useState } from 'react';

/**
 * What is drawn once the rest of a view has been painted: all of it at once would keep a phone from whoever taps. For the end of a
 * page: what comes a moment later moves nothing there.
 */
export function AMomentLater({ children }: { children: ReactNode }) {
  const [there, setThere] = useState(false);
  useEffect(() => {
    const soon = setTimeout(() => startTransition(() => setThere(true)));
    return () => clearTimeout(soon);
  }, []);
  return there && children;
}
