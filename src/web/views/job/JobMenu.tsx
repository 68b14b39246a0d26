import { Ellipsis } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import type { Job } from '../../../core/procedures/job.ts';
import { stepById } from '../../../core/procedures/procedure.ts';
import type { JobSender } from '../../app/sending.ts';
import { SpotReading } from './SpotReading.tsx';
import { ReasonDialog } from '../../inputs/ReasonDialog.tsx';

/** What may be done at any step: note, pause, skip, hand to the lead. */
export function JobMenu({ job, sender }: { job: Job; sender: JobSender }) {
  const [open, setOpen] = useState(false);
  const { state } = job;
  const step = state.current ? stepById(job.procedure, state.current.stepId) : null;
  const running = state.status === 'running';
  const close = async (sent: Promise<boolean>) => {
    const ok = await sent;
    if (ok) setOpen(false);
    return ok;
  };
  const item = (label: string) => (
    <button type="button" className="flex min-h-11 w-full items-center rounded-md px-3 text-lg hover:bg-hair">
      {label}
    </button>
  );
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className="act-quiet px-3!" aria-label="More for this job">
        <Ellipsis size={22} aria-hidden />
      </Popover.Trigger>
      <Popover.Content align="end" sideOffset={4} className="z-30 w-64 rounded-lg border border-ink bg-sheet p-2">
        <ReasonDialog
          sender={sender}
          trigger={item('Write a note')}
          title="A note on this job"
          explain="Signed, timed, and printed on the sheet."
          act="Keep it"
          reasonLabel="Note"
          onConfirm={(text) => close(sender.send({ type: 'note', text }))}
        />
        {(running || state.status === 'with-lead') && (
          <SpotReading trigger={item('Take a reading in between')} sender={sender} onKept={() => setOpen(false)} place={state.charge?.place} />
        )}
        {running && !state.paused && state.charge?.mode !== 'running' && (
          <ReasonDialog
            sender={sender}
            trigger={item('Pause the job')}
            title="Pause the job"
            explain="Nobody is called while it is paused. Clocks of waits go on."
            act="Pause"
            reasonLabel="Why"
            onConfirm={(reason) => close(sender.send({ type: 'pause', reason }))}
          />
        )}
        {running && step?.skippable && step.kind !== 'wait' && (
          <ReasonDialog
            sender={sender}
            trigger={item('Skip this step')}
            title="Skip this step?"
            explain="It is printed on the sheet as a deviation. A battery cannot pass without a rest voltage and a load test."
            act="Skip it"
            onConfirm={(reason) => close(sender.send({ type: 'skip', stepId: step.id, reason }))}
          />
        )}
        {running && (
          <ReasonDialog
            sender={sender}
            trigger={item('Hand it to the lead')}
            title="Hand it to the lead?"
            explain="The job stands still until the lead decides. A running charge counts as paused: switch it off first."
            act="Hand it over"
            reasonLabel="Why"
            onConfirm={(reason) => close(sender.send({ type: 'escalate', reason }))}
          />
        )}
      </Popover.Content>
    </Popover.Root>
  );
}
