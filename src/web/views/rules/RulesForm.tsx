import { type FormEvent, type ReactNode, useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { notice } from '../../line/notices.ts';
import { InstrumentRules } from './Instruments.tsx';
import { SchoolChoice } from '../../inputs/SchoolChoice.tsx';
import { queryClient } from '../../line/queries.ts';
import type { Problem } from '../../../contract/wire.ts';
import { ask, ProblemError, problemOf } from '../../line/api.ts';
import {
  type StakeRule,
  keptNumber,
  NUMBERS,
  typedNumber,
  STAKES,
  SCALES,
  numberOf,
  type NumberRule,
  RULES_DRAFT,
} from './ruleFields.ts';
import { newId } from '../../line/newId.ts';
import { SetFields, MoneyFields } from './WorthFields.tsx';
import { groupOfFault, type Group } from './groups.ts';
import type { SetScales } from '../../../core/house/setScales.ts';
import { keepDraft } from '../../line/draft.ts';
import { WhatChanges } from './WhatChanges.tsx';
import type { HouseRules } from '../../../core/house/rules.ts';
import { HoursFields } from './HoursFields.tsx';
import { ShopFields } from './ShopFields.tsx';
import { useSigning } from '../../line/signing.tsx';

interface FormProps {
  group: Group;
  rules: HouseRules;
  version: string;
  start: HouseRules;
  onEdit: (wanted: HouseRules) => void;
  onThrowAway: () => void;
  aside: ReactNode;
}

/** The rules as one form, of which a group is shown at a time; what is changed in another stays, and is kept with the rest. */
export function RulesForm({ group, rules, version, start, onEdit, onThrowAway, aside }: FormProps) {
  const navigate = useNavigate();
  const { sign } = useSigning();
  const [draft, setDraft] = useState(start);
  const [numbers, setNumbers] = useState(
    () =>
      Object.fromEntries(
        NUMBERS.map((rule) => [
          rule.field,
          typedNumber(rule, start[rule.field], start.temperatureUnit),
        ]),
      ) as Record<NumberRule, string>,
  );
  const [problem, setProblem] = useState<Problem | null>(null);
  const [stakes, setStakes] = useState(
    () =>
      Object.fromEntries(STAKES.map(({ field }) => [field, String(start.stakes[field])])) as Record<
        StakeRule,
        string
      >,
  );
  const [scales, setScales] = useState(
    () =>
      Object.fromEntries(SCALES.map(({ field }) => [field, String(start.sets[field])])) as Record<
        keyof SetScales,
        string
      >,
  );
  const parsed = Object.fromEntries(
    NUMBERS.map((rule) => [
      rule.field,
      keptNumber(rule, numbers[rule.field], draft.temperatureUnit),
    ]),
  ) as Record<NumberRule, number>;
  const wanted: HouseRules = {
    ...draft,
    ...parsed,
    sets: Object.fromEntries(
      SCALES.map(({ field }) => [field, numberOf(scales[field])]),
    ) as unknown as SetScales,
    stakes: {
      ...draft.stakes,
      ...(Object.fromEntries(STAKES.map(({ field }) => [field, numberOf(stakes[field])])) as Record<
        StakeRule,
        number
      >),
    },
  };
  const text = JSON.stringify(wanted);
  const changed = text !== JSON.stringify(rules);
  useEffect(() => {
    onEdit(JSON.parse(text) as HouseRules);
    // oxlint-disable-next-line react/exhaustive-deps
  }, [text]);
  const fault = (field: string) => problem?.fields[`rules.${field}`];

  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const by = await sign();
    if (!by) return;
    try {
      await ask('changeRules', { body: { commandId: newId(), by, version, rules: wanted } });
      keepDraft(RULES_DRAFT, null);
      setProblem(null);
      await queryClient.invalidateQueries({ queryKey: ['shop'] });
      notice.success('House rules changed. Jobs under way keep the rules they began with.');
    } catch (error) {
      const said: Problem = problemOf(error);
      setProblem(said);
      const wrong = Object.keys(said.fields).map(groupOfFault);
      if (wrong[0] && !wrong.includes(group.key)) void navigate(`/rules/${wrong[0]}`);
      if (error instanceof ProblemError && error.status === 409)
        await queryClient.invalidateQueries({ queryKey: ['shop'] });
    }
  };
  return (
    <form onSubmit={(e) => void submit(e)} noValidate className="grid content-start gap-6">
      <div className="sticky top-15 z-10 flex flex-wrap items-center justify-between gap-3 bg-paper py-2">
        <h1 className="text-3xl">
          <span className="sr-only">House rules: </span>
          {group.name}
        </h1>
        <div className="flex items-center gap-3">
          {changed && (
            <button type="button" className="wordlink min-h-11 text-soft" onClick={onThrowAway}>
              Throw the changes away
            </button>
          )}
          {(changed || group.questions.length + group.fields.length > 0) && (
            <button type="submit" className="act" disabled={!changed}>
              Save changes
            </button>
          )}
        </div>
        {problem && (
          <p
            role="alert"
            className="w-full rounded-md border-l-8 border-oxide bg-oxide-pale px-4 py-2 text-lg"
          >
            {problem.message}
          </p>
        )}
        {aside}
      </div>
      {group.questions.length > 0 && (
        <p className="max-w-[70ch] text-lg text-soft">
          The maker's printed value comes first, then the choice made here. The first of each row is
          the default.
        </p>
      )}
      {group.questions.map((key) => (
        <SchoolChoice
          key={key}
          question={key}
          chosen={draft.schools[key]}
          onChoose={(school) =>
            setDraft({ ...draft, schools: { ...draft.schools, [key]: school } })
          }
        />
      ))}
      {group.key === 'shop' && (
        <ShopFields
          draft={draft}
          onDraft={setDraft}
          numbers={numbers}
          onNumbers={setNumbers}
          fault={fault}
        />
      )}
      {group.key === 'hours' && <HoursFields draft={draft} onDraft={setDraft} fault={fault} />}
      {group.key === 'money' && (
        <MoneyFields
          draft={draft}
          onDraft={setDraft}
          stakes={stakes}
          onStakes={setStakes}
          fault={fault}
        />
      )}
      {group.key === 'sets' && <SetFields scales={scales} onScales={setScales} fault={fault} />}
      {group.key === 'instruments' && (
        <InstrumentRules
          instruments={draft.instruments}
          places={parsed.places}
          problem={(i, field) => problem?.fields[`rules.instruments.${i}.${field}`]}
          onChange={(instruments) => setDraft({ ...draft, instruments })}
        />
      )}
      {changed && (
        <div className="sticky bottom-2 z-10 max-md:bottom-18">
          <WhatChanges before={rules} after={wanted} tell={group.questions.length > 0} />
        </div>
      )}
    </form>
  );
}
