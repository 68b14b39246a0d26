import { type ReactNode, Suspense, useCallback, useState } from 'react';

interface Props {
  /** Room it will take, px, so that nothing moves when it comes. */
  height: number;
  children: ReactNode;
}

/** How far below the screen a thing is already made ready. */
const AHEAD = '150px';

/** Draws, and fetches what draws it, only once it comes near the screen. */
export function WhenSeen({ height, children }: Props) {
  const [seen, setSeen] = useState(false);
  const ref = useCallback((element: HTMLElement | null) => {
    if (!element) return undefined;
    const observer = new IntersectionObserver(
      ([entry]) => {
        if (!entry?.isIntersecting) return;
        setSeen(true);
        observer.disconnect();
      },
      { rootMargin: AHEAD },
    );
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return (
    <div ref={ref} style={{ minHeight: height }}>
      {seen && <Suspense>{children}</Suspense>}
    </div>
  );
}
