import type { ReactNode } from 'react';

/** One piece of wet-room work under its own heading. */
export function Bay({
  title,
  aside,
  children,
}: {
  title: string;
  aside?: ReactNode;
  children: ReactNode;
}) {
  return (
    <section aria-label={title} className="min-w-0">
      <div className="mb-3 flex flex-wrap items-baseline justify-between gap-3 border-b-2 border-ink pb-1">
        <h2 className="text-2xl">{title}</h2>
        {aside}
      </div>
      {children}
    </section>
  );
}
