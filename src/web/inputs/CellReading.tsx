import { type ReactNode, useState } from 'react';
import { leadAcidKind } from '../../core/batteries/kinds.ts';
import type { Job } from '../../core/job/job.ts';
import { momentOfAct } from '../line/benchClock.ts';
import type { JobSender } from '../line/sending.ts';
import { CellsForm } from './CellsForm.tsx';
import { SendingDialog } from './SendingDialog.tsx';
import { ProblemLine } from './ProblemLine.tsx';

interface Props {
  job: Job;
  sender: JobSender;
  trigger: ReactNode;
  onKept: () => void;
}

/** Cell by cell, whenever somebody looks: SG, volts by probe, or levels by tap. */
export function CellReading({ job, sender, trigger, onKept }: Props) {
  const [open, setOpen] = useState(false);
  const reachable = leadAcidKind(job.plan.model.kind).ports === 'serviceable';
  return (
    <SendingDialog
      sender={sender}
      open={open}
      onOpenChange={setOpen}
      trigger={trigger}
      title="Cell by cell"
      description="From plus to minus. It goes on the record with the battery."
      width="max-w-3xl"
    >
      <CellsForm
        cells={job.plan.model.cells}
        ask={
          reachable
            ? ['level', 'bubbling', 'specificGravity', 'voltageV']
            : ['voltageV', 'bubbling']
        }
        act="Keep the cells"
        sender={sender}
        onSend={async (cells, values, sure) => {
          const kept = await sender.send({
            type: 'read',
            role: 'cells',
            values,
            cells,
            takenAt: momentOfAct(),
            sure,
          });
          if (kept) {
            setOpen(false);
            onKept();
          }
          return kept;
        }}
      />
      <div className="mt-3">
        <ProblemLine sender={sender} />
      </div>
    </SendingDialog>
  );
}
