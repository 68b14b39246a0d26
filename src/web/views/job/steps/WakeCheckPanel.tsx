import { useState } from 'react';
import { forCells } from '../../../../core/batteries/chemistry.ts';
import { WAKE_BELOW_12V } from '../../../../core/diagnosis/wakeCurrents.ts';
import type { CellFeel } from '../../../../core/job/recoveryState.ts';
import type { StepOf } from '../../../../core/plan/procedure.ts';
import { parseReading } from '../../../../core/quantities/parseReading.ts';
import type { PanelProps } from '../../../inputs/Card.tsx';
import { ProblemLine } from '../../../inputs/ProblemLine.tsx';
import { ReadingField } from '../../../inputs/ReadingField.tsx';

const FEELS: readonly CellFeel[] = ['cool', 'warm', 'hot'];

/** Volts after the hour, and the feel of every cell; a tap goes from cool to warm to hot. */
export function WakeCheckPanel({
  step,
  job,
  sender,
  rules,
}: PanelProps & { step: StepOf<'wake-check'> }) {
  const { cells } = job.plan.model;
  const [text, setText] = useState('');
  const [fault, setFault] = useState<string>();
  const [feel, setFeel] = useState<CellFeel[]>(() => Array.from({ length: cells }, () => 'cool'));
  const made = job.state.runs.filter(
    (r) => r.stepId === step.id && r.attempt === job.state.attempt && r.end === 'done',
  ).length;
  const hot = feel.includes('hot');
  const send = () => {
    const parsed = parseReading(text, 'voltage', rules);
    if (!parsed.ok) return setFault(parsed.message);
    return void sender.send({ type: 'checkWake', stepId: step.id, voltageV: parsed.value, feel });
  };
  return (
    <>
      <p className="text-lg">
        Attempt {made + 1} of {step.most}. From {forCells(WAKE_BELOW_12V, cells).toFixed(2)} V it
        carries on alone.
      </p>
      <div className="w-44">
        <ReadingField
          quantity="voltage"
          label="Volts now"
          value={text}
          onChange={(t) => {
            setText(t);
            setFault(undefined);
            sender.clear();
          }}
          message={fault}
          autoFocus
        />
      </div>
      <div>
        <p className="label mb-1">Lay a hand on every cell, from plus to minus; tap to change</p>
        <div className="flex flex-wrap gap-2">
          {feel.map((f, k) => (
            <button
              // Cells have no name but their place.
              key={k}
              type="button"
              aria-label={`Cell ${k + 1}: ${f}`}
              className={`min-h-16 min-w-20 rounded-md border-2 font-label text-lg font-semibold ${f === 'hot' ? 'border-oxide bg-oxide-pale' : f === 'warm' ? 'border-ochre bg-ochre-pale' : 'border-line bg-sheet'}`}
              onClick={() =>
                setFeel(
                  feel.map((old, i) =>
                    i === k ? (FEELS[(FEELS.indexOf(old) + 1) % 3] as CellFeel) : old,
                  ),
                )
              }
            >
              <span className="block text-[15px] font-normal">cell {k + 1}</span>
              {f}
            </button>
          ))}
        </div>
      </div>
      {hot && (
        <p className="rounded-md border-l-8 border-oxide bg-oxide-pale px-4 py-2 text-lg">
          ✕ Hot in one place is a short. Charger off at the mains, now; then sign it here.
        </p>
      )}
      <ProblemLine sender={sender} />
      <button
        type="button"
        className={hot ? 'act-stop' : 'act'}
        disabled={sender.busy}
        onClick={send}
      >
        {hot ? 'It is off: a short' : 'Save'}
      </button>
    </>
  );
}
