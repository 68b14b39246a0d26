import { type FormEvent, useState } from 'react';
import {
  CHARGER_KIND_WORDS,
  type ChargerFacts,
  type Outage,
  type ShopCharger,
} from '../../../core/chargers/charger.ts';
import { CHARGER_TEMPLATES } from '../../../core/chargers/templates.ts';
import { DialogBack, OpenDialog } from '../../parts/DialogFrame.tsx';
import { Labelled } from '../../parts/Labelled.tsx';
import { ChargerFields } from './ChargerFields.tsx';
import { useRules } from '../../line/queries.ts';
import { DaysAway } from '../../parts/DaysAway.tsx';
import { useSaveCharger } from '../../line/saveCharger.ts';

interface Props {
  /** Null adds one. */
  charger: ShopCharger | null;
  onClose: () => void;
}

/** Writes down a charger, from a template or as it stands. */
export function ChargerDialog({ charger, onClose }: Props) {
  const { save, remove, problem, saving } = useSaveCharger();
  const rules = useRules();
  const [facts, setFacts] = useState<ChargerFacts | null>(() => charger && factsOf(charger));
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (facts && (await save(charger?.id ?? null, facts))) onClose();
  };
  const title = charger ? `Change ${charger.name}` : 'Add a charger';
  if (!facts)
    return (
      <OpenDialog
        onClose={onClose}
        title={title}
        description="Which of these is nearest? Everything can be changed afterwards."
        width="max-w-2xl"
      >
        <ul className="grid gap-2">
          {CHARGER_TEMPLATES.map((template) => (
            <li key={template.key}>
              <button
                type="button"
                className="act-quiet w-full justify-start! py-2 text-left"
                onClick={() => setFacts(template.facts)}
              >
                <span>
                  {template.title}
                  <span className="block font-sans text-[15px] font-normal text-soft">
                    {CHARGER_KIND_WORDS[template.facts.kind].goodFor}
                  </span>
                </span>
              </button>
            </li>
          ))}
        </ul>
        <div className="mt-4 flex justify-end">
          <DialogBack />
        </div>
      </OpenDialog>
    );
  const words = CHARGER_KIND_WORDS[facts.kind];
  const fault = (field: string) => problem?.fields[`charger.${field}`];
  return (
    <OpenDialog
      onClose={onClose}
      title={title}
      description={`${words.name}. ${words.beware}`}
      width="max-w-3xl"
    >
      <form onSubmit={(e) => void submit(e)} noValidate className="grid gap-4">
        <div className="grid gap-3 sm:grid-cols-2">
          <Labelled label="Name on its sticker" message={fault('name')}>
            <input
              className="field"
              autoComplete="off"
              autoFocus
              maxLength={40}
              value={facts.name}
              onChange={(e) => setFacts({ ...facts, name: e.target.value })}
            />
          </Labelled>
          <Labelled label="Where it hangs">
            <input
              className="field"
              autoComplete="off"
              maxLength={40}
              value={facts.where}
              onChange={(e) => setFacts({ ...facts, where: e.target.value })}
            />
          </Labelled>
        </div>
        <ChargerFields facts={facts} onChange={setFacts} fault={fault} />
        <fieldset className="grid gap-2">
          <legend className="eyebrow mb-1">Days away</legend>
          <p className="text-soft">
            At its test, or lent for a day: the day plan puts nothing on it then.
          </p>
          <DaysAway
            name="The charger"
            days={facts.outages}
            wall={rules}
            asksWhy
            add="Add days away"
            made={(away): Outage => away}
            onChange={(outages) => setFacts({ ...facts, outages })}
          />
        </fieldset>
        {problem && (
          <p role="alert" className="rounded-md border-l-8 border-oxide bg-oxide-pale px-4 py-2">
            {problem.message}
          </p>
        )}
        <div className="flex flex-wrap justify-end gap-3">
          {charger && (
            <button
              type="button"
              className="wordlink mr-auto min-h-11 text-soft"
              disabled={saving}
              onClick={() => void remove(charger.id).then((gone) => gone && onClose())}
            >
              Remove from the shop
            </button>
          )}
          <DialogBack />
          <button type="submit" className="act" disabled={saving || facts.name.trim() === ''}>
            Save charger
          </button>
        </div>
      </form>
    </OpenDialog>
  );
}

function factsOf({ id: _, standingSince: __, ...facts }: ShopCharger): ChargerFacts {
  return facts;
}
