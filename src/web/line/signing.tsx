import {
  createContext,
  lazy,
  type ReactNode,
  Suspense,
  use,
  useCallback,
  useEffect,
  useMemo,
  useRef,
  useState,
} from 'react';
import type { Person } from '../../contract/wire.ts';
import { ask } from './api.ts';
import { device } from './device.ts';
import { keptUnder } from './drillPlace.ts';
import { queryClient, useShop, useSignIn } from './queries.ts';
import { forgetLastState } from './lastState.ts';

interface Signing {
  person: Person | null;
  choose(): void;
  /** Somebody is at this screen: who has just said so elsewhere on the page. */
  begin(id: string): void;
  /** Who signs; asks once if nobody has said. Null when they turn away. */
  sign(): Promise<string | null>;
}

const SigningContext = createContext<Signing | null>(null);
const KEY = keptUnder('person');
const WhoDialog = lazy(async () => ({
  default: (await import('../parts/WhoDialog.tsx')).WhoDialog,
}));

/** Everything written is signed. A tap on the name says who is at this screen. */
export function SigningProvider({ children }: { children: ReactNode }) {
  const { data: shop } = useShop();
  const [id, setId] = useState(() => device.getItem(KEY));
  const [open, setOpen] = useState(false);
  const waiting = useRef<((id: string | null) => void) | null>(null);
  const people = useMemo(() => (shop?.people ?? []).filter((p) => p.active), [shop]);
  const { data: signIn } = useSignIn();
  const required = signIn?.required ?? false;
  const person = people.find((p) => p.id === (required ? signIn?.personId : id)) ?? null;

  // Whoever holds an older `sign` hears of a name that was picked meanwhile.
  const here = useRef<string | null>(null);
  useEffect(() => void (here.current = person?.id ?? null), [person]);

  const settle = useCallback((chosen: string | null) => {
    waiting.current?.(chosen);
    waiting.current = null;
    setOpen(false);
  }, []);
  const signOut = async () => {
    await ask('signOut');
    await forgetLastState();
    await queryClient.invalidateQueries();
    setOpen(false);
  };
  const pick = useCallback(
    (chosen: string) => {
      device.setItem(KEY, chosen);
      setId(chosen);
      here.current = chosen;
      settle(chosen);
    },
    [settle],
  );
  const signing = useMemo<Signing>(
    () => ({
      person,
      choose: () => setOpen(true),
      begin: pick,
      sign: () => {
        if (here.current) return Promise.resolve(here.current);
        setOpen(true);
        return new Promise((resolve) => (waiting.current = resolve));
      },
    }),
    [person, pick],
  );

  return (
    <SigningContext value={signing}>
      {children}
      <Suspense>
        {open && (
          <WhoDialog
            people={people}
            person={person}
            required={required}
            onPick={pick}
            onSignOut={signOut}
            onClose={() => settle(null)}
          />
        )}
      </Suspense>
    </SigningContext>
  );
}

export function useSigning(): Signing {
  const signing = use(SigningContext);
  if (!signing) throw new Error('useSigning needs a SigningProvider above it.');
  return signing;
}
