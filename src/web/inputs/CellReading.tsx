import { leadAcidKind } from '../../core/batteries/kinds.ts';
import type { Job } from '../../core/job/job.ts';
import type { JobSender } from '../line/sending.ts';
import { CellsForm } from './CellsForm.tsx';
import { type Opener, SendingDialog } from './SendingDialog.tsx';
import { ProblemLine } from './ProblemLine.tsx';
import { sendReading } from '../line/sendReading.ts';

interface Props {
  job: Job;
  sender: JobSender;
  trigger: Opener;
  onKept: () => void;
}

/** Cell by cell, whenever somebody looks: SG, volts by probe, or levels by tap. */
export function CellReading({ job, sender, trigger, onKept }: Props) {
  const reachable = leadAcidKind(job.plan.model.kind).ports === 'serviceable';
  return (
    <SendingDialog
      sender={sender}
      trigger={trigger}
      title="Cell by cell"
      description="From plus to minus. It goes on the record with the battery."
      width="max-w-3xl"
    >
      {(close) => (
        <>
          <CellsForm
            cells={job.plan.model.cells}
            ask={
              reachable
                ? ['level', 'bubbling', 'specificGravity', 'voltageV']
                : ['voltageV', 'bubbling']
            }
            act="Save cells"
            sender={sender}
            onSend={sendReading(sender, 'cells', () => {
              close();
              onKept();
            })}
          />
          <div className="mt-3">
            <ProblemLine sender={sender} />
          </div>
        </>
      )}
    </SendingDialog>
  );
}
