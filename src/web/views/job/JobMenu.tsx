import { Popover } from 'radix-ui';
import { useState } from 'react';
import type { JobCommand } from '../../../core/job/commands.ts';
import type { Job } from '../../../core/job/job.ts';
import { stepById } from '../../../core/plan/procedure.ts';
import type { LateMenuProps } from '../../parts/OpensLater.tsx';
import type { JobSender } from '../../line/sending.ts';
import { CellReading } from '../../inputs/CellReading.tsx';
import { SpotReading } from '../../inputs/SpotReading.tsx';
import { canTopUp, TopUpDialog } from './TopUpDialog.tsx';
import { ReasonDialog } from '../../inputs/ReasonDialog.tsx';

/** What may be done at any step: pause, skip, hand to the lead. */
export function JobMenu({
  job,
  sender,
  className,
  label,
  children,
}: LateMenuProps & { job: Job; sender: JobSender }) {
  const [open, setOpen] = useState(true);
  const { state } = job;
  const running = state.status === 'running';
  const inProcess = running || state.status === 'with-lead';
  const entries = entriesFor(job);
  const shut = () => setOpen(false);
  const close = async (sent: Promise<boolean>) => {
    const ok = await sent;
    if (ok) setOpen(false);
    return ok;
  };
  const item = (label: string) => (
    <button
      type="button"
      className="flex min-h-11 w-full items-center rounded-md px-3 text-lg hover:bg-hair"
    >
      {label}
    </button>
  );
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className={className} aria-label={label}>
        {children}
      </Popover.Trigger>
      <Popover.Content
        align="end"
        sideOffset={4}
        className="z-30 w-72 rounded-lg border border-ink bg-sheet p-2"
      >
        {inProcess && (
          <>
            <SpotReading
              trigger={item('Take a reading in between')}
              sender={sender}
              onKept={shut}
              place={state.charge?.place}
            />
            <CellReading
              job={job}
              sender={sender}
              trigger={item('Look at the cells one by one')}
              onKept={shut}
            />
          </>
        )}
        {running && canTopUp(job) && (
          <TopUpDialog job={job} sender={sender} trigger={item('Top up cells')} onKept={shut} />
        )}
        {entries.map(({ label, send, ...dialog }) => (
          <ReasonDialog
            key={label}
            sender={sender}
            trigger={item(label)}
            {...dialog}
            onConfirm={(text) => close(sender.send(send(text)))}
          />
        ))}
      </Popover.Content>
    </Popover.Root>
  );
}

interface Entry {
  label: string;
  title: string;
  explain: string;
  act: string;
  reasonLabel?: string;
  send: (text: string) => JobCommand;
}

/** What may be written into a job at this moment, each with its reason. */
function entriesFor({ procedure, state }: Job): Entry[] {
  const step = state.current ? stepById(procedure, state.current.stepId) : null;
  const running = state.status === 'running';
  const entries: Entry[] = [];
  if (running && !state.paused && state.charge?.mode !== 'running')
    entries.push({
      label: 'Pause the job',
      title: 'Pause the job',
      explain: 'No alert comes while it is paused. Waits go on.',
      act: 'Pause',
      reasonLabel: 'Why',
      send: (reason) => ({ type: 'pause', reason }),
    });
  if (running && step?.skippable && step.kind !== 'wait')
    entries.push({
      label: 'Skip this step',
      title: 'Skip this step?',
      explain:
        'It is printed on the sheet as a deviation. A battery cannot pass without its rest voltage and, where it has one, its load test.',
      act: 'Skip it',
      send: (reason) => ({ type: 'skip', stepId: step.id, reason }),
    });
  if (running)
    entries.push({
      label: 'Hand it to the lead',
      title: 'Hand it to the lead?',
      explain:
        'The job stands still until the lead decides. A running charge counts as paused: switch it off first.',
      act: 'Hand it over',
      reasonLabel: 'Why',
      send: (reason) => ({ type: 'escalate', reason }),
    });
  return entries;
}
