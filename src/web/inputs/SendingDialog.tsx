import { type ReactNode, useState } from 'react';
import type { JobSender } from '../line/sending.ts';
import { DialogFrame, type DialogProps } from '../parts/DialogFrame.tsx';

interface Props extends Omit<DialogProps, 'open' | 'onOpenChange' | 'children'> {
  sender: JobSender;
  /** What stands in it; it is closed by what it is given. */
  children: (close: () => void) => ReactNode;
}

/** A dialog that sends to a job, opened by its trigger: what an earlier try was turned away with is gone when it opens. */
export function SendingDialog({ sender, children, ...frame }: Props) {
  const [open, setOpen] = useState(false);
  return (
    <DialogFrame
      {...frame}
      open={open}
      onOpenChange={(next) => {
        sender.clear();
        setOpen(next);
      }}
    >
      {children(() => setOpen(false))}
    </DialogFrame>
  );
}
