import { type PointerEvent, useRef, useState } from 'react';

/** A pointer that has gone less far has not dragged anything. */
export const LEAST_DRAG_PX = 6;

/**
 * Drags something over the rows of the plan, by mouse, pen or finger.
 *
 * @param onDrop told the place of the row it was dropped on, or null, and how far it went to the right, px
 */
export function useDrag(onDrop: (post: string | null, dx: number) => void) {
  const from = useRef<{ x: number; y: number } | null>(null);
  const [by, setBy] = useState({ dx: 0, dy: 0 });
  const moved = useRef(false);
  const far = (x: number, y: number): boolean => Math.hypot(x, y) >= LEAST_DRAG_PX;
  const end = () => {
    from.current = null;
    setBy({ dx: 0, dy: 0 });
  };
  return {
    ...by,
    /** The click that ends a drag is none. */
    get moved() {
      return moved.current;
    },
    handlers: {
      onPointerDown: (e: PointerEvent<SVGElement>) => {
        from.current = { x: e.clientX, y: e.clientY };
        moved.current = false;
        e.currentTarget.setPointerCapture(e.pointerId);
      },
      onPointerMove: (e: PointerEvent<SVGElement>) => {
        if (!from.current) return;
        const [dx, dy] = [e.clientX - from.current.x, e.clientY - from.current.y];
        if (far(dx, dy)) moved.current = true;
        if (moved.current) setBy({ dx, dy });
      },
      onPointerUp: (e: PointerEvent<SVGElement>) => {
        if (!from.current) return;
        const dx = e.clientX - from.current.x;
        if (moved.current) {
          const row = document
            .elementsFromPoint(e.clientX, e.clientY)
            .map((element) => element.closest<HTMLElement>('[data-post]'))
            .find((found) => found?.dataset['post'] !== undefined);
          onDrop(row?.dataset['post'] ?? null, dx);
        }
        end();
      },
      onPointerCancel: end,
    },
  };
}
