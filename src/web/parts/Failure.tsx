import { Link } from 'react-router';

/** What stands where a page should be when there is none, or it broke. */
export function Failure({ error }: { error?: unknown }) {
  const missing = error === undefined;
  return (
    <section className="p-8">
      <h1 className="text-3xl">
        {missing ? 'There is nothing at this address' : 'This page broke'}
      </h1>
      <p className="mt-2 max-w-prose text-lg text-soft">
        {missing
          ? 'The link may be old, or mistyped.'
          : 'What was entered before is safe on the server or waiting here to be sent. Load the page again to go on.'}
      </p>
      {!missing && (
        <pre className="mt-3 text-sm text-soft">
          {error instanceof Error ? error.message : String(error)}
        </pre>
      )}
      <Link to="/" className="act mt-6">
        Back to the bench
      </Link>
    </section>
  );
}
