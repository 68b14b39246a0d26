import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { MARK_KEYS } from '../../../core/drill/case.ts';
import { MARK_WORDS } from '../../../core/drill/words.ts';
import { formatDateOf } from '../../../core/quantities/format.ts';
import { useRules } from '../../line/queries.ts';
import { Empty, Loading } from '../../line/States.tsx';
import { useSigning } from '../../line/signing.tsx';
import { allAttempts, caseOfAttempt } from '../../sandbox/attempts.ts';
import { topicName, topicOf } from '../../sandbox/progress.ts';

/** What somebody has done at the drill, for print: which cases, when, and how they were marked. Nothing more. */
export function Certificate() {
  const { person } = useSigning();
  const rules = useRules();
  const { data } = useQuery({ queryKey: ['drill-attempts'], queryFn: allAttempts, staleTime: 0 });
  if (!data) return <Loading />;
  const passed = data.filter((a) => a.personId === person?.id && a.result?.passed);
  // The last pass of each case stands for it.
  const best = [...new Map(passed.map((a) => [a.code, a])).values()];
  return (
    <div className="max-w-4xl p-4 md:p-6 print:p-0">
      <p className="no-print mb-4 flex flex-wrap gap-3">
        <Link to="/drill" className="act-quiet">
          Drill
        </Link>
        {best.length > 0 && (
          <button type="button" className="act" onClick={() => print()}>
            Print
          </button>
        )}
      </p>
      <h1 className="text-4xl">Cases done at the drill</h1>
      {best.length === 0 || !person ? (
        <div className="mt-3">
          <Empty title="No case is passed yet">
            <p>What is passed on this device, by who signs here, is listed for print.</p>
          </Empty>
        </div>
      ) : (
        <>
          <p className="mt-2 text-xl">
            <b>{person.name}</b>
            {rules.shopName && `, ${rules.shopName}`}
          </p>
          <p className="mt-1 mb-4 max-w-[70ch] text-lg">
            {best.length} {best.length === 1 ? 'case was' : 'cases were'} passed on simulated
            batteries. This states what was practised. It is no licence and no proof of work on real
            batteries.
          </p>
          <table className="w-full text-lg">
            <thead>
              <tr className="label text-left">
                <th className="py-1 pr-4 font-medium">Case</th>
                <th className="py-1 pr-4 font-medium">Fault</th>
                <th className="py-1 pr-4 font-medium">Passed on</th>
                {MARK_KEYS.map((key) => (
                  <th key={key} className="py-1 pr-3 text-right font-medium">
                    {MARK_WORDS[key].name}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {best.map((attempt) => {
                const { id, code, endedAt, result } = attempt;
                const drillCase = caseOfAttempt(attempt);
                return (
                  <tr key={id} className="border-t border-line">
                    <td className="py-1.5 pr-4">
                      {code} {drillCase?.title}
                    </td>
                    <td className="py-1.5 pr-4">{drillCase && topicName(topicOf(drillCase))}</td>
                    <td className="py-1.5 pr-4">{endedAt && formatDateOf(endedAt, rules)}</td>
                    {MARK_KEYS.map((key) => (
                      <td key={key} className="py-1.5 pr-3 text-right">
                        {result?.points[key]}
                      </td>
                    ))}
                  </tr>
                );
              })}
            </tbody>
          </table>
        </>
      )}
    </div>
  );
}
