import type { Person } from '../../contract/wire.ts';
import { OpenDialog } from './DialogFrame.tsx';
import { Initials } from './Initials.tsx';

interface Props {
  people: readonly Person[];
  person: Person | null;
  /** Signing in with a PIN is needed here: then nobody is picked by a tap. */
  required: boolean;
  onPick: (id: string) => void;
  onSignOut: () => Promise<void>;
  onClose: () => void;
}

/** Who is at this screen. */
export function WhoDialog({ people, person, required, onPick, onSignOut, onClose }: Props) {
  return (
    <OpenDialog onClose={onClose} title="Who is at the bench?" width="max-w-md">
      {required && person && (
        <div className="grid justify-items-start gap-3">
          <p className="text-lg">{person.name} is signed in here with a PIN.</p>
          <button type="button" className="act" onClick={() => void onSignOut()}>
            Sign out
          </button>
        </div>
      )}
      {people.length === 0 && (
        <p className="text-soft">
          Nobody is on the list yet. Add the first person under House rules.
        </p>
      )}
      <ul className="grid gap-2">
        {!required &&
          people.map((p) => (
            <li key={p.id}>
              <button
                type="button"
                className="act-quiet w-full justify-start!"
                aria-current={p.id === person?.id}
                onClick={() => onPick(p.id)}
              >
                <Initials person={p} />
                <span className="flex-1 text-left">{p.name}</span>
                <span className="label">{p.role === 'lead' ? 'lead' : 'technician'}</span>
              </button>
            </li>
          ))}
      </ul>
    </OpenDialog>
  );
}
