import { useState } from 'react';
import { CHEMISTRIES } from '../../../core/batteries/chemistry.ts';
import { FAMILIES } from '../../../core/diagnosis/practice/families.ts';
import { type FamilyHere, PRACTICE_WORTH } from '../../../core/diagnosis/practice/experience.ts';
import { ROUTES } from '../../../core/diagnosis/routes.ts';
import { formatDateOf } from '../../../core/quantities/format.ts';
import { problemOf } from '../../line/api.ts';
import { momentOfAct } from '../../line/benchClock.ts';
import { queryClient, useExperience, useRules } from '../../line/queries.ts';
import { saveRules } from '../../line/saveRules.ts';
import { useSigning } from '../../line/signing.tsx';

/** A family counts as often as practice has it unless it is off by more than this. */
const AS_PRACTICE = 0.07;

const timesWords = (times: number): string =>
  Math.abs(times - 1) < AS_PRACTICE
    ? 'as practice has it'
    : `${(100 * Math.abs(times - 1)).toFixed(0)} % ${times > 1 ? 'more' : 'less'} likely`;

/** What the shop's own batteries have taught the diagnosis, with what weight, and since when they count. */
export function Learning() {
  const { data, error } = useExperience();
  const rules = useRules();
  const { sign } = useSigning();
  const [fault, setFault] = useState<string | null>(null);
  const since = async (learnSince: number | null) => {
    const by = await sign();
    if (!by) return;
    try {
      setFault(null);
      await saveRules({ learnSince }, by);
      await queryClient.invalidateQueries({ queryKey: ['experience'] });
    } catch (problem) {
      setFault(problemOf(problem).message);
    }
  };
  const experience = data?.experience;
  const seen = experience?.families.filter((f) => f.found + f.expected > 0.05) ?? [];
  return (
    <section aria-labelledby="learning-title" className={data || error ? '' : 'min-h-96'}>
      <h2 id="learning-title" className="mb-2 border-b-2 border-ink pb-1 text-2xl">
        What the diagnosis has learnt here
      </h2>
      {error && !data && <p className="text-oxide">Not fetched: {error.message}</p>}
      {experience && (
        <>
          <p className="text-lg">
            From practice: worth {PRACTICE_WORTH} batteries. From this shop: <b>{experience.of}</b>
            {rules.learnSince === null
              ? '.'
              : `, counted since ${formatDateOf(rules.learnSince, rules)}.`}
          </p>
          {seen.length > 0 && <FamilyTable families={seen} />}
          {experience.routes.length > 0 && (
            <ul className="mt-3 grid gap-1 text-lg">
              {experience.routes.map((r) => (
                <li key={`${r.route} ${r.chemistry}`}>
                  <b className="font-label">{ROUTES[r.route].name}</b>,{' '}
                  {CHEMISTRIES[r.chemistry].name}: in {r.of} {r.of === 1 ? 'test' : 'tests'}; counts{' '}
                  {Math.abs(r.gain) < 0.005
                    ? 'as predicted'
                    : `${(100 * Math.abs(r.gain)).toFixed(0)} % of the rating ${r.gain > 0 ? 'more' : 'less'} than predicted`}
                  .
                </li>
              ))}
            </ul>
          )}
          <div className="mt-4 flex flex-wrap items-center gap-3">
            {experience.of + experience.routes.length > 0 && (
              <button type="button" className="act-quiet" onClick={() => void since(momentOfAct())}>
                Learn anew from today
              </button>
            )}
            {rules.learnSince !== null && (
              <button type="button" className="act-quiet" onClick={() => void since(null)}>
                Count all recoveries again
              </button>
            )}
            {fault && (
              <p role="alert" className="text-oxide">
                {fault}
              </p>
            )}
          </div>
          <p className="mt-2 max-w-[80ch] text-[15px] text-soft">
            When a verdict is signed, it is asked what the battery was. Each answer counts as one
            battery, a few of them are taken to be wrong, and no family becomes more than four times
            as likely. What was predicted then stays in each battery’s record.
          </p>
        </>
      )}
    </section>
  );
}

function FamilyTable({ families }: { families: readonly FamilyHere[] }) {
  return (
    <table className="max-lg:as-list mt-2 w-full text-left text-lg">
      <thead className="label border-b border-ink">
        <tr>
          <th className="py-1 font-medium">Family</th>
          <th className="pr-4 text-right font-medium">Found here</th>
          <th className="pr-4 text-right font-medium">Practice expects</th>
          <th className="font-medium">Counts now</th>
        </tr>
      </thead>
      <tbody>
        {families.map(({ family, found, expected, times }) => (
          <tr key={family} className="border-b border-line">
            <td className="h-11 pr-4 font-label font-semibold">{FAMILIES[family].name}</td>
            <td data-label="Found here" className="pr-4 text-right">
              {found}
            </td>
            <td data-label="Practice expects" className="pr-4 text-right">
              {expected.toFixed(1)}
            </td>
            <td data-label="Counts now" className="text-soft">
              {timesWords(times)}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
