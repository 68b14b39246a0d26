import { createContext, type ReactNode, use, useCallback, useMemo, useRef, useState } from 'react';
import type { Person } from '../../contract/wire.ts';
import { DialogFrame } from '../inputs/DialogFrame.tsx';
import { post } from './api.ts';
import { queryClient, useShop, useSignIn } from './queries.ts';

interface Signing {
  person: Person | null;
  choose(): void;
  /** Who signs; asks once if nobody has said. Null when they turn away. */
  sign(): Promise<string | null>;
}

const SigningContext = createContext<Signing | null>(null);
const KEY = 'cork-ember.person';

/** Everything written is signed. A tap on the name says who is at this screen. */
export function SigningProvider({ children }: { children: ReactNode }) {
  const { data: shop } = useShop();
  const [id, setId] = useState(() => localStorage.getItem(KEY));
  const [open, setOpen] = useState(false);
  const waiting = useRef<((id: string | null) => void) | null>(null);
  const people = useMemo(() => shop?.people ?? [], [shop]);
  const { data: signIn } = useSignIn();
  const required = signIn?.required ?? false;
  const person = people.find((p) => p.id === (required ? signIn?.personId : id)) ?? null;

  const settle = useCallback((chosen: string | null) => {
    waiting.current?.(chosen);
    waiting.current = null;
    setOpen(false);
  }, []);
  const signOut = async () => {
    await post('/api/sign-out', {});
    await queryClient.invalidateQueries();
    setOpen(false);
  };
  const pick = (chosen: string) => {
    localStorage.setItem(KEY, chosen);
    setId(chosen);
    settle(chosen);
  };
  const signing = useMemo<Signing>(
    () => ({
      person,
      choose: () => setOpen(true),
      sign: () => {
        if (person) return Promise.resolve(person.id);
        setOpen(true);
        return new Promise((resolve) => (waiting.current = resolve));
      },
    }),
    [person],
  );

  return (
    <SigningContext value={signing}>
      {children}
      <DialogFrame open={open} onOpenChange={(next) => (next ? setOpen(true) : settle(null))} title="Who is at the bench?" width="max-w-md">
        {required && person && (
          <div className="grid justify-items-start gap-3">
            <p className="text-lg">{person.name} is signed in here with a PIN.</p>
            <button type="button" className="act" onClick={() => void signOut()}>
              Sign out
            </button>
          </div>
        )}
        {people.length === 0 && <p className="text-soft">Nobody is on the list yet. Add the first person under House rules.</p>}
        <ul className="grid gap-2">
          {!required &&
            people.map((p) => (
              <li key={p.id}>
                <button type="button" className="act-quiet w-full justify-start!" aria-current={p.id === id} onClick={() => pick(p.id)}>
                  <Initials person={p} />
                  <span className="flex-1 text-left">{p.name}</span>
                  <span className="label">{p.role === 'lead' ? 'lead' : 'technician'}</span>
                </button>
              </li>
            ))}
        </ul>
      </DialogFrame>
    </SigningContext>
  );
}

export function Initials({ person }: { person: Pick<Person, 'initials'> | null }) {
  return <span className="grid size-8 place-items-center rounded-full bg-ink font-label text-base font-semibold text-sheet">{person?.initials ?? '?'}</span>;
}

export function useSigning(): Signing {
  const signing = use(SigningContext);
  if (!signing) throw new Error('useSigning needs a SigningProvider above it.');
  return signing;
}
