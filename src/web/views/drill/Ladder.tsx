import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo } from 'react';
import { Link } from 'react-router';
import type { DrillCase } from '../../../core/drill/case.ts';
import { CASES, caseByCode } from '../../../core/drill/cases/catalogue.ts';
import { ownCase } from '../../../core/drill/ownCase.ts';
import { PURPOSE_WORDS } from '../../../core/plan/procedure.ts';
import { caseAddress } from '../../line/drillPlace.ts';
import { useShop } from '../../line/queries.ts';
import { useSigning } from '../../line/signing.tsx';
import { Loading } from '../../line/States.tsx';
import {
  allAttempts,
  type Attempt,
  beginAttempt,
  caseOfAttempt,
  keepShop,
} from '../../sandbox/attempts.ts';
import { nextCase, progressOf } from '../../sandbox/progress.ts';
import { useDrill } from '../../sandbox/sharing.ts';
import { ForTheLead, Given } from './Given.tsx';
import { Progress } from './Progress.tsx';
import { Standing } from './Standing.tsx';
import { WithoutEnd } from './WithoutEnd.tsx';

const WHY_NEXT = {
  ladder: 'Next for you',
  weak: 'Again: failed before, and due',
  again: 'All passed; this one is likeliest forgotten',
} as const;

const isWritten = ({ code }: Attempt): boolean => CASES.some((c) => c.code === code);

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
  const drill = useDrill();
  const ofShop = useMemo(
    () => drill.cases.map(({ code, facts, model }) => ownCase(code, facts, model)),
    [drill.cases],
  );
  const caseOf = (code: string): DrillCase | undefined =>
    ofShop.find((c) => c.code === code.trim().toUpperCase()) ?? caseByCode(code);
  const { data: attempts, dataUpdatedAt: readAt } = useQuery({
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
  const written = CASES.filter((c) => passed.has(c.code)).length;
  const open = mine.findLast((a) => a.endedAt === null && a.acts.length > 0);
  const progress = progressOf(mine, readAt);
  const next = nextCase(CASES, mine, progress, readAt);
  const begin = async (code: string): Promise<void> => {
    const by = await sign();
    if (!by) return;
    location.assign(caseAddress((await beginAttempt(code, by)).id));
  };
  const openCase = open && caseOfAttempt(open);
  const featured = openCase ?? next?.drillCase;
  return (
    <div className="p-4 md:p-6">
      <h1 className="text-3xl">
        Drill{' '}
        <span className="font-medium text-soft">
          {written} of {CASES.length} cases passed
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
            <p className="eyebrow text-soft">
              {openCase ? 'Begun and not ended' : WHY_NEXT[next?.why ?? 'ladder']}
            </p>
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
              onClick={() => void begin(featured.code)}
            >
              Begin
            </button>
          )}
        </section>
      )}
      <Given
        assigned={drill.assigned.filter((a) => a.personId === person?.id)}
        mine={mine}
        people={shop?.people ?? []}
        begin={(code) => void begin(code)}
      />
      <Progress progress={progress} now={readAt} />
      <WithoutEnd
        caseOf={caseOf}
        begin={(code) => void begin(code)}
        last={mine.findLast((a) => !isWritten(a))}
      />
      {ofShop.length > 0 && (
        <Cases title="Cases of this shop" cases={ofShop} lastOf={lastOf} begin={begin} />
      )}
      {[...new Set(CASES.map((c) => c.level))].map((level) => (
        <Cases
          key={level}
          title={`${level}. ${LEVELS[level]}`}
          cases={CASES.filter((c) => c.level === level)}
          lastOf={lastOf}
          begin={begin}
        />
      ))}
      {person?.role === 'lead' && (
        <ForTheLead lead={person} people={shop?.people ?? []} drill={drill} />
      )}
    </div>
  );
}

/** Cases under one heading, each with how its last go went. */
function Cases({
  title,
  cases,
  lastOf,
  begin,
}: {
  title: string;
  cases: readonly DrillCase[];
  lastOf: (code: string) => Attempt | undefined;
  begin: (code: string) => Promise<void>;
}) {
  return (
    <section aria-label={title} className="mb-6 max-w-5xl">
      <h2 className="mb-1 text-2xl">{title}</h2>
      <ul>
        {cases.map((drillCase) => (
          <CaseRow
            key={drillCase.code}
            drillCase={drillCase}
            last={lastOf(drillCase.code)}
            begin={() => void begin(drillCase.code)}
          />
        ))}
      </ul>
    </section>
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
      <span className="w-14 font-label text-lg leading-none font-semibold text-soft max-sm:basis-full">
        {code}
      </span>
      <span className="min-w-0 flex-1 basis-56 sm:basis-72">
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
