import { type FormEvent, useState } from 'react';
import { toast } from 'sonner';
import type { ChangeRules, Person, Problem } from '../../../contract/wire.ts';
import type { HouseRules } from '../../../core/house/rules.ts';
import { QUESTION_KEYS, SCHOOLS } from '../../../core/house/schools.ts';
import { post, ProblemError, put } from '../../app/api.ts';
import { newId } from '../../app/newId.ts';
import { queryClient, useShop } from '../../app/queries.ts';
import { Initials, useSigning } from '../../app/signing.tsx';
import { Loading, NotFetched } from '../../app/States.tsx';
import { Labelled } from '../../inputs/Labelled.tsx';
import { Instruments } from './Instruments.tsx';

/** What this shop has decided: schools where practitioners differ, the bench, the room, the people. */
export function HouseRulesView() {
  const { data, error, refetch } = useShop();
  if (error && !data) return <NotFetched error={error} again={() => void refetch()} />;
  if (!data) return <Loading />;
  return (
    <div className="grid gap-8 p-4 md:p-6 lg:grid-cols-[1fr_22rem]">
      <RulesForm key={JSON.stringify(data.rules)} rules={data.rules} />
      <People people={data.people} />
    </div>
  );
}

type NumberRule = 'roomC' | 'places' | 'roomAirM3h';
const NUMBERS: readonly { field: NumberRule; label: string }[] = [
  { field: 'roomC', label: 'Usual bench temperature, °C' },
  { field: 'places', label: 'Charging places' },
  { field: 'roomAirM3h', label: 'Air the room moves, m³/h' },
];

function RulesForm({ rules }: { rules: HouseRules }) {
  const { sign } = useSigning();
  const [draft, setDraft] = useState(rules);
  const [numbers, setNumbers] = useState(() => Object.fromEntries(NUMBERS.map(({ field }) => [field, String(rules[field])])) as Record<NumberRule, string>);
  const [problem, setProblem] = useState<Problem | null>(null);
  const parsed = Object.fromEntries(NUMBERS.map(({ field }) => [field, Number(numbers[field].replace(',', '.'))])) as Record<NumberRule, number>;
  const wanted: HouseRules = { ...draft, ...parsed };
  const changed = JSON.stringify(wanted) !== JSON.stringify(rules);
  const fault = (field: string) => problem?.fields[`rules.${field}`];

  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const by = await sign();
    if (!by) return;
    try {
      await put('/api/shop/rules', { commandId: newId(), by, rules: wanted } satisfies ChangeRules);
      setProblem(null);
      await queryClient.invalidateQueries({ queryKey: ['shop'] });
      toast.success('House rules changed. Jobs under way keep the rules they began with.');
    } catch (error) {
      setProblem(error instanceof ProblemError ? error.problem : { code: 'internal', message: (error as Error).message, fields: {} });
    }
  };
  return (
    <form onSubmit={(e) => void submit(e)} noValidate className="grid content-start gap-6">
      <div className="sticky top-15 z-10 flex flex-wrap items-center justify-between gap-3 bg-paper py-2">
        <h1 className="text-3xl">House rules</h1>
        <div className="flex items-center gap-3">
          {changed && <span className="text-soft">Jobs under way keep what they began with.</span>}
          <button type="submit" className="act" disabled={!changed}>
            Keep the changes
          </button>
        </div>
      </div>
      {problem && (
        <p role="alert" className="rounded-md border-l-8 border-oxide bg-oxide-pale px-4 py-2 text-lg">
          {problem.message}
        </p>
      )}
      <p className="max-w-[70ch] text-lg text-soft">The maker's printed value comes first, then the choice made here. The first of each row is the default.</p>
      {QUESTION_KEYS.map((key) => (
        <fieldset key={key} className="border-t border-line pt-3">
          <legend className="float-left mb-2 w-full font-label text-xl font-semibold">{SCHOOLS[key].question}</legend>
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
                    onChange={() => setDraft({ ...draft, schools: { ...draft.schools, [key]: school.id } })}
                  />
                  <span>
                    <b className="font-label text-lg">{school.name}</b>
                    {i === 0 && <span className="text-soft"> default</span>}
                    <span className="block text-soft">{school.plain}</span>
                  </span>
                </label>
              );
            })}
          </div>
        </fieldset>
      ))}
      <fieldset className="grid gap-3 border-t border-line pt-3 sm:grid-cols-3">
        <legend className="float-left mb-2 w-full font-label text-xl font-semibold sm:col-span-3">The shop</legend>
        <Labelled label="Name, for the sheet" message={fault('shopName')}>
          <input className="field" value={draft.shopName} onChange={(e) => setDraft({ ...draft, shopName: e.target.value })} />
        </Labelled>
        <Labelled label="Time zone" message={fault('timeZone')}>
          <input className="field" list="zones" value={draft.timeZone} onChange={(e) => setDraft({ ...draft, timeZone: e.target.value })} />
          <datalist id="zones">
            {Intl.supportedValuesOf('timeZone').map((z) => (
              <option key={z} value={z} />
            ))}
          </datalist>
        </Labelled>
        <Labelled label="Temperatures in">
          <select className="field" value={draft.temperatureUnit} onChange={(e) => setDraft({ ...draft, temperatureUnit: e.target.value === 'F' ? 'F' : 'C' })}>
            <option value="C">°C</option>
            <option value="F">°F</option>
          </select>
        </Labelled>
        {NUMBERS.map(({ field, label }) => (
          <Labelled key={field} label={label} message={fault(field)}>
            <input className="field" inputMode="decimal" value={numbers[field]} onChange={(e) => setNumbers({ ...numbers, [field]: e.target.value })} />
          </Labelled>
        ))}
      </fieldset>
      <Instruments
        instruments={draft.instruments}
        places={parsed.places}
        problem={(i, field) => problem?.fields[`rules.instruments.${i}.${field}`]}
        onChange={(instruments) => setDraft({ ...draft, instruments })}
      />
    </form>
  );
}

