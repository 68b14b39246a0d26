import type { JobSender } from '../app/sending.ts';

/** The server's no, in words. A question is asked where the value was typed, not here. */
export function ProblemLine({ sender }: { sender: JobSender }) {
  if (!sender.problem || sender.problem.code === 'ask') return null;
  return (
    <p role="alert" className="rounded-md border-l-8 border-oxide bg-oxide-pale px-4 py-2 text-lg">
      {sender.problem.message}
    </p>
  );
}
