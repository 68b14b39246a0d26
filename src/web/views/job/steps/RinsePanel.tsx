import { sayIn } from '../../../../core/quantities/shopUnits.ts';
import { type FormEvent, useState } from 'react';
import { neutraliser } from '../../../../core/electrolyte/neutralising.ts';
import { figureOf } from '../../../../core/plan/jobPlan.ts';
import type { StepOf } from '../../../../core/plan/procedure.ts';
import { SEDIMENT_WORDS, type Sediment, SEDIMENTS } from '../../../../core/job/sediment.ts';
import { formatVolume } from '../../../../core/quantities/format.ts';
import { parseReading } from '../../../../core/quantities/parseReading.ts';
import { ProblemLine } from '../../../inputs/ProblemLine.tsx';
import { ReadingField } from '../../../inputs/ReadingField.tsx';
import type { PanelProps } from '../../../inputs/Card.tsx';

/** What came out with the acid, how much of it, and what makes that harmless. */
export function RinsePanel({ step, job, sender, rules }: PanelProps & { step: StepOf<'rinse'> }) {
  const { volumeUnit } = rules;
  const [sediment, setSediment] = useState<Sediment | null>(null);
  const [text, setText] = useState('');
  const [fault, setFault] = useState<string>();
  const parsed = parseReading(text, 'volume', rules);
  const waste = parsed.ok ? neutraliser(parsed.value / 1000, job.plan.figures.fillSg.value) : null;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    setFault(parsed.ok ? undefined : parsed.message);
    if (parsed.ok && sediment)
      void sender.send({ type: 'rinse', stepId: step.id, sediment, drainedMl: parsed.value });
  };
  return (
    <form onSubmit={submit} noValidate className="grid w-full gap-4">
      <fieldset className="grid gap-3 sm:grid-cols-3">
        <legend className="label mb-1.5">What came out with it?</legend>
        {SEDIMENTS.map((key) => (
          <button
            key={key}
            type="button"
            aria-pressed={sediment === key}
            onClick={() => {
              sender.clear();
              setSediment(key);
            }}
            className={`flex min-h-20 flex-col justify-start rounded-lg border-2 px-4 py-2 text-left ${sediment === key ? (key === 'brown' ? 'border-oxide bg-oxide-pale' : 'border-ink bg-moss-pale') : 'border-line bg-sheet hover:bg-hair'}`}
          >
            <b className="block text-lg">{SEDIMENT_WORDS[key].name}</b>
            <span className="text-[15px] text-soft">{SEDIMENT_WORDS[key].means}</span>
          </button>
        ))}
      </fieldset>
      <div className="flex flex-wrap items-end gap-4">
        <div className="w-60">
          <ReadingField
            label={`Drained, about ${formatVolume(figureOf(job.plan, step.acid).value, volumeUnit)}`}
            quantity="volume"
            value={text}
            onChange={setText}
            message={fault}
          />
        </div>
        {waste && (
          <p className="pb-2 text-lg">
            <b>{sayIn(`${waste.bicarbonateKg.toFixed(1)} kg`, rules)}</b> of bicarbonate would
            neutralise it. It goes to the licensed recycler all the same.
          </p>
        )}
      </div>
      <ProblemLine sender={sender} />
      <button
        type="submit"
        className="act justify-self-start"
        disabled={sender.busy || sediment === null || text.trim() === ''}
      >
        Drained and rinsed
      </button>
    </form>
  );
}
