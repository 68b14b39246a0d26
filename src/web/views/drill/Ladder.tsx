import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { Link } from 'react-router';
import { type DrillCase, MARK_KEYS } from '../../../core/drill/case.ts';
import { CASES } from '../../../core/drill/cases/catalogue.ts';
import { MARK_WORDS } from '../../../core/drill/words.ts';
import { PURPOSE_WORDS } from '../../../core/plan/procedure.ts';
import { caseAddress } from '../../line/drillPlace.ts';
import { newId } from '../../line/newId.ts';
import { Loading } from '../../line/States.tsx';
import { useShop } from '../../line/queries.ts';
import { useSigning } from '../../line/signing.tsx';
import { allAttempts, type Attempt, keepAttempt, keepShop } from '../../sandbox/attempts.ts';

const LEVELS: Readonly<Record<number, string>> = {
  1: 'First steps',
  2: 'On your own',
  3: 'What a meter does not say',
  4: 'When readings disagree',
};

/** Cases to practise on, the easier ones first, with what this person has done of them on this device. */
export function Ladder() {
  const { person, sign } = useSigning();
  const { data: shop } = useShop();
  const { data: attempts } = useQuery({
    queryKey: ['drill-attempts'],
    queryFn: allAttempts,
    staleTime: 0,
  });
  // A case is opened without the server; how the shop writes things it takes along.
  useEffect(() => void (shop && keepShop(shop).catch(() => undefined)), [shop]);
  if (!attempts) return <Loading />;
  const mine = attempts.filter((a) => person === null || a.personId === person.id);
  const lastOf = (code: string): Attempt | undefined => mine.findLast((a) => a.code === code);
  const passed = new Set(mine.filter((a) => a.result?.passed).map((a) => a.code));
  const open = mine.findLast((a) => a.endedAt === null && a.acts.length > 0);
  const next = CASES.find((c) => !passed.has(c.code));
  const begin = async (drillCase: DrillCase): Promise<void> => {
    const by = await sign();
    if (!by) return;
    const attempt: Attempt = {
      id: newId(),
      code: drillCase.code,
      personId: by,
      startedAt: Date.now(),
      endedAt: null,
      acts: [],
      result: null,
    };
    await keepAttempt(attempt);
    location.assign(caseAddress(attempt.id));
  };
  const openCase = open && CASES.find((c) => c.code === open.code);
  const featured = openCase ?? next;
  return (
    <div className="p-4 md:p-6">
      <h1 className="text-3xl">
        Drill{' '}
        <span className="font-medium text-soft">
          {passed.size} of {CASES.length} cases passed
        </span>
      </h1>
      <p className="mt-1 mb-4 max-w-[80ch] text-lg text-soft">
        Simulated batteries with hidden faults, on the pages you work with. A week passes in a
        second, nothing can be ruined, and nothing of it reaches the shop’s records.
      </p>
      {featured && (
        <section
          aria-label="Next"
          className="mb-6 flex max-w-5xl flex-wrap items-center gap-x-8 gap-y-3 rounded-lg border-2 border-ink bg-sheet p-5"
        >
          <div className="min-w-0 flex-1 basis-80">
            <p className="eyebrow text-soft">{openCase ? 'Begun and not ended' : 'Next for you'}</p>
            <h2 className="text-3xl">{featured.title}</h2>
            <p className="mt-1 text-lg">{featured.about}</p>
            <p className="mt-1 text-soft">
              {featured.code} · {PURPOSE_WORDS[featured.purpose]} · {featured.model.name}
            </p>
          </div>
          {openCase && open ? (
            <a href={caseAddress(open.id)} className="act min-h-13! text-xl!">
              Go on
            </a>
          ) : (
            <button
              type="button"
              className="act min-h-13! text-xl!"
              onClick={() => void begin(featured)}
            >
              Begin
            </button>
          )}
        </section>
      )}
      {[...new Set(CASES.map((c) => c.level))].map((level) => (
        <section key={level} aria-label={LEVELS[level]} className="mb-6 max-w-5xl">
          <h2 className="mb-1 text-2xl">
            {level}. {LEVELS[level]}
          </h2>
          <ul>
            {CASES.filter((c) => c.level === level).map((drillCase) => (
              <CaseRow
                key={drillCase.code}
                drillCase={drillCase}
                last={lastOf(drillCase.code)}
                begin={() => void begin(drillCase)}
              />
            ))}
          </ul>
        </section>
      ))}
    </div>
  );
}

function CaseRow({
  drillCase,
  last,
  begin,
}: {
  drillCase: DrillCase;
  last: Attempt | undefined;
  begin: () => void;
}) {
  const { code, title, about, purpose } = drillCase;
  return (
    <li className="flex min-h-16 flex-wrap items-center gap-x-4 gap-y-1 border-t border-line py-2">
      <span className="w-14 font-label text-lg font-semibold text-soft">{code}</span>
      <span className="min-w-0 flex-1 basis-72">
        <b className="block font-label text-xl leading-tight font-semibold">{title}</b>
        <span className="text-soft">
          {PURPOSE_WORDS[purpose]}. {about}
        </span>
      </span>
      <Standing attempt={last} />
      {last?.endedAt ? (
        <Link to={`/drill/back/${last.id}`} className="act-quiet">
          Look back
        </Link>
      ) : (
        last &&
        last.acts.length > 0 && (
          <a href={caseAddress(last.id)} className="act-quiet">
            Go on
          </a>
        )
      )}
      <button
        type="button"
        className="act-quiet"
        onClick={begin}
        aria-label={`${last ? 'Begin again' : 'Begin'}: ${title}`}
      >
        {last ? 'Begin again' : 'Begin'}
      </button>
    </li>
  );
}

/** How the last go went, in a word and its five marks. */
function Standing({ attempt }: { attempt: Attempt | undefined }) {
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
