import { Dialog } from 'radix-ui';
import { type ReactNode, useState } from 'react';
import { momentOfAct } from '../../app/benchClock.ts';
import type { JobSender } from '../../app/sending.ts';
import { ReadingForm } from '../../inputs/ReadingForm.tsx';

interface Props {
  trigger: ReactNode;
  sender: JobSender;
  onKept: () => void;
}

/** A reading taken between the steps: kept with the job and the battery, judged by nothing. */
export function SpotReading({ trigger, sender, onKept }: Props) {
  const [open, setOpen] = useState(false);
  return (
    <Dialog.Root
      open={open}
      onOpenChange={(next) => {
        sender.clear();
        setOpen(next);
      }}
    >
      <Dialog.Trigger asChild>{trigger}</Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/40" />
        <Dialog.Content className="fixed top-1/2 left-1/2 z-50 w-[min(94vw,44rem)] -translate-1/2 rounded-lg border border-ink bg-sheet p-6">
          <Dialog.Title className="text-2xl">A reading in between</Dialog.Title>
          <Dialog.Description className="mt-1 mb-4 text-lg text-soft">Whatever was read. It goes on the record and is judged by nothing.</Dialog.Description>
          <ReadingForm
            must={[]}
            may={['voltageV', 'currentA', 'temperatureC', 'specificGravity']}
            act="Keep it"
            sender={sender}
            autoFocus
            onSend={async (values, sure) => {
              const kept = await sender.send({ type: 'read', role: 'spot', values, takenAt: momentOfAct(), sure });
              if (kept) {
                setOpen(false);
                onKept();
              }
              return kept;
            }}
          />
          {sender.problem && sender.problem.code !== 'ask' && (
            <p role="alert" className="mt-2 text-oxide">
              {sender.problem.message}
            </p>
          )}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
