import { type FormEvent, useState } from 'react';
import { parseReading } from '../../../../core/quantities/parseReading.ts';
import { fahrenheitFromCelsius } from '../../../../core/quantities/quantity.ts';
import { ProblemLine } from '../../../inputs/ProblemLine.tsx';
import { ReadingField } from '../../../inputs/ReadingField.tsx';
import type { ChargeProps } from './props.ts';

/** Lets a charge go on that was paused or stopped, with the temperature it has now. */
export function ResumeForm({
  step,
  job,
  sender,
  rules,
  act,
  suggestedC = null,
}: ChargeProps & { act: string; suggestedC?: number | null }) {
  const suggested =
    suggestedC === null
      ? ''
      : (rules.temperatureUnit === 'F' ? fahrenheitFromCelsius(suggestedC) : suggestedC).toFixed(0);
  const [text, setText] = useState<string | null>(null);
  const [fault, setFault] = useState<string>();
  const halted = job.state.charge?.mode === 'halted';
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const parsed = parseReading(text ?? suggested, 'temperature', rules);
    if (!parsed.ok) setFault(parsed.message);
    else await sender.send({ type: 'resumeCharge', stepId: step.id, temperatureC: parsed.value });
  };
  return (
    <>
      <form
        onSubmit={(e) => void submit(e)}
        noValidate
        className="flex max-w-xl flex-wrap items-start gap-3"
      >
        <ReadingField
          quantity="temperature"
          label="Temperature now"
          value={text ?? suggested}
          onChange={(t) => {
            setText(t);
            setFault(undefined);
            sender.clear();
          }}
          message={fault ?? sender.problem?.fields['temperatureC']}
        />
        <button type="submit" className="act mt-6 min-h-12!" disabled={sender.busy}>
          {act}
        </button>
      </form>
      {halted && (
        <p className="text-lg">
          A guard stopped it: only a lead lets it go on. Or hand it to the lead from the menu.
        </p>
      )}
      {!sender.problem?.fields['temperatureC'] && <ProblemLine sender={sender} />}
    </>
  );
}
