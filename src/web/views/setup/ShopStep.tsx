import { type FormEvent, useState } from 'react';
import type { Person, Problem } from '../../../contract/wire.ts';
import type { ShopStyle } from '../../../core/house/rules.ts';
import { ask, problemOf } from '../../line/api.ts';
import { newId } from '../../line/newId.ts';
import { queryClient } from '../../line/queries.ts';
import { useSigning } from '../../line/signing.tsx';
import { StyleFields } from '../../inputs/StyleFields.tsx';
import { Labelled } from '../../parts/Labelled.tsx';
import { initialsOf, usualStyle } from './usualStyle.ts';
import type { StepProps } from './stepProps.ts';

/** What the shop is called, who leads it, and how it says times and amounts. */
export function ShopStep({
  rules,
  problem,
  onNext,
  foot,
  people,
}: StepProps & { people: readonly Person[] }) {
  const first = people.length === 0;
  const { begin } = useSigning();
  const [name, setName] = useState(first ? '' : rules.shopName);
  const [lead, setLead] = useState('');
  const [initials, setInitials] = useState<string | null>(null);
  const [leadProblem, setLeadProblem] = useState<Problem | null>(null);
  const [style, setStyle] = useState<ShopStyle>(() =>
    first ? usualStyle(navigator.language, rules.timeZone) : rules,
  );
  const letters = initials ?? initialsOf(lead);
  const { timeZone, clock, dateOrder, temperatureUnit, volumeUnit, paper } = style;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    try {
      let by: string | undefined;
      if (first) {
        const person = {
          name: lead.trim(),
          initials: letters.toUpperCase(),
          role: 'lead' as const,
        };
        by = (await ask('addPerson', { body: { commandId: newId(), by: null, person } })).id;
        await queryClient.invalidateQueries({ queryKey: ['shop'] });
        begin(by);
      }
      setLeadProblem(null);
      await onNext(
        { shopName: name.trim(), timeZone, clock, dateOrder, temperatureUnit, volumeUnit, paper },
        by,
      );
    } catch (failed) {
      setLeadProblem(problemOf(failed));
    }
  };
  return (
    <form
      onSubmit={(e) => void submit(e)}
      noValidate
      className="grid grid-cols-[minmax(0,1fr)] gap-5"
    >
      <div>
        <h1 className="text-4xl">Your shop</h1>
        <p className="text-lg text-soft">
          Five short steps. Everything can be changed later under House rules.
        </p>
      </div>
      <div className="grid grid-cols-[minmax(0,1fr)] gap-3 sm:grid-cols-2">
        <Labelled label="Name of the shop, for papers" message={problem?.fields['rules.shopName']}>
          <input
            className="field"
            autoFocus
            autoComplete="organization"
            value={name}
            onChange={(e) => setName(e.target.value)}
          />
        </Labelled>
        {first && (
          <div className="grid grid-cols-[minmax(0,1fr)_6rem] gap-3">
            <Labelled label="Your name" message={leadProblem?.fields['person.name']}>
              <input
                className="field"
                autoComplete="name"
                value={lead}
                onChange={(e) => setLead(e.target.value)}
              />
            </Labelled>
            <Labelled label="Initials" message={leadProblem?.fields['person.initials']}>
              <input
                className="field uppercase"
                autoComplete="off"
                maxLength={3}
                value={letters}
                onChange={(e) => setInitials(e.target.value)}
              />
            </Labelled>
          </div>
        )}
      </div>
      {first && (
        <p className="text-soft">
          You are the shop’s lead: you decide what a technician may not, and change House rules.
        </p>
      )}
      <fieldset className="grid min-w-0 grid-cols-[minmax(0,1fr)] gap-3 sm:grid-cols-3">
        <legend className="mb-2 text-2xl font-semibold">Clock and units</legend>
        <StyleFields
          style={style}
          zoneFault={problem?.fields['rules.timeZone']}
          onChange={(changed) => setStyle({ ...style, ...changed })}
        />
      </fieldset>
      {leadProblem && Object.keys(leadProblem.fields).length === 0 && (
        <p role="alert" className="text-lg text-oxide">
          {leadProblem.message}
        </p>
      )}
      {foot}
    </form>
  );
}
