import { Link } from 'react-router';
import { personLines } from '../../../core/dayplan/personLines.ts';
import type { ToldPlan } from '../../../core/dayplan/told.ts';
import { formatMomentShort, type WallStyle } from '../../../core/quantities/format.ts';

/** So many tasks of each person are told at once. */
const MOST = 12;

/** What each person does next, in order of time: the plan on a phone. */
export function TasksByPerson({
  plan,
  wall,
  now,
}: {
  plan: ToldPlan;
  wall: WallStyle;
  now: number;
}) {
  const lines = personLines(plan);
  return (
    <div className="grid gap-5">
      {plan.people.map((person) => {
        const own = lines.filter((l) => l.personId === person.id).slice(0, MOST);
        return (
          <section key={person.id}>
            <h2 className="pb-1 text-2xl">{person.name}</h2>
            {own.length === 0 && <p className="text-soft">Nothing planned.</p>}
            <ul>
              {own.map(({ from, what, works }) => (
                <li
                  key={`${from} ${what}`}
                  className="flex min-h-12 gap-3 border-b border-line py-2"
                >
                  <b className="w-20 shrink-0 font-label text-lg">
                    {formatMomentShort(plan.from + from * 60_000, now, wall)}
                  </b>
                  <span className="min-w-0">
                    {works.map(({ id, tag }, i) => (
                      <span key={id}>
                        {i > 0 && ', '}
                        <Link
                          to={`/jobs/${id}`}
                          className="wordlink font-semibold whitespace-nowrap"
                        >
                          {tag}
                        </Link>
                      </span>
                    ))}
                    : {what}
                  </span>
                </li>
              ))}
            </ul>
          </section>
        );
      })}
    </div>
  );
}
