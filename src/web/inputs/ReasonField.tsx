import type { JobSender } from '../line/sending.ts';

interface Props {
  sender: JobSender;
  reason: string;
  onReason: (reason: string) => void;
}

/** Asks for a reason once what was sent was turned away for want of one. */
export function ReasonField({ sender, reason, onReason }: Props) {
  if (!sender.problem?.fields['reason']) return null;
  return (
    <label className="max-w-xl">
      <span className="label">Reason, for the sheet</span>
      <input className="field" value={reason} onChange={(e) => onReason(e.target.value)} />
    </label>
  );
}
