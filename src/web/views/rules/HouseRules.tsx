import { type FormEvent, type ReactNode, useEffect, useState } from 'react';
import { notice } from '../../line/notices.ts';
import type { Problem } from '../../../contract/wire.ts';
import {
  type HouseRules,
  type Paper,
  PAPERS,
  SG_REFERENCES,
  type SgReference,
  type WorkingHours,
} from '../../../core/house/rules.ts';
import { type Clash, mergeChanges, withValue } from '../../../core/house/mergeRules.ts';
import { QUESTION_KEYS, SCHOOLS } from '../../../core/house/schools.ts';
import type { SetScales } from '../../../core/house/setScales.ts';
import { ProblemError, ask } from '../../line/api.ts';
import { keepDraft, keptDraft } from '../../line/draft.ts';
import { newId } from '../../line/newId.ts';
import { queryClient, useShop } from '../../line/queries.ts';
import { useSigning } from '../../line/signing.tsx';
import { Loading, NotFetched } from '../../line/States.tsx';
import { Labelled } from '../../parts/Labelled.tsx';
import { Backups } from './Backups.tsx';
import { Calendar } from './Calendar.tsx';
import { Clashes } from './Clashes.tsx';
import { Experience } from './Experience.tsx';
import { Instruments } from './Instruments.tsx';
import { People } from './People.tsx';
import {
  clockOf,
  DAYS,
  NUMBERS,
  type NumberRule,
  numberOf,
  SCALES,
  STAKES,
  type StakeRule,
} from './ruleFields.ts';
import { WhatChanges } from './WhatChanges.tsx';

/** What this shop has decided: schools where practitioners differ, the bench, the room, the people. */
export function HouseRulesView() {
  const { data, error, refetch } = useShop();
  if (error && !data) return <NotFetched error={error} again={() => void refetch()} />;
  if (!data) return <Loading />;
  return (
    <div className="grid gap-8 p-4 md:p-6 lg:grid-cols-[1fr_22rem]">
      <EditRules rules={data.rules} version={data.rulesVersion} />
      <div className="grid content-start gap-8">
        <Experience />
        <People people={data.people} />
        <Calendar />
        <Backups />
      </div>
    </div>
  );
}

const DRAFT = 'rules';
interface Editing {
  /** The rules as they stood when the editing began, or was last brought up to them. */
  base: HouseRules;
  version: string;
  /** What the form begins with. */
  start: HouseRules;
  clashes: Clash[];
  /** Typed before, and found again. */
  found: boolean;
}

/** Rules are edited as a whole: what somebody else changes meanwhile comes in, and where both did, both are shown. */
function EditRules({ rules, version }: { rules: HouseRules; version: string }) {
  const [editing, setEditing] = useState<Editing>(() => {
    const kept = keptDraft<{ base: HouseRules; wanted: HouseRules }>(DRAFT);
    if (!kept) return { base: rules, version, start: rules, clashes: [], found: false };
    const { merged, clashes } = mergeChanges(kept.base, rules, kept.wanted);
    return { base: rules, version, start: merged, clashes, found: true };
  });
  const [wanted, setWanted] = useState(editing.start);
  if (editing.version !== version) {
    const { merged, clashes } = mergeChanges(editing.base, rules, wanted);
    setWanted(merged);
    setEditing({ base: rules, version, start: merged, clashes, found: false });
  }
  const begin = (start: HouseRules, clashes: Clash[]) =>
    setEditing({ base: rules, version, start, clashes, found: false });
  return (
    <RulesForm
      key={`${editing.version} ${editing.clashes.length} ${JSON.stringify(editing.start)}`}
      rules={rules}
      version={version}
      start={editing.start}
      onEdit={(next) => {
        setWanted(next);
        keepDraft(
          DRAFT,
          JSON.stringify(next) === JSON.stringify(rules) ? null : { base: rules, wanted: next },
        );
      }}
      aside={
        <>
          {editing.clashes.length > 0 && (
            <Clashes
              clashes={editing.clashes}
              onChoose={({ path }, value) =>
                begin(
                  withValue(wanted, path, value),
                  editing.clashes.filter((c) => c.path !== path),
                )
              }
            />
          )}
          {editing.found && editing.clashes.length === 0 && (
            <p className="w-full text-soft">What you typed before is here again, not kept yet.</p>
          )}
        </>
      }
      onThrowAway={() => {
        keepDraft(DRAFT, null);
        begin(rules, []);
      }}
    />
  );
}

interface FormProps {
  rules: HouseRules;
  version: string;
  start: HouseRules;
  onEdit: (wanted: HouseRules) => void;
  onThrowAway: () => void;
  aside: ReactNode;
}

