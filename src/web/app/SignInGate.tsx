import { type FormEvent, type ReactNode, useEffect, useState } from 'react';
import type { SignInState } from '../../contract/wire.ts';
import { ProblemError, ask } from '../line/api.ts';
import { queryClient, useSignIn } from '../line/queries.ts';
import { outbox } from '../line/sending.ts';
import { Initials } from '../parts/Initials.tsx';

/** Where the bench is reached from other machines, nothing is shown before somebody has signed in. */
export function SignInGate({ children }: { children: ReactNode }) {
  const { data } = useSignIn();
  useEffect(() => outbox.ask(() => (data?.required ? (data.personId ?? false) : true)), [data]);
  if (!data) return null;
  return data.required && data.personId === null ? <SignInPage state={data} /> : children;
}

function SignInPage({ state }: { state: SignInState }) {
  const [person, setPerson] = useState<string | null>(null);
  const [pin, setPin] = useState('');
  const [fault, setFault] = useState<string>();
  const [busy, setBusy] = useState(false);
  const able = state.people.filter((p) => p.hasPin);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    setBusy(true);
    try {
      const next = await ask('signIn', { body: { personId: person ?? '', pin } });
      queryClient.setQueryData(['sign-in'], next);
      outbox.ask(() => next.personId ?? false);
      void outbox.flushNow();
      await queryClient.invalidateQueries();
    } catch (error) {
      setFault(error instanceof ProblemError ? error.problem.message : (error as Error).message);
      setPin('');
    } finally {
      setBusy(false);
    }
  };
  const press = (digit: string) => {
    setFault(undefined);
    setPin((old) => (old + digit).slice(0, 10));
  };
  return (
    <main className="grid min-h-dvh place-items-center p-4">
      <form
        onSubmit={(e) => void submit(e)}
        className="grid w-full max-w-md gap-4 rounded-lg border border-ink bg-sheet p-6"
      >
        <div className="flex items-center gap-3">
          <img src="/mark.svg" alt="" width="40" height="40" />
          <h1 className="text-3xl">Sign in to the bench</h1>
        </div>
        <div role="group" aria-label="Who you are" className="grid gap-2">
          {able.map((p) => (
            <button
              key={p.id}
              type="button"
              aria-pressed={p.id === person}
              className={`act-quiet justify-start! ${p.id === person ? 'border-ink! ring-2 ring-ink' : ''}`}
              onClick={() => {
                setPerson(p.id);
                setPin('');
                setFault(undefined);
              }}
            >
              <Initials person={p} />
              <span className="flex-1 text-left">{p.name}</span>
            </button>
          ))}
          {able.length < state.people.length && (
            <p className="text-soft">
              Who is not listed has no PIN yet; a lead sets it under House rules.
            </p>
          )}
        </div>
        {person && (
          <>
            <label>
              <span className="label">PIN</span>
              <input
                type="password"
                className="field text-center font-label text-3xl! tracking-[0.4em]"
                inputMode="numeric"
                autoComplete="current-password"
                autoFocus
                value={pin}
                onChange={(e) => {
                  setPin(e.target.value.replaceAll(/\D/g, '').slice(0, 10));
                  setFault(undefined);
                }}
              />
            </label>
            <div className="grid grid-cols-3 gap-2" aria-hidden>
              {['1', '2', '3', '4', '5', '6', '7', '8', '9', '⌫', '0'].map((key) => (
                <button
                  key={key}
                  type="button"
                  tabIndex={-1}
                  className="act-quiet min-h-14! text-2xl!"
                  onClick={() => (key === '⌫' ? setPin(pin.slice(0, -1)) : press(key))}
                >
                  {key}
                </button>
              ))}
            </div>
            {fault && (
              <p role="alert" className="text-lg text-oxide">
                {fault}
              </p>
            )}
            <button
              type="submit"
              className="act min-h-13! text-xl!"
              disabled={pin.length < 4 || busy}
            >
              Sign in
            </button>
          </>
        )}
      </form>
    </main>
  );
}
