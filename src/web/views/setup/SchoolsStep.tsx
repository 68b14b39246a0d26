import { type FormEvent, useState } from 'react';
import { type QuestionKey, SCHOOLS } from '../../../core/house/schools.ts';
import { sayIn } from '../../../core/quantities/shopUnits.ts';
import { SchoolChoice } from '../../inputs/SchoolChoice.tsx';
import type { StepProps } from './stepProps.ts';

const KEYS = Object.keys(SCHOOLS) as QuestionKey[];

/** Where practitioners differ: our way is chosen, and one sentence says what it is. */
export function SchoolsStep({ rules, onNext, foot }: StepProps) {
  const [schools, setSchools] = useState(rules.schools);
  const [open, setOpen] = useState<QuestionKey | null>(null);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    void onNext({ schools });
  };
  return (
    <form onSubmit={submit} className="grid gap-5">
      <div>
        <h1 className="text-4xl">How you work</h1>
        <p className="text-lg text-soft">
          Good shops differ here. The usual way is chosen everywhere; if you do not know yet, press
          Next. A maker’s own figure always comes first.
        </p>
      </div>
      <ul>
        {KEYS.map((key) => {
          const { question, schools: ways } = SCHOOLS[key];
          const way = ways.find((w) => w.id === schools[key]) ?? ways[0];
          return (
            <li key={key} className="border-b border-line py-2">
              <div className="flex items-center gap-4">
                <p className="min-w-0 flex-1 text-lg leading-snug">
                  <b>{question}:</b> {way?.name}.{' '}
                  <span className="text-soft">{sayIn(way?.plain ?? '', rules)}</span>
                </p>
                <button
                  type="button"
                  className="wordlink min-h-11"
                  aria-expanded={open === key}
                  onClick={() => setOpen(open === key ? null : key)}
                >
                  {open === key ? 'Close' : 'Change'}
                  <span className="sr-only"> {question}</span>
                </button>
              </div>
              {open === key && (
                <SchoolChoice
                  question={key}
                  chosen={schools[key]}
                  onChoose={(id) => setSchools({ ...schools, [key]: id })}
                />
              )}
            </li>
          );
        })}
      </ul>
      {foot}
    </form>
  );
}
