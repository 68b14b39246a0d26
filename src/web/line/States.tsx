import type { ReactNode } from 'react';
import { ProblemError } from './api.ts';

/** Said while something is on its way for long enough to notice. */
export function Loading() {
  return (
    <p role="status" className="animate-[appear_0s_0.4s_both] p-8 text-lg text-soft">
      Fetching from the bench
    </p>
  );
}

/** Said when it did not come. */
export function NotFetched({ error, again }: { error: Error; again: () => void }) {
  const gone = error instanceof ProblemError && error.status === 404;
  return (
    <section role="alert" className="m-8 max-w-xl rounded-lg border border-oxide bg-sheet p-6">
      <h1 className="text-2xl">{gone ? 'Not on record' : 'This could not be fetched'}</h1>
      <p className="mt-2 text-lg text-soft">{error.message}</p>
      {!gone && (
        <button type="button" className="act mt-4" onClick={again}>
          Try again
        </button>
      )}
    </section>
  );
}

/** What an empty place says: what belongs here and how it comes. */
export function Empty({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="max-w-xl rounded-lg border border-line bg-sheet p-6">
      <h2 className="text-2xl">{title}</h2>
      <div className="mt-2 grid justify-items-start gap-4 text-lg text-soft">{children}</div>
    </section>
  );
}
