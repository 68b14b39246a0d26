import type { ShareOfFew } from '../../core/recovery/record.ts';

/** A share as a mark on a line from 0 to 100 %, with what so few cases leave open as a band around it. */
export function ShareBar({ share, tone }: { share: ShareOfFew; tone: 'bad' | 'good' }) {
  const colour = tone === 'bad' ? 'var(--color-oxide)' : 'var(--color-moss)';
  const middle = share.of === 0 ? 0 : share.hits / share.of;
  const x = (part: number) => 2 + 116 * part;
  return (
    <svg viewBox="0 0 120 20" className="h-5 w-30 shrink-0" aria-hidden>
      <line x1="2" x2="118" y1="10" y2="10" stroke="var(--color-line)" strokeWidth="2" />
      {share.of > 0 && (
        <>
          <rect
            x={x(share.low)}
            width={Math.max(2, x(share.high) - x(share.low))}
            y="6"
            height="8"
            rx="2"
            fill={colour}
            opacity="0.3"
          />
          <rect x={x(middle) - 2} width="4" y="2" height="16" rx="1" fill={colour} />
        </>
      )}
    </svg>
  );
}