function RulesForm({ rules, version, start, onEdit, onThrowAway, aside }: FormProps) {
  const { sign } = useSigning();
  const [draft, setDraft] = useState(start);
  const [numbers, setNumbers] = useState(
    () =>
      Object.fromEntries(NUMBERS.map(({ field }) => [field, String(start[field])])) as Record<
        NumberRule,
        string
      >,
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
    NUMBERS.map(({ field }) => [field, Number(numbers[field].replace(',', '.'))]),
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
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [text]);
  const fault = (field: string) => problem?.fields[`rules.${field}`];

  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const by = await sign();
    if (!by) return;
    try {
      await ask('changeRules', { body: { commandId: newId(), by, version, rules: wanted } });
      keepDraft(DRAFT, null);
      setProblem(null);
      await queryClient.invalidateQueries({ queryKey: ['shop'] });
      notice.success('House rules changed. Jobs under way keep the rules they began with.');
    } catch (error) {
      setProblem(
        error instanceof ProblemError
          ? error.problem
          : { code: 'internal', message: (error as Error).message, fields: {} },
      );
      if (error instanceof ProblemError && error.status === 409)
        await queryClient.invalidateQueries({ queryKey: ['shop'] });
    }
  };
  return (
    <form onSubmit={(e) => void submit(e)} noValidate className="grid content-start gap-6">
      <div className="sticky top-15 z-10 flex flex-wrap items-center justify-between gap-3 bg-paper py-2">
        <h1 className="text-3xl">House rules</h1>
        <div className="flex items-center gap-3">
          {changed && (
            <button type="button" className="wordlink min-h-11 text-soft" onClick={onThrowAway}>
              Throw the changes away
            </button>
          )}
          <button type="submit" className="act" disabled={!changed}>
            Keep the changes
          </button>
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
      <p className="max-w-[70ch] text-lg text-soft">
        The maker's printed value comes first, then the choice made here. The first of each row is
        the default.
      </p>
      <nav aria-label="On this page" className="-mt-4 flex flex-wrap gap-x-5">
        {[
          ['#shop', 'The shop'],
          ['#stakes', 'What time is worth'],
          ['#instruments', 'Instruments'],
          ['#experience', 'What it has brought'],
          ['#people', 'People'],
        ].map(([to, word]) => (
          <a key={to} href={to} className="wordlink inline-flex min-h-11 items-center">
            {word}
          </a>
        ))}
      </nav>
      {QUESTION_KEYS.map((key) => (
        <fieldset key={key} className="border-t border-line pt-3">
          <legend className="float-left mb-2 w-full font-label text-xl font-semibold">
            {SCHOOLS[key].question}
          </legend>
          <div className="clear-both grid gap-2 md:grid-cols-3">
            {SCHOOLS[key].schools.map((school, i) => {
              const chosen = draft.schools[key] === school.id;
              return (
                <label
                  key={school.id}
                  className={`flex cursor-pointer gap-3 rounded-lg border-2 p-3 has-focus-visible:outline-3 has-focus-visible:outline-slate ${chosen ? 'border-ink bg-sheet' : 'border-line'}`}
                >
                  <input
                    type="radio"
                    name={key}
                    className="mt-1 size-5 shrink-0 accent-ink"
                    checked={chosen}
                    onChange={() =>
                      setDraft({ ...draft, schools: { ...draft.schools, [key]: school.id } })
                    }
                  />
                  <span>
                    <b className="font-label text-lg">{school.name}</b>
                    {i === 0 && <span className="text-soft"> default</span>}
                    <span className="block">{school.plain}</span>
                    <span className="block text-[15px] text-soft">
                      <b>Costs:</b> {school.costs}
                    </span>
                    <span className="block text-[15px] text-soft">
                      <b>Held by:</b> {school.heldBy}
                    </span>
                  </span>
                </label>
              );
            })}
          </div>
        </fieldset>
      ))}
      <fieldset
        id="shop"
        className="grid scroll-mt-32 gap-3 border-t border-line pt-3 sm:grid-cols-3"
      >
        <legend className="float-left mb-2 w-full font-label text-xl font-semibold sm:col-span-3">
          The shop
        </legend>
        <Labelled label="Name, for the sheet" message={fault('shopName')}>
          <input
            className="field"
            value={draft.shopName}
            onChange={(e) => setDraft({ ...draft, shopName: e.target.value })}
          />
        </Labelled>
        <Labelled label="Time zone" message={fault('timeZone')}>
          <input
            className="field"
            list="zones"
            value={draft.timeZone}
            onChange={(e) => setDraft({ ...draft, timeZone: e.target.value })}
          />
          <datalist id="zones">
            {Intl.supportedValuesOf('timeZone').map((z) => (
              <option key={z} value={z} />
            ))}
          </datalist>
        </Labelled>
        <Labelled label="Temperatures in">
          <select
            className="field"
            value={draft.temperatureUnit}
            onChange={(e) =>
              setDraft({ ...draft, temperatureUnit: e.target.value === 'F' ? 'F' : 'C' })
            }
          >
            <option value="C">°C</option>
            <option value="F">°F</option>
          </select>
        </Labelled>
        <Labelled label="Volumes in">
          <select
            className="field"
            value={draft.volumeUnit}
            onChange={(e) =>
              setDraft({ ...draft, volumeUnit: e.target.value === 'oz' ? 'oz' : 'mL' })
            }
          >
            <option value="mL">mL</option>
            <option value="oz">US fluid ounces</option>
          </select>
        </Labelled>
        <Labelled label="SG printed at">
          <select
            className="field"
            value={draft.sgReferenceC}
            onChange={(e) =>
              setDraft({ ...draft, sgReferenceC: Number(e.target.value) as SgReference })
            }
          >
            {SG_REFERENCES.map((c) => (
              <option key={c} value={c}>
                {c === 26.7 ? '80 °F' : `${c} °C`}
              </option>
            ))}
          </select>
        </Labelled>
        <Labelled label="Paper">
          <select
            className="field"
            value={draft.paper}
            onChange={(e) => setDraft({ ...draft, paper: e.target.value as Paper })}
          >
            {PAPERS.map((p) => (
              <option key={p}>{p}</option>
            ))}
          </select>
        </Labelled>
        {NUMBERS.map(({ field, label }) => (
          <Labelled key={field} label={label} message={fault(field)}>
            <input
              className="field"
              inputMode="decimal"
              value={numbers[field]}
              onChange={(e) => setNumbers({ ...numbers, [field]: e.target.value })}
            />
          </Labelled>
        ))}
        <Hours
          hours={draft.hours}
          fault={fault('hours.to') ?? fault('hours.from')}
          onChange={(hours) => setDraft({ ...draft, hours })}
        />
      </fieldset>
      <fieldset
        id="stakes"
        className="grid scroll-mt-32 gap-3 border-t border-line pt-3 sm:grid-cols-4"
      >
        <legend className="float-left mb-2 w-full font-label text-xl font-semibold sm:col-span-4">
          What time and batteries are worth
        </legend>
        <p className="-mt-1 text-soft sm:col-span-4">
          Routes of a recovery are weighed in money: a returned battery at 65 % of a new one, light
          duty at 25 %, less hands and places. Recycling at once is 0.
        </p>
        <Labelled label="Money in" message={fault('stakes.currency')}>
          <input
            className="field"
            maxLength={4}
            value={draft.stakes.currency}
            onChange={(e) =>
              setDraft({ ...draft, stakes: { ...draft.stakes, currency: e.target.value } })
            }
          />
        </Labelled>
        {STAKES.map(({ field, label }) => (
          <Labelled key={field} label={label} message={fault(`stakes.${field}`)}>
            <input
              className="field"
              inputMode="decimal"
              value={stakes[field]}
              onChange={(e) => setStakes({ ...stakes, [field]: e.target.value })}
            />
          </Labelled>
        ))}
      </fieldset>
      <fieldset
        id="sets"
        className="grid scroll-mt-32 gap-3 border-t border-line pt-3 sm:grid-cols-5"
      >
        <legend className="float-left mb-2 w-full font-label text-xl font-semibold sm:col-span-5">
          How alike a set must be
        </legend>
        <p className="-mt-1 text-soft sm:col-span-5">
          A difference of this much counts as 1; smaller weighs more. Two batteries further apart
          than the limit never share a set.
        </p>
        {SCALES.map(({ field, label }) => (
          <Labelled key={field} label={label} message={fault(`sets.${field}`)}>
            <input
              className="field"
              inputMode="decimal"
              value={scales[field]}
              onChange={(e) => setScales({ ...scales, [field]: e.target.value })}
            />
          </Labelled>
        ))}
      </fieldset>
      <Instruments
        instruments={draft.instruments}
        places={parsed.places}
        problem={(i, field) => problem?.fields[`rules.instruments.${i}.${field}`]}
        onChange={(instruments) => setDraft({ ...draft, instruments })}
      />
      {changed && (
        <div className="sticky bottom-2 z-10 max-md:bottom-18">
          <WhatChanges before={rules} after={wanted} />
        </div>
      )}
    </form>
  );
}

