import { useSay } from '../../line/queries.ts';
import { type FormEvent, useState } from 'react';
import { type BatteryModel, sizeWords } from '../../../core/batteries/model.ts';
import { ProblemLine } from '../../inputs/ProblemLine.tsx';
import { SendingDialog } from '../../inputs/SendingDialog.tsx';
import type { JobSender } from '../../line/sending.ts';
import { DialogBack } from '../../parts/DialogFrame.tsx';
import { Labelled } from '../../parts/Labelled.tsx';

/** A size that is an estimate, and the way to put a known one in its place. */
export function SizeLine({ model, sender }: { model: BatteryModel; sender: JobSender }) {
  const say = useSay();
  const [text, setText] = useState('');
  const [fault, setFault] = useState<string>();
  const submit = async (event: FormEvent, close: () => void) => {
    event.preventDefault();
    const c20Ah = Number(text.trim().replace(',', '.'));
    if (!(c20Ah >= 0.5 && c20Ah <= 300)) setFault('Type its Ah, between 0.5 and 300.');
    else if (await sender.send({ type: 'tellSize', c20Ah })) close();
  };
  return (
    <p className="text-soft">
      {sizeWords(model)}{' '}
      <SendingDialog
        sender={sender}
        trigger={
          <button type="button" className="wordlink min-h-11">
            Its size is known
          </button>
        }
        title="Its size is known"
        description={say(
          `So far it is ${sizeWords(model)}, from ${model.estimate?.from.join(' and ')}. From now on the job goes by what you type.`,
        )}
      >
        {(close) => (
          <form onSubmit={(e) => void submit(e, close)} noValidate className="grid gap-3">
            <Labelled label="Capacity at 20 h, Ah" message={fault}>
              <input
                className="field"
                inputMode="decimal"
                autoFocus
                value={text}
                onChange={(e) => {
                  setText(e.target.value);
                  setFault(undefined);
                }}
              />
            </Labelled>
            <ProblemLine sender={sender} />
            <div className="flex justify-end gap-3">
              <DialogBack />
              <button type="submit" className="act" disabled={sender.busy}>
                Save
              </button>
            </div>
          </form>
        )}
      </SendingDialog>
    </p>
  );
}
