import { ReasonDialog } from '../../../inputs/ReasonDialog.tsx';
import type { JobSender } from '../../../line/sending.ts';

interface Props {
  sender: JobSender;
  stepId: string;
  title: string;
  explain: string;
  act: string;
}

/** Ends a charge before its readings or its plan do, with the reason. */
export function EndEarly({ sender, stepId, ...words }: Props) {
  return (
    <ReasonDialog
      {...words}
      sender={sender}
      trigger={
        <button type="button" className="act-quiet">
          End the charge early
        </button>
      }
      onConfirm={(reason) => sender.send({ type: 'endCharge', stepId, reason })}
    />
  );
}
