import { Labelled } from './Labelled.tsx';

interface Props<T extends string | number> {
  label: string;
  value: T;
  /** What may be chosen, each with its word, in order. */
  options: readonly (readonly [value: T, word: string])[];
  onChange: (value: T) => void;
}

/** One of a few, from a list that opens. */
export function Choice<T extends string | number>({ label, value, options, onChange }: Props<T>) {
  return (
    <Labelled label={label}>
      <select
        className="field"
        value={value}
        onChange={(e) => {
          const chosen = options.find(([option]) => String(option) === e.target.value);
          if (chosen) onChange(chosen[0]);
        }}
      >
        {options.map(([option, word]) => (
          <option key={option} value={option}>
            {word}
          </option>
        ))}
      </select>
    </Labelled>
  );
}
