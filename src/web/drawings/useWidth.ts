import { useCallback, useState } from 'react';

interface Options {
  /** Its height does not come from its width: it may be drawn a frame later, and the browser need not lay the page out in the middle of drawing it. */
  keepsItsHeight?: boolean;
}

/** The width inside an element in px, 0 until it is known, and kept current. It is known before it is first painted, or right after that. */
export function useWidth({ keepsItsHeight = false }: Options = {}): [
  (element: HTMLElement | null) => (() => void) | undefined,
  number,
] {
  const [width, setWidth] = useState(0);
  const ref = useCallback(
    (element: HTMLElement | null) => {
      if (!element) return undefined;
      if (!keepsItsHeight) setWidth(Math.round(widthInside(element)));
      const observer = new ResizeObserver(([entry]) =>
        setWidth(Math.round(entry?.contentRect.width ?? 0)),
      );
      observer.observe(element);
      return () => observer.disconnect();
    },
    [keepsItsHeight],
  );
  return [ref, width];
}

function widthInside(element: HTMLElement): number {
  const { paddingLeft, paddingRight } = getComputedStyle(element);
  return element.clientWidth - parseFloat(paddingLeft) - parseFloat(paddingRight);
}
