import { type FormEvent, useState } from 'react';
import type { Problem } from '../../contract/wire.ts';
import type { ReadOnShelf } from '../../contract/asks.ts';
import { parseReading } from '../../core/quantities/parseReading.ts';
import { ask, problemOf } from '../line/api.ts';
import { momentOfAct } from '../line/benchClock.ts';
import { newId } from '../line/newId.ts';
import { queryClient } from '../line/queries.ts';
import { useSigning } from '../line/signing.tsx';
import { DialogBack, OpenDialog } from '../parts/DialogFrame.tsx';
import { Labelled } from '../parts/Labelled.tsx';

interface Props {
  tag: string;
  reading: { id: string; voltageV: number };
  onDone: (voltageV: number, readingId: string) => void;
  onClose: () => void;
}

/** Corrects what was read on a round of the shelf; the old value stays on the record. */
export function CorrectShelf({ tag, reading, onDone, onClose }: Props) {
  const { sign } = useSigning();
  const [text, setText] = useState(reading.voltageV.toFixed(2));
  const [fault, setFault] = useState<string>();
  const [problem, setProblem] = useState<Problem | null>(null);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const parsed = parseReading(text, 'voltage');
    setFault(parsed.ok ? undefined : parsed.message);
    if (!parsed.ok) return;
    const by = await sign();
    if (!by) return;
    const sure = problem?.code === 'ask' ? { sure: true } : {};
    const body: ReadOnShelf = {
      commandId: newId(),
      by,
      voltageV: parsed.value,
      takenAt: momentOfAct(),
      supersedes: reading.id,
      ...sure,
    };
    try {
      await ask('readOnShelf', { params: { tag }, body });
      await Promise.all([
        queryClient.invalidateQueries({ queryKey: ['shelf'] }),
        queryClient.invalidateQueries({ queryKey: ['record', tag] }),
      ]);
      onDone(parsed.value, body.commandId);
    } catch (error) {
      setProblem(problemOf(error));
    }
  };
  return (
    <OpenDialog
      onClose={onClose}
      title={`Correct what ${tag} read`}
      description={`It said ${reading.voltageV.toFixed(2)} V. The old value stays on the record, struck through.`}
      width="max-w-md"
    >
      <form onSubmit={(e) => void submit(e)} noValidate className="grid gap-3">
        <Labelled label="Rest voltage, V" message={fault}>
          <input
            className="field font-label text-3xl! font-semibold"
            inputMode="decimal"
            autoComplete="off"
            autoFocus
            value={text}
            onChange={(e) => {
              setText(e.target.value);
              setProblem(null);
            }}
          />
        </Labelled>
        {problem && (
          <p role="alert" className="rounded-md bg-ochre-pale px-3 py-2 text-lg">
            {problem.message}
          </p>
        )}
        <div className="mt-2 flex justify-end gap-3">
          <DialogBack />
          <button type="submit" className="act">
            {problem?.code === 'ask' ? 'Yes, correct it' : 'Correct it'}
          </button>
        </div>
      </form>
    </OpenDialog>
  );
}
