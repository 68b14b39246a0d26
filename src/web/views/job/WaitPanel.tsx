import { figureOf } from '../../../core/procedures/plan.ts';
import type { StepOf } from '../../../core/procedures/procedure.ts';
import { formatDuration, formatMomentBothWays } from '../../../core/quantities/format.ts';
import { ReadingForm } from '../../inputs/ReadingForm.tsx';
import { ReasonDialog } from '../../inputs/ReasonDialog.tsx';
import { momentOfAct } from '../../app/benchClock.ts';
import { FigureButton } from '../../inputs/FigureButton.tsx';
import { ProblemLine } from '../../inputs/ProblemLine.tsx';
import type { PanelProps } from './Card.tsx';
import { settledEstimate } from './settled.ts';

/** A wait keeps its own clock on the server; this only shows it, and takes what is done meanwhile. */
export function WaitPanel({ step, job, sender, now, rules }: PanelProps & { step: StepOf<'wait'> }) {
  const due = job.state.current?.dueAt ?? now;
  const resting = step.figure === 'restS';
  const settled = resting ? settledEstimate(job) : null;
  return (
    <>
      <div className="flex flex-wrap items-start gap-8">
        <p>
          <span className="label block">Leave it until</span>
          <b className="font-label text-5xl leading-none font-semibold">{formatMomentBothWays(due, now, rules.timeZone)}</b>
        </p>
        <div className="w-36">
          <FigureButton figure={figureOf(job.plan, step.figure)} />
        </div>
      </div>
      {settled && <p className="rounded-md bg-slate-pale px-4 py-2 text-lg">{settled.sentence}</p>}
      <ProblemLine sender={sender} />
      {step.skippable && (
        <ReasonDialog
          sender={sender}
          trigger={
            <button type="button" className="act-quiet">
              Cut it short
            </button>
          }
          title={`Cut the wait by ${formatDuration((due - now) / 1000)}?`}
          explain={`${step.early} The reason is printed on the sheet as a deviation.`}
          act="Cut it short"
          onConfirm={(reason) => sender.send({ type: 'cutWait', stepId: step.id, reason })}
        />
      )}
      {resting && (
        <details className="w-full">
          <summary className="wordlink min-h-11 w-fit cursor-pointer py-2 text-lg">Read it early anyway</summary>
          <p className="mb-2 text-soft">Kept and marked as early. It cannot pass or fail the battery.</p>
          <ReadingForm
            must={['voltageV']}
            act="Keep early reading"
            sender={sender}
            quiet
            onSend={(values, sure) => sender.send({ type: 'read', role: 'rest', values, takenAt: momentOfAct(), sure })}
          />
        </details>
      )}
    </>
  );
}
