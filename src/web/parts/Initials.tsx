import type { Person } from '../../contract/wire.ts';

/** A person in a round mark. */
export function Initials({ person }: { person: Pick<Person, 'initials'> | null }) {
  return (
    <span className="grid size-8 place-items-center rounded-full bg-ink font-label text-base font-semibold text-sheet">
      {person?.initials ?? '?'}
    </span>
  );
}
