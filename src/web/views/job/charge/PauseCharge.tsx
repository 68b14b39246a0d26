import { ReasonDialog } from '../../../inputs/ReasonDialog.tsx';
import type { JobSender } from '../../../line/sending.ts';

/** Pauses a charge with the reason. */
export function PauseCharge({
  sender,
  stepId,
  className,
  label,
  ...words
}: {
  sender: JobSender;
  stepId: string;
  className: string;
  label: string;
  title: string;
  explain: string;
  act: string;
  suggestions: readonly string[];
}) {
  return (
    <ReasonDialog
      {...words}
      sender={sender}
      trigger={
        <button type="button" className={className}>
          {label}
        </button>
      }
      reasonLabel="Why"
      onConfirm={(reason) => sender.send({ type: 'pauseCharge', stepId, reason })}
    />
  );
}
