import { useQuery } from '@tanstack/react-query';
import { wrap } from 'comlink';
import { useEffect, useState } from 'react';
import { Link, useParams } from 'react-router';
import { type DrillCase, MARK_KEYS, type MarkKey } from '../../../core/drill/case.ts';
import { type LookBack, turnedAt } from '../../../core/drill/lookBack.ts';
import type { Mark } from '../../../core/drill/marks.ts';
import { DECISION_WORDS, MARK_WORDS, reasonWords, wasWords } from '../../../core/drill/words.ts';
import { FAMILIES } from '../../../core/diagnosis/practice/families.ts';
import { formatDuration } from '../../../core/quantities/format.ts';
import type { Moment } from '../../../core/quantities/moment.ts';
import { problemOf } from '../../line/api.ts';
import { caseAddress } from '../../line/drillPlace.ts';
import { queryClient, useSay } from '../../line/queries.ts';
import { Empty, NotFetched } from '../../line/States.tsx';
import {
  type Attempt,
  caseOfAttempt,
  endAttempt,
  keepAttempt,
  readAttempt,
} from '../../sandbox/attempts.ts';
import { shareAttempt } from '../../sandbox/sharing.ts';
import type { DrillWorker } from '../../workers/drill.worker.ts';
import { InsideCharts } from './InsideCharts.tsx';
import { Lines } from './Lines.tsx';

interface Told {
  attempt: Attempt;
  drillCase: DrillCase;
  /** Null while it goes on: nothing is told of a battery that is still to be judged. */
  back: LookBack | null;
}

/** Does the acts again beside the page, and keeps how they are marked. */
async function tell(attemptId: string): Promise<Told | null> {
  const attempt = await readAttempt(attemptId);
  const drillCase = attempt && caseOfAttempt(attempt);
  if (!attempt || !drillCase) return null;
  if (attempt.endedAt === null) return { attempt, drillCase, back: null };
  const raw = new Worker(new URL('../../workers/drill.worker.ts', import.meta.url), {
    type: 'module',
  });
  try {
    const back = await wrap<DrillWorker>(raw).lookBack(drillCase, attempt.acts);
    const byKey = <T,>(told: (mark: Mark) => T): Record<MarkKey, T> =>
      Object.fromEntries(MARK_KEYS.map((key) => [key, told(back.marks.by[key])])) as Record<
        MarkKey,
        T
      >;
    const marked: Attempt = {
      ...attempt,
      result: {
        decision: back.decision,
        handsMin: back.handsMin,
        hours: back.hours,
        passed: back.marks.passed,
        points: byKey((m) => m.points),
        passes: byKey((m) => m.passed),
      },
    };
    await keepAttempt(marked);
    return { attempt: marked, drillCase, back };
  } finally {
    raw.terminate();
  }
}

/** What a case was, how it was done, and what could have been known. */
export function LookBackView() {
  const { attemptId = '' } = useParams();
  const { data, error, refetch, isPending } = useQuery({
    queryKey: ['drill-back', attemptId],
    queryFn: () => tell(attemptId),
    staleTime: Infinity,
  });
  useEffect(
    () => void (data && queryClient.invalidateQueries({ queryKey: ['drill-attempts'] })),
    [data],
  );
  if (error) return <NotFetched error={error} again={() => void refetch()} />;
  if (isPending)
    return (
      <p role="status" className="p-8 text-lg text-soft">
        Doing it all again, and once more as a good technician would …
      </p>
    );
  if (!data)
    return (
      <div className="p-4 md:p-6">
        <h1 className="mb-4 text-3xl">Look back</h1>
        <Empty title="This case is not on this device">
          <p>What was done at a case is kept in the browser it was done in.</p>
          <Link to="/drill" className="act">
            To the drill
          </Link>
        </Empty>
      </div>
    );
  const { attempt, drillCase, back } = data;
  if (!back)
    return <GoesOn attempt={attempt} drillCase={drillCase} onGivenUp={() => void refetch()} />;
  return <Page attempt={attempt} drillCase={drillCase} back={back} />;
}

/** A case that has not ended: what it is shows at its end. */
function GoesOn({
  attempt,
  drillCase,
  onGivenUp,
}: Pick<Told, 'attempt' | 'drillCase'> & { onGivenUp: () => void }) {
  const giveUp = async (): Promise<void> => {
    await endAttempt({ ...attempt });
    onGivenUp();
  };
  return (
    <div className="p-4 md:p-6">
      <Link to="/drill" className="wordlink inline-flex min-h-11 items-center text-soft">
        Drill
      </Link>
      <h1 className="mb-4 text-4xl">{drillCase.title}</h1>
      <Empty title="This case has not ended">
        <p>What it was, and how it is marked, shows at its end.</p>
        <p className="flex flex-wrap gap-3">
          <a href={caseAddress(attempt.id)} className="act">
            Go on with it
          </a>
          <button type="button" className="act-quiet" onClick={() => void giveUp()}>
            Give up and look back
          </button>
        </p>
      </Empty>
    </div>
  );
}

