import { useSay } from '../../../line/queries.ts';
import { linesOf } from '../../../../core/plan/lines.ts';
import { figureOf } from '../../../../core/plan/jobPlan.ts';
import { holdSoFar } from '../../../../core/recovery/cycles.ts';
import type { StepOf } from '../../../../core/plan/procedure.ts';
import { formatDuration, formatMomentBothWays } from '../../../../core/quantities/format.ts';
import { ReadingForm } from '../../../inputs/ReadingForm.tsx';
import { ReasonDialog } from '../../../inputs/ReasonDialog.tsx';
import { FigureButton } from '../../../inputs/FigureButton.tsx';
import { ProblemLine } from '../../../inputs/ProblemLine.tsx';
import type { PanelProps } from '../../../inputs/Card.tsx';
import { settledEstimate } from '../settled.ts';
import { sendReading } from '../../../line/sendReading.ts';

/** A wait keeps its own clock on the server; this only shows it, and takes what is done meanwhile. */
export function WaitPanel({
  step,
  job,
  sender,
  now,
  rules,
}: PanelProps & { step: StepOf<'wait'> }) {
  const due = job.state.current?.dueAt ?? now;
  const resting = step.figure === 'restS';
  const settled = resting ? settledEstimate(job) : null;
  return (
    <>
      <div className="flex flex-wrap items-start gap-8">
        <p>
          <span className="label block">Ready at</span>
          <b className="font-label text-5xl leading-none font-semibold">
            {formatMomentBothWays(due, now, rules)}
          </b>
        </p>
        <div className="w-36">
          <FigureButton figure={figureOf(job.plan, step.figure)} />
        </div>
      </div>
      {settled && <p className="rounded-md bg-slate-pale px-4 py-2 text-lg">{settled.sentence}</p>}
      {step.readEveryS !== undefined && <InBetween job={job} sender={sender} />}
      <ProblemLine sender={sender} />
      {step.skippable && (
        <ReasonDialog
          sender={sender}
          trigger={
            <button type="button" className="act-quiet">
              End wait early
            </button>
          }
          title={`Cut the wait by ${formatDuration((due - now) / 1000)}?`}
          explain={`${step.early} The reason is printed on the sheet as a deviation.`}
          act="End wait early"
          onConfirm={(reason) => sender.send({ type: 'cutWait', stepId: step.id, reason })}
        />
      )}
      {resting && (
        <details className="w-full">
          <summary className="wordlink min-h-11 w-fit cursor-pointer py-2 text-lg">
            Read it early anyway
          </summary>
          <p className="mb-2 text-soft">
            Kept and marked as early. It cannot pass or fail the battery.
          </p>
          <ReadingForm
            must={['voltageV']}
            act="Keep early reading"
            sender={sender}
            quiet
            onSend={sendReading(sender, 'rest')}
          />
        </details>
      )}
    </>
  );
}

/** A battery that is held is read now and then: what it has lost so far, and the next reading. */
function InBetween({ job, sender }: Pick<PanelProps, 'job' | 'sender'>) {
  const say = useSay();
  const soFar = holdSoFar(job);
  return (
    <div className="grid w-full gap-3">
      {soFar && (
        <p
          className={`rounded-md px-4 py-2 text-lg ${soFar.weekLoss > linesOf(job.plan).grade.weekLoss ? 'bg-ochre-pale' : 'bg-slate-pale'}`}
        >
          After {soFar.days.toFixed(1)} days it loses about{' '}
          <b>{(100 * Math.max(0, soFar.weekLoss)).toFixed(0)} % a week</b> at {say('20 °C')};{' '}
          {(100 * linesOf(job.plan).grade.weekLoss).toFixed(0)} % is the line.
        </p>
      )}
      <ReadingForm
        must={['voltageV']}
        may={['temperatureC']}
        act="Keep this reading"
        sender={sender}
        quiet
        onSend={sendReading(sender, 'spot')}
      />
    </div>
  );
}
