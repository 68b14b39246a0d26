import { Dialog } from 'radix-ui';
import type { JobSender } from '../app/sending.ts';
import { type FormEvent, type ReactNode, useState } from 'react';

interface Props {
  /** Sends what is confirmed; what it was turned away with is said here. */
  sender: JobSender;
  trigger: ReactNode;
  title: string;
  /** Why it matters, and that it will be printed. */
  explain: string;
  act: string;
  stop?: boolean;
  /** Asks for a reason; without it the dialog only confirms. */
  reasonLabel?: string | null;
  suggestions?: readonly string[];
  onConfirm: (reason: string) => Promise<boolean> | boolean;
  children?: ReactNode;
}

/** Asks for the reason behind a departure from the plan, or for a confirmation. */
export function ReasonDialog({
  sender,
  trigger,
  title,
  explain,
  act,
  stop = false,
  reasonLabel = 'Reason, for the sheet',
  suggestions = [],
  onConfirm,
  children,
}: Props) {
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState('');
  const ready = reasonLabel === null || reason.trim().length > 2;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (!ready) return;
    if (await onConfirm(reason.trim())) {
      setOpen(false);
      setReason('');
    }
  };
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
        <Dialog.Content className="fixed top-1/2 left-1/2 z-50 w-[min(94vw,32rem)] -translate-1/2 rounded-lg border border-ink bg-sheet p-6">
          <Dialog.Title className="text-2xl">{title}</Dialog.Title>
          <Dialog.Description className="mt-2 text-lg text-soft">{explain}</Dialog.Description>
          <form onSubmit={(e) => void submit(e)} className="mt-4 grid gap-3">
            {children}
            {reasonLabel !== null && (
              <label className="block">
                <span className="label">{reasonLabel}</span>
                <input className="field" value={reason} maxLength={500} onChange={(e) => setReason(e.target.value)} />
              </label>
            )}
            {suggestions.length > 0 && (
              <div className="flex flex-wrap gap-2">
                {suggestions.map((s) => (
                  <button key={s} type="button" className="min-h-11 rounded-md bg-hair px-3" onClick={() => setReason(s)}>
                    {s}
                  </button>
                ))}
              </div>
            )}
            {sender.problem && (
              <p role="alert" className="rounded-md border-l-8 border-oxide bg-oxide-pale px-4 py-2 text-lg">
                {sender.problem.message}
              </p>
            )}
            <div className="mt-2 flex justify-end gap-3">
              <Dialog.Close className="act-quiet">Back</Dialog.Close>
              <button type="submit" className={stop ? 'act-stop' : 'act'} disabled={!ready}>
                {act}
              </button>
            </div>
          </form>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
