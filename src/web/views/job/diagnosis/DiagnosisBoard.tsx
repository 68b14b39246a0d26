import { type ReactNode, useMemo } from 'react';
import type { Diagnosis } from '../../../../core/diagnosis/diagnose.ts';
import { CAUSES } from '../../../../core/diagnosis/causes.ts';
import { STORIES, type StoryKey } from '../../../../core/diagnosis/stories.ts';
import type { HouseRules } from '../../../../core/house/rules.ts';
import type { Job } from '../../../../core/job/job.ts';
import { type ChargingTrace, diagnosisQuestion } from '../../../../core/recovery/evidence.ts';
import { CauseBars } from './CauseBars.tsx';
import { type DiagnosisState, useDiagnosis } from './useDiagnosis.ts';
import { TermLink } from '../../../parts/TermLink.tsx';

export function useJobDiagnosis(
  job: Job,
  rules: HouseRules,
  trace: ChargingTrace | null = null,
): DiagnosisState {
  return useDiagnosis(
    useMemo(() => diagnosisQuestion(job, rules.stakes, trace), [job, rules, trace]),
  );
}

const REASONS = 4;

/** Rules first, then the odds, the charge that can be had back, and why. */
export function DiagnosisBoard({
  state,
  size,
  story,
  aside,
}: {
  state: DiagnosisState;
  /** C20 in words. */
  size: string;
  story: StoryKey;
  aside: ReactNode;
}) {
  const { diagnosis, progress, failed, cancel } = state;
  const leading = diagnosis?.causes.reduce((a, b) => (b.gravest > a.gravest ? b : a));
  if (failed)
    return (
      <p className="rounded-md border-l-8 border-oxide bg-oxide-pale px-4 py-2 text-lg">
        The odds could not be worked out: {failed}
      </p>
    );
  if (!diagnosis)
    return (
      <div key="waiting" className="grid w-full gap-3" role="status">
        <p className="text-lg text-soft">Trying it on some hundred batteries that it could be…</p>
        <div className="h-40 animate-pulse rounded-md bg-hair" />
      </div>
    );
  // Where a plain rule decides, odds have no say, and none are shown.
  if (diagnosis.never)
    return (
      <div className="grid w-full gap-4">
        <Findings diagnosis={diagnosis} />
      </div>
    );
  return (
    <div key="answer" className="grid w-full gap-4">
      <Findings diagnosis={diagnosis} />
      <div className="grid w-full gap-x-8 gap-y-4 md:grid-cols-[minmax(0,5fr)_minmax(0,6fr)]">
        <div className="grid content-start gap-4">
          <CauseBars diagnosis={diagnosis} />
          <p className="text-lg leading-tight">
            <span className="label block">
              Recoverable <TermLink term="capacity">capacity</TermLink>
            </span>
            <b className="font-label text-2xl font-semibold">
              {(100 * diagnosis.capacity.middle).toFixed(0)} %
            </b>{' '}
            of {size}
            <span className="text-soft">
              {' '}
              · 8 of 10: {(100 * diagnosis.capacity.low).toFixed(0)}–
              {(100 * diagnosis.capacity.high).toFixed(0)} %
            </span>
          </p>
        </div>
        {/* What to do stands before why: it keeps its place while the reasons are still being weighed. */}
        <div className="grid content-start gap-4">
          {aside}
          <section aria-label="Why">
            <h3 className="text-xl">Why</h3>
            {diagnosis.reasons.length > 0 &&
              diagnosis.reasons.every((r) => !r.speaksFor) &&
              leading && (
                <p className="mt-1 flex gap-2 text-lg leading-tight">
                  <span aria-hidden className="font-semibold text-moss">
                    +
                  </span>
                  <span>
                    “{STORIES[story].name}” and all readings together leave “
                    {CAUSES[leading.cause].name.toLowerCase()}” the likeliest.
                  </span>
                </p>
              )}
            {diagnosis.reasons.length === 0 ? (
              <p className="text-soft">
                No reading tells the causes apart yet. The odds rest mostly on what happened to it.
              </p>
            ) : (
              <ul className="mt-1 grid gap-1.5">
                {diagnosis.reasons.slice(0, REASONS).map((r) => (
                  <li key={r.index} className="flex gap-2 text-lg leading-tight">
                    <span
                      aria-hidden
                      className={`font-semibold ${r.speaksFor ? 'text-moss' : 'text-oxide'}`}
                    >
                      {r.speaksFor ? '+' : '−'}
                    </span>
                    <span>
                      <span className="sr-only">{r.speaksFor ? 'For it: ' : 'Against it: '}</span>
                      {r.sentence}
                    </span>
                  </li>
                ))}
              </ul>
            )}
          </section>
        </div>
      </div>
      {/* Known only once many were tried; below the odds, so that they stay where they are. */}
      {diagnosis.contradictions.length === 0 && (
        <DoNotFit sentences={diagnosis.odd.map((o) => o.sentence)} />
      )}
      <p
        className="flex min-h-6 flex-wrap items-center gap-x-4 text-[15px] text-soft"
        role="status"
      >
        {diagnosis.stage === 'settled'
          ? 'Settled'
          : diagnosis.stage === 'first'
            ? 'First answer'
            : 'Weighed anew'}
        : {diagnosis.suspects} batteries that fit, {diagnosis.twins} of them taken through every
        route. Batteries the model does not know are not among them; 15 % of the odds stay with what
        happened to it for that.
        {progress !== null && (
          <>
            <span
              role="progressbar"
              aria-label="Working it out"
              aria-valuenow={Math.round(100 * progress)}
              className="h-2 w-28 overflow-hidden rounded-sm bg-hair"
            >
              <span className="block h-full bg-slate" style={{ width: `${100 * progress}%` }} />
            </span>
            <button type="button" className="wordlink" onClick={cancel}>
              Enough
            </button>
          </>
        )}
      </p>
    </div>
  );
}

/** Plain rules and readings that cannot all be right; said before any odds. */
function Findings({ diagnosis }: { diagnosis: Diagnosis }) {
  return (
    <>
      {diagnosis.rules.map((r) => (
        <p
          key={r.sentence}
          role="alert"
          className={`rounded-md border-l-8 px-4 py-2 text-lg ${r.weight === 'never' ? 'border-oxide bg-oxide-pale' : r.weight === 'first' ? 'border-ochre bg-ochre-pale' : 'border-slate bg-slate-pale'}`}
        >
          <b>
            {r.weight === 'never' ? '✕ No route: ' : r.weight === 'first' ? 'First: ' : 'By rule: '}
          </b>
          {r.sentence}
        </p>
      ))}
      <DoNotFit sentences={diagnosis.contradictions} />
    </>
  );
}

/** Readings that cannot all be right, or that no battery like this would show. */
function DoNotFit({ sentences }: { sentences: readonly string[] }) {
  return sentences.map((sentence) => (
    <p
      key={sentence}
      className="rounded-md border-l-8 border-ochre bg-ochre-pale px-4 py-2 text-lg"
    >
      <b>Does not fit: </b>
      {sentence}
    </p>
  ));
}
