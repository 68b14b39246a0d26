import { useQuery } from '@tanstack/react-query';
import { type FormEvent, useEffect, useMemo, useState } from 'react';
import { Link } from 'react-router';
import { type DrillCase, MARK_KEYS } from '../../../core/drill/case.ts';
import { CASES, caseByCode } from '../../../core/drill/cases/catalogue.ts';
import { GENERATED_LEVELS, type GeneratedLevel, newCode } from '../../../core/drill/generate.ts';
import { ownCase } from '../../../core/drill/ownCase.ts';
import { MARK_WORDS } from '../../../core/drill/words.ts';
import { PURPOSE_WORDS } from '../../../core/plan/procedure.ts';
import { caseAddress } from '../../line/drillPlace.ts';
import { Loading } from '../../line/States.tsx';
import { formatDateOf } from '../../../core/quantities/format.ts';
import { useRules, useShop } from '../../line/queries.ts';
import { useSigning } from '../../line/signing.tsx';
import {
  allAttempts,
  type Attempt,
  beginAttempt,
  keepOwnCases,
  keepShop,
} from '../../sandbox/attempts.ts';
import { useDrill } from '../../sandbox/sharing.ts';
import { ForTheLead, Given } from './Given.tsx';
import { nextCase, progressOf, topicName, type TopicProgress } from '../../sandbox/progress.ts';

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
  const own = useMemo(
    () => drill.cases.map(({ code, facts, model }) => ownCase(code, facts, model)),
    [drill.cases],
  );
  useEffect(() => void keepOwnCases(drill.cases).catch(() => undefined), [drill.cases]);
  const caseOf = (code: string): DrillCase | undefined =>
    own.find((c) => c.code === code.trim().toUpperCase()) ?? caseByCode(code);
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
  const progress = progressOf(mine, caseOf, readAt);
  const next = nextCase(CASES, mine, progress, readAt);
  const begin = async (code: string): Promise<void> => {
    const by = await sign();
    if (!by) return;
    location.assign(caseAddress((await beginAttempt(code, by)).id));
  };
  const openCase = open && caseOf(open.code);
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
      {own.length > 0 && (
        <section aria-label="Cases of this shop" className="mb-6 max-w-5xl">
          <h2 className="mb-1 text-2xl">Cases of this shop</h2>
          <ul>
            {own.map((drillCase) => (
              <CaseRow
                key={drillCase.code}
                drillCase={drillCase}
                last={lastOf(drillCase.code)}
                begin={() => void begin(drillCase.code)}
              />
            ))}
          </ul>
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
                begin={() => void begin(drillCase.code)}
              />
            ))}
          </ul>
        </section>
      ))}
      {person?.role === 'lead' && (
        <ForTheLead lead={person} people={shop?.people ?? []} drill={drill} />
      )}
    </div>
  );
}

/** How this person stands at each fault. */
function Progress({ progress, now }: { progress: readonly TopicProgress[]; now: number }) {
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

/** A battery that nobody has written: drawn by its code, so that two people can be compared on the same one. */
function WithoutEnd({
  caseOf,
  begin,
  last,
}: {
  caseOf: (code: string) => DrillCase | undefined;
  begin: (code: string) => void;
  last: Attempt | undefined;
}) {
  const [level, setLevel] = useState<GeneratedLevel>(2);
  const [code, setCode] = useState('');
  const typed = code.trim() === '' ? null : caseOf(code);
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    if (typed) begin(typed.code);
  };
  return (
    <section
      aria-label="Cases without end"
      className="mb-6 grid max-w-5xl gap-x-10 gap-y-4 border-y border-line py-4 md:grid-cols-2"
    >
      <div>
        <h2 className="text-2xl">Cases without end</h2>
        <p className="mb-2 text-soft">
          A battery drawn by chance. Its code is the same battery for everybody.
        </p>
        <div role="group" aria-label="Level" className="mb-2 flex gap-2">
          {GENERATED_LEVELS.map((l) => (
            <button
              key={l}
              type="button"
              aria-pressed={l === level}
              aria-label={`Level ${l}`}
              className={`act-quiet min-w-12 px-3! ${l === level ? 'bg-hair ring-2 ring-ink' : ''}`}
              onClick={() => setLevel(l)}
            >
              {l}
            </button>
          ))}
          <button type="button" className="act" onClick={() => begin(newCode(level, Math.random))}>
            Draw one
          </button>
        </div>
        {last && (
          <p className="flex flex-wrap items-center gap-3 text-soft">
            Last one: {last.code} <Standing attempt={last} />
            {last.endedAt !== null && (
              <Link
                to={`/drill/back/${last.id}`}
                className="wordlink inline-flex min-h-11 items-center"
              >
                Look back
              </Link>
            )}
          </p>
        )}
      </div>
      <form onSubmit={submit} className="self-start">
        <label>
          <span className="label">Code of a case, from somebody else</span>
          <span className="flex gap-2">
            <input
              className="field max-w-60 uppercase"
              value={code}
              onChange={(e) => setCode(e.target.value)}
              aria-invalid={typed === undefined}
              placeholder="G12-7KQ2M"
              autoComplete="off"
              spellCheck={false}
            />
            <button type="submit" className="act-quiet" disabled={!typed}>
              Begin it
            </button>
          </span>
        </label>
        {typed === undefined && code.length >= 9 && (
          <p role="alert" className="mt-1 text-oxide">
            No case has this code. It looks like G12-7KQ2M or R-01.
          </p>
        )}
      </form>
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