function Page({ attempt, drillCase, back }: Told & { back: LookBack }) {
  const say = useSay();
  const { beganAt, marks, decision, good } = back;
  const { truth, teaches } = drillCase;
  const recovering = drillCase.purpose === 'recover';
  const [fault, setFault] = useState<string | null>(null);
  const share = (): Promise<void> =>
    shareAttempt(attempt).catch((error: unknown) => setFault(problemOf(error).message));
  const since = (at: Moment | null): string =>
    at === null ? 'never' : formatDuration((at - beganAt) / 1000);
  const turned = recovering ? turnedAt(back.lines, truth.family) : null;
  return (
    <div className="p-4 md:p-6">
      <Link to="/drill" className="wordlink inline-flex min-h-11 items-center text-soft">
        Drill
      </Link>
      <h1 className="text-4xl">{drillCase.title}</h1>
      <section
        aria-label="Result"
        className={`mt-3 max-w-5xl rounded-lg border-2 bg-sheet p-5 ${marks.passed ? 'border-moss' : 'border-oxide'}`}
      >
        <p className={`eyebrow ${marks.passed ? 'text-moss' : 'text-oxide'}`}>
          {drillCase.code} · {marks.passed ? '✓ Passed' : '✕ Not passed'}
        </p>
        <h2 className="text-3xl">
          {recovering ? `${wasWords(truth.family)}. ` : ''}
          {decision === null
            ? 'You did not decide.'
            : `You: ${DECISION_WORDS[decision].toLowerCase()}.`}
        </h2>
        <p className="mt-1 max-w-[75ch] text-lg">{teaches}</p>
        <p className="mt-3 flex flex-wrap items-center gap-3">
          {attempt.shared ? (
            <span className="text-moss">✓ Shared with the lead</span>
          ) : (
            <button type="button" className="act-quiet" onClick={() => void share()}>
              Share this result with the lead
            </button>
          )}
          <span className="text-soft">
            The code, the marks and the time are sent. What you did stays on this device.
          </span>
          {fault && (
            <span role="alert" className="text-oxide">
              {fault}
            </span>
          )}
        </p>
      </section>
      <section aria-label="Marks" className="mt-5 max-w-5xl">
        <h2 className="mb-1 text-2xl">Five marks</h2>
        <p className="mb-2 text-soft">
          Each begins at 100 and is passed from 60; an unsafe act fails the case. Open one to see
          what it stands on.
        </p>
        {MARK_KEYS.map((key) => (
          <MarkRow key={key} name={key} mark={marks.by[key]} say={say} />
        ))}
      </section>
      <section aria-label="Beside a good technician" className="mt-6 max-w-5xl">
        <h2 className="mb-2 text-2xl">Beside a good technician</h2>
        <table className="w-full max-w-2xl text-lg">
          <thead>
            <tr className="label text-left">
              <th className="py-1 pr-4 font-medium" />
              <th className="py-1 pr-4 font-medium">You</th>
              <th className="py-1 pr-4 font-medium">A good technician</th>
              <th className="py-1 font-medium">Who knew it</th>
            </tr>
          </thead>
          <tbody>
            <Row
              name="Decided"
              yours={decision === null ? 'not' : DECISION_WORDS[decision]}
              good={good.decision === null ? 'not' : DECISION_WORDS[good.decision]}
              seer={back.seer.decision === null ? 'not' : DECISION_WORDS[back.seer.decision]}
            />
            <Row
              name="Hands"
              yours={formatDuration(60 * back.handsMin)}
              good={formatDuration(60 * good.handsMin)}
              seer={formatDuration(60 * back.seer.handsMin)}
            />
            <Row
              name="From start to end"
              yours={formatDuration(3600 * back.hours)}
              good={formatDuration(3600 * good.hours)}
              seer={formatDuration(3600 * back.seer.hours)}
            />
            {recovering && (
              <Row
                name={`“${FAMILIES[truth.family].name}” stood first after`}
                yours={since(turned)}
                good={since(turnedAt(good.lines, truth.family))}
                seer="at once"
              />
            )}
          </tbody>
        </table>
      </section>
      {back.inside.length > 2 && <InsideCharts inside={back.inside} beganAt={beganAt} />}
      <div className="mt-6 grid max-w-6xl gap-x-8 gap-y-6 lg:grid-cols-2">
        <Lines title="What you did" lines={back.lines} beganAt={beganAt} family={truth.family} />
        <Lines
          title="What a good technician did"
          lines={good.lines}
          beganAt={beganAt}
          family={truth.family}
        />
      </div>
    </div>
  );
}

function Row({
  name,
  yours,
  good,
  seer,
}: {
  name: string;
  yours: string;
  good: string;
  seer: string;
}) {
  return (
    <tr className="border-t border-line">
      <th scope="row" className="py-2 pr-4 text-left font-normal text-soft">
        {name}
      </th>
      <td className="py-2 pr-4">{yours}</td>
      <td className="py-2 pr-4">{good}</td>
      <td className="py-2 text-soft">{seer}</td>
    </tr>
  );
}

function MarkRow({
  name,
  mark,
  say,
}: {
  name: MarkKey;
  mark: Mark;
  say: (text: string) => string;
}) {
  const { name: word, is } = MARK_WORDS[name];
  return (
    <details className="border-t border-line" open={!mark.passed}>
      <summary className="flex min-h-13 cursor-pointer flex-wrap items-center gap-x-4 py-1">
        <b className="w-28 font-label text-xl font-semibold">{word}</b>
        <b className="big w-14 text-right">{mark.points}</b>
        <span className={mark.passed ? 'text-moss' : 'text-oxide'}>
          {mark.passed ? '✓ passed' : '✕ failed'}
        </span>
        <span className="min-w-0 flex-1 basis-60 text-soft">{is}</span>
      </summary>
      <ul className="pb-3 pl-4">
        {mark.events.length === 0 && <li className="text-soft">Nothing was lost here.</li>}
        {mark.events.map((event, i) => (
          <li key={i} className="flex gap-4 py-0.5 text-lg">
            <span className="w-14 shrink-0 text-right font-label font-semibold">
              {event.lost >= 0.5 ? `−${event.lost.toFixed(0)}` : ''}
            </span>
            <span>{say(reasonWords(event.what))}</span>
          </li>
        ))}
      </ul>
    </details>
  );
}
