import type { JobSender } from '../line/sending.ts';
import { DialogFrame, type DialogProps } from '../parts/DialogFrame.tsx';

/** A dialog that sends to a job: what an earlier try was turned away with is gone when it opens. */
export function SendingDialog({
  sender,
  onOpenChange,
  ...frame
}: DialogProps & { sender: JobSender }) {
  return (
    <DialogFrame
      {...frame}
      onOpenChange={(next) => {
        sender.clear();
        onOpenChange(next);
      }}
    />
  );
}
