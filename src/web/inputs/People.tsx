import { type FormEvent, useState } from 'react';
import { notice } from '../line/notices.ts';
import type { Person, Problem } from '../../contract/wire.ts';
import { ProblemError, ask, problemOf } from '../line/api.ts';
import { newId } from '../line/newId.ts';
import { queryClient, useSignIn } from '../line/queries.ts';
import { Initials } from '../parts/Initials.tsx';
import { useSigning } from '../line/signing.tsx';
import { DialogBack, DialogFrame } from '../parts/DialogFrame.tsx';
import { Labelled } from '../parts/Labelled.tsx';

/** Who signs here, and their PINs for when the bench is reached from other machines. */
export function People({ people }: { people: Person[] }) {
  const { person: me, sign } = useSigning();
  const { data: signIn } = useSignIn();
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
      await ask('addPerson', {
        body: {
          commandId: newId(),
          by,
          person: { name, initials: initials.toUpperCase(), role: first ? 'lead' : role },
        },
      });
      setName('');
      setInitials('');
      setProblem(null);
      await queryClient.invalidateQueries({ queryKey: ['shop'] });
    } catch (error) {
      setProblem(problemOf(error));
    }
  };
  return (
    <section aria-labelledby="people">
      <h2 id="people" className="mb-2 border-b-2 border-ink pb-1 text-2xl">
        People
      </h2>
      <p className="mb-1 text-soft">
        {signIn?.required
          ? 'The bench is reached from other machines: everybody signs in with a PIN.'
          : 'On this machine a tap on the name is enough. Before other machines may reach it, each person needs a PIN.'}
      </p>
      <ul>
        {people
          .toSorted((a, b) => Number(b.active) - Number(a.active))
          .map((p) => (
            <li
              key={p.id}
              className={`flex min-h-14 items-center gap-x-3 border-b border-line text-lg ${p.active ? '' : 'text-soft'}`}
            >
              <Initials person={p} />
              <span className="min-w-0 flex-1 leading-tight">
                {p.name}
                <span className="block text-[15px] text-soft">
                  {p.active ? p.role : 'has left'}
                  {p.id === me?.id && ', here'}
                </span>
              </span>
              {p.active && (
                <PinDialog
                  person={p}
                  hasPin={signIn?.people.find((x) => x.id === p.id)?.hasPin ?? false}
                />
              )}
              <LeftDialog person={p} />
            </li>
          ))}
      </ul>
      <form onSubmit={(e) => void submit(e)} noValidate className="mt-4 grid gap-3">
        <h3 className="text-xl">{first ? 'Who leads this shop?' : 'Add a person'}</h3>
        <Labelled label="Name" message={problem?.fields['person.name']}>
          <input
            className="field"
            autoComplete="off"
            value={name}
            onChange={(e) => setName(e.target.value)}
          />
        </Labelled>
        <div className="grid grid-cols-2 gap-3">
          <Labelled label="Initials" message={problem?.fields['person.initials']}>
            <input
              className="field uppercase"
              autoComplete="off"
              maxLength={3}
              value={initials}
              onChange={(e) => setInitials(e.target.value)}
            />
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

/** A person leaves, or comes back: asked once, because their sessions end with it. */
function LeftDialog({ person }: { person: Person }) {
  const { sign } = useSigning();
  const [open, setOpen] = useState(false);
  const [fault, setFault] = useState<string>();
  const submit = async () => {
    const by = await sign();
    if (!by) return;
    try {
      await ask('setActive', {
        params: { id: person.id },
        body: { commandId: newId(), by, active: !person.active },
      });
      await queryClient.invalidateQueries({ queryKey: ['shop'] });
      setOpen(false);
    } catch (error) {
      setFault((error as Error).message);
    }
  };
  return (
    <DialogFrame
      open={open}
      onOpenChange={(next) => {
        setOpen(next);
        setFault(undefined);
      }}
      trigger={
        <button type="button" className="wordlink min-h-11">
          {person.active ? 'Has left' : 'Is back'}
          <span className="sr-only">: {person.name}</span>
        </button>
      }
      title={person.active ? `Has ${person.name} left?` : `Is ${person.name} back?`}
      description={
        person.active
          ? 'They are signed out everywhere, sign nothing more, and their calendar address ends. What they signed keeps their name.'
          : 'They may sign again; with the PIN they had.'
      }
      width="max-w-md"
    >
      {fault && (
        <p role="alert" className="mb-3 text-oxide">
          {fault}
        </p>
      )}
      <div className="flex justify-end gap-3">
        <DialogBack />
        <button
          type="button"
          className={person.active ? 'act-stop' : 'act'}
          onClick={() => void submit()}
        >
          {person.active ? 'Sign them out for good' : 'Let them sign again'}
        </button>
      </div>
    </DialogFrame>
  );
}

function PinDialog({ person, hasPin }: { person: Person; hasPin: boolean }) {
  const { sign } = useSigning();
  const [open, setOpen] = useState(false);
  const [pin, setPin] = useState('');
  const [again, setAgain] = useState('');
  const [fault, setFault] = useState<string>();
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (pin !== again) return setFault('The two are not the same.');
    const by = await sign();
    if (!by) return;
    try {
      await ask('setPin', { params: { id: person.id }, body: { commandId: newId(), by, pin } });
      await queryClient.invalidateQueries({ queryKey: ['sign-in'] });
      notice.success(`${person.name} has a new PIN.`);
      setOpen(false);
      setPin('');
      setAgain('');
    } catch (error) {
      setFault(
        error instanceof ProblemError
          ? (error.problem.fields['pin'] ?? error.problem.message)
          : (error as Error).message,
      );
    }
  };
  const field = (label: string, value: string, set: (text: string) => void) => (
    <Labelled label={label}>
      <input
        type="password"
        className="field font-label text-2xl!"
        inputMode="numeric"
        autoComplete="new-password"
        value={value}
        onChange={(e) => {
          set(e.target.value);
          setFault(undefined);
        }}
      />
    </Labelled>
  );
  return (
    <DialogFrame
      open={open}
      onOpenChange={setOpen}
      trigger={
        <button type="button" className="wordlink min-h-11">
          {hasPin ? 'Change PIN' : 'Set a PIN'}
          <span className="sr-only"> of {person.name}</span>
        </button>
      }
      title={`PIN of ${person.name}`}
      description="Four to ten digits. It is kept so that nobody can read it back; a lead can set another."
      width="max-w-md"
    >
      <form onSubmit={(e) => void submit(e)} className="grid gap-3">
        <div className="grid grid-cols-2 gap-3">
          {field('PIN', pin, setPin)}
          {field('Once more', again, setAgain)}
        </div>
        {fault && (
          <p role="alert" className="text-oxide">
            {fault}
          </p>
        )}
        <div className="flex justify-end gap-3">
          <DialogBack />
          <button type="submit" className="act" disabled={!/^\d{4,10}$/.test(pin)}>
            Save
          </button>
        </div>
      </form>
    </DialogFrame>
  );
}
