import { VALUE_FIELDS } from '../../core/steps/readingFields.ts';
import type { JobSender } from '../line/sending.ts';

const isOfReading = (field: string): boolean => field === 'reading' || field in VALUE_FIELDS;

/** The server's no, or its question, in words. A question about a reading is asked where the value was typed, not here. */
export function ProblemLine({ sender }: { sender: JobSender }) {
  const { problem } = sender;
  if (!problem || (problem.code === 'ask' && Object.keys(problem.fields).some(isOfReading)))
    return null;
  if (problem.code === 'ask')
    return (
      <p role="alert" className="rounded-md bg-ochre-pale px-4 py-2 text-lg">
        {problem.message} If it is, press the button once more.
      </p>
    );
  return (
    <p role="alert" className="rounded-md border-l-8 border-oxide bg-oxide-pale px-4 py-2 text-lg">
      {problem.message}
    </p>
  );
}
