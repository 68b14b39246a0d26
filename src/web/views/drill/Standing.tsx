import { MARK_KEYS } from '../../../core/drill/case.ts';
import { MARK_WORDS } from '../../../core/drill/words.ts';
import type { Attempt } from '../../sandbox/attempts.ts';

/** How the last go went, in a word and its five marks. */
export function Standing({ attempt }: { attempt: Attempt | undefined }) {
  const result = attempt?.result;
  if (!attempt || (attempt.endedAt === null && attempt.acts.length === 0)) return null;
  if (!result) return <span className="text-soft">{attempt.endedAt ? 'Ended' : 'Begun'}</span>;
  const failed = MARK_KEYS.filter((key) => !result.passes[key]);
  return (
    <span className={result.passed ? 'text-moss' : 'text-oxide'}>
      {result.passed
        ? '✓ Passed'
        : `✕ Failed: ${failed.map((key) => MARK_WORDS[key].name.toLowerCase()).join(', ')}`}
    </span>
  );
}
