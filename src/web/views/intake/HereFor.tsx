import { PURPOSE_WORDS, type Purpose } from '../../../core/plan/procedure.ts';

/** What a battery that comes through the door may come for; a recharge begins at the shelf. */
const COMES_FOR: readonly Purpose[] = ['commission', 'recover', 'display', 'service'];

/** The first question of all: what is it here for? */
export function HereFor({
  value,
  onChange,
}: {
  value: Purpose;
  onChange: (purpose: Purpose) => void;
}) {
  return (
    <fieldset>
      <legend className="label mb-1">What is it here for?</legend>
      <div className="flex flex-wrap gap-2">
        {COMES_FOR.map((p) => (
          <label
            key={p}
            className={`act-quiet cursor-pointer px-3! has-focus-visible:outline-3 has-focus-visible:outline-slate ${value === p ? 'border-ink! bg-ink! text-sheet!' : ''}`}
          >
            <input
              type="radio"
              name="purpose"
              checked={value === p}
              onChange={() => onChange(p)}
              className="sr-only"
            />
            {PURPOSE_WORDS[p]}
          </label>
        ))}
      </div>
    </fieldset>
  );
}

/** Is its model known, or can nobody read its label? */
export function LabelChoice({
  none,
  onChange,
}: {
  none: boolean;
  onChange: (none: boolean) => void;
}) {
  return (
    <div className="flex flex-wrap gap-2" role="group" aria-label="Its label">
      {(
        [
          [false, 'In the catalogue'],
          [true, 'No readable label'],
        ] as const
      ).map(([value, words]) => (
        <button
          key={words}
          type="button"
          aria-pressed={none === value}
          className={`act-quiet px-3! ${none === value ? 'border-ink! bg-ink! text-sheet!' : ''}`}
          onClick={() => onChange(value)}
        >
          {words}
        </button>
      ))}
    </div>
  );
}