function People({ people }: { people: Person[] }) {
  const { person: me, sign } = useSigning();
  const first = people.length === 0;
  const [name, setName] = useState('');
  const [initials, setInitials] = useState('');
  const [role, setRole] = useState<Person['role']>('technician');
  const [problem, setProblem] = useState<Problem | null>(null);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const by = first ? null : await sign();
    if (!first && !by) return;
    try {
      await post('/api/people', { commandId: newId(), by, person: { name, initials: initials.toUpperCase(), role: first ? 'lead' : role } });
      setName('');
      setInitials('');
      setProblem(null);
      await queryClient.invalidateQueries({ queryKey: ['shop'] });
    } catch (error) {
      setProblem(error instanceof ProblemError ? error.problem : { code: 'internal', message: (error as Error).message, fields: {} });
    }
  };
  return (
    <section aria-labelledby="people">
      <h2 id="people" className="mb-2 border-b-2 border-ink pb-1 text-2xl">
        People
      </h2>
      <ul>
        {people.map((p) => (
          <li key={p.id} className="flex min-h-14 items-center gap-3 border-b border-line text-lg">
            <Initials person={p} />
            <span className="flex-1">{p.name}</span>
            <span className="text-soft">
              {p.role}
              {p.id === me?.id && ', here'}
            </span>
          </li>
        ))}
      </ul>
      <form onSubmit={(e) => void submit(e)} noValidate className="mt-4 grid gap-3">
        <h3 className="text-xl">{first ? 'Who leads this shop?' : 'Add a person'}</h3>
        <Labelled label="Name" message={problem?.fields['person.name']}>
          <input className="field" autoComplete="off" value={name} onChange={(e) => setName(e.target.value)} />
        </Labelled>
        <div className="grid grid-cols-2 gap-3">
          <Labelled label="Initials" message={problem?.fields['person.initials']}>
            <input className="field uppercase" autoComplete="off" maxLength={3} value={initials} onChange={(e) => setInitials(e.target.value)} />
          </Labelled>
          <Labelled label="Role">
            <select
              className="field"
              value={first ? 'lead' : role}
              disabled={first}
              onChange={(e) => setRole(e.target.value === 'lead' ? 'lead' : 'technician')}
            >
              <option value="technician">technician</option>
              <option value="lead">lead</option>
            </select>
          </Labelled>
        </div>
        {problem && (
          <p role="alert" className="text-oxide">
            {problem.message}
          </p>
        )}
        <button type="submit" className="act-quiet justify-self-start">
          {first ? 'Begin with this lead' : 'Add'}
        </button>
      </form>
    </section>
  );
}
