import type { ReactNode } from 'react';
import type { SignKey } from '../../core/guide/symbols.ts';

/** The signs on a label, drawn for this product: a frame, and inside what it is about. */
const INSIDE: Readonly<Record<SignKey, ReactNode>> = {
  goggles: (
    <>
      <path d="M9 20h22" />
      <circle cx="14" cy="22" r="5" />
      <circle cx="26" cy="22" r="5" />
    </>
  ),
  flame: (
    <>
      <path d="M20 9c6 6 7 9 7 13a7 7 0 0 1-14 0c0-3 2-5 4-6 0 3 1 4 3 4 0-4-1-7 0-11z" />
      <path d="M9 9l22 22" strokeWidth="3" />
    </>
  ),
  children: (
    <>
      <circle cx="16" cy="13" r="4" />
      <path d="M16 17v8M11 21h10M16 25l-4 6M16 25l4 6" />
      <path d="M30 10v20" strokeWidth="3" />
    </>
  ),
  acid: (
    <>
      <path d="M12 9l8 8M18 7l4 10" />
      <path d="M20 19c-2 3-3 4-3 6a3 3 0 0 0 6 0c0-2-1-3-3-6z" />
      <path d="M8 31h24" />
    </>
  ),
  leaflet: (
    <>
      <path d="M11 9h14l4 4v18H11z" />
      <path d="M15 17h10M15 21h10M15 25h6" />
    </>
  ),
  gas: (
    <>
      <circle cx="14" cy="26" r="4" />
      <circle cx="24" cy="22" r="5" />
      <circle cx="18" cy="13" r="3.5" />
    </>
  ),
  recycle: (
    <>
      <path d="M14 12h12M12 12v16a3 3 0 0 0 3 3h10a3 3 0 0 0 3-3V12M17 9h6" />
      <path d="M9 31L31 9" strokeWidth="3" />
    </>
  ),
};

export function LabelSign({ sign, name }: { sign: SignKey; name: string }) {
  return (
    <svg
      viewBox="0 0 40 40"
      role="img"
      aria-label={name}
      className="size-16 shrink-0 fill-none stroke-ink"
      strokeWidth="2"
    >
      <rect x="1.5" y="1.5" width="37" height="37" rx="6" className="fill-sheet" />
      {INSIDE[sign]}
    </svg>
  );
}
