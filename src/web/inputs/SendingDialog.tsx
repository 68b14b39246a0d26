import { type ReactNode, useState } from 'react';
import type { JobSender } from '../line/sending.ts';
import { DialogFrame, type DialogProps } from '../parts/DialogFrame.tsx';

/** What opens a dialog: one button, or several that are given how. */
export type Opener = ReactNode | ((open: () => void) => ReactNode);

interface Props extends Omit<DialogProps, 'open' | 'onOpenChange' | 'children' | 'trigger'> {
  sender: JobSender;
  trigger: Opener;
  /** What stands in it; it is closed by what it is given. */
  children: (close: () => void) => ReactNode;
}

/** A dialog that sends to a job, opened by its trigger: what an earlier try was turned away with is gone when it opens. */
export function SendingDialog({ sender, children, trigger, ...frame }: Props) {
  const [open, setOpen] = useState(false);
  const change = (next: boolean): void => {
    sender.clear();
    setOpen(next);
  };
  const isOne = typeof trigger !== 'function';
  return (
    <>
      {!isOne && trigger(() => change(true))}
      <DialogFrame
        {...frame}
        trigger={isOne ? trigger : undefined}
        open={open}
        onOpenChange={change}
      >
        {children(() => setOpen(false))}
      </DialogFrame>
    </>
  );
}