const minutesOf = (text: string) => Number(text.slice(0, 2)) * 60 + Number(text.slice(3, 5));

/** When hands are at the bench; ready times count on nobody outside these hours. */
function Hours({
  hours,
  fault,
  onChange,
}: {
  hours: WorkingHours;
  fault: string | undefined;
  onChange: (next: WorkingHours) => void;
}) {
  const time = (label: string, key: 'from' | 'to') => (
    <label>
      <span className="label">{label}</span>
      <input
        type="time"
        className="field"
        value={clockOf(hours[key])}
        onChange={(e) => e.target.value && onChange({ ...hours, [key]: minutesOf(e.target.value) })}
      />
    </label>
  );
  return (
    <div className="sm:col-span-3">
      <div className="flex flex-wrap items-end gap-3">
        {time('Hands at the bench from', 'from')}
        {time('until', 'to')}
        <div role="group" aria-label="Days" className="flex flex-wrap gap-1.5">
          {DAYS.map((day, i) => (
            <button
              key={day}
              type="button"
              aria-pressed={hours.days[i] ?? false}
              className={`act-quiet min-w-14 px-2! ${hours.days[i] ? 'border-ink! bg-ink! text-sheet!' : ''}`}
              onClick={() =>
                onChange({ ...hours, days: hours.days.map((d, j) => (j === i ? !d : d)) })
              }
            >
              {day}
            </button>
          ))}
        </div>
      </div>
      {fault && <span className="mt-1 block text-[15px] text-oxide">{fault}</span>}
    </div>
  );
}
