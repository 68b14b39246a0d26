import { Link } from 'react-router';
import { FAMILIES } from '../../../core/diagnosis/practice/families.ts';
import { oddsWords } from '../../../core/quantities/chance.ts';
import { shareWords } from '../../../core/recovery/record.ts';
import { ShareBar } from '../../drawings/ShareBar.tsx';
import { useExperience } from '../../line/queries.ts';

/** How the first diagnosis of each battery held: by how surely it was said, and by family. */
export function SaidAndFound() {
  const held = useExperience().data?.held;
  if (!held) return null;
  return (
    <section
      aria-labelledby="said-and-found"
      className="mt-6 rounded-lg border border-line bg-sheet p-5"
    >
      <h2 id="said-and-found" className="text-2xl">
        Predicted and actual
      </h2>
      {held.of === 0 ? (
        <p className="text-lg text-soft">
          When a verdict is signed, it is asked what the battery was in the end. From the first
          answer on, it stands here beside what was predicted.
        </p>
      ) : (
        <>
          <p className="mb-3 text-lg text-soft">
            The first diagnosis named what it was in {shareWords(held.right)} batteries.{' '}
            <Link className="wordlink" to="/rules/experience">
              What the diagnosis has learnt
            </Link>
          </p>
          <div className="grid gap-x-10 gap-y-5 lg:grid-cols-2">
            <table className="max-lg:as-list w-full text-left text-lg">
              <thead className="label border-b-2 border-ink">
                <tr>
                  <th className="py-1 font-medium">Predicted</th>
                  <th className="font-medium">It was that</th>
                </tr>
              </thead>
              <tbody>
                {held.bySureness.map((r) => (
                  <tr key={r.from} className="border-b border-line">
                    <td className="h-12 pr-4 font-label font-semibold">{oddsWords(r.said)}</td>
                    <td data-label="It was that" className="whitespace-nowrap">
                      <span className="flex items-center gap-2">
                        <ShareBar share={r.right} tone="good" />
                        {shareWords(r.right)}
                      </span>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
            <table className="max-lg:as-list w-full text-left text-lg">
              <thead className="label border-b-2 border-ink">
                <tr>
                  <th className="py-1 font-medium">Family</th>
                  <th className="pr-4 text-right font-medium">Predicted first, and was it</th>
                  <th className="pr-4 text-right font-medium">Expected of all</th>
                  <th className="text-right font-medium">Actual</th>
                </tr>
              </thead>
              <tbody>
                {held.byFamily.map((r) => (
                  <tr key={r.family} className="border-b border-line">
                    <td className="h-12 pr-4 font-label font-semibold">
                      {FAMILIES[r.family].name}
                    </td>
                    <td data-label="Predicted first, and was it" className="pr-4 text-right">
                      {r.right.of === 0 ? 'never' : `${r.right.hits} of ${r.right.of}`}
                    </td>
                    <td data-label="Expected of all" className="pr-4 text-right">
                      {r.expected.toFixed(1)}
                    </td>
                    <td data-label="Actual" className="text-right font-semibold">
                      {r.found}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </>
      )}
    </section>
  );
}
