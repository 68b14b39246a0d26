import { type ReactNode, useMemo } from 'react';
import type { Diagnosis } from '../../../../core/diagnosis/diagnose.ts';
import type { RouteKey } from '../../../../core/diagnosis/routes.ts';
import type { HouseRules } from '../../../../core/house/rules.ts';
import type { Job } from '../../../../core/job/job.ts';
import { diagnosisQuestion } from '../../../../core/recovery/question.ts';
import { Answer } from './Answer.tsx';
import { FamilyBars } from './FamilyBars.tsx';
import { type DiagnosisState, useDiagnosis, useLearnt } from './useDiagnosis.ts';
import { TradeRules, WouldChange } from './WhatElse.tsx';
import { Whys } from './Whys.tsx';

export function useJobDiagnosis(job: Job, rules: HouseRules): DiagnosisState {
  const { known, experience } = useLearnt();
  const question = useMemo(
    () => diagnosisQuestion(job, rules.stakes, { experience }),
    [job, rules, experience],
  );
  return useDiagnosis(known ? question : null);
}

interface BoardProps {
  state: DiagnosisState;
  c20Ah: number;
  /** What is done about it, and what is measured first; inside the answer. */
  acts?: ReactNode;
  /** The route whose charge runs: the answer is about that one. */
  underWay?: RouteKey | null;
}

/** The answer first, then why; beside it what else it may be, what would change that, and the rules of the trade. */
export function DiagnosisBoard({ state, c20Ah, acts, underWay = null }: BoardProps) {
  const { diagnosis, progress, failed, cancel } = state;
  if (failed)
    return (
      <p className="rounded-md border-l-8 border-oxide bg-oxide-pale px-4 py-2 text-lg">
        The odds could not be worked out: {failed}
      </p>
    );
  if (!diagnosis)
    return (
      <div key="waiting" className="grid w-full gap-3" role="status">
        <p className="text-lg text-soft">Comparing it with what batteries show…</p>
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
      <div className="grid w-full items-start gap-x-8 gap-y-5 lg:grid-cols-[minmax(0,2fr)_minmax(0,1fr)]">
        <div className="grid gap-4">
          <Answer diagnosis={diagnosis} c20Ah={c20Ah} underWay={underWay}>
            {acts}
          </Answer>
          <Whys diagnosis={diagnosis} />
        </div>
        <div className="grid content-start gap-5 [content-visibility:auto] [contain-intrinsic-height:auto_640px]">
          <FamilyBars diagnosis={diagnosis} />
          <WouldChange diagnosis={diagnosis} />
          <TradeRules diagnosis={diagnosis} />
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
        {STAGES[diagnosis.stage]}
        {diagnosis.twins > 0 &&
          `: ${diagnosis.twins} simulated batteries taken through ${underWay ? 'this' : 'every'} route`}
        .
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

const STAGES: Readonly<Record<Diagnosis['stage'], string>> = {
  practice: 'By its readings; routes are being tried',
  first: 'First answer',
  reweighed: 'Weighed anew',
  settled: 'Settled',
};

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
