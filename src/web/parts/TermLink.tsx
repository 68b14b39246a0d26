import { Popover } from 'radix-ui';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { TERMS } from '../../core/guide/terms.ts';

/** A term of the trade that opens to its entry in the field guide. */
export function TermLink({ term, children }: { term: string; children: ReactNode }) {
  const entry = TERMS.find((t) => t.key === term);
  if (!entry) return children;
  return (
    <Popover.Root>
      <Popover.Trigger className="cursor-help underline decoration-soft decoration-dotted underline-offset-4">
        {children}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          sideOffset={6}
          collisionPadding={8}
          className="z-50 w-80 rounded-lg border border-ink bg-sheet p-4 text-lg leading-snug"
        >
          <b className="block font-label text-xl font-semibold">{entry.term}</b>
          {entry.text}
          <Link to={`/guide#${entry.key}`} className="wordlink mt-2 block">
            More in the field guide
          </Link>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
