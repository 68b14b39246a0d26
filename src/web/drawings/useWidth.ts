import { useCallback, useState } from 'react';

/** The width inside an element in px, known before it is first painted and kept current. */
export function useWidth(): [(element: HTMLElement | null) => (() => void) | undefined, number] {
  const [width, setWidth] = useState(0);
  const ref = useCallback((element: HTMLElement | null) => {
    if (!element) return undefined;
    const { paddingLeft, paddingRight } = getComputedStyle(element);
    setWidth(Math.round(element.clientWidth - parseFloat(paddingLeft) - parseFloat(paddingRight)));
    const observer = new ResizeObserver(([entry]) =>
      setWidth(Math.round(entry?.contentRect.width ?? 0)),
    );
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [ref, width];
}
