import type { JobSender } from '../line/sending.ts';
import { type FormEvent, type ReactNode, useState } from 'react';
import { DialogBack } from '../parts/DialogFrame.tsx';
import { SendingDialog } from './SendingDialog.tsx';
import { ProblemLine } from './ProblemLine.tsx';

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
  /** What else is asked, after the reason. */
  also?: ReactNode;
  onConfirm: (reason: string) => Promise<boolean> | boolean;
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
  also,
  onConfirm,
}: Props) {
  const [reason, setReason] = useState('');
  const ready = reasonLabel === null || reason.trim().length > 2;
  const submit = async (event: FormEvent, close: () => void) => {
    event.preventDefault();
    if (!ready) return;
    if (await onConfirm(reason.trim())) {
      close();
      setReason('');
    }
  };
  return (
    <SendingDialog sender={sender} trigger={trigger} title={title} description={explain}>
      {(close) => (
        <>
          <form onSubmit={(e) => void submit(e, close)} className="grid gap-3">
            {reasonLabel !== null && (
              <label className="block">
                <span className="label">{reasonLabel}</span>
                <input
                  className="field"
                  value={reason}
                  maxLength={500}
                  onChange={(e) => setReason(e.target.value)}
                />
              </label>
            )}
            {also}
            {suggestions.length > 0 && (
              <div className="flex flex-wrap gap-2">
                {suggestions.map((s) => (
                  <button
                    key={s}
                    type="button"
                    className="min-h-11 rounded-md bg-hair px-3"
                    onClick={() => setReason(s)}
                  >
                    {s}
                  </button>
                ))}
              </div>
            )}
            <ProblemLine sender={sender} />
            <div className="mt-2 flex justify-end gap-3">
              <DialogBack />
              <button type="submit" className={stop ? 'act-stop' : 'act'} disabled={!ready}>
                {act}
              </button>
            </div>
          </form>
        </>
      )}
    </SendingDialog>
  );
}
