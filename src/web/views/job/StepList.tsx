import { memo } from 'react';
import type { HouseRules } from '../../../core/house/rules.ts';
import type { Job, StepRun } from '../../../core/job/job.ts';
import type { Step } from '../../../core/plan/procedure.ts';
import { deviationWords } from '../../../core/job/deviationWords.ts';
import { stepsAhead } from '../../../core/steps/stepsAhead.ts';
import { useRules } from '../../line/queries.ts';
import { fillText } from '../../../core/plan/words.ts';
import { formatMoment } from '../../../core/quantities/format.ts';
import type { JobSender } from '../../line/sending.ts';
import { ReasonDialog } from '../../inputs/ReasonDialog.tsx';

interface Props {
  job: Job;
  sender: JobSender;
  now: number;
  rules: HouseRules;
}

/** The whole procedure; a step that is behind can be opened again with a reason. */
export const StepList = memo(function StepList({ job, sender, now, rules }: Props) {
  const { state, procedure } = job;
  const here = procedure.steps.findIndex((s) => s.id === state.current?.stepId);
  const ahead = new Set(stepsAhead(job));
  return (
    <aside aria-label="Steps" className="content-start">
      <h2 className="border-b-2 border-ink pb-1 text-xl">Steps</h2>
      <ol>
        {procedure.steps.map((step, i) => {
          // Neither ways that were not chosen nor what no longer comes; what was done on another cycle does.
          const stands =
            (i <= here && !step.only) ||
            i === here ||
            ahead.has(step) ||
            state.runs.some((r) => r.stepId === step.id);
          if (!stands) return null;
          const run = state.runs.findLast((r) => r.stepId === step.id && r.end !== 'reopened');
          const behind = here >= 0 ? i < here : run !== undefined;
          return (
            <Item
              key={step.id}
              job={job}
              sender={sender}
              step={step}
              run={behind ? run : undefined}
              current={i === here}
              when={run?.endedAt && behind ? formatMoment(run.endedAt, now, rules) : ''}
            />
          );
        })}
      </ol>
      {state.deviations.length > 0 && (
        <>
          <h2 className="mt-6 border-b-2 border-ink pb-1 text-xl">Deviations</h2>
          <ul>
            {state.deviations.map((d) => (
              <li
                key={`${d.at}${deviationWords(d.what, rules.temperatureUnit)}`}
                className="border-b border-line py-2"
              >
                {deviationWords(d.what, rules.temperatureUnit)}
                <span className="block text-[15px] text-soft">
                  {d.reason} · {formatMoment(d.at, now, rules)}
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
      {state.notes.length > 0 && (
        <>
          <h2 className="mt-6 border-b-2 border-ink pb-1 text-xl">Notes</h2>
          <ul>
            {state.notes.map((n) => (
              <li key={n.at} className="border-b border-line py-2 break-words">
                {n.text}
                <span className="block text-[15px] text-soft">
                  {formatMoment(n.at, now, rules)}
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
    </aside>
  );
});

const MARKS: Record<string, string> = {
  done: '✓',
  skipped: '–',
  cut: '✂',
  refused: '✕',
  reopened: '↺',
};

function Item({
  job,
  sender,
  step,
  run,
  current,
  when,
}: {
  job: Job;
  sender: JobSender;
  step: Step;
  run: StepRun | undefined;
  current: boolean;
  when: string;
}) {
  const title = fillText(step.title, job.plan, useRules());
  const mark = current ? '▶' : run?.end ? MARKS[run.end] : '○';
  const body = (
    <>
      <span
        className={`w-5 shrink-0 text-center font-semibold ${run?.end === 'cut' || run?.end === 'skipped' ? 'text-ochre' : run?.end === 'refused' ? 'text-oxide' : ''}`}
      >
        <span aria-hidden>{mark}</span>
        <span className="sr-only">{current ? 'in hand' : (run?.end ?? 'to come')}</span>
      </span>
      <span className="min-w-0 flex-1 text-left">{title}</span>
      <span className="shrink-0 text-[15px] text-soft">{when}</span>
    </>
  );
  const row = `flex min-h-11 w-full items-center gap-2 border-b border-line py-1 leading-tight ${current ? 'bg-ink px-1 font-semibold text-sheet' : run ? '' : 'text-soft'}`;
  if (!run || current || job.state.status !== 'running') {
    return (
      <li className={row} aria-current={current ? 'step' : undefined}>
        {body}
      </li>
    );
  }
  return (
    <li>
      <ReasonDialog
        sender={sender}
        trigger={
          <button type="button" className={`${row} hover:bg-hair`}>
            {body}
          </button>
        }
        title={`Open “${title}” again?`}
        explain="What was entered stays on the record. The job goes on from there, and the steps after it are done again."
        act="Open it again"
        onConfirm={(reason) => sender.send({ type: 'reopen', stepId: step.id, reason })}
      />
    </li>
  );
}
