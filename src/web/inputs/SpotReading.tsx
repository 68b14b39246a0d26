import { type ReactNode, useState } from 'react';
import { ROLE_FIELDS } from '../../core/steps/readingFields.ts';
import { momentOfAct } from '../line/benchClock.ts';
import type { JobSender } from '../line/sending.ts';
import { SendingDialog } from './SendingDialog.tsx';
import { ProblemLine } from './ProblemLine.tsx';
import { ReadingForm } from './ReadingForm.tsx';

interface Props {
  trigger: ReactNode;
  sender: JobSender;
  onKept: () => void;
  /** Where the battery stands. */
  place: number | undefined;
}

/** A reading taken between the steps: kept with the job and the battery, judged by nothing. */
export function SpotReading({ trigger, sender, onKept, place }: Props) {
  const [open, setOpen] = useState(false);
  return (
    <SendingDialog
      sender={sender}
      open={open}
      onOpenChange={setOpen}
      trigger={trigger}
      title="A reading in between"
      description="Whatever was read. It goes on the record and is judged by nothing."
      width="max-w-2xl"
    >
      <ReadingForm
        must={[]}
        may={ROLE_FIELDS.spot.may}
        place={place}
        act="Keep it"
        sender={sender}
        autoFocus
        onSend={async (values, sure) => {
          const kept = await sender.send({
            type: 'read',
            role: 'spot',
            values,
            takenAt: momentOfAct(),
            sure,
          });
          if (kept) {
            setOpen(false);
            onKept();
          }
          return kept;
        }}
      />
      <ProblemLine sender={sender} />
    </SendingDialog>
  );
}
