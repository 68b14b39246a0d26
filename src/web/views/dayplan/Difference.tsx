import { chanceWords } from '../../../core/quantities/chance.ts';
import { planDifference } from '../../../core/dayplan/difference.ts';
import { LEFT_WORDS } from '../../../core/dayplan/planWords.ts';
import type { ToldPlan } from '../../../core/dayplan/told.ts';
import { formatDuration } from '../../../core/quantities/format.ts';

interface Props {
  before: ToldPlan;
  after: ToldPlan;
}

/** So many promises are named, the worst loss first. */
const MOST_PROMISES = 6;
/** So many batteries without a promise are named. */
const MOST_OTHERS = 4;

/** What a second plan does to the promises, and to what nobody waits for. */
export function Difference({ before, after }: Props) {
  const { promises, others, lost, won } = planDifference(before, after);
  const nothing = promises.length + lost.length + won.length === 0;
  const later = (minutes: number): string =>
    `${formatDuration(Math.abs(minutes) * 60)} ${minutes > 0 ? 'later' : 'sooner'}`;
  return (
    <>
      {nothing && <p className="text-soft">No promise changes.</p>}
      <ul className="grid gap-1">
        {promises.slice(0, MOST_PROMISES).map(({ work, before: was, after: is }) => (
          <li key={work.id} className={is < was ? 'text-oxide' : 'text-moss'}>
            {work.tag}, {work.whose}: {chanceWords(was)} → {chanceWords(is)}
          </li>
        ))}
        {promises.length > MOST_PROMISES && (
          <li className="text-soft">and {promises.length - MOST_PROMISES} more promises</li>
        )}
        {lost.map((work) => (
          <li key={work.id} className="text-oxide">
            {work.tag}, {work.left?.what}: {work.left && LEFT_WORDS[work.left.why]}
          </li>
        ))}
        {won.map((work) => (
          <li key={work.id} className="text-moss">
            {work.tag} can be planned.
          </li>
        ))}
      </ul>
      {others.length > 0 && (
        <p className="text-soft">
          Without a promise:{' '}
          {others
            .slice(0, MOST_OTHERS)
            .map(({ work, later: by }) => `${work.tag} ${later(by)}`)
            .join(', ')}
          {others.length > MOST_OTHERS && ` and ${others.length - MOST_OTHERS} more`}.
        </p>
      )}
    </>
  );
}
