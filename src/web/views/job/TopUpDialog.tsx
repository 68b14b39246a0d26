import { type FormEvent, type ReactNode, useState } from 'react';
import { leadAcidKind } from '../../../core/batteries/kinds.ts';
import { everCharged, type Job } from '../../../core/job/job.ts';
import { parseReading } from '../../../core/quantities/parseReading.ts';
import { useRules } from '../../line/queries.ts';
import type { JobSender } from '../../line/sending.ts';
import { DialogBack } from '../../parts/DialogFrame.tsx';
import { SendingDialog } from '../../inputs/SendingDialog.tsx';
import { Labelled } from '../../parts/Labelled.tsx';
import { ProblemLine } from '../../inputs/ProblemLine.tsx';
import { ReadingField } from '../../inputs/ReadingField.tsx';

interface Props {
  job: Job;
  sender: JobSender;
  trigger: ReactNode;
  onKept: () => void;
}

/** Can anything be added to its cells at all? */
export const canTopUp = (job: Job) => leadAcidKind(job.plan.model.kind).ports === 'serviceable';

/** Liquid added between the steps. Which one it is follows from whether current has flowed; the other is refused. */
export function TopUpDialog({ job, sender, trigger, onKept }: Props) {
  const rules = useRules();
  const [cells, setCells] = useState<number[]>([]);
  const [ml, setMl] = useState('');
  const [lot, setLot] = useState('');
  const [fault, setFault] = useState<string>();
  const liquid =
    job.procedure.purpose === 'commission' && !everCharged(job.state) ? 'acid' : 'water';
  const submit = async (event: FormEvent, close: () => void) => {
    event.preventDefault();
    const amount = ml.trim() === '' ? null : parseReading(ml, 'volume', rules);
    if (amount?.ok === false) {
      setFault(amount.message);
      return;
    }
    const kept = await sender.send({
      type: 'topUp',
      liquid,
      cells,
      ...(amount?.ok ? { ml: amount.value } : {}),
      ...(lot.trim() ? { lot: lot.trim() } : {}),
    });
    if (!kept) return;
    close();
    setCells([]);
    setMl('');
    onKept();
  };
  return (
    <SendingDialog
      sender={sender}
      trigger={trigger}
      title={liquid === 'acid' ? 'Top up with the same acid' : 'Top up with distilled water'}
      description={
        liquid === 'acid'
          ? 'It has not been charged yet: only the acid it was filled with. Water now would thin it for good.'
          : 'It has been charged: only distilled water from here on. Acid does not leave with the gas, and more of it makes the acid too strong.'
      }
    >
      {(close) => (
        <>
          <form onSubmit={(e) => void submit(e, close)} noValidate className="grid gap-3">
            <div
              role="group"
              aria-label="Cells, from plus to minus"
              className="flex flex-wrap gap-2"
            >
              {Array.from({ length: job.plan.model.cells }, (_, i) => i + 1).map((cell) => (
                <button
                  key={cell}
                  type="button"
                  aria-pressed={cells.includes(cell)}
                  className={`act-quiet min-w-14 ${cells.includes(cell) ? 'border-slate! bg-slate! text-white!' : ''}`}
                  onClick={() =>
                    setCells((old) =>
                      old.includes(cell)
                        ? old.filter((c) => c !== cell)
                        : [...old, cell].sort((a, b) => a - b),
                    )
                  }
                >
                  <span className="sr-only">Cell </span>
                  {cell}
                </button>
              ))}
            </div>
            <div className="flex gap-3">
              <ReadingField
                quantity="volume"
                label="In all"
                optional
                value={ml}
                onChange={(t) => {
                  setMl(t);
                  setFault(undefined);
                }}
                message={fault}
              />
              <div className="flex-1">
                <Labelled label="From lot (if counted)">
                  <input
                    className="field"
                    autoComplete="off"
                    value={lot}
                    onChange={(e) => setLot(e.target.value)}
                  />
                </Labelled>
              </div>
            </div>
            <ProblemLine sender={sender} />
            <div className="mt-2 flex justify-end gap-3">
              <DialogBack />
              <button type="submit" className="act" disabled={cells.length === 0 || sender.busy}>
                Save
              </button>
            </div>
          </form>
        </>
      )}
    </SendingDialog>
  );
}
