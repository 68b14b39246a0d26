import { type FormEvent, useState } from 'react';
import { CHARGER_KIND_WORDS } from '../../../core/chargers/charger.ts';
import { CHARGER_TEMPLATES } from '../../../core/chargers/templates.ts';
import { useChargers } from '../../line/queries.ts';
import { useSaveCharger } from '../../line/saveCharger.ts';
import type { StepProps } from './stepProps.ts';

const MOST = 16;

/** How many of which charger hang on the wall: enough for the plan to pick among them. */
export function ChargersStep({ onNext, foot }: StepProps) {
  const { data } = useChargers();
  const { save, problem, saving } = useSaveCharger();
  const [counts, setCounts] = useState<Readonly<Record<string, number>>>({});
  const known = data?.chargers ?? [];
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const taken = new Set(known.map(({ name }) => name));
    for (const { key, title, facts } of CHARGER_TEMPLATES) {
      for (let count = counts[key] ?? 0; count > 0; count--) {
        const name = freeName(title.split(',')[0] ?? title, taken);
        if (!(await save(null, { ...facts, name }))) return;
        taken.add(name);
        setCounts((old) => ({ ...old, [key]: count - 1 }));
      }
    }
    await onNext({});
  };
  const step = (key: string, by: number) =>
    setCounts((old) => ({ ...old, [key]: Math.min(MOST, Math.max(0, (old[key] ?? 0) + by)) }));
  return (
    <form onSubmit={(e) => void submit(e)} className="grid gap-5">
      <div>
        <h1 className="text-4xl">Your chargers</h1>
        <p className="text-lg text-soft">
          How many of each hang on the wall? Take the nearest. Amperes, programs and the name on the
          sticker can be put right later under Chargers.
        </p>
      </div>
      {known.length > 0 && (
        <p className="rounded-md bg-moss-pale px-4 py-2 text-lg">
          ✓ Written down: {known.map(({ name }) => name).join(', ')}.
        </p>
      )}
      <ul className="grid gap-x-6 md:grid-cols-2">
        {CHARGER_TEMPLATES.map(({ key, title, facts }) => (
          <li key={key} className="flex items-center gap-3 border-b border-line py-2">
            <span className="min-w-0 flex-1 text-lg leading-tight">
              {title}
              <span className="block text-[15px] text-soft">
                {CHARGER_KIND_WORDS[facts.kind].goodFor}
              </span>
            </span>
            <button
              type="button"
              className="act-quiet size-12 px-0! text-2xl!"
              aria-label={`One less: ${title}`}
              disabled={!counts[key]}
              onClick={() => step(key, -1)}
            >
              −
            </button>
            <output className="w-6 text-center font-label text-2xl font-semibold">
              {counts[key] ?? 0}
            </output>
            <button
              type="button"
              className="act-quiet size-12 px-0! text-2xl!"
              aria-label={`One more: ${title}`}
              onClick={() => step(key, 1)}
            >
              +
            </button>
          </li>
        ))}
      </ul>
      {problem && (
        <p role="alert" className="text-lg text-oxide">
          {problem.message}
        </p>
      )}
      <fieldset disabled={saving}>{foot}</fieldset>
    </form>
  );
}

/** The name, or the name with the first number that is free. */
function freeName(name: string, taken: ReadonlySet<string>): string {
  if (!taken.has(name)) return name;
  for (let i = 2; ; i++) if (!taken.has(`${name} no. ${i}`)) return `${name} no. ${i}`;
}
