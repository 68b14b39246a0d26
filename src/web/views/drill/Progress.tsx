import { Link } from 'react-router';
import { formatDateOf } from '../../../core/quantities/format.ts';
import { useRules } from '../../line/queries.ts';
import { topicName, type TopicProgress } from '../../sandbox/progress.ts';

/** How this person stands at each fault. */
export function Progress({ progress, now }: { progress: readonly TopicProgress[]; now: number }) {
  const wall = useRules();
  if (progress.length === 0) return null;
  return (
    <section aria-label="How you stand" className="mb-6 max-w-5xl">
      <div className="mb-1 flex flex-wrap items-baseline justify-between gap-4">
        <h2 className="text-2xl">How you stand</h2>
        <Link to="/drill/done" className="wordlink inline-flex min-h-11 items-center text-soft">
          For print
        </Link>
      </div>
      <table className="w-full max-w-3xl text-lg">
        <thead>
          <tr className="label text-left">
            <th className="py-1 pr-4 font-medium">Fault</th>
            <th className="py-1 pr-4 font-medium">Passed</th>
            <th className="py-1 pr-4 font-medium">Marks, each go</th>
            <th className="py-1 font-medium">Practise again</th>
          </tr>
        </thead>
        <tbody>
          {progress.map(({ topic, done, passed, goes, dueAt }) => (
            <tr key={topic} className="border-t border-line">
              <th scope="row" className="py-2 pr-4 text-left font-normal">
                {topicName(topic)}
              </th>
              <td className="py-2 pr-4">
                {passed} of {done}
              </td>
              <td className="py-2 pr-4">
                <Goes goes={goes} />
              </td>
              <td className={`py-2 ${dueAt <= now ? 'text-ember-ink' : 'text-soft'}`}>
                {dueAt <= now ? 'now' : formatDateOf(dueAt, wall)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** The mean mark of each of the last goes, as bars in order; one that failed is hollow. */
function Goes({ goes }: { goes: TopicProgress['goes'] }) {
  const last = goes.slice(-GOES_SHOWN);
  return (
    <span className="flex items-center gap-2">
      <svg
        viewBox={`0 0 ${9 * GOES_SHOWN} 24`}
        className="h-6 w-27 shrink-0"
        role="img"
        aria-label={`Mean marks: ${last.map((g) => g.points.toFixed(0)).join(', ')}`}
      >
        <line x1="0" x2={9 * GOES_SHOWN} y1="23.5" y2="23.5" stroke="var(--color-line)" />
        {last.map(({ points, passed }, i) => (
          <rect
            key={i}
            x={9 * i + 1}
            width="6"
            y={23 - 0.22 * points}
            height={Math.max(1, 0.22 * points)}
            fill={passed ? 'var(--color-moss)' : 'white'}
            stroke={passed ? 'var(--color-moss)' : 'var(--color-oxide)'}
          />
        ))}
      </svg>
      <b className="font-label font-semibold">{last.at(-1)?.points.toFixed(0)}</b>
    </span>
  );
}

const GOES_SHOWN = 12;
