import { type ReactNode, startTransition, Suspense, useCallback, useState } from 'react';

interface Props {
  /** Room it will take, px, so that nothing moves when it comes. */
  height: number;
  children: ReactNode;
}

const AFTER_MS = 200;

/** Draws, and fetches what draws it, only once it comes onto the screen. */
export function WhenSeen({ height, children }: Props) {
  const [seen, setSeen] = useState(false);
  const ref = useCallback((element: HTMLElement | null) => {
    if (!element) return undefined;
    const observer = new IntersectionObserver(([entry]) => {
      if (!entry?.isIntersecting) return;
      observer.disconnect();
      // The words and numbers around it are drawn first.
      setTimeout(() => startTransition(() => setSeen(true)), AFTER_MS);
    });
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return (
    <div ref={ref} style={{ minHeight: height }}>
      {seen && <Suspense>{children}</Suspense>}
    </div>
  );
}
