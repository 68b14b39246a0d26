import { ROLE_FIELDS } from '../../core/steps/readingFields.ts';
import type { JobSender } from '../line/sending.ts';
import { type Opener, SendingDialog } from './SendingDialog.tsx';
import { ProblemLine } from './ProblemLine.tsx';
import { ReadingForm } from './ReadingForm.tsx';
import { sendReading } from '../line/sendReading.ts';

interface Props {
  trigger: Opener;
  sender: JobSender;
  onKept: () => void;
  /** Where the battery stands. */
  place: number | undefined;
}

/** A reading taken between the steps: kept with the job and the battery, judged by nothing. */
export function SpotReading({ trigger, sender, onKept, place }: Props) {
  return (
    <SendingDialog
      sender={sender}
      trigger={trigger}
      title="A reading in between"
      description="Whatever was read. It is recorded and not judged."
      width="max-w-2xl"
    >
      {(close) => (
        <>
          <ReadingForm
            must={[]}
            may={ROLE_FIELDS.spot.may}
            place={place}
            act="Save"
            sender={sender}
            autoFocus
            onSend={sendReading(sender, 'spot', () => {
              close();
              onKept();
            })}
          />
          <ProblemLine sender={sender} />
        </>
      )}
    </SendingDialog>
  );
}
