import type { ReactNode } from 'react';

/** On a phone: the acts of a running charge, where a thumb reaches them. */
export function ThumbBar({ children }: { children: ReactNode }) {
  return (
    <div
      role="group"
      aria-label="In reach"
      className="thumbs fixed inset-x-0 bottom-14 z-20 flex gap-3 border-t border-line bg-paper p-2 *:flex-1 sm:hidden"
    >
      {children}
    </div>
  );
}
